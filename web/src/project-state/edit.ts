import { readLength } from '#core/measure';
import { editAt, FIELD_NAME, type Change, type PointEdit, type ProjectDocument } from '#core/project';
import type { Selection } from './store.ts';
import type { Tables } from './tables.ts';

export const keyOf = (doc: ProjectDocument, tables: Tables, row: number): string =>
  `${doc.intakes[tables.points.intake[row]].id}:${tables.points.fileRow[row]}`;

export type Editable = 'number' | 'description' | 'x' | 'y' | 'z';

/** The change that a typed value means for a point's field, or why it cannot be read; null when nothing changes. */
export function editOf(
  doc: ProjectDocument,
  tables: Tables,
  row: number,
  field: Editable,
  typed: string,
): { label: string; change: Change } | { problem: string } | null {
  const { points } = tables;
  const who = points.number.get(row) || `row ${points.fileRow[row]}`;
  const key = keyOf(doc, tables, row);
  const of = (set: PointEdit, value: string): { label: string; change: Change } => ({
    label: `${FIELD_NAME[field]} of ${who}: ${value}`,
    change: { op: 'points.edit', edits: { [key]: { set, undo: [] } } },
  });
  if (field === 'number' || field === 'description') {
    // What stands before every number of the file is no part of this one's.
    const prefix = field === 'number' ? (doc.intakes[points.intake[row]].prefix ?? '') : '';
    const text = prefix && typed.trim().startsWith(prefix) ? typed.trim().slice(prefix.length) : typed.trim();
    const before = field === 'number' ? points.number.get(row).slice(prefix.length) : points.description.get(row);
    return text === before ? null : of({ [field]: text }, text || 'none');
  }
  if (field === 'z' && /^[-–\s]*$/.test(typed)) return Number.isNaN(points.z[row]) ? null : of({ z: null }, 'none');
  const read = readLength(typed, doc.settings.unit);
  if (!read.ok) return { problem: read.reason };
  if (Math.abs(read.metres - points[field][row]) < 1e-9) return null;
  return of({ [field]: read.metres }, read.echo);
}

/** The key of the selected point or record if a person has edited it, else null. */
export function editedSelection(
  state: { document: ProjectDocument } | null,
  tables: Tables | null,
  selection: Selection,
): string | null {
  if (!state || !tables || !selection) return null;
  const key =
    selection.kind === 'record'
      ? `${selection.intake}:${selection.row}`
      : selection.kind === 'point' && selection.row < tables.points.x.length
        ? keyOf(state.document, tables, selection.row)
        : null;
  return key !== null && editAt(state.document, key) ? key : null;
}

/** Everything that was edited of a point or a record, as it was received. */
export const asReceived = (doc: ProjectDocument, key: string): Change => ({
  op: 'points.edit',
  edits: { [key]: { set: {}, undo: Object.keys(editAt(doc, key) ?? {}) as (keyof PointEdit)[] } },
});

import type { ProjectDocument } from '#core/project';
import { keyOf } from './edit.ts';
import type { Selection } from './store.ts';
import type { Tables } from './tables.ts';

/** A selection as it stands in the address: points by file and row, so that it survives a rebuilt table. */
export function selectionToText(selection: Selection, doc: ProjectDocument, tables: Tables): string | null {
  if (!selection) return null;
  if (selection.kind === 'point')
    return selection.row < tables.points.x.length ? `point:${keyOf(doc, tables, selection.row)}` : null;
  if (selection.kind === 'record') return `record:${selection.intake}:${selection.row}`;
  return selection.kind === 'comparison' ? `comparison:${selection.id}` : `${selection.kind}:${selection.key}`;
}

export function selectionFromText(text: string | null, doc: ProjectDocument, tables: Tables): Selection {
  const [, kind, rest] = /^(point|line|query|comparison|record):(.+)$/.exec(text ?? '') ?? [];
  if (kind === 'point') {
    const at = rest.lastIndexOf(':');
    const intake = doc.intakes.findIndex((i) => i.id === rest.slice(0, at));
    const fileRow = Number(rest.slice(at + 1));
    for (let row = 0; row < tables.points.x.length; row++)
      if (tables.points.intake[row] === intake && tables.points.fileRow[row] === fileRow) return { kind, row };
    return null;
  }
  if (kind === 'record') {
    const at = rest.lastIndexOf(':');
    return { kind, intake: rest.slice(0, at), row: Number(rest.slice(at + 1)) };
  }
  if (kind === 'line') return { kind, key: rest };
  if (kind === 'query') return { kind, key: rest };
  if (kind === 'comparison') return { kind, id: rest, still: true };
  return null;
}

import type { ProjectDocument } from '#core/project';
import { formatLength, UNIT_SIGN } from '#core/measure';
import type { Column } from '../../frame/grid/index.ts';
import { editOf, type Editable } from '../../project-state/edit.ts';
import type { ProjectStore } from '../../project-state/store.ts';
import type { Tables } from '../../project-state/tables.ts';

/** The columns of the table of points; what is typed over a cell is proposed as an edit. */
export function pointColumns(doc: ProjectDocument, tables: Tables, propose: ProjectStore['propose']): Column[] {
  const { points } = tables;
  const { unit, decimals, elevationDecimals, order } = doc.settings;
  const sign = UNIT_SIGN[unit];
  const edit =
    (field: Editable) =>
    (row: number, typed: string): string | null => {
      if (field !== 'number' && field !== 'description' && doc.intakes[points.intake[row]].form === 'book')
        return 'This is computed from readings. Change the reading, not the result.';
      const made = editOf(doc, tables, row, field, typed);
      if (made && 'problem' in made) return made.problem;
      if (made) void propose(made.label, made.change);
      return null;
    };
  const coordinate = (id: 'x' | 'y' | 'z', head: string, shown = decimals): Column => ({
    id,
    head: `${head} ${sign}`,
    numeric: true,
    sortable: true,
    text: (r) => formatLength(points[id][r], unit, shown),
    value: (r) => points[id][r],
    edit: edit(id),
  });
  const plan = [coordinate('x', 'East'), coordinate('y', 'North')];
  if (order === 'NE') plan.reverse();
  return [
    {
      id: 'number',
      head: 'Point',
      max: 130,
      pinned: true,
      numeric: true,
      text: (r) => points.number.get(r),
      edit: edit('number'),
      sortable: true,
    },
    {
      id: 'description',
      head: 'Code',
      min: 90,
      max: 260,
      grow: 1,
      text: (r) => points.description.get(r),
      edit: edit('description'),
      cell: (r) =>
        points.edited[r] ? (
          <span className="changed">{points.description.get(r) || '–'}</span>
        ) : (
          points.description.get(r)
        ),
    },
    ...plan,
    coordinate('z', 'Elev', elevationDecimals),
    ...precision(points.sdPlan, points.sdHeight, unit),
    { id: 'row', head: 'Row', numeric: true, text: (r) => String(points.fileRow[r]) },
    {
      id: 'file',
      head: 'File',
      max: 200,
      words: true,
      text: (r) => doc.intakes[points.intake[r]].fileName,
    },
  ];
}

/** Standard deviations, where anything is known of them. */
function precision(plan: Float32Array, height: Float32Array, unit: ProjectDocument['settings']['unit']): Column[] {
  if (!plan.some((v) => !Number.isNaN(v))) return [];
  const columns = [
    ['sdPlan', '± plan', plan],
    ['sdHeight', '± h', height],
  ] as const;
  return columns
    .filter(([, , sd]) => sd.length)
    .map(([id, head, sd]): Column => ({
      id,
      head: `${head} ${UNIT_SIGN[unit]}`,
      numeric: true,
      sortable: true,
      text: (r) => (Number.isNaN(sd[r]) ? '' : formatLength(sd[r], unit, 3)),
      value: (r) => sd[r],
    }));
}

import { membersOf, type PointSet, type ProjectDocument, type SetPoints } from '#core/chain';
import type { Tables } from '../../project/tables.ts';

/** The page's points as sets are asked of them; times come from the records of books. */
export function setPoints(doc: ProjectDocument, tables: Tables): SetPoints {
  const { points } = tables;
  const times = doc.intakes.map((i) => {
    const book = tables.books.get(i.id);
    if (!book) return null;
    const at = new Map<number, number>();
    for (let k = 0; k < book.count; k++) at.set(book.row[k], k);
    return (row: number): string => {
      const k = at.get(row);
      return k === undefined ? '' : book.time.get(k);
    };
  });
  return {
    ...points,
    number: (row) => points.number.get(row),
    description: (row) => points.description.get(row),
    time: (row) => times[points.intake[row]]?.(points.fileRow[row]) ?? '',
  };
}

const made = new WeakMap<Tables, Map<string, Uint8Array>>();

/** Which rows belong to a set; kept while the tables and the set stay. */
export function rowsOfSet(set: PointSet, doc: ProjectDocument, tables: Tables): Uint8Array {
  let kept = made.get(tables);
  if (!kept) made.set(tables, (kept = new Map()));
  const id = JSON.stringify([set.rule, set.more, set.without, set.byHandOnly]);
  let rows = kept.get(id);
  if (!rows) kept.set(id, (rows = membersOf(set, doc, setPoints(doc, tables))));
  return rows;
}

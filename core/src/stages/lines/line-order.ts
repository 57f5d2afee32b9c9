import { naturally } from '#core/kernel';
import type { BookAt } from '../points/books.ts';
import type { ProjectDocument } from '#core/project';
import type { PointTable } from '../points/points.ts';

/**
 * Rows in the order in which lines go from shot to shot, file by file; undefined where that is the order observed.
 * By number, 9 comes before 10, and what has no number stays behind what it followed. By time, a record without one
 * keeps the time of the record before it; files that say no times stay as observed.
 */
export function orderOfBuilding(
  doc: ProjectDocument,
  points: PointTable,
  books: ReadonlyMap<string, BookAt>,
): Uint32Array | undefined {
  const { lineOrder } = doc.settings;
  if (lineOrder === 'observed') return undefined;
  const order = Uint32Array.from(points.x, (_, i) => i);
  const key = lineOrder === 'number' ? numberKeys(points) : timeKeys(doc, points, books);
  return order.sort((a, b) => points.intake[a] - points.intake[b] || naturally(key[a], key[b]) || a - b);
}

function numberKeys(points: PointTable): string[] {
  let last = '';
  return points.number.map((n) => (last = n === '' ? last : n));
}

function timeKeys(doc: ProjectDocument, points: PointTable, books: ReadonlyMap<string, BookAt>): string[] {
  const times = doc.intakes.map((i) => {
    const book = books.get(i.id)?.book;
    return book ? new Map(book.records.map((r) => [r.row, r.time])) : null;
  });
  let [last, intake] = ['', -1];
  return Array.from(points.fileRow, (row, i) => {
    if (points.intake[i] !== intake) [last, intake] = ['', points.intake[i]];
    return (last = times[intake]?.get(row) || last);
  });
}

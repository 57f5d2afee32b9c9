import type { PointEdit } from '#core/project';
import type { PointColumns } from '../../work/columns.ts';

/**
 * Ground-only points as full ones: numbers in a row from a first one, passing over those that the project has already, and one
 * description for all. Without a first number they keep what they came with.
 * @returns the edit of each ground-only point among the rows, or why it cannot be made
 */
export function fullPoints(
  points: Pick<PointColumns, 'light' | 'number'> & { x: ArrayLike<number> },
  rows: readonly number[],
  first: string,
  description: string,
): Map<number, PointEdit> | string {
  const start = first.trim();
  if (start && !/^\d{1,15}$/.test(start)) return 'Numbers in a row begin with a whole number.';
  const taken = new Set<string>();
  const marked = new Set(rows);
  for (let row = 0; start && row < points.x.length; row++)
    if (!points.light[row] || !marked.has(row)) taken.add(points.number.get(row));
  let next = Number(start);
  const out = new Map<number, PointEdit>();
  for (const row of rows) {
    if (!points.light[row]) continue;
    const edit: PointEdit = { full: true };
    if (start) {
      while (taken.has(String(next))) next++;
      edit.number = String(next++);
    }
    if (description.trim()) edit.description = description.trim();
    out.set(row, edit);
  }
  return out;
}

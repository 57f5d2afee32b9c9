import type { PointColumns } from '../work/columns.ts';

/** Something that says of rows whether it has them. */
interface Rows {
  has: (row: number) => boolean;
}

/**
 * Rows of the points that are called by a number. Where several have it, those of the first choice are meant that has
 * any of them; which of several in one choice it is, is never guessed.
 */
export function pointsNumbered(
  points: Pick<PointColumns, 'number'> & { x: ArrayLike<number> },
  numbers: Iterable<string>,
  choices: readonly Rows[] = [],
): Map<string, readonly number[]> {
  const at = new Map<string, number[]>();
  for (const number of numbers) at.set(number, []);
  for (let row = 0; row < points.x.length; row++) at.get(points.number.get(row))?.push(row);
  const meant = (rows: number[]): number[] =>
    choices.map((c) => rows.filter((row) => c.has(row))).find((list) => list.length > 0) ?? rows;
  return new Map([...at].map(([number, rows]) => [number, meant(rows)]));
}

/** Why a number does not tell which point is meant; null where it does. */
export function whyUnclear(number: string, rows: readonly number[]): string | null {
  if (rows.length === 0) return `No point has the number ${number}.`;
  return rows.length === 1 ? null : `${rows.length} points have the number ${number}: which is meant cannot be told.`;
}

import { distance } from '#core/kernel';
import type { PointTable } from '#core/stages';
import { SMALLEST_QUARTER } from '#core/terrain';
import { rankedWithout } from './ranked-without.ts';

/** A shot that alone steps off a line which runs smoothly elsewhere: a kerb's top taken for its foot, a word in a height. */
export interface LineStep {
  row: number;
  /** Above (+) or below (−) the course of its line, m. */
  off: number;
  expected: number;
  /** Standard deviation of the line's other shots off it, m, from the quarter that is smallest; 5 mm at least. */
  usual: number;
}

/** A line tells how smoothly it runs from so many inner shots. */
const LEAST_INNER = 5;
/** m; no line is taken for smoother than what it is measured with. */
const LEAST_USUAL = 0.005;
const TIMES = 6;

/**
 * Steps along a line by its shots in order. One wrong shot makes its neighbours look off too, by the other sign: it is a step
 * where they are off by less than half as much once that shot is put right. At a change of gradient they are off by more then,
 * and at a driveway, where shots are lower together, by as much.
 * @param tolerance smaller differences are none, m
 */
export function stepsAlong(
  rows: readonly number[],
  { x, y, z }: Pick<PointTable, 'x' | 'y' | 'z'>,
  tolerance: number,
): LineStep[] {
  if (rows.length < LEAST_INNER + 2) return [];
  const heights = rows.map((row) => z[row]);
  const at = rows.map(() => 0);
  for (let i = 1; i < rows.length; i++) at[i] = at[i - 1] + distance(x[rows[i]] - x[rows[i - 1]], y[rows[i]] - y[rows[i - 1]]); // prettier-ignore
  /** Elevation that the shots before and behind give; its own where they stand in one place, and at the ends. */
  const expectedAt = (i: number, height: (k: number) => number): number => {
    const length = i > 0 && i + 1 < rows.length ? at[i + 1] - at[i - 1] : 0;
    return length > 0 ? height(i - 1) + ((height(i + 1) - height(i - 1)) * (at[i] - at[i - 1])) / length : height(i);
  };
  const plain = (k: number): number => heights[k];
  const off = (i: number, height = plain): number => Math.abs(height(i) - expectedAt(i, height));
  const beside = (i: number, height = plain): number => off(i - 1, height) + off(i + 1, height);
  const sizes = heights.map((_, i) => off(i));
  const usualWithout = rankedWithout(sizes.slice(1, -1), 1 / 4);
  return rows.flatMap((row, i) => {
    // The neighbours of an end cannot say which of them is wrong.
    if (i < 2 || i + 2 >= rows.length || sizes[i] <= tolerance) return [];
    const usual = Math.max(LEAST_USUAL, usualWithout(i - 1) / SMALLEST_QUARTER);
    const expected = expectedAt(i, plain);
    const mended = (k: number): number => (k === i ? expected : heights[k]);
    if (sizes[i] <= TIMES * usual || beside(i, mended) > beside(i) / 2) return [];
    return [{ row, off: heights[i] - expected, expected, usual }];
  });
}

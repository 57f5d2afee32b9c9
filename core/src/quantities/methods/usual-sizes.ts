import type { Extent } from './grid.ts';

/** Sizes of the hand methods, m. */
export interface MethodSizes {
  cell: number;
  spacing: number;
  interval: number;
}

/** So many parts a site has across, or a depth from top to bottom, where nobody says more. */
const CELLS = 60;
const SECTIONS = 20;
const CONTOURS = 10;

/**
 * Sizes that suit what is compared, round ones in the unit that is read: 1, 2 or 5 times a power of ten.
 * @param deepest of cut or fill, m
 * @param unit metres in it
 */
export function usualSizes([w, s, e, n]: Extent, deepest: number, unit: number): MethodSizes {
  const across = Math.max(e - w, n - s);
  return {
    cell: round(across / CELLS, unit),
    spacing: round((e - w) / SECTIONS, unit),
    interval: round(deepest / CONTOURS, unit),
  };
}

/** m; nothing is looked at more closely. */
const LEAST = 0.01;

function round(metres: number, unit: number): number {
  const wanted = Math.max(metres, LEAST) / unit;
  let power = 1;
  while (power * 10 <= wanted) power *= 10;
  while (power > wanted) power /= 10;
  const step = [5, 2, 1].find((k) => k * power <= wanted * (1 + 1e-9)) ?? 1;
  return step * power * unit;
}

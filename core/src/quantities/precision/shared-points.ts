import { NO_POINT, type Surface } from '#core/terrain';
import type { Influence } from './influence.ts';

const COLUMNS = ['cutByZ', 'fillByZ', 'cutByX', 'cutByY', 'fillByX', 'fillByY'] as const;

/**
 * Influences on one volume of two surfaces that have points in common: what a common point does to both is one influence, told
 * of the first, so that what it does to both alike cancels out.
 */
export function joinShared(
  first: { surface: Surface; influence: Influence },
  second: { surface: Surface; influence: Influence },
): [first: Influence, second: Influence] {
  const vertexOf = new Map<number, number>();
  first.surface.point.forEach((row, v) => {
    if (row !== NO_POINT) vertexOf.set(row, v);
  });
  const copy = (of: Influence): Influence => ({ ...of, ...Object.fromEntries(COLUMNS.map((c) => [c, of[c].slice()])) });
  const [a, b] = [copy(first.influence), copy(second.influence)];
  second.surface.point.forEach((row, w) => {
    const v = row === NO_POINT ? undefined : vertexOf.get(row);
    if (v === undefined) return;
    for (const c of COLUMNS) {
      a[c][v] += b[c][w];
      b[c][w] = 0;
    }
  });
  return [a, b];
}

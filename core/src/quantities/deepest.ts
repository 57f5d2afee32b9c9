import type { DifferencePieces } from './volume.ts';

/** The greatest depth on one side, m, and where. */
export interface Deepest {
  depth: number;
  x: number;
  y: number;
}

/** m; what rounding leaves between planes that are one. */
const NO_DEPTH = 1e-9;

/** Where cut and fill are deepest; null where there is none. */
export function deepestOf(pieces: DifferencePieces): { cut: Deepest | null; fill: Deepest | null } {
  let [low, high] = [-1, -1];
  for (let i = 2; i < pieces.length; i += 3) {
    if (pieces[i] < -NO_DEPTH && (low < 0 || pieces[i] < pieces[low])) low = i;
    if (pieces[i] > NO_DEPTH && (high < 0 || pieces[i] > pieces[high])) high = i;
  }
  const at = (i: number): Deepest | null =>
    i < 0 ? null : { depth: Math.abs(pieces[i]), x: pieces[i - 2], y: pieces[i - 1] };
  return { cut: at(low), fill: at(high) };
}

import type { DifferencePieces } from './volume.ts';

/** The greatest depth on one side, m, and where. */
export interface Deepest {
  depth: number;
  x: number;
  y: number;
}

/** Where cut and fill are deepest; null where there is none. */
export function deepestOf(pieces: DifferencePieces): { cut: Deepest | null; fill: Deepest | null } {
  let [low, high] = [-1, -1];
  for (let i = 2; i < pieces.length; i += 3) {
    if (pieces[i] < 0 && (low < 0 || pieces[i] < pieces[low])) low = i;
    if (pieces[i] > 0 && (high < 0 || pieces[i] > pieces[high])) high = i;
  }
  const at = (i: number): Deepest | null =>
    i < 0 ? null : { depth: Math.abs(pieces[i]), x: pieces[i - 2], y: pieces[i - 1] };
  return { cut: at(low), fill: at(high) };
}

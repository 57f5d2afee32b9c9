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
  let low = -1;
  let high = -1;
  let lowest = -NO_DEPTH;
  let highest = NO_DEPTH;
  for (let i = 2; i < pieces.length; i += 3) {
    const d = pieces[i];
    if (d < lowest) {
      lowest = d;
      low = i;
    } else if (d > highest) {
      highest = d;
      high = i;
    }
  }
  const at = (i: number): Deepest | null =>
    i < 0 ? null : { depth: Math.abs(pieces[i]), x: pieces[i - 2], y: pieces[i - 1] };
  return { cut: at(low), fill: at(high) };
}

type OnBothSides = ReturnType<typeof deepestOf>;

/** The deeper of two on either side; the first where they are as deep. */
export function deeper(a: OnBothSides, b: OnBothSides): OnBothSides {
  const of = (one: Deepest | null, other: Deepest | null): Deepest | null => (other && (!one || other.depth > one.depth) ? other : one); // prettier-ignore
  return { cut: of(a.cut, b.cut), fill: of(a.fill, b.fill) };
}

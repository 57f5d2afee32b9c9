import type { CutAndFill } from '../hand/given-sections.ts';
import { cornersAt, eachTriangle, partWhere } from '../piece-parts.ts';
import { Tally } from '../tally.ts';
import type { DifferencePieces } from '../volume.ts';

/** Exact cut and fill between eastings that follow each other. */
export function volumesBetween(pieces: DifferencePieces, eastings: readonly number[]): CutAndFill[] {
  const tallies = eastings.slice(1).map(() => new Tally());
  for (let i = 0; i < pieces.length; i += 9) {
    const corners = cornersAt(pieces, i);
    const [low, high] = [Math.min(...corners.map((c) => c[0])), Math.max(...corners.map((c) => c[0]))];
    for (let k = firstAfter(eastings, low); k < tallies.length && eastings[k] < high; k++) {
      const east = partWhere(corners, (c) => c[0] - eastings[k]);
      const between = partWhere(east, (c) => eastings[k + 1] - c[0]);
      eachTriangle(between, (plan, p, q, r) => tallies[k].add(plan, p[2], q[2], r[2]));
    }
  }
  return tallies.map((t) => t.result());
}

/** The stretch that an easting lies in. */
function firstAfter(eastings: readonly number[], x: number): number {
  let [low, high] = [0, eastings.length - 1];
  while (low < high) {
    const middle = (low + high + 1) >> 1;
    if (eastings[middle] <= x) low = middle;
    else high = middle - 1;
  }
  return low;
}

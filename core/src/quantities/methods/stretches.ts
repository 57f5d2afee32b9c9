import type { CutAndFill } from '../given-sections.ts';
import { Tally, type DifferencePieces } from '../volume.ts';

/** Exact cut and fill between eastings that follow each other. */
export function volumesBetween(pieces: DifferencePieces, eastings: readonly number[]): CutAndFill[] {
  const tallies = eastings.slice(1).map(() => new Tally());
  for (let i = 0; i < pieces.length; i += 9) {
    const corners = [0, 3, 6].map((k) => [pieces[i + k], pieces[i + k + 1], pieces[i + k + 2]]);
    const [low, high] = [Math.min(...corners.map((c) => c[0])), Math.max(...corners.map((c) => c[0]))];
    for (let k = firstAfter(eastings, low); k < tallies.length && eastings[k] < high; k++)
      addPart(tallies[k], clipped(clipped(corners, eastings[k], 1), eastings[k + 1], -1));
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

/** What of an area lies east (1) or west (−1) of an easting; differences are straight between corners. */
function clipped(area: readonly number[][], x: number, way: 1 | -1): number[][] {
  return area.flatMap((here, i) => {
    const next = area[(i + 1) % area.length];
    const [a, b] = [way * (here[0] - x), way * (next[0] - x)];
    const out = a >= 0 ? [here] : [];
    if ((a > 0 && b < 0) || (a < 0 && b > 0)) {
      const f = a / (a - b);
      out.push([x, here[1] + f * (next[1] - here[1]), here[2] + f * (next[2] - here[2])]);
    }
    return out;
  });
}

function addPart(tally: Tally, area: readonly number[][]): void {
  for (let i = 1; i + 1 < area.length; i++) {
    const [[ax, ay, da], [bx, by, db], [cx, cy, dc]] = [area[0], area[i], area[i + 1]];
    const plan = ((bx - ax) * (cy - ay) - (cx - ax) * (by - ay)) / 2;
    if (plan > 0) tally.add(plan, da, db, dc);
  }
}

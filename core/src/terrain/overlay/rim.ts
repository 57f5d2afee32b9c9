import { indexOfTriangles } from '../heights.ts';
import type { Surface } from '../surface.ts';

/** Height of a triangle that is thin, by the longer of two of its sides. */
const THIN = 1e-6;

/** Where a walk from triangle to triangle of a surface may end. */
export interface Rim {
  /** The triangles at the rim, and beside those so thin that rounding hides what they overlap, whose boxes meet a box: by number. */
  near(west: number, south: number, east: number, north: number): number[];
  /** How many triangles lie over a place: how often the rim turns about it. Every side of the rim is looked at. */
  turnsAbout(x: number, y: number): number;
}

/** What of a surface lies in an area and cannot be reached within it has a triangle at the rim there. */
export function rimOf(s: Surface): Rim {
  const { x, y, triangles, neighbours } = s;
  const isThin = thinOnes(s);
  const found: number[] = [];
  const sides: number[] = [];
  for (let e = 0; e < neighbours.length; e++) {
    const isRim = neighbours[e] < 0;
    const t = (e / 3) | 0;
    if ((isRim || isThin[(neighbours[e] / 3) | 0]) && found.at(-1) !== t) found.push(t);
    if (isRim) sides.push(triangles[e], triangles[e % 3 === 2 ? e - 2 : e + 1]);
  }
  const index = indexOfTriangles(s, found);
  return {
    near: (...box) => (index?.search(...box) ?? []).sort((p, q) => p - q).map((i) => found[i]),
    turnsAbout(px, py) {
      let turns = 0;
      for (let i = 0; i < sides.length; i += 2) {
        const [v, w] = [sides[i], sides[i + 1]];
        if (y[v] > py === y[w] > py) continue;
        const left = (x[w] - x[v]) * (py - y[v]) - (y[w] - y[v]) * (px - x[v]);
        if (y[w] > y[v] ? left > 0 : left < 0) turns += y[w] > y[v] ? 1 : -1;
      }
      return turns;
    },
  };
}

function thinOnes({ x, y, triangles }: Surface): Uint8Array {
  const isThin = new Uint8Array(triangles.length / 3);
  for (let t = 0; t < isThin.length; t++) {
    const a = triangles[3 * t];
    const b = triangles[3 * t + 1];
    const c = triangles[3 * t + 2];
    const [ux, uy, vx, vy] = [x[b] - x[a], y[b] - y[a], x[c] - x[a], y[c] - y[a]];
    if (!(ux * vy - vx * uy > THIN * Math.max(ux * ux + uy * uy, vx * vx + vy * vy))) isThin[t] = 1;
  }
  return isThin;
}

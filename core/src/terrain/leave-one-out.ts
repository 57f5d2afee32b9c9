import { elevationsAt } from './locate.ts';
import { liveSurface } from './live.ts';
import { NO_POINT, type Surface } from './surface.ts';

/** What a surface is worth between its points: each is taken out, and looked for in the triangles that are left. */
export interface LeftOut {
  /** Vertices that were looked for, and surface − point at each, m. */
  vertex: Uint32Array;
  off: Float64Array;
  /** Of how many that could have been: points inside, on no breakline. */
  of: number;
}

/** At most so many points are left out: of more, each so many-th. */
const MOST = 20_000;

/**
 * Leave-one-out error: the elevation of a surface without one of its points, less that point's. Points on breaklines and at the
 * rim are not left out: without them the surface would be another.
 * @param progress share done; throws to end it
 */
export function leaveOneOut(s: Surface, progress: (share: number) => void = () => {}): LeftOut {
  const held = new Uint8Array(s.x.length);
  for (let e = 0; e < s.triangles.length; e++)
    if (s.breakSides[e] || s.neighbours[e] < 0)
      held[s.triangles[e]] = held[s.triangles[e % 3 === 2 ? e - 2 : e + 1]] = 1;
  const free: number[] = [];
  const used = new Uint8Array(s.x.length);
  for (const v of s.triangles) used[v] = 1;
  for (let v = 0; v < held.length; v++) if (used[v] && !held[v] && s.point[v] !== NO_POINT) free.push(v);
  const every = Math.ceil(free.length / MOST);
  const asked = free.filter((_, i) => i % every === 0);
  const live = liveSurface(s);
  const [vertex, off] = [new Uint32Array(asked.length), new Float64Array(asked.length)];
  let n = 0;
  for (const [i, v] of asked.entries()) {
    if (i % 500 === 0) progress(i / asked.length);
    const z = live.without(v);
    if (z === null) continue;
    vertex[n] = v;
    off[n++] = z - s.z[v];
  }
  return { vertex: vertex.subarray(0, n), off: off.subarray(0, n), of: free.length };
}

/** Errors by part of the site: root mean square and count in each cell of a grid over the surface, west to east, then north. */
export interface ErrorMap {
  /** South-west corner, and side of a cell, m. */
  x: number;
  y: number;
  cell: number;
  columns: number;
  rows: number;
  /** NaN where fewer than `FEWEST` points lie. */
  rmse: Float64Array;
  count: Uint32Array;
}
const FEWEST = 3;

/** @param cells how many along the longer side */
export function errorMap(s: Surface, { vertex, off }: LeftOut, cells: number): ErrorMap | null {
  if (vertex.length === 0) return null;
  let [west, south, east, north] = [Infinity, Infinity, -Infinity, -Infinity];
  for (const v of s.triangles) {
    west = Math.min(west, s.x[v]);
    east = Math.max(east, s.x[v]);
    south = Math.min(south, s.y[v]);
    north = Math.max(north, s.y[v]);
  }
  const cell = Math.max(east - west, north - south) / cells;
  const columns = Math.max(1, Math.ceil((east - west) / cell));
  const rows = Math.max(1, Math.ceil((north - south) / cell));
  const count = new Uint32Array(columns * rows);
  const sum = new Float64Array(columns * rows);
  vertex.forEach((v, i) => {
    const at = Math.min(columns - 1, Math.floor((s.x[v] - west) / cell)) + columns * Math.min(rows - 1, Math.floor((s.y[v] - south) / cell)); // prettier-ignore
    count[at]++;
    sum[at] += off[i] * off[i];
  });
  return { x: west, y: south, cell, columns, rows, count, rmse: sum.map((q, i) => (count[i] < FEWEST ? NaN : Math.sqrt(q / count[i]))) }; // prettier-ignore
}

/** Surface − shot at places, m; NaN off the surface. */
export function offAt(s: Surface, x: ArrayLike<number>, y: ArrayLike<number>, z: ArrayLike<number>): Float64Array {
  return elevationsAt(s, Float64Array.from(x), Float64Array.from(y)).z.map((at, i) => at - z[i]);
}

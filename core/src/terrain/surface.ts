import { GHOST, delaunay, nextEdge, type Mesh } from './delaunay.ts';
import { constrain, type Constraints } from './constraints.ts';

/**
 * A terrain model: a triangulated irregular network over n vertices. Coordinates in metres, x east,
 * y north, z elevation. Triangles are counter-clockwise; half-edge e runs from `triangles[e]` to the
 * next corner of its triangle, `neighbours[e]` is the same side in the neighbour, −1 on the rim.
 */
export interface Surface {
  x: Float64Array;
  y: Float64Array;
  z: Float64Array;
  triangles: Uint32Array;
  neighbours: Int32Array;
  /** 1 for half-edges that lie on a breakline. */
  breakSides: Uint8Array;
  /** For each vertex the index of the point given, or NO_POINT for vertices that a boundary made. */
  point: Uint32Array;
}

export const NO_POINT = 0xffffffff;

export interface SurfaceInput {
  x: Float64Array;
  y: Float64Array;
  z: Float64Array;
  /** Breakline segments as pairs of point indices. */
  segments: Uint32Array;
  /** Points nearer than this in plan are reduced to one, m; 0 for exact coincidence only. */
  coincidence: number;
  /** Triangles with a longer side that is no breakline are left out, m; null for no limit. */
  longestSide: number | null;
}

/** Two breaklines that cross in plan, with the elevation that each has there. */
export interface BreaklineCrossing {
  x: number;
  y: number;
  keptElevation: number;
  leftOutElevation: number;
  kept: [number, number];
  leftOut: [number, number];
  segment: number;
}

export interface SurfaceAccount {
  /** Pairs [kept, left out] of point indices. */
  coincident: Uint32Array;
  /** Triangles left out for their longest side. */
  tooLong: number;
  crossings: BreaklineCrossing[];
}

/** All of a surface that its elevations have no part in. */
export interface SurfacePlan {
  x: Float64Array;
  y: Float64Array;
  triangles: Uint32Array;
  neighbours: Int32Array;
  breakSides: Uint8Array;
  point: Uint32Array;
  coincident: Uint32Array;
  tooLong: number;
  /** Breaklines that cross, by vertices. */
  crossings: { kept: [number, number]; leftOut: [number, number]; segment: number }[];
}

/** Builds a surface: coincident points reduced, constrained Delaunay, rim by longest side. */
export const buildSurface = (input: SurfaceInput): { surface: Surface; account: SurfaceAccount } =>
  raiseSurface(planSurface(input), input.z);

/** The triangles of a surface, from places in plan and breaklines alone. */
export function planSurface(input: Omit<SurfaceInput, 'z'>): SurfacePlan {
  const { x, y, longestSide } = input;
  const keeper = coincidentKeepers(x, y, input.coincidence);
  const kept: number[] = [];
  const coincident: number[] = [];
  const slot = new Uint32Array(x.length);
  for (let i = 0; i < x.length; i++) {
    if (keeper[i] === i) {
      slot[i] = kept.length;
      kept.push(i);
    } else {
      slot[i] = slot[keeper[i]];
      coincident.push(keeper[i], i);
    }
  }
  const point = Uint32Array.from(kept);
  const sx = gather(x, point);
  const sy = gather(y, point);
  const segments = new Uint32Array(input.segments.length);
  for (let i = 0; i < segments.length; i++) segments[i] = slot[input.segments[i]];

  const mesh = delaunay(sx, sy);
  const constraints = constrain(mesh, segments);
  const { triangles, neighbours, breakSides, tooLong } = extract(mesh, constraints, longestSide);
  const { crossings } = constraints;
  return { x: sx, y: sy, triangles, neighbours, breakSides, point, coincident: Uint32Array.from(coincident), tooLong, crossings }; // prettier-ignore
}

/** A plan with the elevations of the points it was made from. */
export function raiseSurface(plan: SurfacePlan, z: Float64Array): { surface: Surface; account: SurfaceAccount } {
  const { x, y, triangles, neighbours, breakSides, point, coincident, tooLong } = plan;
  const surface: Surface = { x, y, z: gather(z, point), triangles, neighbours, breakSides, point };
  const crossings = plan.crossings.map(({ kept: [a, b], leftOut: [c, d], segment }): BreaklineCrossing => ({
    ...crossingPlace(surface, a, b, c, d),
    kept: [point[a], point[b]],
    leftOut: [point[c], point[d]],
    segment,
  }));
  return { surface, account: { coincident, tooLong, crossings } };
}

function gather(values: Float64Array, index: Uint32Array): Float64Array {
  const out = new Float64Array(index.length);
  for (let i = 0; i < index.length; i++) out[i] = values[index[i]];
  return out;
}

/** For each point the earliest point within `distance` of it that is itself kept (itself, mostly). */
function coincidentKeepers(x: Float64Array, y: Float64Array, distance: number): Uint32Array {
  const n = x.length;
  const keeper = new Uint32Array(n);
  // Cells as wide as the distance; without a distance a tiny cell still finds exact coincidence.
  const cell = distance > 0 ? distance : 1e-6;
  const limit = distance * distance;
  const cells = new Map<number, number[]>();
  const hash = (cx: number, cy: number): number => cx * 73856093 + cy * 19349663;
  for (let i = 0; i < n; i++) {
    keeper[i] = i;
    const cx = Math.floor(x[i] / cell);
    const cy = Math.floor(y[i] / cell);
    search: for (let dx = -1; dx <= 1; dx++)
      for (let dy = -1; dy <= 1; dy++)
        for (const other of cells.get(hash(cx + dx, cy + dy)) ?? []) {
          const ex = x[other] - x[i];
          const ey = y[other] - y[i];
          if (ex * ex + ey * ey <= limit) {
            keeper[i] = other;
            break search;
          }
        }
    if (keeper[i] !== i) continue;
    const key = hash(cx, cy);
    const list = cells.get(key);
    if (list) list.push(i);
    else cells.set(key, [i]);
  }
  return keeper;
}

function extract(mesh: Mesh, { fixed }: Constraints, longestSide: number | null) {
  const { x, y, corner, twin, source, count } = mesh;
  const limit = longestSide === null ? Infinity : longestSide * longestSide;
  const number = new Int32Array(count).fill(-1);
  let kept = 0;
  let tooLong = 0;
  for (let t = 0; t < count; t++) {
    const e = t * 3;
    if (corner[e] === GHOST || corner[e + 1] === GHOST || corner[e + 2] === GHOST) continue;
    let long = false;
    for (let k = e; k < e + 3; k++) {
      const a = corner[k];
      const b = corner[nextEdge(k)];
      const dx = x[a] - x[b];
      const dy = y[a] - y[b];
      if (dx * dx + dy * dy > limit && !fixed[k]) long = true;
    }
    if (long) tooLong++;
    else number[t] = kept++;
  }
  const triangles = new Uint32Array(kept * 3);
  const neighbours = new Int32Array(kept * 3).fill(-1);
  const breakSides = new Uint8Array(kept * 3);
  for (let t = 0; t < count; t++) {
    if (number[t] < 0) continue;
    for (let k = 0; k < 3; k++) {
      const e = t * 3 + k;
      const out = number[t] * 3 + k;
      triangles[out] = source[corner[e]];
      breakSides[out] = fixed[e];
      const f = twin[e];
      const other = number[Math.floor(f / 3)];
      if (other >= 0) neighbours[out] = other * 3 + (f % 3);
    }
  }
  return { triangles, neighbours, breakSides, tooLong };
}

function crossingPlace(s: Surface, a: number, b: number, c: number, d: number) {
  const rx = s.x[b] - s.x[a];
  const ry = s.y[b] - s.y[a];
  const qx = s.x[d] - s.x[c];
  const qy = s.y[d] - s.y[c];
  const wx = s.x[c] - s.x[a];
  const wy = s.y[c] - s.y[a];
  const det = rx * qy - ry * qx || 1;
  const t = (wx * qy - wy * qx) / det;
  const u = (wx * ry - wy * rx) / det;
  return {
    x: s.x[a] + t * rx,
    y: s.y[a] + t * ry,
    keptElevation: s.z[a] + t * (s.z[b] - s.z[a]),
    leftOutElevation: s.z[c] + u * (s.z[d] - s.z[c]),
  };
}

/** Side links of a triangle list whose links are not known: which half-edge is the same side seen from the neighbour. */
export function linkNeighbours(triangles: Uint32Array): Int32Array {
  const neighbours = new Int32Array(triangles.length).fill(-1);
  const open = new Map<string, number>();
  for (let e = 0; e < triangles.length; e++) {
    const a = triangles[e];
    const b = triangles[nextEdge(e)];
    const back = open.get(`${b} ${a}`);
    if (back === undefined) open.set(`${a} ${b}`, e);
    else {
      neighbours[e] = back;
      neighbours[back] = e;
      open.delete(`${b} ${a}`);
    }
  }
  return neighbours;
}

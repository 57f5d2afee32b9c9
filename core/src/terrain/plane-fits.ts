import { movedVertices, trianglesBeside } from './moved.ts';
import { innerVertices, planeThrough, planeWeights, ringOf } from './rings.ts';
import type { Surface } from './surface.ts';

/** Each inner vertex beside the plane of its ring; vertices on breaklines and on the rim have none. */
export interface PlaneFits {
  /** Vertices around vertex v, and how much each counts in the plane at v, stand from start[v] to start[v + 1]. */
  start: Uint32Array;
  ring: Uint32Array;
  weight: Float64Array;
  /** Elevation of the plane at each vertex, and the ring’s own scatter about it, m; NaN where there is no plane. */
  expected: Float64Array;
  scatter: Float64Array;
}

/** What was found of a plan's triangles, and the heights that it was found with. */
const found = new WeakMap<Uint32Array, { z: Float64Array; fits: PlaneFits }>();

/**
 * Least-squares planes through the rings of a surface. Triangles that stand in plan as before keep their rings and
 * weights; of the planes only those are laid again of which a corner has another elevation.
 */
export function planeFits(s: Surface): PlaneFits {
  const before = found.get(s.triangles);
  const moved = before ? movedVertices(before.z, s.z) : [];
  if (before && moved.length === 0) return before.fits;
  const fits = before ? { ...before.fits, expected: before.fits.expected.slice(), scatter: before.fits.scatter.slice() } : ringsOf(s); // prettier-ignore
  if (before) for (const v of beside(s, moved)) fit(s, fits, v);
  else for (let v = 0; v < s.x.length; v++) fit(s, fits, v);
  found.set(s.triangles, { z: s.z.slice(), fits });
  return fits;
}

function fit(s: Surface, { start, ring, expected, scatter }: PlaneFits, v: number): void {
  if (start[v] === start[v + 1]) return;
  const plane = planeThrough(s, ring.subarray(start[v], start[v + 1]), v)!;
  [expected[v], scatter[v]] = [plane.expected, plane.scatter];
}

/** Rings and weights of all inner vertices that have a plane. */
function ringsOf(s: Surface): PlaneFits {
  const n = s.x.length;
  const edges = innerVertices(s);
  const start = new Uint32Array(n + 1);
  const ring = new Uint32Array(s.triangles.length);
  const weight = new Float64Array(s.triangles.length);
  let count = 0;
  for (let v = 0; v < n; v++) {
    start[v] = count;
    if (edges[v] < 0) continue;
    const around = ringOf(s, edges[v]);
    const weights = planeWeights(s, around, v);
    if (!weights) continue;
    ring.set(around, count);
    weight.set(weights, count);
    count += around.length;
  }
  start[n] = count;
  return {
    start,
    ring: ring.slice(0, count),
    weight: weight.slice(0, count),
    expected: new Float64Array(n).fill(NaN),
    scatter: new Float64Array(n).fill(NaN),
  };
}

/** Vertices whose ring has one of some vertices in it; a vertex has no part in its own plane, but its neighbours' are its. */
function beside(s: Surface, moved: readonly number[]): Set<number> {
  const out = new Set<number>();
  for (const t of trianglesBeside(s, moved)) for (let e = 3 * t; e < 3 * t + 3; e++) out.add(s.triangles[e]);
  return out;
}

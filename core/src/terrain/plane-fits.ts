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
  if (before && before.z.every((z, v) => z === s.z[v])) return before.fits;
  const fits = before ? { ...before.fits, expected: before.fits.expected.slice(), scatter: before.fits.scatter.slice() } : ringsOf(s); // prettier-ignore
  const changed = before ? beside(fits, s.z, before.z) : null;
  for (let v = 0; v < s.x.length; v++) if (!changed || changed[v]) fit(s, fits, v);
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

/** 1 for vertices of which a corner of the ring has another elevation than before; their own does not count in it. */
function beside({ start, ring }: PlaneFits, now: Float64Array, before: Float64Array): Uint8Array {
  const out = new Uint8Array(now.length);
  for (let v = 0; v < now.length; v++)
    for (let k = start[v]; k < start[v + 1] && !out[v]; k++) if (now[ring[k]] !== before[ring[k]]) out[v] = 1;
  return out;
}

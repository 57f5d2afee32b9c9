import { nextEdge, previousEdge } from './delaunay.ts';
import type { Surface } from './surface.ts';

// What lies around a vertex, and the plane that it should lie on.

/** A half-edge that leaves each vertex; −1 for vertices on a breakline, on the rim, or in no triangle. */
export function innerVertices(s: Surface): Int32Array {
  const start = new Int32Array(s.x.length).fill(-1);
  const skip = new Uint8Array(s.x.length);
  for (let e = 0; e < s.triangles.length; e++) {
    const v = s.triangles[e];
    start[v] = e;
    if (s.neighbours[e] < 0 || s.breakSides[e]) skip[v] = skip[s.triangles[nextEdge(e)]] = 1;
  }
  for (let v = 0; v < start.length; v++) if (skip[v]) start[v] = -1;
  return start;
}

/** Vertices around the one that a half-edge leaves. */
export function ringOf(s: Surface, start: number): number[] {
  const ring: number[] = [];
  let e = start;
  do {
    ring.push(s.triangles[nextEdge(e)]);
    e = s.neighbours[previousEdge(e)];
  } while (e >= 0 && e !== start);
  return ring;
}

/** Vertices around one, in order. */
export type Ring = readonly number[] | Uint32Array;

/** Places of a ring about its own middle: the middle from v, and the sums of squares; null when too thin for a plane. */
function spreadOf(s: Surface, ring: Ring, v: number) {
  if (ring.length < 4) return null;
  let [mx, my] = [0, 0];
  for (const r of ring) {
    mx += (s.x[r] - s.x[v]) / ring.length;
    my += (s.y[r] - s.y[v]) / ring.length;
  }
  let [xx, xy, yy] = [0, 0, 0];
  for (const r of ring) {
    const [dx, dy] = [s.x[r] - s.x[v] - mx, s.y[r] - s.y[v] - my];
    xx += dx * dx;
    xy += dx * dy;
    yy += dy * dy;
  }
  const det = xx * yy - xy * xy;
  return det < 1e-6 * (xx + yy) * (xx + yy) ? null : { mx, my, xx, xy, yy, det };
}

/**
 * How much each vertex of a ring counts in the elevation at v of the least-squares plane through the ring, together 1;
 * null when the ring is too thin to carry one.
 */
export function planeWeights(s: Surface, ring: Ring, v: number): Float64Array | null {
  const spread = spreadOf(s, ring, v);
  if (!spread) return null;
  const { mx, my, xx, xy, yy, det } = spread;
  return Float64Array.from(ring, (r) => {
    const [dx, dy] = [s.x[r] - s.x[v] - mx, s.y[r] - s.y[v] - my];
    return 1 / ring.length - (mx * (dx * yy - dy * xy) + my * (dy * xx - dx * xy)) / det;
  });
}

/** Least-squares plane through the ring, taken at v, and the ring's own scatter about it; null when there is none. */
export function planeThrough(s: Surface, ring: Ring, v: number): { expected: number; scatter: number } | null {
  const spread = spreadOf(s, ring, v);
  if (!spread) return null;
  const { mx, my, xx, xy, yy, det } = spread;
  let mz = 0;
  for (const r of ring) mz += s.z[r] / ring.length;
  let [xz, yz] = [0, 0];
  for (const r of ring) {
    xz += (s.x[r] - s.x[v] - mx) * (s.z[r] - mz);
    yz += (s.y[r] - s.y[v] - my) * (s.z[r] - mz);
  }
  const gx = (xz * yy - yz * xy) / det;
  const gy = (yz * xx - xz * xy) / det;
  let sum = 0;
  for (const r of ring) {
    const residual = s.z[r] - mz - gx * (s.x[r] - s.x[v] - mx) - gy * (s.y[r] - s.y[v] - my);
    sum += residual * residual;
  }
  return { expected: mz - gx * mx - gy * my, scatter: Math.sqrt(sum / Math.max(1, ring.length - 3)) };
}

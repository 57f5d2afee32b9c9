import type Flatbush from 'flatbush';
import { hilbertOrder, orientation } from '#core/kernel';
import { nextEdge } from './delaunay.ts';
import { containsPlace, triangleIndex } from './heights.ts';
import type { Surface } from './surface.ts';

/**
 * Elevations of a surface at many places: NaN off it. Places are visited along a Hilbert curve and each is reached by
 * walking from triangle to triangle from the one before; where a walk ends at a rim, an index finds the triangle.
 */
export function elevationsAt(s: Surface, x: Float64Array, y: Float64Array): { z: Float64Array; triangle: Int32Array } {
  const z = new Float64Array(x.length).fill(NaN);
  const triangle = new Int32Array(x.length).fill(-1);
  const find = triangleWalk(s);
  const order = hilbertOrder(x, y);
  for (let k = 0; k < order.length; k++) {
    const i = order[k];
    const t = find(x[i], y[i]);
    triangle[i] = t;
    if (t >= 0) z[i] = elevationIn(s, t, x[i], y[i]);
  }
  return { z, triangle };
}

/** Elevation of the plane of triangle t at a place. */
export function elevationIn(
  { x, y, z, triangles }: Pick<Surface, 'x' | 'y' | 'z'> & { triangles: Uint32Array | Int32Array },
  t: number,
  px: number,
  py: number,
): number {
  const a = triangles[3 * t];
  const b = triangles[3 * t + 1];
  const c = triangles[3 * t + 2];
  const ux = x[b] - x[a];
  const uy = y[b] - y[a];
  const vx = x[c] - x[a];
  const vy = y[c] - y[a];
  const wx = px - x[a];
  const wy = py - y[a];
  const det = ux * vy - uy * vx;
  return z[a] + ((wx * vy - wy * vx) * (z[b] - z[a]) + (ux * wy - uy * wx) * (z[c] - z[a])) / det;
}

/** Finds the triangle of a place, the rim included; −1 off the surface. Quick where places asked for lie near each other. */
export function triangleWalk(s: Surface): (x: number, y: number) => number {
  const { triangles, neighbours } = s;
  if (triangles.length === 0) return () => -1;
  // A walk through constrained triangles may go round; one this long has.
  const longest = 1000 + Math.ceil(4 * Math.sqrt(triangles.length));
  let index: Flatbush | null | undefined;
  let last = 0;
  let convex: boolean | undefined;
  const byIndex = (px: number, py: number): number => {
    // Beyond the rim of a surface without a bay or a void there is nothing to look for.
    if ((convex ??= isConvex(s))) return -1;
    index ??= triangleIndex(s);
    const [t] = index?.search(px, py, px, py, (i) => containsPlace(s, i, px, py)).sort((a, b) => a - b) ?? [];
    return t ?? -1;
  };
  const { x, y } = s;
  return (px, py) => {
    let e = 3 * last;
    let from = -1;
    for (let step = 0; step < longest; step++) {
      const [a, b, c] = [triangles[e], triangles[e + 1], triangles[e + 2]];
      let out = -1;
      if (e !== from && orientation(x[a], y[a], x[b], y[b], px, py) < 0) out = e;
      else if (e + 1 !== from && orientation(x[b], y[b], x[c], y[c], px, py) < 0) out = e + 1;
      else if (e + 2 !== from && orientation(x[c], y[c], x[a], y[a], px, py) < 0) out = e + 2;
      if (out < 0) return (last = e / 3);
      from = neighbours[out];
      if (from < 0) break;
      e = from - (from % 3);
    }
    const found = byIndex(px, py);
    if (found >= 0) last = found;
    return found;
  };
}

/** Whether the rim is one ring that never turns inwards. */
function isConvex({ x, y, triangles, neighbours }: Surface): boolean {
  const next = new Map<number, number>();
  for (let e = 0; e < neighbours.length; e++) {
    if (neighbours[e] >= 0) continue;
    if (next.has(triangles[e])) return false;
    next.set(triangles[e], triangles[nextEdge(e)]);
  }
  const [first] = next.keys();
  let [v, walked] = [first, 0];
  do {
    const w = next.get(v)!;
    const u = next.get(w);
    if (u === undefined || orientation(x[v], y[v], x[w], y[w], x[u], y[u]) < 0) return false;
    v = w;
    walked++;
  } while (v !== first && walked <= next.size);
  return walked === next.size;
}

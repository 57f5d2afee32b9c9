import type Flatbush from 'flatbush';
import { hilbertOrder, orientation } from '#core/kernel';
import { nextEdge } from './delaunay.ts';
import { planeOf, triangleIndex } from './heights.ts';
import type { Surface } from './surface.ts';

/**
 * Elevations of a surface at many places: NaN off it. Places are visited along a Hilbert curve and each is reached by
 * walking from triangle to triangle from the one before; where a walk ends at a rim, an index finds the triangle.
 */
export function elevationsAt(s: Surface, x: Float64Array, y: Float64Array): { z: Float64Array; triangle: Int32Array } {
  const z = new Float64Array(x.length).fill(NaN);
  const triangle = new Int32Array(x.length).fill(-1);
  if (s.triangles.length === 0) return { z, triangle };
  const find = triangleWalk(s);
  for (const i of hilbertOrder(x, y)) {
    const t = find(x[i], y[i]);
    triangle[i] = t;
    if (t >= 0) z[i] = planeOf(s, t).at(x[i], y[i]);
  }
  return { z, triangle };
}

/** Finds the triangle of a place, the rim included; −1 off the surface. Quick where places asked for lie near each other. */
export function triangleWalk(s: Surface): (x: number, y: number) => number {
  const { triangles, neighbours } = s;
  // A walk through constrained triangles may go round; one this long has.
  const longest = 1000 + Math.ceil(4 * Math.sqrt(triangles.length));
  let index: Flatbush | null | undefined;
  let last = 0;
  const byIndex = (px: number, py: number): number => {
    index ??= triangleIndex(s);
    const [t] = index?.search(px, py, px, py, (i) => contains(s, i, px, py)).sort((a, b) => a - b) ?? [];
    return t ?? -1;
  };
  return (px, py) => {
    let t = last;
    let from = -1;
    for (let step = 0; step < longest; step++) {
      let out = -1;
      for (let e = 3 * t; e < 3 * t + 3; e++) {
        if (e === from) continue;
        const [a, b] = [triangles[e], triangles[nextEdge(e)]];
        if (orientation(s.x[a], s.y[a], s.x[b], s.y[b], px, py) < 0) {
          out = e;
          break;
        }
      }
      if (out < 0) return (last = t);
      from = neighbours[out];
      if (from < 0) break;
      t = Math.floor(from / 3);
    }
    const found = byIndex(px, py);
    if (found >= 0) last = found;
    return found;
  };
}

function contains(s: Surface, t: number, px: number, py: number): boolean {
  for (let e = 3 * t; e < 3 * t + 3; e++) {
    const [a, b] = [s.triangles[e], s.triangles[nextEdge(e)]];
    if (orientation(s.x[a], s.y[a], s.x[b], s.y[b], px, py) < 0) return false;
  }
  return true;
}

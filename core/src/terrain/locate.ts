import type Flatbush from 'flatbush';
import { hilbertOrder, orientation, TURN_BOUND } from '#core/kernel';
import { nextEdge } from './delaunay.ts';
import { elevationIn } from './elevation-in.ts';
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
  let extent: ReturnType<typeof extentOf> | undefined;
  let unsure = 0;
  return (px, py) => {
    if (!extent) {
      extent = extentOf(s);
      // Within the extent no product of two differences is larger than its area: one bound is good for every turn.
      unsure = TURN_BOUND * 2 * (extent[2] - extent[0]) * (extent[3] - extent[1]);
    }
    if (!(px >= extent[0] && px <= extent[2] && py >= extent[1] && py <= extent[3])) return -1;
    let e = 3 * last;
    let from = -1;
    for (let step = 0; step < longest; step++) {
      const a = triangles[e];
      const b = triangles[e + 1];
      const c = triangles[e + 2];
      const ax = x[a] - px;
      const ay = y[a] - py;
      const bx = x[b] - px;
      const by = y[b] - py;
      const cx = x[c] - px;
      const cy = y[c] - py;
      let out = -1;
      if (e !== from && turnsRight(ax * by - ay * bx, unsure, x, y, a, b, px, py)) out = e;
      else if (e + 1 !== from && turnsRight(bx * cy - by * cx, unsure, x, y, b, c, px, py)) out = e + 1;
      else if (e + 2 !== from && turnsRight(cx * ay - cy * ax, unsure, x, y, c, a, px, py)) out = e + 2;
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

/** Whether the turn a → b → place is to the right; `fast` is what plain numbers make of it, to be trusted beyond `unsure`. */
function turnsRight(
  fast: number,
  unsure: number,
  x: Float64Array,
  y: Float64Array,
  a: number,
  b: number,
  px: number,
  py: number,
): boolean {
  return fast < -unsure || (fast <= unsure && orientation(x[a], y[a], x[b], y[b], px, py) < 0);
}

/** Lowest and highest x and y of what the triangles stand on. */
function extentOf({ x, y, triangles }: Surface): [west: number, south: number, east: number, north: number] {
  let [west, south, east, north] = [Infinity, Infinity, -Infinity, -Infinity];
  for (let e = 0; e < triangles.length; e++) {
    const v = triangles[e];
    if (x[v] < west) west = x[v];
    if (x[v] > east) east = x[v];
    if (y[v] < south) south = y[v];
    if (y[v] > north) north = y[v];
  }
  return [west, south, east, north];
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

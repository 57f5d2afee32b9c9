import type Flatbush from 'flatbush';
import { hilbertOrder, orientation, TURN_BOUND } from '#core/kernel';
import { nextEdge } from './delaunay.ts';
import { elevationOfPlane } from './elevation-in.ts';
import { containsPlace, triangleIndex } from './heights.ts';
import type { Surface } from './surface.ts';

/**
 * Elevations of a surface at many places: NaN off it. Places are visited along a Hilbert curve and each is reached by
 * walking from triangle to triangle from the one before; where a walk ends at a rim, an index finds the triangle.
 */
export function elevationsAt(s: Surface, x: Float64Array, y: Float64Array): { z: Float64Array; triangle: Int32Array } {
  const n = x.length;
  const order = hilbertOrder(x, y);
  // What is asked and what is answered lie in the order of the walk: fetching far values one by one would take longer than
  // the walk itself.
  const [px, py, pz] = [new Float64Array(n), new Float64Array(n), new Float64Array(n)];
  for (let k = 0; k < n; k++) {
    px[k] = x[order[k]];
    py[k] = y[order[k]];
  }
  const found = new Int32Array(n);
  const { find, elevation } = surfaceWalk(s);
  for (let k = 0; k < n; k++) {
    const t = find(px[k], py[k]);
    found[k] = t;
    pz[k] = t < 0 ? NaN : elevation(t, px[k], py[k]);
  }
  const z = px;
  const triangle = new Int32Array(n);
  for (let k = 0; k < n; k++) {
    z[order[k]] = pz[k];
    triangle[order[k]] = found[k];
  }
  return { z, triangle };
}

/** Finds the triangle of a place, the rim included; −1 off the surface. Quick where places asked for lie near each other. */
export function triangleWalk(s: Surface): SurfaceWalk['find'] {
  // Whoever asks for nothing waits for nothing.
  let walk: SurfaceWalk | undefined;
  return (x, y) => (walk ??= surfaceWalk(s)).find(x, y);
}

interface SurfaceWalk {
  /** The triangle of a place, the rim included; −1 off the surface. Quick where places asked for lie near each other. */
  find: (x: number, y: number) => number;
  /** Elevation of the plane of a triangle at a place, as `elevationIn`. */
  elevation: (triangle: number, x: number, y: number) => number;
}

/** Numbers of a vertex in the walk's own columns: x, y, z and one that is not used, so that a vertex is fetched at once. */
const STRIDE = 4;

function surfaceWalk(s: Surface): SurfaceWalk {
  const { triangles, neighbours } = s;
  if (triangles.length === 0) return { find: () => -1, elevation: () => NaN };
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
  const v = besideEachOther(s);
  const [west, south, east, north] = extentOfVertices(s);
  // Within the extent no product of two differences is larger than its area: one bound is good for every turn.
  const unsure = TURN_BOUND * 2 * (east - west) * (north - south);
  const find = (px: number, py: number): number => {
    if (!(px >= west && px <= east && py >= south && py <= north)) return -1;
    let e = 3 * last;
    let from = -1;
    for (let step = 0; step < longest; step++) {
      const a = triangles[e];
      const b = triangles[e + 1];
      const c = triangles[e + 2];
      const ax = v[STRIDE * a] - px;
      const ay = v[STRIDE * a + 1] - py;
      const bx = v[STRIDE * b] - px;
      const by = v[STRIDE * b + 1] - py;
      const cx = v[STRIDE * c] - px;
      const cy = v[STRIDE * c + 1] - py;
      let out = -1;
      const ab = ax * by - ay * bx;
      const bc = bx * cy - by * cx;
      const ca = cx * ay - cy * ax;
      if (ab <= unsure && e !== from && (ab < -unsure || turnsRight(s, a, b, px, py))) out = e;
      else if (bc <= unsure && e + 1 !== from && (bc < -unsure || turnsRight(s, b, c, px, py))) out = e + 1;
      else if (ca <= unsure && e + 2 !== from && (ca < -unsure || turnsRight(s, c, a, px, py))) out = e + 2;
      if (out < 0) return (last = e / 3);
      from = neighbours[out];
      if (from < 0) break;
      e = from - (from % 3);
    }
    const found = byIndex(px, py);
    if (found >= 0) last = found;
    return found;
  };
  return {
    find,
    elevation(t, px, py) {
      const a = STRIDE * triangles[3 * t];
      const b = STRIDE * triangles[3 * t + 1];
      const c = STRIDE * triangles[3 * t + 2];
      return elevationOfPlane(v[a], v[a + 1], v[a + 2], v[b], v[b + 1], v[b + 2], v[c], v[c + 1], v[c + 2], px, py);
    },
  };
}

function besideEachOther({ x, y, z }: Surface): Float64Array<ArrayBuffer> {
  const out = new Float64Array(STRIDE * x.length);
  for (let i = 0; i < x.length; i++) {
    out[STRIDE * i] = x[i];
    out[STRIDE * i + 1] = y[i];
    out[STRIDE * i + 2] = z[i];
  }
  return out;
}

/** Whether the turn a → b → place is to the right, exactly. */
const turnsRight = ({ x, y }: Surface, a: number, b: number, px: number, py: number): boolean =>
  orientation(x[a], y[a], x[b], y[b], px, py) < 0;

/** Lowest and highest x and y of a surface's vertices; of those that no triangle stands on, too. */
export function extentOfVertices({ x, y }: Surface): [west: number, south: number, east: number, north: number] {
  let [west, south, east, north] = [Infinity, Infinity, -Infinity, -Infinity];
  for (let v = 0; v < x.length; v++) {
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

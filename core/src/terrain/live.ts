import { orientation } from '#core/kernel';
import { meshEditor } from './constraints.ts';
import { GHOST, nextEdge, previousEdge } from './delaunay.ts';
import { elevationIn } from './elevation-in.ts';
import { NO_POINT, type Surface } from './surface.ts';

/** Triangles that are others than when the surface was opened: x, y, z of three corners each, m. */
export interface LivePatch {
  gone: Float64Array;
  made: Float64Array;
}

/**
 * A surface under the hand: vertices go in, out and to other places without triangulating it anew, and give the triangles
 * that doing so would give. Its rim stays: what would change it, or what it has no more room for, is refused, and the
 * surface is then to be made anew from its points.
 */
export interface LiveSurface {
  /** The vertex put in; null where it cannot be: off the surface, on its rim or on another vertex. */
  insert(x: number, y: number, z: number): number | null;
  /** Takes a vertex out, with the breakline sides that end at it. */
  remove(v: number): boolean;
  /** Puts a vertex elsewhere; its breakline sides go with it. After a refusal the surface is as far as it came: open it again. */
  move(v: number, x: number, y: number, z: number): boolean;
  /** Elevation that the surface would have at a vertex if that were not there, m; null at the rim. The surface stays. */
  without(v: number): number | null;
  /** Makes a breakline between two vertices, through those on its way; refused where another is crossed. */
  putBreakline(a: number, b: number): boolean;
  /** The side between two vertices is no breakline any more; refused where it is none. */
  takeBreakline(a: number, b: number): boolean;
  patch(): LivePatch;
  /** All of it, its triangles in an order of their own. */
  surface(): Surface;
}

/** Not taken away by flips: a breakline's side, and the rim. */
const BREAKLINE = 1;
const RIM = 2;
/** A place among the triangles that none takes now. */
const FREE = -2;
/** So many vertices can be put in. */
const SPARE = 2048;

export function liveSurface(s: Surface): LiveSurface {
  const mesh = openMesh(s);
  const { x, y, z, corner, twin, fixed, edgeAt } = mesh;
  const first = s.triangles.length / 3;
  const changed = new Set<number>();
  const touched = (t: number): void => void changed.add(t);
  const { sideBetween, makeDelaunay, putIn } = meshEditor(mesh, touched);
  const turn = (a: number, b: number, c: number): number => orientation(x[a], y[a], x[b], y[b], x[c], y[c]);

  /** A triangle near where something was done last. */
  let last = 0;

  /** Half-edges from a vertex, counter-clockwise; null at the rim, where they do not close. */
  function starOf(v: number): number[] | null {
    const begin = edgeAt[v];
    if (begin < 0) return null;
    const out: number[] = [];
    let e = begin;
    do {
      if (corner[nextEdge(e)] === GHOST || corner[previousEdge(e)] === GHOST) return null;
      out.push(e);
      e = twin[previousEdge(e)];
    } while (e !== begin);
    return out;
  }

  function link(e: number, f: number, kind: number): void {
    twin[e] = f;
    twin[f] = e;
    fixed[e] = fixed[f] = kind;
  }

  function put(t: number, a: number, b: number, c: number): number {
    touched(t);
    const e = 3 * t;
    corner[e] = a;
    corner[e + 1] = b;
    corner[e + 2] = c;
    edgeAt[a] = e;
    edgeAt[b] = e + 1;
    edgeAt[c] = e + 2;
    return e;
  }

  function remove(v: number): boolean {
    const star = starOf(v);
    if (!star) return false;
    const slots = star.map((e) => Math.floor(e / 3));
    let ring = star.map((e) => {
      const side = nextEdge(e);
      return { v: corner[side], beyond: twin[side], kind: fixed[side] };
    });
    for (const t of slots) {
      touched(t);
      corner.fill(FREE, 3 * t, 3 * t + 3);
    }
    // Where a breakline goes, corners see each other that did not.
    const made = star.some((e) => fixed[e]) ? ring.flatMap((r, i) => [r.v, ring[(i + 1) % ring.length].v]) : [];
    while (ring.length > 3) {
      const at = ring.findIndex((_, i) => isEar(ring.map((r) => r.v), i, turn)); // prettier-ignore
      const [before, ear, after] = [(at + ring.length - 1) % ring.length, at, (at + 1) % ring.length];
      const e = put(slots.pop()!, ring[before].v, ring[ear].v, ring[after].v);
      link(e, ring[before].beyond, ring[before].kind);
      link(e + 1, ring[ear].beyond, ring[ear].kind);
      made.push(ring[before].v, ring[after].v);
      ring[before] = { v: ring[before].v, beyond: e + 2, kind: 0 };
      ring = ring.filter((_, i) => i !== ear);
    }
    const e = put(slots.pop()!, ring[0].v, ring[1].v, ring[2].v);
    ring.forEach(({ beyond, kind }, i) => link(e + i, beyond, kind));
    mesh.free.push(...slots);
    edgeAt[v] = -1;
    last = Math.floor(e / 3);
    makeDelaunay(made);
    return true;
  }

  /** A triangle about a place, by walking, or by looking at each where the walk meets the rim; −1 off the surface. */
  function triangleAt(px: number, py: number, near: number): number {
    let t = near;
    for (let step = 0; step < 1000; step++) {
      const out = sideTowards(t, px, py);
      if (out < 0) return t;
      if (fixed[out] & RIM) break;
      t = Math.floor(twin[out] / 3);
    }
    for (let u = 0; u < mesh.count; u++)
      if (corner[3 * u] >= 0 && corner[3 * u + 1] >= 0 && corner[3 * u + 2] >= 0 && sideTowards(u, px, py) < 0)
        return u;
    return -1;
  }

  /** The side of a triangle beyond which a place lies; −1 for none. */
  function sideTowards(t: number, px: number, py: number): number {
    for (let e = 3 * t; e < 3 * t + 3; e++) {
      const [a, b] = [corner[e], corner[nextEdge(e)]];
      if (orientation(x[a], y[a], x[b], y[b], px, py) < 0) return e;
    }
    return -1;
  }

  function insertAs(v: number): boolean {
    if (corner[3 * last] < 0 || corner[3 * last + 1] < 0 || corner[3 * last + 2] < 0) last = anyTriangle();
    const t = triangleAt(x[v], y[v], last);
    if (t < 0) return false;
    const e0 = 3 * t;
    const [a, b, c] = [corner[e0], corner[e0 + 1], corner[e0 + 2]];
    if ([a, b, c].some((u) => x[u] === x[v] && y[u] === y[v])) return false;
    const on = [e0, e0 + 1, e0 + 2].find((e) => turn(corner[e], corner[nextEdge(e)], v) === 0);
    if (on !== undefined) return splitSide(on, v);
    const beyond = [0, 1, 2].map((k) => ({ f: twin[e0 + k], kind: fixed[e0 + k] }));
    const [t1, t2] = [mesh.free.pop(), mesh.free.pop()];
    if (t1 === undefined || t2 === undefined) return false;
    const parts = [put(t, a, b, v), put(t1, b, c, v), put(t2, c, a, v)];
    parts.forEach((e, k) => {
      link(e, beyond[k].f, beyond[k].kind);
      link(e + 1, parts[(k + 1) % 3] + 2, 0);
    });
    last = t;
    makeDelaunay([a, b, b, c, c, a]);
    return true;
  }

  /** A vertex on a side that is no rim: its two triangles become four, and its two halves are what the side was. */
  function splitSide(e: number, v: number): boolean {
    if (fixed[e] & RIM) return false;
    const f = twin[e];
    const [a, b, p, d] = [corner[e], corner[f], corner[previousEdge(e)], corner[previousEdge(f)]];
    const kind = fixed[e];
    const outer = [previousEdge(e), nextEdge(f), previousEdge(f), nextEdge(e)].map((o) => ({
      f: twin[o],
      kind: fixed[o],
    }));
    const [t1, t2] = [mesh.free.pop(), mesh.free.pop()];
    if (t1 === undefined || t2 === undefined) return false;
    // Round v: p → a, a → d, d → b, b → p.
    const ends = [p, a, d, b];
    const parts = [Math.floor(e / 3), t1, Math.floor(f / 3), t2].map((t, k) => put(t, ends[k], ends[(k + 1) % 4], v));
    parts.forEach((side, k) => {
      link(side, outer[k].f, outer[k].kind);
      // From a and from b to v runs the side that was there.
      link(side + 1, parts[(k + 1) % 4] + 2, k % 2 === 0 ? kind : 0);
    });
    makeDelaunay([p, a, a, d, d, b, b, p]);
    return true;
  }

  const anyTriangle = (): number => {
    for (let t = 0; t < mesh.count; t++)
      if (corner[3 * t] >= 0 && corner[3 * t + 1] >= 0 && corner[3 * t + 2] >= 0) return t;
    return 0;
  };

  return {
    insert(px, py, pz) {
      if (mesh.vertices === x.length) return null;
      const v = mesh.vertices;
      [x[v], y[v], z[v]] = [px, py, pz];
      if (!insertAs(v)) return null;
      mesh.vertices++;
      return v;
    },
    remove: (v) => remove(v),
    move(v, px, py, pz) {
      const star = starOf(v);
      if (px === x[v] && py === y[v]) {
        z[v] = pz;
        forTriangles(v, touched);
        return edgeAt[v] >= 0;
      }
      if (!star) return false;
      const ends = star.filter((e) => fixed[e] & BREAKLINE).map((e) => corner[nextEdge(e)]);
      if (ends.some((u) => mesh.pinched[u])) return false;
      if (!remove(v)) return false;
      [x[v], y[v], z[v]] = [px, py, pz];
      if (!insertAs(v)) return false;
      return ends.every((u) => putIn(v, u) === null);
    },
    without(v) {
      if (starOf(v)?.every((e) => !fixed[e]) !== true || !remove(v)) return null;
      const t = triangleAt(x[v], y[v], last);
      const found = t < 0 ? null : elevationIn({ x, y, z, triangles: corner }, t, x[v], y[v]);
      insertAs(v);
      return found;
    },
    putBreakline: (a, b) => !mesh.pinched[a] && !mesh.pinched[b] && putIn(a, b) === null,
    takeBreakline(a, b) {
      const e = mesh.pinched[a] ? -1 : sideBetween(a, b);
      if (e < 0 || !(fixed[e] & BREAKLINE)) return false;
      link(e, twin[e], fixed[e] & RIM);
      makeDelaunay([a, b]);
      return true;
    },
    patch: () => patchOf(s, mesh, first, changed),
    surface: () => closeMesh(s, mesh),
  };

  function forTriangles(v: number, tell: (t: number) => void): void {
    const begin = edgeAt[v];
    if (begin < 0) return;
    let e = begin;
    do {
      tell(Math.floor(e / 3));
      e = twin[previousEdge(e)];
    } while (e !== begin);
  }
}

/** Whether the i-th corner of a ring can be cut off: it turns left, and no other corner lies in or on what is cut. */
function isEar(ring: readonly number[], i: number, turn: (a: number, b: number, c: number) => number): boolean {
  const n = ring.length;
  const [a, b, c] = [ring[(i + n - 1) % n], ring[i], ring[(i + 1) % n]];
  if (turn(a, b, c) <= 0) return false;
  return ring.every((v) => v === a || v === b || v === c || turn(a, b, v) < 0 || turn(b, c, v) < 0 || turn(c, a, v) < 0); // prettier-ignore
}

interface OpenMesh {
  x: Float64Array;
  y: Float64Array;
  z: Float64Array;
  corner: Int32Array;
  twin: Int32Array;
  fixed: Uint8Array;
  edgeAt: Int32Array;
  /** Vertices at which the rim passes more than once. */
  pinched: Uint8Array;
  /** Triangles that are free to be taken. */
  free: number[];
  vertices: number;
  /** Triangles, ghosts and free ones. */
  count: number;
}

/** A surface as a mesh to be edited: over each side of its rim, which is fixed, stands a ghost. */
function openMesh(s: Surface): OpenMesh {
  const n = s.x.length;
  const count = s.triangles.length / 3;
  let rim = 0;
  for (const f of s.neighbours) if (f < 0) rim++;
  const size = count + rim + 2 * SPARE;
  const longer = (v: Float64Array): Float64Array => {
    const out = new Float64Array(n + SPARE);
    out.set(v);
    return out;
  };
  const corner = new Int32Array(3 * size).fill(FREE);
  const twin = new Int32Array(3 * size).fill(-1);
  const fixed = new Uint8Array(3 * size);
  const edgeAt = new Int32Array(n + SPARE).fill(-1);
  const pinched = new Uint8Array(n + SPARE);
  corner.set(s.triangles);
  twin.set(s.neighbours);
  fixed.set(s.breakSides);
  const begins = new Uint8Array(n);
  let ghost = count;
  const ghostOver = new Map<number, number>();
  for (let e = 0; e < s.triangles.length; e++) {
    edgeAt[corner[e]] = e;
    if (s.neighbours[e] >= 0) continue;
    const g = 3 * ghost++;
    [corner[g], corner[g + 1], corner[g + 2]] = [corner[nextEdge(e)], corner[e], GHOST];
    twin[g] = e;
    twin[e] = g;
    fixed[e] |= RIM;
    fixed[g] = fixed[e];
    ghostOver.set(e, g);
    if (begins[corner[e]]) pinched[corner[e]] = 1;
    begins[corner[e]] = 1;
  }
  for (const [e, g] of ghostOver) {
    // The rim's side that ends where this one begins, within the same fan of triangles.
    let back = previousEdge(e);
    while (!(fixed[back] & RIM)) back = previousEdge(twin[back]);
    const h = ghostOver.get(back)!;
    twin[g + 1] = h + 2;
    twin[h + 2] = g + 1;
  }
  const free = Array.from({ length: size - ghost }, (_, i) => size - 1 - i);
  return { x: longer(s.x), y: longer(s.y), z: longer(s.z), corner, twin, fixed, edgeAt, pinched, free, vertices: n, count: size }; // prettier-ignore
}

/** What of the triangles that were touched is no longer as it was. */
function patchOf(s: Surface, { x, y, z, corner }: OpenMesh, first: number, changed: ReadonlySet<number>): LivePatch {
  const same = (v: number): boolean => v < s.x.length && s.x[v] === x[v] && s.y[v] === y[v] && s.z[v] === z[v];
  const key = (a: number, b: number, c: number): string => (a < b && a < c ? `${a} ${b} ${c}` : b < c ? `${b} ${c} ${a}` : `${c} ${a} ${b}`); // prettier-ignore
  const before = new Map<string, number[]>();
  const after = new Map<string, number[]>();
  for (const t of changed) {
    if (t < first) {
      const was = [...s.triangles.subarray(3 * t, 3 * t + 3)];
      before.set(key(was[0], was[1], was[2]), was);
    }
    const is = [...corner.subarray(3 * t, 3 * t + 3)];
    if (is.every((v) => v >= 0)) after.set(key(is[0], is[1], is[2]), is);
  }
  for (const [k, corners] of before) {
    if (!after.has(k) || !corners.every(same)) continue;
    before.delete(k);
    after.delete(k);
  }
  const gone = [...before.values()].flat().flatMap((v) => [s.x[v], s.y[v], s.z[v]]);
  const made = [...after.values()].flat().flatMap((v) => [x[v], y[v], z[v]]);
  return { gone: Float64Array.from(gone), made: Float64Array.from(made) };
}

function closeMesh(s: Surface, { x, y, z, corner, twin, fixed, vertices, count }: OpenMesh): Surface {
  const number = new Int32Array(count).fill(-1);
  let kept = 0;
  for (let t = 0; t < count; t++)
    if (corner[3 * t] >= 0 && corner[3 * t + 1] >= 0 && corner[3 * t + 2] >= 0) number[t] = kept++;
  const triangles = new Uint32Array(3 * kept);
  const neighbours = new Int32Array(3 * kept);
  const breakSides = new Uint8Array(3 * kept);
  for (let t = 0, at = 0; t < count; t++) {
    if (number[t] < 0) continue;
    for (let e = 3 * t; e < 3 * t + 3; e++, at++) {
      const beside = Math.floor(twin[e] / 3);
      triangles[at] = corner[e];
      breakSides[at] = fixed[e] & BREAKLINE;
      neighbours[at] = number[beside] < 0 ? -1 : 3 * number[beside] + (twin[e] % 3);
    }
  }
  const point = new Uint32Array(vertices).fill(NO_POINT);
  point.set(s.point.subarray(0, vertices));
  return { x: x.slice(0, vertices), y: y.slice(0, vertices), z: z.slice(0, vertices), triangles, neighbours, breakSides, point }; // prettier-ignore
}

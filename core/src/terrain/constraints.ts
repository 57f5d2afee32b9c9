import { orientation } from '#core/kernel';
import { isInsideCircle } from './circle.ts';
import { nextEdge, previousEdge, type Mesh } from './delaunay.ts';

/** Two breakline segments that cross away from any common point. Vertices are the caller's indices. */
export interface Crossing {
  /** The segment that was there first, and is kept. */
  kept: [number, number];
  /** The segment that was being put in, and is left out. */
  leftOut: [number, number];
  /** Index of the segment that was left out, in the order given. */
  segment: number;
}

export interface Constraints {
  /** 1 for every half-edge that is a breakline side. */
  fixed: Uint8Array;
  crossings: Crossing[];
}

/**
 * Puts segments into a Delaunay triangulation as sides (constrained Delaunay): sides that a segment
 * crosses are flipped away (Sloan, "A fast algorithm for generating constrained Delaunay
 * triangulations", 1993), then the new sides are made Delaunay again where no segment forbids it.
 * A segment through a vertex is split there. A segment that would cross one already in place is left
 * out whole and named in `crossings`.
 *
 * @param segments pairs of the caller's point indices
 */
export function constrain(mesh: Mesh, segments: Int32Array | Uint32Array): Constraints {
  const fixed = new Uint8Array(mesh.count * 3);
  const crossings: Crossing[] = [];
  if (mesh.count === 0 || segments.length === 0) return { fixed, crossings };
  const { x, corner, source, coincidesWith } = mesh;

  const vertexOf = new Int32Array(x.length);
  for (let v = 0; v < source.length; v++) vertexOf[source[v]] = v;
  const edgeAt = new Int32Array(x.length).fill(-1);
  for (let e = 0; e < mesh.count * 3; e++) if (corner[e] >= 0) edgeAt[corner[e]] = e;
  const { putIn } = meshEditor({ ...mesh, fixed, edgeAt });

  for (let s = 0; s + 1 < segments.length; s += 2) {
    const met = putIn(resolve(segments[s]), resolve(segments[s + 1]));
    if (!met) continue;
    crossings.push({
      kept: [source[corner[met.side]], source[corner[nextEdge(met.side)]]],
      leftOut: [source[met.from], source[resolve(segments[s + 1])]],
      segment: s / 2,
    });
  }
  return { fixed, crossings };

  function resolve(point: number): number {
    const kept = coincidesWith[point];
    return vertexOf[kept >= 0 ? kept : point];
  }
}

/** What is edited of a mesh: its sides by flips, and which of them are fixed. */
export interface EditedMesh {
  x: Float64Array;
  y: Float64Array;
  corner: Int32Array;
  twin: Int32Array;
  /** Not 0 for half-edges that no flip takes away; both of a side. */
  fixed: Uint8Array;
  /** A half-edge from each vertex; −1 for none. */
  edgeAt: Int32Array;
}

/** What can be done to the sides of a mesh. `touched` is told each triangle that a flip changes. */
export function meshEditor({ x, y, corner, twin, fixed, edgeAt }: EditedMesh, touched?: (t: number) => void) {
  const turn = (a: number, b: number, c: number): number => orientation(x[a], y[a], x[b], y[b], x[c], y[c]);

  function flip(e: number): void {
    const f = twin[e];
    if (touched) {
      touched((e / 3) | 0);
      touched((f / 3) | 0);
    }
    const en = nextEdge(e);
    const ep = previousEdge(e);
    const fn = nextEdge(f);
    const fp = previousEdge(f);
    const p = corner[ep];
    const d = corner[fp];
    const outerF = twin[ep];
    const outerE = twin[fp];
    corner[e] = d;
    corner[f] = p;
    twin[e] = outerE;
    twin[outerE] = e;
    twin[f] = outerF;
    twin[outerF] = f;
    twin[ep] = fp;
    twin[fp] = ep;
    fixed[e] = fixed[fp];
    fixed[f] = fixed[ep];
    fixed[ep] = 0;
    fixed[fp] = 0;
    if (d >= 0) edgeAt[d] = e;
    if (p >= 0) edgeAt[p] = f;
    if (corner[en] >= 0) edgeAt[corner[en]] = en;
    if (corner[fn] >= 0) edgeAt[corner[fn]] = fn;
  }

  /** The half-edge from u to v, or −1. */
  function sideBetween(u: number, v: number): number {
    const start = edgeAt[u];
    let e = start;
    do {
      if (corner[nextEdge(e)] === v) return e;
      e = twin[previousEdge(e)];
    } while (e !== start);
    return -1;
  }

  function fix(e: number): void {
    fixed[e] |= 1;
    fixed[twin[e]] |= 1;
  }

  /** The vertex in line ahead of a towards b, or the side opposite a that the segment leaves through. */
  function firstObstacle(a: number, b: number): { through: number } | { across: number } {
    const start = edgeAt[a];
    let e = start;
    do {
      const v1 = corner[nextEdge(e)];
      const v2 = corner[previousEdge(e)];
      if (v1 === b) return { through: b };
      if (v1 >= 0) {
        const t1 = turn(a, b, v1);
        if (t1 === 0 && (x[v1] - x[a]) * (x[b] - x[a]) + (y[v1] - y[a]) * (y[b] - y[a]) > 0) return { through: v1 };
        if (t1 < 0 && v2 >= 0 && turn(a, b, v2) > 0) return { across: nextEdge(e) };
      }
      e = twin[previousEdge(e)];
    } while (e !== start);
    return { through: b };
  }

  /** Sides crossed by a → b up to the next vertex on it, as vertex pairs; null where a fixed side is in the way. */
  function crossedSides(a: number, b: number, first: number): { pairs: number[]; end: number; fixedSide: number } {
    const pairs: number[] = [];
    let e = first;
    for (;;) {
      if (fixed[e]) return { pairs, end: b, fixedSide: e };
      pairs.push(corner[e], corner[nextEdge(e)]);
      const f = twin[e];
      const apex = corner[previousEdge(f)];
      if (apex === b) return { pairs, end: b, fixedSide: -1 };
      const side = turn(a, b, apex);
      if (side === 0) return { pairs, end: apex, fixedSide: -1 };
      e = side > 0 ? nextEdge(f) : previousEdge(f);
    }
  }

  /** Flips crossed sides away until a → b is a side. */
  function clear(a: number, b: number, pairs: number[]): void {
    const made: number[] = [];
    let head = 0;
    while (head < pairs.length) {
      const u = pairs[head++];
      const v = pairs[head++];
      const e = sideBetween(u, v);
      const p = corner[previousEdge(e)];
      const d = corner[previousEdge(twin[e])];
      const convex = turn(p, u, d) > 0 && turn(d, v, p) > 0;
      if (!convex) {
        pairs.push(u, v);
        continue;
      }
      flip(e);
      const stillCrosses =
        p !== a && p !== b && d !== a && d !== b && Math.sign(turn(a, b, p)) * Math.sign(turn(a, b, d)) < 0;
      if (stillCrosses) pairs.push(p, d);
      else made.push(p, d);
    }
    const e = sideBetween(a, b);
    fix(e);
    makeDelaunay(made);
  }

  /** Flips sides, given as pairs of vertices, and what that leads to, until circles are empty where nothing is fixed. */
  function makeDelaunay(made: readonly number[]): void {
    const stack: number[] = [];
    for (let i = 0; i < made.length; i += 2) {
      const e = sideBetween(made[i], made[i + 1]);
      if (e >= 0) stack.push(e);
    }
    while (stack.length) {
      const e = stack.pop()!;
      if (fixed[e]) continue;
      const f = twin[e];
      const a = corner[e];
      const b = corner[f];
      const p = corner[previousEdge(e)];
      const d = corner[previousEdge(f)];
      if ((a | b | p | d) < 0) continue;
      if (!isInsideCircle(x, y, a, b, p, d)) continue;
      flip(e);
      stack.push(e, nextEdge(e), f, nextEdge(f));
    }
  }

  /** Makes a → b sides, split at vertices on it; the fixed side that is in the way, and from where, if one is. */
  function putIn(a: number, b: number): { side: number; from: number } | null {
    let guard = 0;
    while (a !== b && guard++ <= x.length) {
      const next = firstObstacle(a, b);
      if ('through' in next) {
        const e = sideBetween(a, next.through);
        if (e >= 0) fix(e);
        a = next.through;
        continue;
      }
      const { pairs, end, fixedSide } = crossedSides(a, b, next.across);
      if (fixedSide >= 0) return { side: fixedSide, from: a };
      clear(a, end, pairs);
      a = end;
    }
    return null;
  }

  return { sideBetween, makeDelaunay, putIn };
}

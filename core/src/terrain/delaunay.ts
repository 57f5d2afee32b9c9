import { hilbertOrder, INCIRCLE_BOUND, orientation } from '#core/kernel';
import { isInsideCircle } from './circle.ts';

/** The symbolic vertex outside the hull: triangles that have it stand for the open side of a hull edge. */
export const GHOST = -1;

/**
 * A triangulation that is being built. Half-edge e of triangle ⌊e/3⌋ runs from `corner[e]` to
 * `corner[next(e)]`, triangles are counter-clockwise; `twin[e]` is the same side seen from the
 * neighbour. The plane is closed by triangles with the corner GHOST, so every side has a twin.
 * Corners index `x` and `y`, which are in an order of their own; `source` gives the caller's index.
 */
export interface Mesh {
  x: Float64Array;
  y: Float64Array;
  source: Uint32Array;
  /** For each caller's point that coincides exactly with another, that other's index; otherwise −1. */
  coincidesWith: Int32Array;
  corner: Int32Array;
  twin: Int32Array;
  /** Triangles in use, ghosts included; 0 when there are fewer than three points not in line. */
  count: number;
}

export const nextEdge = (e: number): number => (e % 3 === 2 ? e - 2 : e + 1);
export const previousEdge = (e: number): number => (e % 3 === 0 ? e + 2 : e - 1);

/**
 * Delaunay triangulation by insertion along a Hilbert curve, with exact predicates: each point is
 * found by walking from the one before, its triangle is split in three, and sides are flipped until
 * the circles are empty again (Lawson). Coordinates must be finite. Places on one circle are decided by their
 * coordinates, so that one set of places has one triangulation.
 */
export function delaunay(px: Float64Array, py: Float64Array): Mesh {
  const n = px.length;
  const source = hilbertOrder(px, py);
  const x = new Float64Array(n);
  const y = new Float64Array(n);
  for (let i = 0; i < n; i++) {
    x[i] = flushed(px[source[i]]);
    y[i] = flushed(py[source[i]]);
  }
  const size = Math.max(4, 2 * n) * 3;
  const mesh: Mesh = {
    x,
    y,
    source,
    coincidesWith: new Int32Array(n).fill(-1),
    corner: new Int32Array(size),
    twin: new Int32Array(size),
    count: 0,
  };
  const first = firstTriangle(x, y);
  if (!first) {
    markCoincidentInLine(mesh);
    return mesh;
  }
  startMesh(mesh, first);
  insertAll(mesh, first);
  return mesh;
}

/** The predicates are exact as long as products of differences do not underflow; coordinates nearer to zero than this are zero. */
const SMALLEST = 1e-30;
export const flushed = (v: number): number => (Math.abs(v) < SMALLEST ? 0 : v);

/** Indices of the first three points that are not in line, counter-clockwise. */
function firstTriangle(x: Float64Array, y: Float64Array): [number, number, number] | null {
  const n = x.length;
  let b = 1;
  while (b < n && x[b] === x[0] && y[b] === y[0]) b++;
  for (let c = b + 1; c < n; c++) {
    const turn = orientation(x[0], y[0], x[b], y[b], x[c], y[c]);
    if (turn > 0) return [0, b, c];
    if (turn < 0) return [0, c, b];
  }
  return null;
}

function startMesh(mesh: Mesh, [a, b, c]: [number, number, number]): void {
  // One real triangle and a ghost over each of its sides.
  mesh.corner.set([a, b, c, b, a, GHOST, c, b, GHOST, a, c, GHOST]);
  mesh.twin.set([3, 6, 9, 0, 11, 7, 1, 5, 10, 2, 8, 4]);
  mesh.count = 4;
}

function insertAll(mesh: Mesh, first: readonly number[]): void {
  const { x, y, corner, twin, source, coincidesWith } = mesh;
  const n = x.length;
  const stack = new Int32Array(4096);
  let overflow: number[] = [];
  let count = mesh.count;
  let last = 0;

  for (let p = 0; p < n; p++) {
    if (p === first[0] || p === first[1] || p === first[2]) continue;
    const qx = x[p];
    const qy = y[p];

    // Walk towards the point. Starting from a ghost, step inside first.
    let t = last * 3;
    if (corner[t] < 0) t = twin[t + 1];
    else if (corner[t + 1] < 0) t = twin[t + 2];
    else if (corner[t + 2] < 0) t = twin[t];
    t -= t % 3;
    let from = -1;
    for (;;) {
      const a = corner[t];
      const b = corner[t + 1];
      const c = corner[t + 2];
      if (a < 0 || b < 0 || c < 0) break;
      const ax = x[a];
      const ay = y[a];
      const bx = x[b];
      const by = y[b];
      const cx = x[c];
      const cy = y[c];
      let e = -1;
      if (from !== t && orientation(ax, ay, bx, by, qx, qy) < 0) e = t;
      else if (from !== t + 1 && orientation(bx, by, cx, cy, qx, qy) < 0) e = t + 1;
      else if (from !== t + 2 && orientation(cx, cy, ax, ay, qx, qy) < 0) e = t + 2;
      if (e < 0) break;
      from = twin[e];
      t = from - (from % 3);
    }

    const v0 = corner[t];
    const v1 = corner[t + 1];
    const v2 = corner[t + 2];
    const same =
      v0 >= 0 && x[v0] === qx && y[v0] === qy
        ? v0
        : v1 >= 0 && x[v1] === qx && y[v1] === qy
          ? v1
          : v2 >= 0 && x[v2] === qx && y[v2] === qy
            ? v2
            : -1;
    if (same >= 0) {
      coincidesWith[source[p]] = source[same];
      last = t / 3;
      continue;
    }

    // Split the triangle in three around p.
    const t1 = count * 3;
    const t2 = t1 + 3;
    count += 2;
    const h1 = twin[t + 1];
    const h2 = twin[t + 2];
    corner[t + 2] = p;
    corner[t1] = v1;
    corner[t1 + 1] = v2;
    corner[t1 + 2] = p;
    corner[t2] = v2;
    corner[t2 + 1] = v0;
    corner[t2 + 2] = p;
    twin[t1] = h1;
    twin[h1] = t1;
    twin[t2] = h2;
    twin[h2] = t2;
    twin[t + 1] = t1 + 2;
    twin[t1 + 2] = t + 1;
    twin[t1 + 1] = t2 + 2;
    twin[t2 + 2] = t1 + 1;
    twin[t2 + 1] = t + 2;
    twin[t + 2] = t2 + 1;
    last = t / 3;

    // Flip until every circle is empty of p.
    stack[0] = t1;
    stack[1] = t2;
    let depth = 2;
    let e = t;
    for (;;) {
      const f = twin[e];
      const ep = e % 3 === 0 ? e + 2 : e - 1;
      const fp = f % 3 === 0 ? f + 2 : f - 1;
      const a = corner[e];
      const b = corner[f];
      const d = corner[fp];
      let flip: boolean;
      if ((a | b | d) >= 0) {
        // The empty-circle test as long as 64 bits decide it; it is where most of the time goes, so it stands here.
        const dx = x[d];
        const dy = y[d];
        const adx = x[a] - dx;
        const ady = y[a] - dy;
        const bdx = x[b] - dx;
        const bdy = y[b] - dy;
        const cdx = qx - dx;
        const cdy = qy - dy;
        const bc = bdx * cdy;
        const cb = cdx * bdy;
        const ca = cdx * ady;
        const ac = adx * cdy;
        const ab = adx * bdy;
        const ba = bdx * ady;
        const al = adx * adx + ady * ady;
        const bl = bdx * bdx + bdy * bdy;
        const cl = cdx * cdx + cdy * cdy;
        const det = al * (bc - cb) + bl * (ca - ac) + cl * (ab - ba);
        const bound =
          INCIRCLE_BOUND *
          ((Math.abs(bc) + Math.abs(cb)) * al +
            (Math.abs(ca) + Math.abs(ac)) * bl +
            (Math.abs(ab) + Math.abs(ba)) * cl);
        flip = det > bound || (-det <= bound && isInsideCircle(x, y, a, b, p, d));
      } else flip = seenOutside(x, y, a, b, d, qx, qy);
      if (flip) {
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
        const fn = f % 3 === 2 ? f - 2 : f + 1;
        if (depth < stack.length) stack[depth++] = fn;
        else overflow.push(fn);
      } else if (overflow.length) e = overflow.pop()!;
      else if (depth) e = stack[--depth];
      else break;
    }
    overflow = [];
  }
  mesh.count = count;
}

/** The empty-circle test where one of the quadrilateral's corners a, b, d is the ghost: is side (a, b) to be flipped for q? */
function seenOutside(
  x: Float64Array,
  y: Float64Array,
  a: number,
  b: number,
  d: number,
  qx: number,
  qy: number,
): boolean {
  if (a < 0) return d >= 0 && orientation(x[d], y[d], x[b], y[b], qx, qy) > 0;
  if (b < 0) return d >= 0 && orientation(x[a], y[a], x[d], y[d], qx, qy) > 0;
  if (orientation(x[a], y[a], x[b], y[b], qx, qy) !== 0) return false;
  return (x[a] - qx) * (x[b] - qx) + (y[a] - qy) * (y[b] - qy) < 0;
}

function markCoincidentInLine(mesh: Mesh): void {
  const seen = new Map<string, number>();
  for (let i = 0; i < mesh.x.length; i++) {
    const key = `${mesh.x[i]},${mesh.y[i]}`;
    const kept = seen.get(key);
    if (kept === undefined) seen.set(key, mesh.source[i]);
    else mesh.coincidesWith[mesh.source[i]] = kept;
  }
}

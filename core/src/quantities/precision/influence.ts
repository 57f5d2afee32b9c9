import { triangleWalk, type Surface } from '#core/terrain';
import { cornersAt, eachTriangle, partWhere, type PieceCorner } from '../piece-parts.ts';
import type { Difference } from '../difference/difference.ts';
import { eachChunk, type DifferencePieces } from '../difference/gathered.ts';

/** By how much cut and fill change as a vertex moves: m³ a metre, or m². */
export interface Influence {
  /** Of a vertex raised. */
  cutByZ: Float64Array;
  fillByZ: Float64Array;
  /** Of one shifted east and north. */
  cutByX: Float64Array;
  cutByY: Float64Array;
  fillByX: Float64Array;
  fillByY: Float64Array;
}

/**
 * How cut and fill hang on each vertex of a surface that is compared. V = ∫ d over what is compared, d = design − ground; a vertex
 * raised by a metre raises its surface by its own hat function φ, so that ∫ φ is what V changes by, apart over cut and fill (where
 * d passes through zero it adds nothing). Shifted in plan by a metre east it changes its surface, at a place that stays, by
 * −φ ∂z/∂x; where what is compared ends at the rim of the surface itself, the rim goes along and d ∂φ/∂x is added (Reynolds).
 * @param pieces of the comparison
 * @param s the whole surface, before any boundary cuts it
 * @param sign of s in d: 1 of the design, −1 of the ground
 * @param other the other surface; null where it is a level
 * @param ownRim whether what is compared ends where the surface does
 */
export function influenceOf(
  pieces: DifferencePieces,
  s: Surface,
  sign: 1 | -1,
  other: Surface | null,
  ownRim: boolean,
): Influence {
  const gathered = gatherInfluence(s, sign, other, ownRim);
  gathered.take(pieces);
  return gathered.influence;
}

/** The same of pieces that come a part at a time. */
export function gatherInfluence(
  s: Surface,
  sign: 1 | -1,
  other: Surface | null,
  ownRim: boolean,
): { take: (pieces: DifferencePieces) => void; influence: Influence } {
  const n = s.x.length;
  const column = (): Float64Array => new Float64Array(n);
  const out: Influence = { cutByZ: column(), fillByZ: column(), cutByX: column(), cutByY: column(), fillByX: column(), fillByY: column() }; // prettier-ignore
  const find = triangleWalk(s);
  const findOther = other && ownRim ? triangleWalk(other) : null;
  const add = (area: number, [a, b, c]: readonly PieceCorner[], isFill: boolean): void => {
    const [mx, my, mean] = [0, 1, 2].map((k) => (a[k] + b[k] + c[k]) / 3);
    const t = find(mx, my);
    if (t < 0) return;
    const plane = shapesOf(s, t);
    if (!plane) return;
    const { vertices, px, py, gx, gy } = plane;
    let [ox, oy] = [0, 0];
    if (findOther) {
      const u = findOther(mx, my);
      const beside = u < 0 ? null : shapesOf(other!, u);
      if (beside) [ox, oy] = [beside.gx, beside.gy];
    }
    const [byZ, byX, byY] = isFill ? [out.fillByZ, out.fillByX, out.fillByY] : [out.cutByZ, out.cutByX, out.cutByY];
    // Fill is ∫ d, cut −∫ d.
    const way = isFill ? 1 : -1;
    for (let k = 0; k < 3; k++) {
      const v = vertices[k];
      // Linear over the part: its value at the part's middle.
      const phi = plane.phi(k, mx, my);
      byZ[v] += way * sign * phi * area;
      if (ownRim) {
        // Its own elevations go along; those of the other stay where they are.
        byX[v] += way * (mean * px[k] - sign * phi * ox) * area;
        byY[v] += way * (mean * py[k] - sign * phi * oy) * area;
      } else {
        byX[v] -= way * sign * phi * gx * area;
        byY[v] -= way * sign * phi * gy * area;
      }
    }
  };
  return { take: (pieces) => eachPart(pieces, add), influence: out };
}

/** Pieces that are worked off at a time. */
const CHUNK = 1 << 16;

/** The same of a difference whose pieces were kept, or were too many (null): then they are told once more. */
export function influenceOn(
  { difference, pieces }: { difference: Difference; pieces: DifferencePieces | null },
  s: Surface,
  sign: 1 | -1,
  other: Surface | null,
  ownRim: boolean,
): Influence {
  if (pieces) return influenceOf(pieces, s, sign, other, ownRim);
  const gathered = gatherInfluence(s, sign, other, ownRim);
  eachChunk(difference, CHUNK, gathered.take);
  return gathered.influence;
}

/**
 * By how much cut − fill changes where one vertex of a surface is a metre higher, m³: the part of Influence that is asked of a
 * single point, without working out all.
 * @param sign of the surface in design − ground: 1 of the design, −1 of the ground
 */
export function netByRaising(pieces: DifferencePieces, s: Surface, vertex: number, sign: 1 | -1): number {
  const shapes = [];
  for (let i = 0; i < s.triangles.length; i++)
    if (s.triangles[i] === vertex) shapes.push(shapesOf(s, Math.floor(i / 3)));
  const around = shapes.filter((shape) => shape !== null);
  if (around.length === 0) return 0;
  const corners = around.flatMap((shape) => shape.vertices);
  const [xs, ys] = [corners.map((v) => s.x[v]), corners.map((v) => s.y[v])];
  const [w, e, south, n] = [Math.min(...xs), Math.max(...xs), Math.min(...ys), Math.max(...ys)];
  let sum = 0;
  for (let i = 0; i < pieces.length; i += 9) {
    const [mx, my] = [(pieces[i] + pieces[i + 3] + pieces[i + 6]) / 3, (pieces[i + 1] + pieces[i + 4] + pieces[i + 7]) / 3]; // prettier-ignore
    if (mx < w || mx > e || my < south || my > n) continue;
    const shape = around.find((one) => [0, 1, 2].every((k) => one.phi(k, mx, my) >= -INSIDE));
    if (!shape) continue;
    const plan = ((pieces[i + 3] - pieces[i]) * (pieces[i + 7] - pieces[i + 1]) - (pieces[i + 6] - pieces[i]) * (pieces[i + 4] - pieces[i + 1])) / 2; // prettier-ignore
    sum += shape.phi(shape.vertices.indexOf(vertex), mx, my) * plan;
  }
  // Fill − cut is ∫ d.
  return -sign * sum;
}
/** Share of a triangle by which rounding may put a place outside it. */
const INSIDE = 1e-9;

/** Triangles of pieces on one side of zero, with their areas in plan, m². */
function eachPart(
  pieces: DifferencePieces,
  visit: (area: number, corners: readonly PieceCorner[], isFill: boolean) => void,
): void {
  for (let i = 0; i < pieces.length; i += 9) {
    const corners = cornersAt(pieces, i);
    const side = (isFill: boolean): void =>
      eachTriangle(
        partWhere(corners, (c) => (isFill ? c[2] : -c[2])),
        (area, ...of) => visit(area, of, isFill),
      );
    side(true);
    // What is zero all over is fill alone.
    if (corners.some((c) => c[2] < 0)) side(false);
  }
}

/** The hat functions of a triangle's corners with their gradients, and the gradient of its plane; null where it has no area. */
function shapesOf(s: Surface, t: number) {
  const vertices = [s.triangles[3 * t], s.triangles[3 * t + 1], s.triangles[3 * t + 2]];
  const [a, b, c] = vertices;
  const det = (s.x[b] - s.x[a]) * (s.y[c] - s.y[a]) - (s.x[c] - s.x[a]) * (s.y[b] - s.y[a]);
  if (!(det > 0)) return null;
  const px = [s.y[b] - s.y[c], s.y[c] - s.y[a], s.y[a] - s.y[b]].map((v) => v / det);
  const py = [s.x[c] - s.x[b], s.x[a] - s.x[c], s.x[b] - s.x[a]].map((v) => v / det);
  const along = (g: number[]): number => vertices.reduce((sum, v, k) => sum + g[k] * s.z[v], 0);
  return {
    vertices,
    px,
    py,
    gx: along(px),
    gy: along(py),
    phi: (k: number, x: number, y: number): number => (k === 0 ? 1 : 0) + px[k] * (x - s.x[a]) + py[k] * (y - s.y[a]),
  };
}

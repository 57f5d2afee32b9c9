import { nextEdge } from './delaunay.ts';
import type { Surface } from './surface.ts';

/** How far from its level a smoothed line may come, as a share of the interval: two that are next to each other stay apart. */
const BAND = 0.45;
/** Corners are cut at most so far along each of their sides. */
const MOST_CUT = 1 / 3;

/** A corner of a contour: where it lies, and the side of a triangle that it lies on; −1 where it is a vertex of the surface. */
export interface ContourCorner {
  x: number;
  y: number;
  side: number;
}

/**
 * A contour with its corners cut, twice. Each corner lies on a side of a triangle; what is cut off crosses that side no farther
 * from the corner than to where the ground is `BAND` of an interval off, and stays in the two triangles of the side. So a line
 * never leaves the band between its neighbours, and no two cross. Ends on the rim and corners at vertices of the surface stay.
 */
export function smoothed(
  s: Surface,
  corners: readonly ContourCorner[],
  closed: boolean,
  interval: number,
): Float64Array {
  const n = corners.length;
  const out: number[] = [];
  for (let i = 0; i < n; i++) {
    const at = corners[i];
    // A line of two places has no corner.
    const ends = n < 3 || (!closed && (i === 0 || i === n - 1));
    const [before, after] = [corners[(i + n - 1) % n], corners[(i + 1) % n]];
    const cut = ends || at.side < 0 ? 0 : cutAt(s, before, at, after, interval);
    if (!(cut > 1e-3)) {
      out.push(at.x, at.y);
      continue;
    }
    const a = towards(at, before, cut);
    const b = towards(at, after, cut);
    // The chord crosses the side at this share of its way; the second cut of its ends stops short of that.
    const share = crossingShare(s, at.side, a, b);
    const [p, q] = [0.5 * share, 0.5 * (1 - share)];
    const [fromA, fromB] = [towards(a, b, Math.min(0.25, p)), towards(b, a, Math.min(0.25, q))];
    // A quarter of what is left of the sides beyond the first cut, which the neighbours leave too.
    const [outA, outB] = [towards(a, before, 0.2), towards(b, after, 0.2)];
    out.push(outA.x, outA.y, fromA.x, fromA.y, fromB.x, fromB.y, outB.x, outB.y);
  }
  if (closed) out.push(out[0], out[1]);
  return Float64Array.from(out);
}

interface Place {
  x: number;
  y: number;
}

const towards = (from: Place, to: Place, share: number): Place => ({
  x: from.x + share * (to.x - from.x),
  y: from.y + share * (to.y - from.y),
});

/** How far along both of its sides a corner may be cut. */
function cutAt(s: Surface, before: Place, at: ContourCorner, after: Place, interval: number): number {
  const [v, w] = [s.triangles[at.side], s.triangles[nextEdge(at.side)]];
  const [dx, dy] = [s.x[w] - s.x[v], s.y[w] - s.y[v]];
  // Where the straight from before to after crosses the side's line, in lengths of the side from the corner.
  const [ux, uy] = [after.x - before.x, after.y - before.y];
  const det = ux * dy - uy * dx;
  if (det === 0) return 0;
  const along = ((at.x - before.x) * uy - (at.y - before.y) * ux) / det;
  if (along === 0) return MOST_CUT;
  // The chord crosses the side itself, short of its ends: beyond them it would run through other triangles.
  const share = ((at.x - s.x[v]) * dx + (at.y - s.y[v]) * dy) / (dx * dx + dy * dy);
  const room = (0.9 * (along > 0 ? 1 - share : share)) / Math.abs(along);
  const rise = Math.abs(along * (s.z[w] - s.z[v]));
  return Math.min(MOST_CUT, room, rise === 0 ? MOST_CUT : (BAND * interval) / rise);
}

/** Share of the way from a to b at which it crosses a side's line. */
function crossingShare(s: Surface, side: number, a: Place, b: Place): number {
  const [v, w] = [s.triangles[side], s.triangles[nextEdge(side)]];
  const off = (p: Place): number => (s.x[w] - s.x[v]) * (p.y - s.y[v]) - (s.y[w] - s.y[v]) * (p.x - s.x[v]);
  const [fa, fb] = [off(a), off(b)];
  return fa === fb ? 0.5 : Math.min(1, Math.max(0, fa / (fa - fb)));
}

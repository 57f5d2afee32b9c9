import { fittedPlane, type Surface } from '#core/terrain';
import { gatherInfluence, type Influence } from '../precision/influence.ts';
import type { DifferencePieces } from '../difference/gathered.ts';
import { baseFromToe, type HeapBase } from './heap.ts';

/**
 * A heap's influence with what its base does: a point of the toe that is raised raises the base below the heap too, by its share
 * of it, so that an error of the toe goes into the volume from both sides.
 * @param influence of the heap's surface, by its vertices, above a base that stays
 * @param s the surface that `influence` is of
 * @param toe x, y, z of its corners, m
 */
export function withBase(
  influence: Influence,
  s: Surface,
  base: HeapBase,
  toe: readonly number[][],
  pieces: DifferencePieces,
): Influence {
  const cutByZ = influence.cutByZ.slice();
  const vertexAt = vertexFinder(s);
  for (const [i, share] of sharesOfBase(base, toe, pieces).entries()) {
    // A corner that a boundary made is nobody's point.
    const v = vertexAt(toe[i]);
    if (v !== undefined) cutByZ[v] -= share;
  }
  return { ...influence, cutByZ };
}

/** By how much what lies below the base grows where a corner of the toe is a metre higher, m³. */
function sharesOfBase(base: HeapBase, toe: readonly number[][], pieces: DifferencePieces): number[] {
  if (base === 'toe') return sharesOfTriangles(toe, pieces);
  const { area, x, y } = middleOf(pieces);
  if (base === 'mean') return toe.map(() => area / toe.length);
  if (base === 'lowest') {
    const lowest = toe.reduce((low, c, i) => (c[2] < toe[low][2] ? i : low), 0);
    return toe.map((_, i) => (i === lowest ? area : 0));
  }
  // A plane is straight in the heights it is fitted to: its volume is its height in the middle times the area.
  return toe.map((_, i) => area * (fittedPlane(toe.map(([px, py], k) => [px, py, i === k ? 1 : 0]))?.at(x, y) ?? 0));
}

function sharesOfTriangles(toe: readonly number[][], pieces: DifferencePieces): number[] {
  const surface = baseFromToe(toe);
  const gathered = gatherInfluence(surface, 1, null, false);
  gathered.take(pieces);
  const { cutByZ, fillByZ } = gathered.influence;
  const vertexAt = vertexFinder(surface);
  // Net falls as the base rises.
  return toe.map((corner) => {
    const v = vertexAt(corner);
    return v === undefined ? 0 : fillByZ[v] - cutByZ[v];
  });
}

/** Which vertex of a surface stands at a place, if any does. */
function vertexFinder({ x, y }: Surface): (place: readonly number[]) => number | undefined {
  const at = new Map(Array.from(x, (px, v) => [`${px} ${y[v]}`, v]));
  return ([px, py]) => at.get(`${px} ${py}`);
}

/** Area in plan of pieces, m², and their middle. */
function middleOf(pieces: DifferencePieces): { area: number; x: number; y: number } {
  const sum = { area: 0, x: 0, y: 0 };
  const [ox, oy] = [pieces[0], pieces[1]];
  for (let i = 0; i < pieces.length; i += 9) {
    const [ax, ay, bx, by, cx, cy] = [0, 1, 3, 4, 6, 7].map((k) => pieces[i + k] - (k % 3 ? oy : ox));
    const area = ((bx - ax) * (cy - ay) - (cx - ax) * (by - ay)) / 2;
    sum.area += area;
    sum.x += (area * (ax + bx + cx)) / 3;
    sum.y += (area * (ay + by + cy)) / 3;
  }
  return { area: sum.area, x: ox + sum.x / sum.area, y: oy + sum.y / sum.area };
}

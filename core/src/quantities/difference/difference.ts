import { MOST_CORNERS, overlay, type OverlayPart, type PieceVisit, type Surface } from '#core/terrain';
import { Plane } from './plane.ts';

/**
 * Takes a convex piece of what lies between two surfaces: x, y about (ox, oy) and design − ground, m, of its corners,
 * counter-clockwise, at the head of `piece`, which is written over by the next; `steep` m² along the ground are one in plan.
 */
export type TakePiece = (piece: Float64Array, corners: number, steep: number, ox: number, oy: number) => void;

/** Tells the pieces of a difference one by one, none gathered: told again, they are the same in the same order. */
export type Difference = (take: TakePiece) => void;

/** What lies between a surface and a level, m: exact, a triangle a piece. `along`: the same triangles as they lie on the ground. */
export const differenceToLevel =
  (ground: Surface, level: number, along: Surface = ground): Difference =>
  (take) => {
    const { x, y, z, triangles } = ground;
    const plane = new Plane(along);
    const piece = new Float64Array(9);
    for (let t = 0; t < triangles.length; t += 3) {
      const [a, b, c] = [triangles[t], triangles[t + 1], triangles[t + 2]];
      if (!plane.lay(t / 3, x[a], y[a])) continue;
      // Vertices as they are: what lies on a rim stays on it to the last digit.
      piece.set([x[a], y[a], level - z[a], x[b], y[b], level - z[b], x[c], y[c], level - z[c]]);
      take(piece, 3, plane.steepness(), 0, 0);
    }
  };

/** What lies between two surfaces where both exist: exact, the pieces that their triangles have in common in plan. */
export const differenceBetween =
  (ground: Surface, design: Surface): Difference =>
  (take) =>
    eachPieceBetween(ground, design, take);

/** Takes a piece, its triangle of the design and that triangle’s plane, about the piece’s origin. */
type TakePieceOf = (...of: [...Parameters<TakePiece>, u: number, over: Plane]) => void;

/** The same, in a part of the ground’s triangles alone where that is asked. */
export function eachPieceBetween(ground: Surface, design: Surface, take: TakePieceOf, part?: OverlayPart): void {
  const [under, over] = [new Plane(ground), new Plane(design)];
  // Pieces of one triangle of the ground follow each other.
  let last = -1;
  let isPlane = false;
  let steep = 1;
  const piece = new Float64Array(3 * MOST_CORNERS);
  const visit: PieceVisit = (t, u, places, corners, ox, oy) => {
    if (t !== last) {
      isPlane = under.lay(t, ox, oy);
      steep = under.steepness();
    }
    last = t;
    if (!isPlane || !over.lay(u, ox, oy)) return;
    const d = over.z - under.z;
    const dx = over.gx - under.gx;
    const dy = over.gy - under.gy;
    for (let k = 0; k < corners; k++) {
      const x = places[2 * k];
      const y = places[2 * k + 1];
      piece[3 * k] = x;
      piece[3 * k + 1] = y;
      piece[3 * k + 2] = d + dx * x + dy * y;
    }
    take(piece, corners, steep, ox, oy, u, over);
  };
  overlay(ground, design, visit, null, part);
}

import { overlay, type Surface } from '#core/terrain';
import { Plane } from './plane.ts';

/**
 * Takes a piece of what lies between two surfaces: its area in plan, m², how many m² along the ground are one in plan, and x, y
 * and design − ground at its three corners, m.
 */
export type TakePiece = (area: number, steep: number, ax: number, ay: number, da: number, bx: number, by: number, db: number, cx: number, cy: number, dc: number) => void; // prettier-ignore

/** Tells the pieces of a difference one by one, none gathered: told again, they are the same in the same order. */
export type Difference = (take: TakePiece) => void;

/** What lies between a surface and a level, m: exact, a triangle a piece. `along`: the same triangles as they lie on the ground. */
export const differenceToLevel =
  (ground: Surface, level: number, along: Surface = ground): Difference =>
  (take) => {
    const { x, y, z, triangles } = ground;
    const plane = new Plane(along);
    for (let t = 0; t < triangles.length; t += 3) {
      const [a, b, c] = [triangles[t], triangles[t + 1], triangles[t + 2]];
      const area = ((x[b] - x[a]) * (y[c] - y[a]) - (x[c] - x[a]) * (y[b] - y[a])) / 2;
      if (plane.lay(t / 3, x[a], y[a])) take(area, plane.steepness(), x[a], y[a], level - z[a], x[b], y[b], level - z[b], x[c], y[c], level - z[c]); // prettier-ignore
    }
  };

/** What lies between two surfaces where both exist: exact, the pieces that their triangles have in common in plan. */
export const differenceBetween =
  (ground: Surface, design: Surface): Difference =>
  (take) => {
    const [under, over] = [new Plane(ground), new Plane(design)];
    // Pieces of one triangle of the ground follow each other.
    let last = -1;
    let isPlane = false;
    let steep = 1;
    overlay(ground, design, (t, u, piece, corners, ox, oy) => {
      if (t !== last) {
        isPlane = under.lay(t, ox, oy);
        steep = under.steepness();
      }
      last = t;
      if (!isPlane || !over.lay(u, ox, oy)) return;
      const d0 = over.z - under.z;
      const dx = over.gx - under.gx;
      const dy = over.gy - under.gy;
      const ax = piece[0];
      const ay = piece[1];
      const da = d0 + dx * ax + dy * ay;
      // A convex piece, fanned in triangles.
      for (let i = 2; i + 3 < 2 * corners; i += 2) {
        const bx = piece[i];
        const by = piece[i + 1];
        const cx = piece[i + 2];
        const cy = piece[i + 3];
        const area = ((bx - ax) * (cy - ay) - (cx - ax) * (by - ay)) / 2;
        if (area > 0) take(area, steep, ax + ox, ay + oy, da, bx + ox, by + oy, d0 + dx * bx + dy * by, cx + ox, cy + oy, d0 + dx * cx + dy * cy); // prettier-ignore
      }
    });
  };

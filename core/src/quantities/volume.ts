import { CompensatedSum } from '#core/kernel';
import { overlay, type Surface } from '#core/terrain';

export interface Volume {
  /** Ground to be taken away: where the compared level or surface lies below the ground, m³. */
  cut: number;
  /** Ground to be brought: where it lies above, m³. */
  fill: number;
  /** Areas in plan, m². */
  cutArea: number;
  fillArea: number;
  /** Area where both are known, m². */
  area: number;
}

/** Plan pieces with the height difference at their corners: x, y, design − ground, three corners a piece. For painting. */
export type DifferencePieces = Float64Array;

/** Adds up cut and fill, triangle by triangle. */
export class Tally {
  readonly cut = new CompensatedSum();
  readonly fill = new CompensatedSum();
  readonly cutArea = new CompensatedSum();
  readonly fillArea = new CompensatedSum();
  readonly pieces: number[] = [];

  /** Adds a triangle in plan with area (m²) and design − ground at its corners (m). */
  add(area: number, d0: number, d1: number, d2: number): void {
    const whole = (area * (d0 + d1 + d2)) / 3;
    if (d0 >= 0 && d1 >= 0 && d2 >= 0) {
      this.fill.add(whole);
      this.fillArea.add(area);
      return;
    }
    if (d0 <= 0 && d1 <= 0 && d2 <= 0) {
      this.cut.add(-whole);
      this.cutArea.add(area);
      return;
    }
    // One corner stands alone on its side of zero: a tetrahedron over the part of the triangle next to it.
    const alone = d0 > 0 !== d1 > 0 ? (d0 > 0 !== d2 > 0 ? 0 : 1) : 2;
    const [a, b, c] = alone === 0 ? [d0, d1, d2] : alone === 1 ? [d1, d2, d0] : [d2, d0, d1];
    const share = (a / (a - b)) * (a / (a - c));
    const part = (area * share * a) / 3;
    if (a > 0) {
      this.fill.add(part);
      this.fillArea.add(area * share);
      this.cut.add(part - whole);
      this.cutArea.add(area * (1 - share));
    } else {
      this.cut.add(-part);
      this.cutArea.add(area * share);
      this.fill.add(whole - part);
      this.fillArea.add(area * (1 - share));
    }
  }

  result(): Volume {
    const cutArea = this.cutArea.value();
    const fillArea = this.fillArea.value();
    return { cut: this.cut.value(), fill: this.fill.value(), cutArea, fillArea, area: cutArea + fillArea };
  }
}

export interface VolumeResult extends Volume {
  pieces: DifferencePieces;
}

/**
 * Exact volume between a surface and a level elevation (m): each triangle's prism is integrated in
 * closed form, split where it passes through the level.
 */
export function volumeToLevel(ground: Surface, level: number): VolumeResult {
  const tally = new Tally();
  const { x, y, z, triangles } = ground;
  for (let t = 0; t < triangles.length; t += 3) {
    const [a, b, c] = [triangles[t], triangles[t + 1], triangles[t + 2]];
    const area = ((x[b] - x[a]) * (y[c] - y[a]) - (x[c] - x[a]) * (y[b] - y[a])) / 2;
    tally.add(area, level - z[a], level - z[b], level - z[c]);
    tally.pieces.push(x[a], y[a], level - z[a], x[b], y[b], level - z[b], x[c], y[c], level - z[c]);
  }
  return { ...tally.result(), pieces: Float64Array.from(tally.pieces) };
}

/**
 * Exact volume between two surfaces where both exist: the pieces that their triangles have in common in plan, with the
 * difference of the two planes integrated over each.
 */
export function volumeBetween(ground: Surface, design: Surface): VolumeResult {
  const tally = new Tally();
  // Pieces of one triangle of the ground follow each other.
  let last = -1;
  let under: [number, number, number] | null = null;
  overlay(ground, design, (t, u, piece, corners, ox, oy) => {
    if (t !== last) under = planeAbout(ground, t, ox, oy);
    last = t;
    const over = planeAbout(design, u, ox, oy);
    if (under && over) addPiece(tally, piece, corners, ox, oy, [over[0] - under[0], over[1] - under[1], over[2] - under[2]]); // prettier-ignore
  });
  return { ...tally.result(), pieces: Float64Array.from(tally.pieces) };
}

/** Plane of triangle t about an origin: elevation there, and gradient. */
function planeAbout(s: Surface, t: number, ox: number, oy: number): [number, number, number] | null {
  const [a, b, c] = [s.triangles[3 * t], s.triangles[3 * t + 1], s.triangles[3 * t + 2]];
  const ux = s.x[b] - s.x[a];
  const uy = s.y[b] - s.y[a];
  const vx = s.x[c] - s.x[a];
  const vy = s.y[c] - s.y[a];
  const det = ux * vy - uy * vx;
  // A sliver left by a boundary may have no area that 64 bits can hold; it carries no volume either.
  if (!(det > 0)) return null;
  const gx = ((s.z[b] - s.z[a]) * vy - uy * (s.z[c] - s.z[a])) / det;
  const gy = (ux * (s.z[c] - s.z[a]) - (s.z[b] - s.z[a]) * vx) / det;
  return [s.z[a] + gx * (ox - s.x[a]) + gy * (oy - s.y[a]), gx, gy];
}

/** Smaller pieces count in the sums, but are none once coordinates of a grid round them: m². */
const LEAST_PIECE = 1e-10;

/** Adds a convex piece, fanned in triangles; the difference is a plane about the piece's origin. */
function addPiece(
  tally: Tally,
  piece: Float64Array,
  corners: number,
  ox: number,
  oy: number,
  [d0, dx, dy]: [number, number, number],
): void {
  const [ax, ay] = piece;
  const da = d0 + dx * ax + dy * ay;
  for (let i = 2; i + 3 < 2 * corners; i += 2) {
    const [bx, by, cx, cy] = [piece[i], piece[i + 1], piece[i + 2], piece[i + 3]];
    const area = ((bx - ax) * (cy - ay) - (cx - ax) * (by - ay)) / 2;
    if (!(area > 0)) continue;
    const [db, dc] = [d0 + dx * bx + dy * by, d0 + dx * cx + dy * cy];
    tally.add(area, da, db, dc);
    if (area > LEAST_PIECE) tally.pieces.push(ax + ox, ay + oy, da, bx + ox, by + oy, db, cx + ox, cy + oy, dc);
  }
}

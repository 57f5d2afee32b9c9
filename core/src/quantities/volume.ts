import Flatbush from 'flatbush';
import { CompensatedSum } from '#core/kernel';
import type { Surface } from '#core/terrain';

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

class Tally {
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
 * Exact volume between two surfaces where both exist: every pair of overlapping triangles is
 * intersected in plan, and the difference of the two planes integrated over the convex piece.
 */
export function volumeBetween(ground: Surface, design: Surface): VolumeResult {
  const tally = new Tally();
  const count = design.triangles.length / 3;
  if (count === 0 || ground.triangles.length === 0) return { ...tally.result(), pieces: new Float64Array(0) };
  const index = new Flatbush(count);
  for (let t = 0; t < count; t++) index.add(...boxOf(design, t));
  index.finish();
  for (let t = 0; t < ground.triangles.length / 3; t++)
    for (const u of index.search(...boxOf(ground, t))) addOverlap(tally, ground, t, design, u);
  return { ...tally.result(), pieces: Float64Array.from(tally.pieces) };
}

function boxOf(s: Surface, t: number): [number, number, number, number] {
  const [a, b, c] = [s.triangles[3 * t], s.triangles[3 * t + 1], s.triangles[3 * t + 2]];
  return [
    Math.min(s.x[a], s.x[b], s.x[c]),
    Math.min(s.y[a], s.y[b], s.y[c]),
    Math.max(s.x[a], s.x[b], s.x[c]),
    Math.max(s.y[a], s.y[b], s.y[c]),
  ];
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

function addOverlap(tally: Tally, ground: Surface, t: number, design: Surface, u: number): void {
  const ox = ground.x[ground.triangles[3 * t]];
  const oy = ground.y[ground.triangles[3 * t]];
  let piece = cornersAbout(ground, t, ox, oy);
  const by = cornersAbout(design, u, ox, oy);
  for (let k = 0; k < 6 && piece.length; k += 2) {
    piece = keepLeft(piece, by[k], by[k + 1], by[(k + 2) % 6], by[(k + 3) % 6]);
  }
  if (piece.length < 6) return;
  const groundPlane = planeAbout(ground, t, ox, oy);
  const designPlane = planeAbout(design, u, ox, oy);
  if (!groundPlane || !designPlane) return;
  const [g0, gx, gy] = groundPlane;
  const [d0, dx, dy] = designPlane;
  const difference = (px: number, py: number): number => d0 - g0 + (dx - gx) * px + (dy - gy) * py;
  const [ax, ay] = piece;
  for (let i = 2; i + 3 < piece.length; i += 2) {
    const [bx, by2, cx, cy] = [piece[i], piece[i + 1], piece[i + 2], piece[i + 3]];
    const area = ((bx - ax) * (cy - ay) - (cx - ax) * (by2 - ay)) / 2;
    if (!(area > 0)) continue;
    const [da, db, dc] = [difference(ax, ay), difference(bx, by2), difference(cx, cy)];
    tally.add(area, da, db, dc);
    tally.pieces.push(ax + ox, ay + oy, da, bx + ox, by2 + oy, db, cx + ox, cy + oy, dc);
  }
}

function cornersAbout(s: Surface, t: number, ox: number, oy: number): number[] {
  const out: number[] = [];
  for (let k = 0; k < 3; k++) {
    const v = s.triangles[3 * t + k];
    out.push(s.x[v] - ox, s.y[v] - oy);
  }
  return out;
}

/** The part of a convex piece on the left of a → b (Sutherland and Hodgman, 1974). */
function keepLeft(piece: number[], ax: number, ay: number, bx: number, by: number): number[] {
  const out: number[] = [];
  const n = piece.length;
  const side = (i: number): number => (bx - ax) * (piece[i + 1] - ay) - (by - ay) * (piece[i] - ax);
  for (let i = 0; i < n; i += 2) {
    const j = (i + 2) % n;
    const si = side(i);
    const sj = side(j);
    if (si >= 0) out.push(piece[i], piece[i + 1]);
    if ((si > 0 && sj < 0) || (si < 0 && sj > 0)) {
      const f = si / (si - sj);
      out.push(piece[i] + f * (piece[j] - piece[i]), piece[i + 1] + f * (piece[j + 1] - piece[i + 1]));
    }
  }
  return out;
}

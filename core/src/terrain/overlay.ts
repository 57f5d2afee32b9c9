import type Flatbush from 'flatbush';
import { triangleIndex } from './heights.ts';
import type { Surface } from './surface.ts';

/**
 * A piece that a triangle of one surface and one of the other have in common: `corners` places x, y about (ox, oy), counter-clockwise,
 * at the head of `piece`, which is written over by the next.
 */
export type PieceVisit = (a: number, b: number, piece: Float64Array, corners: number, ox: number, oy: number) => void;

/** Share of a triangle that may be missing for rounding alone. */
const COVERED = 1 - 1e-9;

/**
 * Visits every piece of two triangulations laid over each other, none gathered: a walk from triangle to triangle of the first,
 * and from each through those of the second that it overlaps. Where a walk does not cover a triangle (at a rim, a void, another
 * part) the others that may overlap it are found by an index. Pieces without an area are none.
 * @param index of the second’s triangles, where it is there already
 */
export function overlay(a: Surface, b: Surface, visit: PieceVisit, index: Flatbush | null = null): void {
  const [countA, countB] = [a.triangles.length / 3, b.triangles.length / 3];
  if (countA === 0 || countB === 0) return;
  // Which triangle of the first looked at one of the second last; where to begin looking from; what is waiting or done.
  const looked = new Int32Array(countB).fill(-1);
  const seed = new Int32Array(countA).fill(-1);
  const known = new Uint8Array(countA);
  const waiting: number[] = [];
  const open: number[] = [];
  let piece = new Float64Array(32);
  let other = new Float64Array(32);
  const corner = new Float64Array(6);
  let [ox, oy, area] = [0, 0, 0];
  /** Sides of the triangle of the second that cut something off, as bits. */
  let cut = 0;

  for (let first = 0; first < countA; first++) {
    if (known[first]) continue;
    known[first] = 1;
    waiting.push(first);
    while (waiting.length) {
      const t = waiting.pop()!;
      const last = look(t);
      for (let e = 3 * t; e < 3 * t + 3; e++) {
        const beside = a.neighbours[e];
        if (beside < 0) continue;
        const s = (beside / 3) | 0;
        if (known[s]) continue;
        known[s] = 1;
        seed[s] = last;
        waiting.push(s);
      }
    }
  }

  /** Visits the pieces of one triangle; one of those that it overlaps, −1 for none. */
  function look(t: number): number {
    ox = a.x[a.triangles[3 * t]];
    oy = a.y[a.triangles[3 * t]];
    for (let k = 0; k < 3; k++) {
      const v = a.triangles[3 * t + k];
      corner[2 * k] = a.x[v] - ox;
      corner[2 * k + 1] = a.y[v] - oy;
    }
    area = (corner[2] * corner[5] - corner[4] * corner[3]) / 2;
    if (!(area > 0)) return seed[t];
    let last = -1;
    let covered = 0;
    const start = seed[t] < 0 ? -1 : walk(seed[t], ox + (corner[2] + corner[4]) / 3, oy + (corner[3] + corner[5]) / 3);
    if (start >= 0) {
      looked[start] = t;
      open.push(start);
    }
    while (open.length) {
      const u = open.pop()!;
      const part = take(t, u);
      if (part === 0) continue;
      covered += part;
      last = u;
      for (let k = 0; k < 3; k++) {
        if (!((cut >> k) & 1)) continue;
        const beside = b.neighbours[3 * u + k];
        if (beside < 0) continue;
        const w = (beside / 3) | 0;
        if (looked[w] === t) continue;
        looked[w] = t;
        open.push(w);
      }
    }
    if (covered >= area * COVERED) return last;
    index ??= triangleIndex(b);
    const [cx, cy] = [[0, corner[2], corner[4]], [0, corner[3], corner[5]]]; // prettier-ignore
    const near = index!.search(ox + Math.min(...cx), oy + Math.min(...cy), ox + Math.max(...cx), oy + Math.max(...cy));
    for (const u of near.sort((p, q) => p - q)) {
      if (looked[u] === t) continue;
      looked[u] = t;
      if (take(t, u) > 0) last = u;
    }
    return last;
  }

  /** Visits what triangle t of the first and u of the second have in common; its area, m². */
  function take(t: number, u: number): number {
    const n = clip(u);
    if (n < 3) return 0;
    let twice = 0;
    for (let i = 2; i + 3 < 2 * n; i += 2)
      twice +=
        (piece[i] - piece[0]) * (piece[i + 3] - piece[1]) - (piece[i + 2] - piece[0]) * (piece[i + 1] - piece[1]);
    if (!(twice > 0)) return 0;
    visit(t, u, piece, n, ox, oy);
    return twice / 2;
  }

  /** The triangle of the first cut by the sides of one of the second (Sutherland and Hodgman, 1974); corners that are left. */
  function clip(u: number): number {
    // A triangle without an area, or turned over by rounding, cuts nothing off: it would pass for one that covers all.
    const [p, q, r] = [b.triangles[3 * u], b.triangles[3 * u + 1], b.triangles[3 * u + 2]];
    if (!((b.x[q] - b.x[p]) * (b.y[r] - b.y[p]) - (b.x[r] - b.x[p]) * (b.y[q] - b.y[p]) > 0)) return 0;
    for (let i = 0; i < 6; i++) piece[i] = corner[i];
    let n = 3;
    cut = 0;
    for (let k = 0; k < 3; k++) {
      const e = 3 * u + k;
      const v = b.triangles[e];
      const w = b.triangles[k === 2 ? e - 2 : e + 1];
      const px = b.x[v] - ox;
      const py = b.y[v] - oy;
      const dx = b.x[w] - b.x[v];
      const dy = b.y[w] - b.y[v];
      let before = dx * (piece[2 * n - 1] - py) - dy * (piece[2 * n - 2] - px);
      let m = 0;
      let off = false;
      for (let i = 0; i < n; i++) {
        const qx = piece[2 * i];
        const qy = piece[2 * i + 1];
        const now = dx * (qy - py) - dy * (qx - px);
        if ((now > 0 && before < 0) || (now < 0 && before > 0)) {
          const j = i === 0 ? n - 1 : i - 1;
          const f = before / (before - now);
          other[2 * m] = piece[2 * j] + f * (qx - piece[2 * j]);
          other[2 * m + 1] = piece[2 * j + 1] + f * (qy - piece[2 * j + 1]);
          m++;
        }
        if (now >= 0) {
          other[2 * m] = qx;
          other[2 * m + 1] = qy;
          m++;
        } else off = true;
        before = now;
      }
      if (!off) continue;
      cut |= 1 << k;
      const swapped = piece;
      piece = other;
      other = swapped;
      n = m;
      if (n < 3) return 0;
    }
    return n;
  }

  /** The triangle of the second about a place, from one near it; −1 where the way leads over its rim. */
  function walk(from: number, x: number, y: number): number {
    let e = 3 * from;
    let entered = -1;
    for (let step = 0; step < 200; step++) {
      let out = -1;
      for (let k = 0; k < 3; k++) {
        if (e + k === entered) continue;
        const [v, w] = [b.triangles[e + k], b.triangles[e + ((k + 1) % 3)]];
        if ((b.x[w] - b.x[v]) * (y - b.y[v]) - (b.y[w] - b.y[v]) * (x - b.x[v]) < 0) {
          out = e + k;
          break;
        }
      }
      if (out < 0) return e / 3;
      entered = b.neighbours[out];
      if (entered < 0) return -1;
      e = entered - (entered % 3);
    }
    return -1;
  }
}

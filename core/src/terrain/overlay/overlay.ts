import type Flatbush from 'flatbush';
import { containsPlace, triangleIndex } from '../heights.ts';
import type { Surface } from '../surface.ts';
import { CommonPiece } from './common-piece.ts';
import { hasSideOfP, hasSideOfQ } from './corner-order.ts';
import { rimOf, type Rim } from './rim.ts';
import { walkTo } from './walk-to.ts';

/**
 * A piece that a triangle of one surface and one of the other have in common: `corners` places x, y about (ox, oy), counter-clockwise,
 * at the head of `piece`, which is written over by the next.
 */
export type PieceVisit = (a: number, b: number, piece: Float64Array, corners: number, ox: number, oy: number) => void;

/** A part of the first triangulation. */
export interface OverlayPart {
  /** 1 for each triangle that is passed over. */
  without: Uint8Array<ArrayBuffer>;
  /** A triangle of the second near a place, −1 where none is known. */
  near: (x: number, y: number) => number;
}

/** Share of a triangle that may be missing for rounding alone. */
const COVERED = 1 - 1e-9;

/** Share of a triangle under which rounding alone makes it overlap one that it only touches. */
const TOUCHED = 1e-6;

/** So many places are looked for in the second without an index of all of its triangles. */
const FEW = 100;

/**
 * Visits every piece of two triangulations laid over each other, none gathered: a walk from triangle to triangle of the first,
 * and from each through those of the second that it overlaps. Where a walk does not cover a triangle (at a rim, a void, another
 * part) the others that may overlap it are looked for. Pieces without an area are none.
 * @param index of the second’s triangles, where it is there already
 * @param part of the first’s triangles, where not all are asked for
 */
export function overlay(
  a: Surface,
  b: Surface,
  visit: PieceVisit,
  index: Flatbush | null = null,
  part?: OverlayPart,
): void {
  const countA = a.triangles.length / 3;
  if (countA === 0 || b.triangles.length === 0) return;
  const over = new Over(a, b, visit, index);
  // Triangles that were seen from one beside them, and those that wait.
  const known = part ? part.without.slice() : new Uint8Array(countA);
  const waiting = new Int32Array(countA);
  for (let first = 0; first < countA; first++) {
    if (known[first]) continue;
    known[first] = 1;
    if (part) over.begin(first, part.near);
    waiting[0] = first;
    let count = 1;
    while (count > 0) {
      const t = waiting[--count];
      over.look(t);
      for (let k = 0; k < 3; k++) {
        const beside = a.neighbours[3 * t + k];
        if (beside < 0) continue;
        const s = (beside / 3) | 0;
        if (known[s]) continue;
        known[s] = 1;
        over.handOn(k, s);
        waiting[count++] = s;
      }
    }
  }
}

/** One triangulation laid over another, triangle by triangle. */
class Over {
  private readonly common = new CommonPiece();
  /** Which triangle of the first looked at one of the second last. */
  private readonly looked: Int32Array;
  /** A triangle of the second near one of the first, −1 where none is known. */
  private readonly seed: Int32Array;
  private open = new Int32Array(64);
  /** By the sides of the triangle that is looked at: one of the second that lies along it. */
  private readonly along = new Int32Array(3);
  private last = -1;
  private rim: Rim | null = null;
  private asked = 0;

  constructor(
    private readonly a: Surface,
    private readonly b: Surface,
    private readonly visit: PieceVisit,
    private index: Flatbush | null,
  ) {
    this.looked = new Int32Array(b.triangles.length / 3).fill(-1);
    this.seed = new Int32Array(a.triangles.length / 3).fill(-1);
  }

  /** Begins at a triangle that none beside it leads to. */
  begin(t: number, near: OverlayPart['near']): void {
    const v = this.a.triangles[3 * t];
    this.seed[t] = near(this.a.x[v], this.a.y[v]);
  }

  /** Says to the triangle beside side k of the last where to begin. */
  handOn(k: number, beside: number): void {
    this.seed[beside] = this.along[k] < 0 ? this.last : this.along[k];
  }

  /** Visits the pieces of a triangle of the first. */
  look(t: number): void {
    const { a, along } = this;
    const { corners } = this.common;
    const v = a.triangles[3 * t];
    const w = a.triangles[3 * t + 1];
    const r = a.triangles[3 * t + 2];
    const ox = a.x[v];
    const oy = a.y[v];
    corners[2] = a.x[w] - ox;
    corners[3] = a.y[w] - oy;
    corners[4] = a.x[r] - ox;
    corners[5] = a.y[r] - oy;
    this.last = this.seed[t];
    along[0] = along[1] = along[2] = -1;
    const twice = corners[2] * corners[5] - corners[4] * corners[3];
    if (!(twice > 0)) return;
    const covered = this.last < 0 ? 0 : this.flood(t, this.last, ox, oy);
    if (covered < twice * COVERED) this.lookFurther(t, covered, twice, ox, oy);
  }

  /** Where what is known so far does not cover a triangle of the first. */
  private lookFurther(t: number, known: number, twice: number, ox: number, oy: number): void {
    const { a, b } = this;
    const [xs, ys] = [a.x, a.y].map((axis) => [0, 1, 2].map((k) => axis[a.triangles[3 * t + k]]));
    const [cx, cy] = [(xs[0] + xs[1] + xs[2]) / 3, (ys[0] + ys[1] + ys[2]) / 3];
    let covered = known;
    if (covered < twice * TOUCHED && this.last >= 0) {
      const there = walkTo(b, this.last, cx, cy);
      if (there >= 0) covered += this.flood(t, there, ox, oy);
    }
    if (covered >= twice * COVERED) return;
    this.rim ??= rimOf(b);
    const near = this.rim.near(Math.min(...xs), Math.min(...ys), Math.max(...xs), Math.max(...ys));
    for (const u of near) covered += this.flood(t, u, ox, oy);
    if (covered >= twice * TOUCHED) return;
    // An index of all is made once it is known to be worth it.
    if (!this.index && this.asked++ < FEW && this.rim.turnsAbout(cx, cy) === 0) return;
    this.index ??= triangleIndex(b);
    const about = this.index!.search(cx, cy, cx, cy, (u) => containsPlace(b, u, cx, cy));
    if (about.length > 0) this.flood(t, Math.min(...about), ox, oy);
  }

  /** Visits the pieces that hang together from a triangle of the second on; twice their area, m². */
  private flood(t: number, from: number, ox: number, oy: number): number {
    const { looked, common, visit, along } = this;
    const { x, y, triangles, neighbours } = this.b;
    const { corners, places } = common;
    if (looked[from] === t) return 0;
    looked[from] = t;
    let { open } = this;
    open[0] = from;
    let count = 1;
    let covered = 0;
    while (count > 0) {
      const u = open[--count];
      const v = triangles[3 * u];
      const w = triangles[3 * u + 1];
      const r = triangles[3 * u + 2];
      const ux = x[v] - ox;
      const uy = y[v] - oy;
      const vx = x[w] - ox;
      const vy = y[w] - oy;
      const wx = x[r] - ox;
      const wy = y[r] - oy;
      // A triangle without an area, or turned over by rounding, cuts nothing off: it would pass for one that covers all.
      if (!((vx - ux) * (wy - uy) - (wx - ux) * (vy - uy) > 0)) continue;
      corners[6] = ux;
      corners[7] = uy;
      corners[8] = vx;
      corners[9] = vy;
      corners[10] = wx;
      corners[11] = wy;
      const order = common.order();
      const n = common.lay(order);
      const twice = n < 3 ? 0 : twiceArea(places, n);
      if (!(twice > 0)) continue;
      visit(t, u, places, n, ox, oy);
      covered += twice;
      this.last = u;
      for (let k = 0; k < 3; k++) {
        if (hasSideOfP(order, k)) along[k] = u;
        if (!hasSideOfQ(order, k)) continue;
        const beside = neighbours[3 * u + k];
        if (beside < 0) continue;
        const s = (beside / 3) | 0;
        if (looked[s] === t) continue;
        looked[s] = t;
        if (count === open.length) open = this.makeRoom();
        open[count++] = s;
      }
    }
    return covered;
  }

  private makeRoom(): Int32Array<ArrayBuffer> {
    const longer = new Int32Array(2 * this.open.length);
    longer.set(this.open);
    this.open = longer;
    return longer;
  }
}

/** Twice the area of a convex piece, m². */
function twiceArea(places: Float64Array, corners: number): number {
  let twice = 0;
  let dx = places[2] - places[0];
  let dy = places[3] - places[1];
  for (let i = 4; i < 2 * corners; i += 2) {
    const ex = places[i] - places[0];
    const ey = places[i + 1] - places[1];
    twice += dx * ey - ex * dy;
    dx = ex;
    dy = ey;
  }
  return twice;
}

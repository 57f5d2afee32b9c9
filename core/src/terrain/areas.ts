import { distance, pointInRing, ringArea } from '#core/kernel';
import { planeOf } from './heights.ts';
import type { Surface } from './surface.ts';

/** An area in plan: its outer ring counter-clockwise, then its holes clockwise; x, y, x, y …, m, the first place not again. */
export type Polygon = Float64Array[];

/** A step of a scale: from a value up to the next, and the areas where a surface has it. */
export interface TintArea {
  from: number;
  to: number;
  polygons: Polygon[];
}

/** Areas of a surface between elevations, m, in ascending order: exactly where the planes of its triangles have them. */
export function areasByElevation(s: Surface, levels: readonly number[]): TintArea[] {
  const out: TintArea[] = [];
  for (let i = 0; i + 1 < levels.length; i++) {
    const [from, to] = [levels[i], levels[i + 1]];
    const pieces: number[][] = [];
    for (let t = 0; t < s.triangles.length; t += 3) {
      const corners = [s.triangles[t], s.triangles[t + 1], s.triangles[t + 2]];
      const piece = between(s, corners, from, to);
      if (piece.length >= 6) pieces.push(piece);
    }
    out.push({ from, to, polygons: joined(pieces) });
  }
  return out;
}

/** Areas of a surface by slope, rise over run, from each step up to the next; the last has no end. */
export function areasBySlope(s: Surface, steps: readonly number[]): TintArea[] {
  const from = [0, ...steps];
  const areas = areasOfKinds(s, from.length, (dx, dy) => steps.filter((step) => distance(dx, dy) >= step).length);
  return from.map((f, i) => ({ from: f, to: steps[i] ?? Infinity, polygons: areas[i] }));
}

/** Rise over run; ground that is flatter falls in no direction that means anything. */
export const LEVEL_SLOPE = 0.005;

/** Areas of a surface by the eighth of the compass to which they fall, clockwise from north; level ground is in none. */
export const areasByAspect = (s: Surface): Polygon[][] =>
  areasOfKinds(s, 8, (dx, dy) => distance(dx, dy) > LEVEL_SLOPE ? (Math.round(Math.atan2(-dx, -dy) / (Math.PI / 4)) + 8) % 8 : -1); // prettier-ignore

/** Triangles of each kind, by their gradients east and north, as areas; those of kind −1 are in none. */
function areasOfKinds(s: Surface, kinds: number, kindOf: (dx: number, dy: number) => number): Polygon[][] {
  const pieces = Array.from({ length: kinds }, (): number[][] => []);
  for (let t = 0; t < s.triangles.length / 3; t++) {
    const { dx, dy } = planeOf(s, t);
    const kind = kindOf(dx, dy);
    if (kind >= 0) pieces[kind].push([0, 1, 2].flatMap((k) => [s.x[s.triangles[3 * t + k]], s.y[s.triangles[3 * t + k]]])); // prettier-ignore
  }
  return pieces.map(joined);
}

/** The rim of a surface as areas: its outlines with their voids. */
export const areaOfSurface = (s: Surface): Polygon[] =>
  joined(Array.from({ length: s.triangles.length / 3 }, (_, t) => [0, 1, 2].flatMap((k) => [s.x[s.triangles[3 * t + k]], s.y[s.triangles[3 * t + k]]]))); // prettier-ignore

/** The part of a triangle between two elevations. Places on a side are computed from its lower end: both neighbours have the same. */
function between(s: Surface, corners: readonly number[], from: number, to: number): number[] {
  const [z0, z1, z2] = corners.map((v) => s.z[v]);
  // Level ground exactly at a step belongs to what begins there.
  if (z0 === z1 && z1 === z2 && z0 === to) return [];
  const out: number[] = [];
  const add = (x: number, y: number): void => {
    const n = out.length;
    if (n < 2 || out[n - 2] !== x || out[n - 1] !== y) out.push(x, y);
  };
  corners.forEach((a, k) => {
    const b = corners[(k + 1) % 3];
    const [za, zb] = [s.z[a], s.z[b]];
    if (za >= from && za <= to) add(s.x[a], s.y[a]);
    const [lo, hi] = za < zb || (za === zb && a < b) ? [a, b] : [b, a];
    const on = [from, to].filter((level) => s.z[lo] < level && level < s.z[hi]);
    if (za > zb) on.reverse();
    for (const level of on) {
      const f = (level - s.z[lo]) / (s.z[hi] - s.z[lo]);
      add(s.x[lo] + f * (s.x[hi] - s.x[lo]), s.y[lo] + f * (s.y[hi] - s.y[lo]));
    }
  });
  if (out.length >= 4 && out[0] === out.at(-2) && out[1] === out.at(-1)) out.length -= 2;
  return out;
}

/** Pieces that share sides as areas: a side that two pieces have goes, what is left are their rims. */
function joined(pieces: readonly number[][]): Polygon[] {
  const sides = new Map<string, { ax: number; ay: number; bx: number; by: number }>();
  for (const p of pieces)
    for (let i = 0; i < p.length; i += 2) {
      const [ax, ay, bx, by] = [p[i], p[i + 1], p[(i + 2) % p.length], p[(i + 3) % p.length]];
      if (!sides.delete(`${bx} ${by} ${ax} ${ay}`)) sides.set(`${ax} ${ay} ${bx} ${by}`, { ax, ay, bx, by });
    }
  const from = new Map<string, { key: string; bx: number; by: number }[]>();
  for (const [key, { ax, ay, bx, by }] of sides) {
    const list = from.get(`${ax} ${ay}`);
    if (list) list.push({ key, bx, by });
    else from.set(`${ax} ${ay}`, [{ key, bx, by }]);
  }
  const rings: Float64Array[] = [];
  const used = new Set<string>();
  for (const [key, first] of sides) {
    if (used.has(key)) continue;
    const ring: number[] = [];
    let [side, at] = [first, key];
    for (;;) {
      used.add(at);
      ring.push(side.ax, side.ay);
      const next = sharpestRight(
        side,
        (from.get(`${side.bx} ${side.by}`) ?? []).filter((n) => !used.has(n.key)),
      );
      if (!next) break;
      at = next.key;
      side = sides.get(at)!;
    }
    if (ring.length >= 6) rings.push(Float64Array.from(ring));
  }
  return withHoles(rings);
}

/** Where rims touch at a place, each goes on along itself: the side that turns most to the right leaves the area on its left. */
function sharpestRight<T extends { bx: number; by: number }>(
  { ax, ay, bx, by }: { ax: number; ay: number; bx: number; by: number },
  choices: readonly T[],
): T | undefined {
  if (choices.length < 2) return choices[0];
  // How far a side turns to the left of going straight on, from −2 to 2, ascending with the angle.
  const turn = (c: T): number => {
    const [ux, uy, vx, vy] = [bx - ax, by - ay, c.bx - bx, c.by - by];
    const size = distance(ux, uy) * distance(vx, vy);
    const [cosine, sine] = [(ux * vx + uy * vy) / size, (ux * vy - uy * vx) / size];
    return sine >= 0 ? 1 - cosine : cosine - 1;
  };
  return [...choices].sort((p, q) => turn(q) - turn(p))[0];
}

/** Rings counter-clockwise as outer ones, each with the clockwise ones that lie in it. */
function withHoles(rings: readonly Float64Array[]): Polygon[] {
  const outer = rings.filter((r) => ringArea(r) > 0).sort((a, b) => ringArea(a) - ringArea(b));
  const out: Polygon[] = outer.map((r) => [r]);
  for (const hole of rings) {
    if (ringArea(hole) > 0) continue;
    // A place just inside the area beside the hole: its rim may touch that of what it lies in.
    const [mx, my] = [(hole[0] + hole[2]) / 2, (hole[1] + hole[3]) / 2];
    const at = outer.findIndex((r) => pointInRing(r, mx, my));
    if (at >= 0) out[at].push(hole);
  }
  return out.sort((a, b) => b[0].length - a[0].length || a[0][0] - b[0][0]);
}

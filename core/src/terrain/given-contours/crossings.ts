import { orientation } from '#core/kernel';
import type { ContourFault, Sides } from './contour.ts';

type Crossing = Extract<ContourFault, { kind: 'cross' }>;
type Closing = Extract<ContourFault, { kind: 'closing-side' }>;

interface Met {
  a: number;
  b: number;
  x: number;
  y: number;
  /** One goes through the other: they do not only touch. */
  through: boolean;
  byClosing: { a: boolean; b: boolean };
}

/**
 * Contours that are closed across others, and those of two elevations that cross or touch. Where every crossing of a contour is
 * one of the side that closes it, that side is what is wrong.
 */
export function closingAndCrossing(
  sides: Sides,
  without: ReadonlySet<number>,
): { closing: Closing[]; crossing: Crossing[] } {
  const met = meetings(sides, without);
  const { contours } = sides;
  const closes = new Map<number, { cuts: Set<number>; x: number; y: number }>();
  for (const [k, list] of byContour(met)) {
    const own = (m: Met): boolean => (m.a === k ? m.byClosing.a : m.byClosing.b);
    if (!contours[k].closed || !list.every(own)) continue;
    const cuts = new Set(list.map((m) => (m.a === k ? m.b : m.a)));
    closes.set(k, { cuts, x: list[0].x, y: list[0].y });
  }
  // Of two that cut each other with closing sides alone both are named; what they cut is not.
  const closing = [...closes].map(([contour, { cuts, x, y }]): Closing => ({ kind: 'closing-side', contour, cuts: [...cuts].sort((a, b) => a - b), x, y })); // prettier-ignore
  const left = met.filter((m) => !closes.has(m.a) && !closes.has(m.b) && contours[m.a].elevation !== contours[m.b].elevation); // prettier-ignore
  const order = (f: { contour: number }, g: { contour: number }): number => f.contour - g.contour;
  return { closing: closing.sort(order), crossing: blamed(left).sort(order) };
}

/** Of contours that cross, the one that crosses most others is what is wrong; then of what is left. */
function blamed(met: readonly Met[]): Crossing[] {
  const out: Crossing[] = [];
  let left = met;
  while (left.length) {
    const others = new Map<number, Set<number>>();
    for (const { a, b } of left) {
      others.set(a, (others.get(a) ?? new Set<number>()).add(b));
      others.set(b, (others.get(b) ?? new Set<number>()).add(a));
    }
    const [[contour, of]] = [...others].sort((p, q) => q[1].size - p[1].size || p[0] - q[0]);
    const own = left.filter((m) => m.a === contour || m.b === contour);
    const [{ x, y }] = own;
    out.push({
      kind: 'cross',
      contour,
      others: [...of].sort((p, q) => p - q),
      places: own.length,
      through: own.some((m) => m.through),
      x,
      y,
    });
    left = left.filter((m) => m.a !== contour && m.b !== contour);
  }
  return out;
}

function byContour(met: readonly Met[]): Map<number, Met[]> {
  const out = new Map<number, Met[]>();
  for (const m of met)
    for (const k of [m.a, m.b]) {
      const list = out.get(k);
      if (list) list.push(m);
      else out.set(k, [m]);
    }
  return out;
}

/** Where sides of two contours meet; contours of one elevation only where a closing side cuts through. */
function meetings(sides: Sides, without: ReadonlySet<number>): Met[] {
  const { contours, ax, ay, bx, by, of } = sides;
  const out: Met[] = [];
  for (let s = 0; s < sides.count; s++) {
    if (without.has(of[s])) continue;
    const near = sides.within(Math.min(ax[s], bx[s]), Math.min(ay[s], by[s]), Math.max(ax[s], bx[s]), Math.max(ay[s], by[s])); // prettier-ignore
    for (const t of near) {
      if (of[t] <= of[s] || without.has(of[t])) continue;
      const place = meetingOf(sides, s, t);
      if (!place) continue;
      const [a, b] = [of[s], of[t]];
      const byClosing = { a: sides.closes(s), b: sides.closes(t) };
      const alike = contours[a].elevation === contours[b].elevation;
      if (alike && !(place.through && (byClosing.a || byClosing.b))) continue;
      out.push({ a, b, x: place.x, y: place.y, through: place.through, byClosing });
    }
  }
  return out.sort((m, n) => m.a - n.a || m.b - n.b || m.x - n.x || m.y - n.y);
}

/** Where two sides meet, and whether one goes through the other; null where they do not. */
function meetingOf({ ax, ay, bx, by }: Sides, s: number, t: number): { x: number; y: number; through: boolean } | null {
  const o1 = orientation(ax[s], ay[s], bx[s], by[s], ax[t], ay[t]);
  const o2 = orientation(ax[s], ay[s], bx[s], by[s], bx[t], by[t]);
  const o3 = orientation(ax[t], ay[t], bx[t], by[t], ax[s], ay[s]);
  const o4 = orientation(ax[t], ay[t], bx[t], by[t], bx[s], by[s]);
  if (o1 * o2 > 0 || o3 * o4 > 0) return null;
  if (o1 === 0 && o2 === 0) return along(ax, ay, bx, by, s, t);
  const share = o3 / (o3 - o4);
  return {
    x: ax[s] + share * (bx[s] - ax[s]),
    y: ay[s] + share * (by[s] - ay[s]),
    through: o1 * o2 < 0 && o3 * o4 < 0,
  };
}

type Column = Float64Array;

/** Sides in one line meet where they overlap. */
function along(
  ax: Column,
  ay: Column,
  bx: Column,
  by: Column,
  s: number,
  t: number,
): { x: number; y: number; through: boolean } | null {
  // prettier-ignore
  const apart = (p: Column, q: Column): boolean => Math.max(p[s], q[s]) < Math.min(p[t], q[t]) || Math.max(p[t], q[t]) < Math.min(p[s], q[s]); // prettier-ignore
  if (apart(ax, bx) || apart(ay, by)) return null;
  const inside = (x: number, y: number): boolean =>
    x >= Math.min(ax[t], bx[t]) && x <= Math.max(ax[t], bx[t]) && y >= Math.min(ay[t], by[t]) && y <= Math.max(ay[t], by[t]); // prettier-ignore
  const own = inside(ax[s], ay[s]) ? [ax[s], ay[s]] : inside(bx[s], by[s]) ? [bx[s], by[s]] : [ax[t], ay[t]];
  return { x: own[0], y: own[1], through: false };
}

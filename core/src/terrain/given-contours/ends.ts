import { distance } from '#core/kernel';
import { insideness, type ContourFault, type EndOf, type GivenContour, type Sides } from './contour.ts';
import type { Nearest } from './nearest.ts';

type EndFault = Extract<ContourFault, { kind: 'open' | 'gap' }>;

interface End {
  contour: number;
  end: EndOf;
  x: number;
  y: number;
  /** The way that the contour comes to its end, of length 1. */
  dx: number;
  dy: number;
}

/** Ends nearer than this are one place, m. */
const JOINED = 0.001;
/** As many usual sides as a gap is long at the most. */
const LONGEST_GAP = 15;
/** As many usual sides inside the rim a gap is at least, unless its neighbours go on beyond both ends. */
const FROM_RIM = 3;
/** Cosine of how far from straight on the other end may lie. */
const LINED_UP = 0.8;

/** Ends of contours inside the site: two of one elevation that line up are a gap, others are open between neighbours that go on. */
export function endFaults(sides: Sides, nearest: Nearest, without: ReadonlySet<number>): EndFault[] {
  const ends = freeEnds(sides.contours, without);
  const inside = insideness(sides.contours);
  const isInside = ({ one, other, gap }: Bridge): boolean => inside(gap.x, gap.y) > FROM_RIM * nearest.step || (goesOn(one, nearest) && goesOn(other, nearest)); // prettier-ignore
  // What leaves the site and comes back at its rim is no gap.
  const bridges = linedUp(ends, sides, nearest.step).filter(isInside);
  const gaps = bridges.map((b) => b.gap);
  const inGap = new Set(bridges.flatMap((b) => [b.one, b.other]));
  const open = ends
    .filter((e) => !inGap.has(e) && goesOn(e, nearest))
    .map((e): EndFault => ({ kind: 'open', contour: e.contour, end: e.end, x: e.x, y: e.y }));
  return [...gaps, ...open];
}

/** Ends of open contours that no other contour of their elevation goes on from. */
function freeEnds(contours: readonly GivenContour[], without: ReadonlySet<number>): End[] {
  const out: End[] = [];
  contours.forEach(({ x, y, closed }, k) => {
    const n = x.length;
    if (closed || n < 2 || without.has(k) || distance(x[0] - x[n - 1], y[0] - y[n - 1]) <= JOINED) return;
    const end = (at: number, before: number, which: EndOf): void => {
      const long = distance(x[at] - x[before], y[at] - y[before]);
      if (long > 0) out.push({ contour: k, end: which, x: x[at], y: y[at], dx: (x[at] - x[before]) / long, dy: (y[at] - y[before]) / long }); // prettier-ignore
    };
    end(0, 1, 'first');
    end(n - 1, n - 2, 'last');
  });
  const places = new Map<string, End[]>();
  const key = (e: End): string => `${contours[e.contour].elevation} ${Math.round(e.x / JOINED)} ${Math.round(e.y / JOINED)}`; // prettier-ignore
  for (const e of out) places.set(key(e), [...(places.get(key(e)) ?? []), e]);
  return out.filter((e) => places.get(key(e))!.length === 1);
}

type Gap = Extract<ContourFault, { kind: 'gap' }>;
interface Bridge {
  one: End;
  other: End;
  gap: Gap;
}

/** Pairs of ends of one elevation, each the other's nearest, that look at each other with nothing between. */
function linedUp(ends: readonly End[], sides: Sides, step: number): Bridge[] {
  const { contours } = sides;
  const byElevation = new Map<number, End[]>();
  for (const e of ends) {
    const z = contours[e.contour].elevation;
    byElevation.set(z, [...(byElevation.get(z) ?? []), e]);
  }
  const out: Bridge[] = [];
  for (const list of byElevation.values()) {
    const best = list.map((e) => {
      const others = list.filter((o) => o !== e && looksAt(e, o) && looksAt(o, e));
      return others.sort((a, b) => distance(a.x - e.x, a.y - e.y) - distance(b.x - e.x, b.y - e.y))[0] as
        End | undefined;
    });
    list.forEach((e, i) => {
      const o = best[i];
      const j = o ? list.indexOf(o) : -1;
      if (!o || j < i || best[j] !== e) return;
      const length = distance(o.x - e.x, o.y - e.y);
      if (length > LONGEST_GAP * step || crosses(sides, e, o)) return;
      out.push({ one: e, other: o, gap: { kind: 'gap', contour: e.contour, end: e.end, other: o.contour, otherEnd: o.end, length, x: (e.x + o.x) / 2, y: (e.y + o.y) / 2 } }); // prettier-ignore
    });
  }
  return out.sort((a, b) => a.gap.contour - b.gap.contour || a.gap.other - b.gap.other);
}

const looksAt = (e: End, o: End): boolean => {
  const long = distance(o.x - e.x, o.y - e.y);
  return long > 0 && ((o.x - e.x) * e.dx + (o.y - e.y) * e.dy) / long > LINED_UP;
};

/** Whether the straight between two ends goes through any contour. */
function crosses(sides: Sides, e: End, o: End): boolean {
  const { ax, ay, bx, by, of } = sides;
  const left = (px: number, py: number): number => (o.x - e.x) * (py - e.y) - (o.y - e.y) * (px - e.x);
  return sides.within(Math.min(e.x, o.x), Math.min(e.y, o.y), Math.max(e.x, o.x), Math.max(e.y, o.y)).some((s) => {
    if (of[s] === e.contour || of[s] === o.contour) return false;
    const turn = (px: number, py: number): number => (bx[s] - ax[s]) * (py - ay[s]) - (by[s] - ay[s]) * (px - ax[s]);
    return left(ax[s], ay[s]) > 0 !== left(bx[s], by[s]) > 0 && turn(e.x, e.y) > 0 !== turn(o.x, o.y) > 0;
  });
}

/** Whether the neighbours to both sides of an end go on beyond it: then the ground does too. */
function goesOn(e: End, nearest: Nearest): boolean {
  const here = nearest.at(e.x - e.dx * nearest.step * 0.01, e.y - e.dy * nearest.step * 0.01, e.dx, e.dy, e.contour);
  if (!here.left || !here.right) return false;
  const far = Math.max(here.left.distance, here.right.distance, nearest.step);
  const there = nearest.at(e.x + e.dx * far, e.y + e.dy * far, e.dx, e.dy, e.contour);
  return there.left?.contour === here.left.contour && there.right?.contour === here.right.contour;
}

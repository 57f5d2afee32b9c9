import { atan2, cos, CRITICAL, difference, distance as length, inverseSymmetric, sin } from '#core/kernel';
import { rigid } from '#core/basis';
import {
  deviationOf,
  residualOf,
  rowOf,
  type ReadingDoubt,
  type ResectionReading,
  type ResectionSight,
  type Solved,
} from './resection-reading.ts';
import { testSights } from './resection-snooping.ts';

export type Resected =
  | {
      ok: true;
      x: number;
      y: number;
      z: number;
      orientation: number;
      /** Solved for when it is free, else 1. */
      scale: number;
      sdPlan: number;
      sdHeight: number;
      sdOrientation: number;
      /** Observed less computed: direction radians, distance metres (NaN without). */
      residuals: { direction: number; distance: number; height: number }[];
      redundancy: number;
      /** Readings that do not fit; those of which it is sure are not in the solution. */
      doubts: ReadingDoubt[];
    }
  | { ok: false; reason: string };

export const DANGER =
  'the station lies on the danger circle through the known points (or in one line with them), where directions alone do not find it';

/** Misfits below this, m, are not asked about, however small the stated deviations are. */
export interface ResectionTolerance {
  plan: number;
  height: number;
}
const PLAIN_TOLERANCE: ResectionTolerance = { plan: 0.03, height: 0.05 };

/**
 * A station from two or more known points by directions and distances; least squares, scale free or held at 1. Every
 * reading is tested against the others (Baarda's w); one that they contradict takes no part, and is named.
 */
export function resect(
  sights: readonly ResectionSight[],
  scaleFree = false,
  tolerance: ResectionTolerance = PLAIN_TOLERANCE,
): Resected {
  const all = readingsOf(sights);
  const enough = tooFew(sights, all, scaleFree);
  if (enough) return { ok: false, reason: enough };
  const tested = testSights(sights, all, (readings) => solve(sights, readings, scaleFree), tolerance.plan);
  if (!tested.ok) return tested;
  const { solved, used } = tested;
  const { x, y, orientation, scale, inverse } = solved;
  const sdPlan = Math.sqrt((inverse[0][0] + inverse[1][1]) / 2);
  // Near the danger circle the equations still solve, and mean nothing.
  if (sdPlan > 0.5)
    return {
      ok: false,
      reason: 'the station is so near the danger circle that it is not fixed to half a metre',
    };
  const height = heightOf(sights, tolerance.height);
  return {
    ok: true,
    x,
    y,
    z: height.z,
    orientation: difference(orientation),
    scale,
    sdPlan,
    sdHeight: height.sd,
    sdOrientation: Math.sqrt(inverse[2][2]),
    residuals: sights.map((s) => ({
      direction: residualOf(s, 'direction', solved),
      distance: residualOf(s, 'distance', solved),
      height: height.z + s.rise - s.target.z,
    })),
    redundancy: used.length - (scaleFree ? 4 : 3),
    doubts: [...tested.doubts, ...height.doubts],
  };
}

function readingsOf(sights: readonly ResectionSight[]): ResectionReading[] {
  return sights.flatMap((s, sight): ResectionReading[] => [
    ...(s.only === 'distance' || Number.isNaN(s.circle) ? [] : [{ sight, what: 'direction' as const }]),
    ...(s.only === 'direction' || Number.isNaN(s.horizontal) ? [] : [{ sight, what: 'distance' as const }]),
  ]);
}

function tooFew(
  sights: readonly ResectionSight[],
  all: readonly ResectionReading[],
  scaleFree: boolean,
): string | null {
  const numbers = (what?: string): number =>
    new Set(all.filter((r) => !what || r.what === what).map((r) => sights[r.sight].target.number)).size;
  if (numbers('direction') === 0 || (numbers('distance') < 2 && numbers('direction') < 3))
    return 'two known points with distances, or three with directions, are needed to find a station';
  return scaleFree && all.length < 4 ? 'a free scale needs one more reading' : null;
}

/** Least squares of some of the readings, or why they do not come to a station. */
function solve(
  sights: readonly ResectionSight[],
  readings: readonly ResectionReading[],
  scaleFree: boolean,
): Solved | { reason: string } {
  const with_ = (what: string): ResectionSight[] => readings.filter((r) => r.what === what).map((r) => sights[r.sight]);
  const [seen, ranged] = [with_('direction'), with_('distance')];
  const both = ranged.filter((s) => seen.includes(s));
  const starts = both.length >= 2 ? [fromDistances(both)] : seen.length >= 3 ? fromDirections(seen) : fromCircles(ranged, seen); // prettier-ignore
  let reason = both.length >= 2 ? 'the known points lie in one place' : DANGER;
  let best: (Solved & { sum: number }) | null = null;
  for (const start of starts) {
    if (!start) continue;
    const found = converge(sights, readings, scaleFree, start);
    if ('reason' in found) {
      reason = found.reason;
      continue;
    }
    const sum = readings.reduce((s, r) => s + square(sights[r.sight], r.what, found), 0);
    if (!best || sum < best.sum) best = { ...found, sum };
  }
  return best ?? { reason };
}

const square = (s: ResectionSight, what: ResectionReading['what'], at: Solved): number => {
  const w = residualOf(s, what, at) / deviationOf(s, what, at);
  return w * w;
};

function converge(
  sights: readonly ResectionSight[],
  readings: readonly ResectionReading[],
  scaleFree: boolean,
  start: NonNullable<Start>,
): Solved | { reason: string } {
  const at: Solved = { ...start, scale: 1, inverse: [] };
  const u = scaleFree ? 4 : 3;
  for (let turn = 0; turn < 40; turn++) {
    const normal = Array.from({ length: u }, () => new Array<number>(u).fill(0));
    const right = new Array<number>(u).fill(0);
    for (const { sight, what } of readings) {
      const s = sights[sight];
      const a = rowOf(s, what, at);
      const sd = deviationOf(s, what, at);
      const w = 1 / (sd * sd);
      const off = residualOf(s, what, at);
      for (let i = 0; i < u; i++) {
        right[i] += w * a[i] * off;
        for (let j = 0; j < u; j++) normal[i][j] += w * a[i] * a[j];
      }
    }
    const inverse = inverseSymmetric(normal);
    if (!inverse) return { reason: DANGER };
    at.inverse = inverse;
    const step = inverse.map((row) => row.reduce((s, v, j) => s + v * right[j], 0));
    at.x += step[0];
    at.y += step[1];
    at.orientation += step[2];
    if (scaleFree) at.scale += step[3];
    if (!Number.isFinite(step[0] + step[1] + step[2])) break;
    if (Math.abs(step[0]) + Math.abs(step[1]) < 1e-7 && Math.abs(step[2]) < 1e-11) return at;
  }
  return { reason: 'directions and distances do not give one station' };
}

interface FreeHeight {
  z: number;
  sd: number;
  doubts: ReadingDoubt[];
}

/** The station's elevation, the mean of what its sights say; of three or more one that the others contradict is named. */
function heightOf(sights: readonly ResectionSight[], tolerance: number): FreeHeight {
  const all = sights.flatMap((s, sight) => {
    const z = s.target.z - s.rise;
    const sd = Math.sqrt(s.sdRise * s.sdRise + s.target.sdHeight * s.target.sdHeight);
    return Number.isNaN(z) ? [] : [{ sight, z, sd }];
  });
  if (all.length === 0) return { z: NaN, sd: NaN, doubts: [] };
  const meanOf = (list: typeof all): number => list.reduce((s, h) => s + h.z, 0) / list.length;
  const sdOf = (list: typeof all): number => Math.sqrt(list.reduce((s, h) => s + h.sd * h.sd, 0)) / list.length;
  const offs = (list: typeof all, z: number) =>
    list.filter((h) => Math.abs(h.z - z) > Math.max(tolerance, CRITICAL * h.sd));
  const doubt = (h: (typeof all)[number], z: number, sure: boolean): ReadingDoubt => ({
    sight: h.sight,
    what: 'height',
    off: z - h.z,
    standardised: Math.abs(h.z - z) / h.sd,
    sure,
  });
  const [first, last] = [Math.min(...all.map((h) => h.z)), Math.max(...all.map((h) => h.z))];
  if (last - first > tolerance) {
    for (const wrong of all) {
      if (sights[wrong.sight].held || all.length < 3) continue;
      const rest = all.filter((h) => h !== wrong);
      const z = meanOf(rest);
      const agree = Math.max(...rest.map((h) => h.z)) - Math.min(...rest.map((h) => h.z)) <= tolerance;
      if (agree && Math.abs(wrong.z - z) > Math.max(tolerance, CRITICAL * Math.sqrt(wrong.sd ** 2 + sdOf(rest) ** 2)))
        return { z, sd: sdOf(rest), doubts: [doubt(wrong, z, true)] };
    }
    const z = meanOf(all);
    const open = (all.length === 2 ? all : offs(all, z)).filter((h) => !sights[h.sight].held);
    return { z, sd: sdOf(all), doubts: open.map((h) => doubt(h, z, false)) };
  }
  return { z: meanOf(all), sd: sdOf(all), doubts: [] };
}

type Start = { x: number; y: number; orientation: number } | null;

/** Polar coordinates about the station, turned and shifted onto the known points as a rigid whole. */
function fromDistances(sights: readonly ResectionSight[]): Start {
  const plan = rigid(
    sights.map((s) => ({
      from: { x: s.horizontal * sin(s.circle), y: s.horizontal * cos(s.circle), z: 0 },
      to: s.target,
    })),
  );
  return plan ? { x: plan.tx, y: plan.ty, orientation: atan2(-plan.b, plan.a) } : null;
}

/** So many triples of directions are tried for a place to begin from. */
const MOST_TRIPLES = 20;

/**
 * Places to begin from by three directions each: where the circles over two chords, on which these are seen under
 * their angles, meet again (Collins; any surveying textbook). Points in one line are no hindrance.
 */
function fromDirections(sights: readonly ResectionSight[]): Start[] {
  const out: Start[] = [];
  for (let i = 0; i < sights.length; i++)
    for (let j = i + 1; j < sights.length; j++)
      for (let k = j + 1; k < sights.length && out.length < 3 * MOST_TRIPLES; k++) {
        const [a, b, c] = [sights[i], sights[j], sights[k]];
        // About each of the three in turn: one in line with the station and another has no circle with it.
        out.push(aboutMiddle(a, b, c), aboutMiddle(b, c, a), aboutMiddle(c, a, b));
      }
  return out;
}

function aboutMiddle(a: ResectionSight, b: ResectionSight, c: ResectionSight): Start {
  const one = circleOver(a, b);
  const two = circleOver(b, c);
  if (!one || !two) return null;
  // Both circles pass through b: their other meeting is b mirrored in the line through the centres.
  const [dx, dy] = [two.x - one.x, two.y - one.y];
  const square = dx * dx + dy * dy;
  if (!(square > 1e-6)) return null;
  const t = ((b.target.x - one.x) * dx + (b.target.y - one.y) * dy) / square;
  const [x, y] = [2 * (one.x + t * dx) - b.target.x, 2 * (one.y + t * dy) - b.target.y];
  if (!Number.isFinite(x + y)) return null;
  return { x, y, orientation: difference(atan2(b.target.x - x, b.target.y - y) - b.circle) };
}

/** Centre of the circle from which p and q are seen under the angle from p clockwise to q. */
function circleOver(p: ResectionSight, q: ResectionSight): { x: number; y: number } | null {
  const angle = q.circle - p.circle;
  const s = sin(angle);
  if (Math.abs(s) < 1e-7) return null;
  const cot = cos(angle) / s;
  const [dx, dy] = [q.target.x - p.target.x, q.target.y - p.target.y];
  return { x: (p.target.x + q.target.x + cot * dy) / 2, y: (p.target.y + q.target.y - cot * dx) / 2 };
}

/** Two distances, and a direction that says on which side: where the circles about the targets meet. */
function fromCircles(ranged: readonly ResectionSight[], seen: readonly ResectionSight[]): Start[] {
  if (ranged.length < 2 || seen.length === 0) return [];
  const [p, q] = [ranged[0], ranged.find((r) => r.target.number !== ranged[0].target.number) ?? ranged[1]];
  const [dx, dy] = [q.target.x - p.target.x, q.target.y - p.target.y];
  const d = length(dx, dy);
  if (!(d > 0.01)) return [];
  const along = (p.horizontal * p.horizontal - q.horizontal * q.horizontal + d * d) / (2 * d);
  const aside = Math.sqrt(Math.max(0, p.horizontal * p.horizontal - along * along));
  return [1, -1].map((side) => {
    const x = p.target.x + (along * dx - side * aside * dy) / d;
    const y = p.target.y + (along * dy + side * aside * dx) / d;
    return { x, y, orientation: difference(atan2(seen[0].target.x - x, seen[0].target.y - y) - seen[0].circle) };
  });
}

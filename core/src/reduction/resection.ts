import { atan2, cos, difference, distance as length, inverseSymmetric, sin } from '#core/kernel';
import { rigid } from '#core/basis';
import type { Known } from './types.ts';

/** A known point as a free station sees it; metres and radians. */
export interface ResectionSight {
  target: Known;
  circle: number;
  /** On the grid; NaN when only a direction was read. */
  horizontal: number;
  rise: number;
  sdDirection: number;
  sdDistance: number;
  sdRise: number;
}

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
    }
  | { ok: false; reason: string };

const DANGER = 'the station lies on the danger circle through the known points, or they are in one line with it';

/** A station from two or more known points by directions and distances; least squares, scale free or held at 1. */
export function resect(sights: readonly ResectionSight[], scaleFree = false): Resected {
  const ranged = sights.filter((s) => !Number.isNaN(s.horizontal));
  if (sights.length < 2 || (ranged.length < 2 && sights.length < 3))
    return {
      ok: false,
      reason: 'two known points with distances, or three with directions, are needed to find a station',
    };
  const start = ranged.length >= 2 ? fromDistances(ranged) : fromDirections(sights);
  if (!start)
    return {
      ok: false,
      reason: ranged.length >= 2 ? 'the known points lie in one place' : DANGER,
    };
  const unknown = { ...start, scale: 1 };
  let inverse: number[][] | null = null;
  for (let turn = 0; turn < 30; turn++) {
    const { normal, right } = equations(sights, unknown, scaleFree);
    inverse = inverseSymmetric(normal);
    if (!inverse) return { ok: false, reason: DANGER };
    const step = inverse.map((row) => row.reduce((s, v, j) => s + v * right[j], 0));
    unknown.x += step[0];
    unknown.y += step[1];
    unknown.orientation += step[2];
    if (scaleFree) unknown.scale += step[3];
    if (Math.abs(step[0]) + Math.abs(step[1]) < 1e-7 && Math.abs(step[2]) < 1e-11) break;
    if (turn === 29) return { ok: false, reason: 'directions and distances do not come to one station' };
  }
  const sdPlan = Math.sqrt((inverse![0][0] + inverse![1][1]) / 2);
  // Near the danger circle the equations still solve, and mean nothing.
  if (sdPlan > 0.5)
    return {
      ok: false,
      reason: 'the station lies so near the danger circle that its place is not found to half a metre',
    };
  const heights = sights.filter((s) => !Number.isNaN(s.rise + s.target.z));
  const z = heights.length ? heights.reduce((s, h) => s + (h.target.z - h.rise) / heights.length, 0) : NaN;
  return {
    ok: true,
    x: unknown.x,
    y: unknown.y,
    z,
    orientation: difference(unknown.orientation),
    scale: unknown.scale,
    sdPlan,
    sdHeight: heights.length
      ? Math.sqrt(heights.reduce((s, h) => s + h.sdRise * h.sdRise + h.target.sdHeight * h.target.sdHeight, 0)) /
        heights.length
      : NaN,
    sdOrientation: Math.sqrt(inverse![2][2]),
    residuals: sights.map((s) => {
      const [dx, dy] = [s.target.x - unknown.x, s.target.y - unknown.y];
      return {
        direction: difference(s.circle + unknown.orientation - atan2(dx, dy)),
        distance: s.horizontal * unknown.scale - length(dx, dy),
        height: z + s.rise - s.target.z,
      };
    }),
    redundancy: sights.length + ranged.length - (scaleFree ? 4 : 3),
  };
}

function equations(
  sights: readonly ResectionSight[],
  at: { x: number; y: number; orientation: number; scale: number },
  scaleFree: boolean,
): { normal: number[][]; right: number[] } {
  const u = scaleFree ? 4 : 3;
  const normal = Array.from({ length: u }, () => new Array<number>(u).fill(0));
  const right = new Array<number>(u).fill(0);
  const add = (row: number[], off: number, sd: number): void => {
    const w = 1 / (sd * sd);
    for (let i = 0; i < u; i++) {
      right[i] += w * row[i] * off;
      for (let j = 0; j < u; j++) normal[i][j] += w * row[i] * row[j];
    }
  };
  for (const s of sights) {
    const [dx, dy] = [s.target.x - at.x, s.target.y - at.y];
    const d = Math.max(length(dx, dy), 1e-6);
    const sdDirection = s.sdDirection + (0.001 + s.target.sdPlan) / d;
    // Computed bearing turns with the station by (−dy, dx)/d²; the observed one with the orientation.
    add([-dy / (d * d), dx / (d * d), -1, 0], difference(s.circle + at.orientation - atan2(dx, dy)), sdDirection);
    if (Number.isNaN(s.horizontal)) continue;
    const sd = Math.sqrt(s.sdDistance * s.sdDistance + s.target.sdPlan * s.target.sdPlan);
    add([-dx / d, -dy / d, 0, -s.horizontal], s.horizontal * at.scale - d, sd);
  }
  return { normal, right };
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

/** Three directions alone (Tienstra's formula, any textbook): weights from the angles at the station and in the triangle. */
function fromDirections(sights: readonly ResectionSight[]): Start {
  // The three that lie widest apart: good enough to begin from.
  const sorted = [...sights].sort((a, b) => a.circle - b.circle);
  const pick = [0, Math.floor(sorted.length / 3), Math.floor((2 * sorted.length) / 3)].map((i) => sorted[i]);
  const [a, b, c] = pick;
  const cot = (angle: number): number => cos(angle) / sin(angle);
  const inner = (p: Known, q: Known, r: Known): number =>
    difference(atan2(q.x - p.x, q.y - p.y) - atan2(r.x - p.x, r.y - p.y));
  const alpha = c.circle - b.circle;
  const beta = a.circle - c.circle;
  const gamma = b.circle - a.circle;
  const weights = [
    1 / (cot(inner(a.target, c.target, b.target)) - cot(alpha)),
    1 / (cot(inner(b.target, a.target, c.target)) - cot(beta)),
    1 / (cot(inner(c.target, b.target, a.target)) - cot(gamma)),
  ];
  const sum = weights[0] + weights[1] + weights[2];
  const x = (weights[0] * a.target.x + weights[1] * b.target.x + weights[2] * c.target.x) / sum;
  const y = (weights[0] * a.target.y + weights[1] * b.target.y + weights[2] * c.target.y) / sum;
  if (!Number.isFinite(x) || !Number.isFinite(y)) return null;
  return { x, y, orientation: difference(atan2(a.target.x - x, a.target.y - y) - a.circle) };
}

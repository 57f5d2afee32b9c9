import { atan, sinCos } from '#core/kernel';
import { lastAtMost } from './lookup.ts';

/** A vertical point of intersection, with the curve that rounds it. */
export interface Intersection {
  chainage: number;
  elevation: number;
  curve: { kind: 'parabola'; before: number; behind: number } | { kind: 'circle'; radius: number } | null;
}

/** A vertical curve between two chainages. */
interface VerticalCurve {
  from: number;
  to: number;
  elevation: (chainage: number) => number;
  /** Chords this long stay within the sagitta. */
  step: number;
}

/** Elevations along a course. */
export interface Profile {
  from: number;
  to: number;
  elevation: (chainage: number) => number;
  /** Chainages where it bends, and between which it is near enough to straight. */
  bends: number[];
}

const MOST_STEPS = 5000;

/**
 * A profile of straights between points of intersection with vertical curves over them; null of fewer than two. A curve that
 * reaches beyond its neighbours is left out, which `problem` is told.
 */
export function profileOf(
  points: readonly Intersection[],
  sagitta: number,
  problem: (what: string) => void,
): Profile | null {
  if (points.length < 2) return null;
  const backwards = points.findIndex((p, i) => i > 0 && !(p.chainage > points[i - 1].chainage));
  if (backwards > 0) {
    problem(`its chainages do not go on at ${points[backwards].chainage}`);
    return null;
  }
  const grade = (i: number): number => (points[i + 1].elevation - points[i].elevation) / (points[i + 1].chainage - points[i].chainage); // prettier-ignore
  const curves: VerticalCurve[] = [];
  for (let i = 1; i + 1 < points.length; i++) {
    const curve = verticalCurve(points[i], grade(i - 1), grade(i), sagitta);
    if (!curve) continue;
    const before = Math.max(points[i - 1].chainage, curves.at(-1)?.to ?? -Infinity);
    if (curve.from < before - ROUNDED || curve.to > points[i + 1].chainage + ROUNDED)
      problem(`the vertical curve at ${points[i].chainage} reaches beyond its neighbours; it is left out`);
    else curves.push(curve);
  }
  const [chainages, froms] = [points.map((p) => p.chainage), curves.map((c) => c.from)];
  const curveAt = (chainage: number): VerticalCurve | undefined => {
    const curve = curves[lastAtMost(froms, chainage)];
    return curve && chainage < curve.to ? curve : undefined;
  };
  const elevation = (chainage: number): number => {
    const curve = curveAt(chainage);
    if (curve) return curve.elevation(chainage);
    const i = Math.min(points.length - 2, Math.max(0, lastAtMost(chainages, chainage)));
    return points[i].elevation + grade(i) * (chainage - points[i].chainage);
  };
  const bends = chainages.filter((c) => !curveAt(c));
  for (const { from, to, step } of curves) {
    const steps = Math.min(MOST_STEPS, Math.max(1, Math.ceil((to - from) / step)));
    for (let k = 0; k <= steps; k++) bends.push(from + ((to - from) * k) / steps);
  }
  return { from: points[0].chainage, to: points[points.length - 1].chainage, elevation, bends };
}

/** Chainages are written with few decimals. */
const ROUNDED = 0.01;

/** The curve over a point of intersection between two grades; null where none is needed. */
function verticalCurve(
  { chainage, elevation, curve }: Intersection,
  g1: number,
  g2: number,
  sagitta: number,
): VerticalCurve | null {
  if (!curve || g1 === g2) return null;
  return curve.kind === 'parabola'
    ? parabola(chainage, elevation, g1, g2, curve.before, curve.behind, sagitta)
    : circle(chainage, elevation, g1, g2, curve.radius, sagitta);
}

/**
 * Two parabolas that meet under the point of intersection with one grade: their distance from it is L₁ L₂ (g₂ − g₁) / 2 (L₁ + L₂),
 * and falls off with the square of the way (any textbook of route surveying); of equal lengths they are one.
 */
function parabola(
  at: number,
  z: number,
  g1: number,
  g2: number,
  before: number,
  behind: number,
  sagitta: number,
): VerticalCurve | null {
  if (!(before > 0) || !(behind > 0)) return null;
  const middle = (before * behind * (g2 - g1)) / (2 * (before + behind));
  const [from, to] = [at - before, at + behind];
  const bend = Math.max((2 * Math.abs(middle)) / before ** 2, (2 * Math.abs(middle)) / behind ** 2);
  return {
    from,
    to,
    elevation: (s) => s < at ? z + g1 * (s - at) + middle * ((s - from) / before) ** 2 : z + g2 * (s - at) + middle * ((to - s) / behind) ** 2, // prettier-ignore
    step: Math.sqrt((8 * sagitta) / bend),
  };
}

/** A circle that touches both grades. */
function circle(at: number, z: number, g1: number, g2: number, radius: number, sagitta: number): VerticalCurve | null {
  if (!(radius > 0)) return null;
  const [a1, a2] = [atan(g1), atan(g2)];
  const [halfSin, halfCos] = sinCos(Math.abs(a2 - a1) / 2);
  const tangent = (radius * halfSin) / halfCos;
  const [sin1, cos1] = sinCos(a1);
  const [from, to] = [at - tangent * cos1, at + tangent * sinCos(a2)[1]];
  // Hanging where the grade grows: its centre is above.
  const side = g2 > g1 ? 1 : -1;
  const [cx, cz] = [from - side * radius * sin1, z - tangent * sin1 + side * radius * cos1];
  return {
    from,
    to,
    elevation: (s) => cz - side * Math.sqrt(Math.max(0, radius * radius - (s - cx) ** 2)),
    step: Math.sqrt(8 * sagitta * radius),
  };
}

/** A profile of straights alone, chainage, elevation, chainage, elevation … */
export const straightProfile = (list: readonly number[], problem: (what: string) => void): Profile | null =>
  profileOf(Array.from({ length: list.length >> 1 }, (_, i) => ({ chainage: list[2 * i], elevation: list[2 * i + 1], curve: null })), 1, problem); // prettier-ignore

import { distance } from '#core/kernel';
import { rigid, similarity, type Plan } from '#core/basis';
import { METRES_IN_FILE, type FileUnit } from '#core/measure';

// How the numbers of a file could relate to control that has the same names. Arithmetic and square roots only:
// page and server must find the same.

export interface NamedPair {
  number: string;
  row: number;
  /** As the file stands in the project now, m. */
  x: number;
  y: number;
  z: number;
  /** Control, m. */
  cx: number;
  cy: number;
  cz: number;
}

export type Match =
  | { kind: 'same'; worst: number }
  | { kind: 'unit'; unit: FileUnit; factor: number; worst: number; apart: number }
  | { kind: 'exchanged'; worst: number; apart: number }
  | { kind: 'mirrored'; axis: 'east' | 'north'; worst: number; apart: number }
  | { kind: 'shifted'; dx: number; dy: number; worst: number; apart: number }
  | { kind: 'similar'; plan: Plan; scale: number; worst: number; apart: number; held: NamedPair | null }
  | { kind: 'none'; apart: number };

const worstOf = (pairs: readonly NamedPair[], to: (p: NamedPair) => [number, number]): number =>
  pairs.reduce((worst, p) => {
    const [x, y] = to(p);
    return Math.max(worst, distance(x - p.cx, y - p.cy));
  }, 0);

/** The plainest relation that brings every common point onto control within `tolerance`, m. */
export function matchBasis(pairs: readonly NamedPair[], unit: FileUnit, tolerance: number): Match {
  const apart = worstOf(pairs, (p) => [p.x, p.y]);
  if (apart <= tolerance) return { kind: 'same', worst: apart };
  const units: { unit: FileUnit; factor: number }[] = (Object.keys(METRES_IN_FILE) as FileUnit[])
    .filter((u) => u !== unit)
    .map((u) => ({ unit: u, factor: METRES_IN_FILE[u] / METRES_IN_FILE[unit] }));
  let best: { unit: FileUnit; factor: number; worst: number } | null = null;
  for (const u of units) {
    const worst = worstOf(pairs, (p) => [p.x * u.factor, p.y * u.factor]);
    if (worst <= tolerance && worst < (best?.worst ?? Infinity)) best = { ...u, worst };
  }
  // Two feet that differ by 2 ppm explain a difference only where it is of that size.
  if (best) return { kind: 'unit', ...best, apart };
  const exchanged = worstOf(pairs, (p) => [p.y, p.x]);
  if (exchanged <= tolerance) return { kind: 'exchanged', worst: exchanged, apart };
  for (const axis of ['east', 'north'] as const) {
    const worst = worstOf(pairs, (p) => (axis === 'east' ? [-p.x, p.y] : [p.x, -p.y]));
    if (worst <= tolerance) return { kind: 'mirrored', axis, worst, apart };
  }
  if (pairs.length < 2) return { kind: 'none', apart };
  const dx = pairs.reduce((s, p) => s + (p.cx - p.x) / pairs.length, 0);
  const dy = pairs.reduce((s, p) => s + (p.cy - p.y) / pairs.length, 0);
  const shifted = worstOf(pairs, (p) => [p.x + dx, p.y + dy]);
  if (shifted <= 3 * tolerance) return { kind: 'shifted', dx, dy, worst: shifted, apart };
  const similar = fitOf(pairs, tolerance);
  if (similar) return { kind: 'similar', ...similar, apart, held: null };
  // One point that was typed wrong holds all others away: whose absence lets the rest agree?
  if (pairs.length >= 4)
    for (const held of pairs) {
      const rest = pairs.filter((p) => p !== held);
      const fit = fitOf(rest, tolerance);
      if (fit) return { kind: 'similar', ...fit, apart, held };
    }
  return { kind: 'none', apart };
}

/** Scales that a survey and its grid can differ by; beyond it is another unit or another place. */
const LARGEST_SCALE = 0.002;

function fitOf(pairs: readonly NamedPair[], tolerance: number): { plan: Plan; scale: number; worst: number } | null {
  const ends = pairs.map((p) => ({ from: { x: p.x, y: p.y, z: 0 }, to: { x: p.cx, y: p.cy, z: 0 } }));
  const plan = pairs.length >= 3 ? similarity(ends) : rigid(ends);
  if (!plan) return null;
  const scale = distance(plan.a, plan.b);
  if (Math.abs(scale - 1) > LARGEST_SCALE) return null;
  const worst = worstOf(pairs, (p) => [plan.a * p.x - plan.b * p.y + plan.tx, plan.b * p.x + plan.a * p.y + plan.ty]);
  return worst <= 3 * tolerance ? { plan, scale, worst } : null;
}

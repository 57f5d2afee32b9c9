import type { BookRecord } from '#core/book';
import { CRITICAL, inverseSymmetric, distance as length } from '#core/kernel';
import type { ReductionSettings } from './settings.ts';
import type { Known } from './known.ts';

// What readings of one point by satellite say together, and whether they agree with what they state.

/** What a receiver that states nothing is taken to promise, m (common practice for fixed solutions). */
const PLAN = 0.015;
const HEIGHT = 0.025;

type Mean = Pick<Known, 'x' | 'y' | 'z' | 'sdPlan' | 'sdHeight' | 'covariance'>;

const planOf = (r: BookRecord): number => (r.gnss && r.gnss.plan > 0 ? r.gnss.plan : PLAN);
const heightOf = (r: BookRecord): number => (r.gnss && r.gnss.height > 0 ? r.gnss.height : HEIGHT);

/** Variances and covariances of a reading, m²; of one that states none, alike in all directions of the plan. */
function covarianceOf(r: BookRecord): readonly number[] {
  const [p, h] = [planOf(r) ** 2, heightOf(r) ** 2];
  return r.gnss?.covariance ?? [p, p, h, 0, 0, 0];
}

/** Variance along a direction in plan, m². */
function varianceAlong(r: BookRecord, ux: number, uy: number): number {
  const [xx, yy, , xy] = covarianceOf(r);
  return xx * ux * ux + 2 * xy * ux * uy + yy * uy * uy;
}

/** Pairs that differ by more than what both state lets them, or by more than the project's tolerance. */
export function pairsApart(list: readonly BookRecord[], s: ReductionSettings): [BookRecord, BookRecord][] {
  const out: [BookRecord, BookRecord][] = [];
  for (let i = 0; i < list.length; i++)
    for (let k = i + 1; k < list.length; k++) {
      const [a, b] = [list[i], list[k]];
      const apart = length(a.x - b.x, a.y - b.y);
      const [ux, uy] = apart > 0 ? [(a.x - b.x) / apart, (a.y - b.y) / apart] : [1, 0];
      const plan = CRITICAL * Math.sqrt(varianceAlong(a, ux, uy) + varianceAlong(b, ux, uy));
      const height = CRITICAL * Math.sqrt(covarianceOf(a)[2] + covarianceOf(b)[2]);
      if (apart > Math.min(plan, s.checkPlan) || Math.abs(a.z - b.z) > Math.min(height, s.checkHeight))
        out.push([a, b]);
    }
  return out;
}

/**
 * Weighted mean; its deviation is the stated one, or what the agreement of the readings gives where that is more:
 * σ² = max(1, Σ w v² / (n − 1)) / Σ w.
 */
export function meanOf(list: readonly BookRecord[]): Mean {
  const correlated = list.some((r) => r.gnss?.covariance) && !list.some((r) => Number.isNaN(r.z));
  return (correlated ? correlatedMean(list) : null) ?? plainMean(list);
}

/** How many times larger than stated variances are by the readings' agreement; 1 where they agree as stated. */
const agreed = (squares: number, free: number): number => (free > 0 ? Math.max(1, squares / free || 1) : 1);

function plainMean(list: readonly BookRecord[]): Mean {
  let [wp, wh, x, y, z] = [0, 0, 0, 0, 0];
  const { x: x0, y: y0, z: z0 } = list[0];
  const weights = list.map((r) => [1 / planOf(r) ** 2, 1 / heightOf(r) ** 2] as const);
  list.forEach((r, i) => {
    const [p, h] = weights[i];
    wp += p;
    wh += h;
    x += p * (r.x - x0);
    y += p * (r.y - y0);
    z += h * (r.z - z0);
  });
  const mean = { x: x0 + x / wp, y: y0 + y / wp, z: z0 + z / wh };
  let [plan, height] = [0, 0];
  list.forEach((r, i) => {
    plan += (weights[i][0] * ((r.x - mean.x) ** 2 + (r.y - mean.y) ** 2)) / 2;
    height += weights[i][1] * (r.z - mean.z) ** 2;
  });
  const free = list.length - 1;
  return { ...mean, sdPlan: Math.sqrt(agreed(plan, free) / wp), sdHeight: Math.sqrt(agreed(height, free) / wh) };
}

/**
 * The same with covariances between the axes: m = (Σ C⁻¹)⁻¹ Σ C⁻¹ x, its own covariance (Σ C⁻¹)⁻¹ times what the
 * agreement Σ vᵀC⁻¹v / 3(n − 1) gives where that is more than 1 (any textbook on adjustment).
 */
function correlatedMean(list: readonly BookRecord[]): Mean | null {
  const { x: x0, y: y0, z: z0 } = list[0];
  const offsets = list.map((r) => [r.x - x0, r.y - y0, r.z - z0]);
  const weights: number[][][] = [];
  for (const r of list) {
    const weight = inverseSymmetric(square(covarianceOf(r)));
    if (!weight) return null;
    weights.push(weight);
  }
  const sum = weights.reduce((s, w) => s.map((row, i) => row.map((v, k) => v + w[i][k])));
  const cofactors = inverseSymmetric(sum);
  if (!cofactors) return null;
  const right = [0, 1, 2].map((i) => weights.reduce((s, w, n) => s + dot(w[i], offsets[n]), 0));
  const middle = cofactors.map((row) => dot(row, right));
  const squares = weights.reduce((s, w, n) => {
    const v = offsets[n].map((o, i) => o - middle[i]);
    return s + dot(v, w.map((row) => dot(row, v))); // prettier-ignore
  }, 0);
  const times = agreed(squares, 3 * (list.length - 1));
  const [[xx, xy, xz], [, yy, yz], [, , zz]] = cofactors.map((row) => row.map((v) => v * times));
  return {
    x: x0 + middle[0],
    y: y0 + middle[1],
    z: z0 + middle[2],
    sdPlan: Math.sqrt((xx + yy) / 2),
    sdHeight: Math.sqrt(zz),
    covariance: [xx, yy, zz, xy, xz, yz],
  };
}

const dot = (a: readonly number[], b: readonly number[]): number => a.reduce((s, v, i) => s + v * b[i], 0);

const square = ([xx, yy, zz, xy, xz, yz]: readonly number[]): number[][] => [
  [xx, xy, xz],
  [xy, yy, yz],
  [xz, yz, zz],
];

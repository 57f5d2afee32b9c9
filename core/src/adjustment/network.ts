import { atan2, difference, type Skyline } from '#core/kernel';
import { assemble, layoutOf, type Layout } from './network-equations.ts';
import { report } from './network-report.ts';
import type { Ellipse } from './statistics.ts';

/** A station of a network; metres. Fixed: held; weighted: observed with its deviations; free: found. */
export interface NetworkPoint {
  number: string;
  x: number;
  y: number;
  z: number;
  standing: 'fixed' | 'weighted' | 'free';
  sdPlan: number;
  sdHeight: number;
}

/** One observation between stations, by their indices; radians and metres. */
export interface NetworkObservation {
  kind: 'direction' | 'distance' | 'rise' | 'east' | 'north' | 'elevation';
  /** Station observed from, or the one whose coordinate it is. */
  from: number;
  /** Station observed; −1 of coordinates. */
  to: number;
  /** Set of directions with one orientation; −1 of others. */
  set: number;
  value: number;
  sd: number;
  /**
   * Of a coordinate that is correlated with those before it (east, north): what it leaves beside them is the
   * observation, value − Σ a · (their value less their adjusted one), and sd is of that.
   */
  beside?: readonly { a: number; value: number }[];
  /** Where it comes from, carried through to the result. */
  source: string;
}

export interface AdjustedObservation {
  observation: NetworkObservation;
  /** Adjusted less observed. */
  residual: number;
  /** 0 not controlled … 1 fully. */
  redundancy: number;
  /** |residual| over its own standard deviation (Baarda's w); NaN where nothing controls it. */
  standardised: number;
}

export interface AdjustedPoint {
  number: string;
  x: number;
  y: number;
  z: number;
  sdX: number;
  sdY: number;
  sdZ: number;
  ellipse: Ellipse;
  /** Adjusted less begun from, m. */
  moved: number;
}

export interface Adjusted {
  ok: true;
  points: AdjustedPoint[];
  orientations: number[];
  observations: AdjustedObservation[];
  freedom: number;
  /** Σ (v/σ)² over the degrees of freedom; near 1 when the stated accuracies are true. */
  varianceFactor: number;
  /** Bounds of the variance factor at 95 %, chi-square. */
  bounds: [number, number];
  /** Index of the observation with the largest standardised residual, −1 when none is controlled. */
  doubtful: number;
  iterations: number;
  unknowns: number;
  /** Values kept of the normal matrix: what sparsity saves. */
  kept: number;
}

export type Adjustment = Adjusted | { ok: false; reason: string };

/**
 * Least squares of everything at once: directions with an orientation for each set, horizontal distances, rises
 * and levelled differences, coordinates as observed by satellites or given with a weight. Gauss–Newton on sparse
 * normal equations, in the order that keeps their skyline low.
 */
export function adjustNetwork(
  given: readonly NetworkPoint[],
  observations: readonly NetworkObservation[],
  sets: number,
): Adjustment {
  const problem = problemOf(given, observations);
  if (problem) return { ok: false, reason: problem };
  const layout = layoutOf(given, observations, sets);
  const points = given.map((p) => ({ ...p }));
  const orientations = startOrientations(points, observations, sets);
  let iterations = 0;
  let matrix: Skyline | null = null;
  for (; iterations < 25; iterations++) {
    const { normal, right } = assemble(layout, points, observations, orientations);
    const failed = normal.factor();
    if (failed >= 0) return { ok: false, reason: undetermined(layout, given, failed) };
    normal.solve(right);
    matrix = normal;
    const step = take(layout, points, orientations, right);
    if (step < 1e-7) break;
    if (!Number.isFinite(step))
      return { ok: false, reason: 'The observations do not come together: one of them is far off.' };
  }
  return report(layout, given, points, observations, orientations, matrix!, iterations);
}

function problemOf(given: readonly NetworkPoint[], observations: readonly NetworkObservation[]): string | null {
  if (given.length === 0 || observations.length === 0) return 'There is nothing to adjust.';
  const bad = observations.find((o) => !(o.sd > 0) || !Number.isFinite(o.value));
  return bad ? `An observation from ${given[bad.from]?.number ?? '?'} has no value or no standard deviation.` : null;
}

function take(l: Layout, points: NetworkPoint[], orientations: Float64Array, step: Float64Array): number {
  let largest = 0;
  const of = (u: number): number => {
    if (u < 0) return 0;
    largest = Math.max(largest, Math.abs(step[u]));
    return step[u];
  };
  points.forEach((p, i) => {
    p.x += of(l.x[i]);
    p.y += of(l.y[i]);
    p.z += of(l.z[i]);
  });
  for (let s = 0; s < orientations.length; s++) orientations[s] += of(l.set[s]);
  return largest;
}

/** Each set begun from the mean of what its directions say. */
function startOrientations(
  points: readonly NetworkPoint[],
  observations: readonly NetworkObservation[],
  sets: number,
): Float64Array {
  const first = new Float64Array(sets).fill(NaN);
  const sum = new Float64Array(sets);
  const count = new Float64Array(sets);
  for (const o of observations) {
    if (o.kind !== 'direction') continue;
    const [p, q] = [points[o.from], points[o.to]];
    const orientation = difference(atan2(q.x - p.x, q.y - p.y) - o.value);
    if (Number.isNaN(first[o.set])) first[o.set] = orientation;
    sum[o.set] += difference(orientation - first[o.set]);
    count[o.set]++;
  }
  return first.map((v, i) => (count[i] ? v + sum[i] / count[i] : 0));
}

function undetermined(l: Layout, given: readonly NetworkPoint[], unknown: number): string {
  const { point, what } = l.names[unknown];
  if (what === 'orientation') return 'The orientation of a set of directions is not determined.';
  return `The ${what === 'plan' ? 'place' : 'elevation'} of ${given[point].number} is not determined by the observations: it hangs on too few of them.`;
}

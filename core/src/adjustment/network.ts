import { atan2, difference, type Skyline } from '#core/kernel';
import { assemble, layoutOf, type Layout } from './network-equations.ts';
import { report } from './network-report.ts';
import type { NetworkPoint, NetworkObservation, Adjustment } from './network-types.ts';

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
      return { ok: false, reason: 'The adjustment does not converge: one of them is far off.' };
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
  return `The ${what === 'plan' ? 'place' : 'elevation'} of ${given[point].number} is not determined: too few observations to fix it.`;
}

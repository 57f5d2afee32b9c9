import { difference, distance as length, type Skyline } from '#core/kernel';
import { equation, LOOSE, unknownsOf, type Layout } from './network-equations.ts';
import type { Adjusted, AdjustedObservation, NetworkObservation, NetworkPoint } from './network-types.ts';
import { chiSquareBounds, ellipseOf } from './statistics.ts';

// What an adjustment says of itself: residuals, redundancy, precision of points, the variance factor.

interface DatumSpread {
  x: number;
  y: number;
  plan: number;
  heights: number;
  /** Sum of squared distances from the middle, m². */
  square: number;
}

function datumSpread(l: Layout, points: readonly NetworkPoint[]): DatumSpread {
  const inPlan = points.filter((_, i) => l.x[i] >= 0);
  const mean = (of: (p: NetworkPoint) => number): number => inPlan.reduce((s, p) => s + of(p) / inPlan.length, 0);
  const [x, y] = [mean((p) => p.x), mean((p) => p.y)];
  const square = inPlan.reduce((s, p) => s + (p.x - x) * (p.x - x) + (p.y - y) * (p.y - y), 0);
  return { x, y, plan: inPlan.length, heights: l.z.filter((u) => u >= 0).length, square };
}

/**
 * Variances of a free network as inner constraints have them: what the loose hold leaves of shift, turn and lift is
 * taken off again, since it says nothing of the network's own shape.
 */
function withoutDatum(
  [xx, yy, xy, zz]: [number, number, number, number],
  d: DatumSpread | null,
  p: NetworkPoint,
): [number, number, number, number] {
  if (!d) return [xx, yy, xy, zz];
  const loose = LOOSE * LOOSE;
  const [u, v] = [p.x - d.x, p.y - d.y];
  return [
    xx > 0 ? Math.max(0, xx - loose * (1 / d.plan + (v * v) / d.square)) : 0,
    yy > 0 ? Math.max(0, yy - loose * (1 / d.plan + (u * u) / d.square)) : 0,
    xx > 0 ? xy + (loose * u * v) / d.square : 0,
    zz > 0 ? Math.max(0, zz - loose / d.heights) : 0,
  ];
}

export function report(
  l: Layout,
  given: readonly NetworkPoint[],
  points: readonly NetworkPoint[],
  observations: readonly NetworkObservation[],
  orientations: Float64Array,
  factor: Skyline,
  iterations: number,
): Adjusted {
  const inverse = factor.inverse();
  const of = (u: number, v: number): number => (u < 0 || v < 0 ? 0 : inverse.get(u, v));
  const spread = l.loose ? datumSpread(l, points) : null;
  let squares = 0;
  let doubtful = -1;
  const list = observations.map((observation): AdjustedObservation => {
    const { a, off } = equation(observation, points, orientations);
    const unknowns = unknownsOf(l, observation);
    let taken = 0;
    for (let i = 0; i < a.length; i++)
      for (let j = 0; j < a.length; j++) taken += a[i] * a[j] * of(unknowns[i], unknowns[j]);
    const { sd } = observation;
    const redundancy = Math.max(0, Math.min(1, 1 - taken / (sd * sd)));
    squares += (off / sd) * (off / sd);
    const standardised = redundancy > 1e-6 ? Math.abs(off) / (sd * Math.sqrt(redundancy)) : NaN;
    return { observation, residual: -off, redundancy, standardised };
  });
  list.forEach((o, i) => {
    if (o.standardised > (list[doubtful]?.standardised ?? -1)) doubtful = i;
  });
  // Held loosely, a network without control has its datum's unknowns to spare: they count as redundancy lost.
  const freedom = Math.round(list.reduce((s, o) => s + o.redundancy, 0));
  return {
    ok: true,
    points: points.map((p, i) => {
      const [xx, yy, xy, zz] = withoutDatum(
        [of(l.x[i], l.x[i]), of(l.y[i], l.y[i]), of(l.x[i], l.y[i]), of(l.z[i], l.z[i])],
        spread,
        p,
      );
      return {
        number: p.number,
        x: p.x,
        y: p.y,
        z: p.z,
        sdX: Math.sqrt(xx),
        sdY: Math.sqrt(yy),
        sdZ: Math.sqrt(zz),
        ellipse: ellipseOf(xx, yy, xy),
        moved: length(p.x - given[i].x, p.y - given[i].y),
      };
    }),
    orientations: [...orientations].map(difference),
    observations: list,
    freedom,
    varianceFactor: freedom > 0 ? squares / freedom : NaN,
    bounds: chiSquareBounds(freedom),
    doubtful,
    iterations: iterations + 1,
    unknowns: l.count,
    kept: factor.size,
  };
}

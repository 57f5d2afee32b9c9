import { atan2, difference, distance as length, lowOrder, Skyline } from '#core/kernel';
import { chiSquareBounds, ellipseOf, type Ellipse } from './statistics.ts';

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

/** Deviation with which a network without any control is held near where it began, m: it does not bend it. */
const LOOSE = 1;

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

interface Layout {
  /** Unknown of x, y, z of each station; −1 where it is held. */
  x: Int32Array;
  y: Int32Array;
  z: Int32Array;
  set: Int32Array;
  count: number;
  first: Int32Array;
  /** What each unknown is, for messages. */
  names: { point: number; what: 'plan' | 'height' | 'orientation' }[];
  loose: boolean;
}

/** Stations and sets as nodes of a graph, ordered so that what shares an observation lies near. */
function layoutOf(given: readonly NetworkPoint[], observations: readonly NetworkObservation[], sets: number): Layout {
  const n = given.length;
  const neighbours: Set<number>[] = Array.from({ length: n + sets }, () => new Set<number>());
  const heights = given.map((p) => p.standing === 'weighted' && !Number.isNaN(p.z));
  const inPlan = given.map((p) => p.standing === 'weighted');
  const join = (a: number, b: number): void => {
    neighbours[a].add(b);
    neighbours[b].add(a);
  };
  for (const o of observations) {
    if (o.to >= 0) join(o.from, o.to);
    if (o.set >= 0) {
      join(o.from, n + o.set);
      join(o.to, n + o.set);
    }
    const isHeight = o.kind === 'rise' || o.kind === 'elevation';
    for (const p of o.to >= 0 ? [o.from, o.to] : [o.from]) (isHeight ? heights : inPlan)[p] = true;
  }
  const order = lowOrder(neighbours.map((s) => [...s]));
  const layout: Layout = {
    x: new Int32Array(n).fill(-1),
    y: new Int32Array(n).fill(-1),
    z: new Int32Array(n).fill(-1),
    set: new Int32Array(sets).fill(-1),
    count: 0,
    first: new Int32Array(),
    names: [],
    loose: !given.some((p) => p.standing !== 'free') && !observations.some((o) => o.to < 0),
  };
  const isSet = new Uint8Array(sets);
  for (const o of observations) if (o.set >= 0) isSet[o.set] = 1;
  for (const node of order) {
    if (node >= n) {
      if (!isSet[node - n]) continue;
      layout.set[node - n] = layout.count++;
      layout.names.push({ point: -1, what: 'orientation' });
    } else if (given[node].standing !== 'fixed') {
      if (inPlan[node]) {
        layout.x[node] = layout.count++;
        layout.y[node] = layout.count++;
        layout.names.push({ point: node, what: 'plan' }, { point: node, what: 'plan' });
      }
      if (heights[node]) {
        layout.z[node] = layout.count++;
        layout.names.push({ point: node, what: 'height' });
      }
    }
  }
  layout.first = Int32Array.from({ length: layout.count }, (_, i) => i);
  const touch = (unknowns: number[]): void => {
    const used = unknowns.filter((u) => u >= 0);
    const lowest = Math.min(...used);
    for (const u of used) layout.first[u] = Math.min(layout.first[u], lowest);
  };
  for (const o of observations) touch(unknownsOf(layout, o));
  for (let i = 0; i < n; i++) touch([layout.x[i], layout.y[i]]);
  return layout;
}

function unknownsOf(l: Layout, o: NetworkObservation): number[] {
  switch (o.kind) {
    case 'direction':
      return [l.x[o.from], l.y[o.from], l.x[o.to], l.y[o.to], l.set[o.set]];
    case 'distance':
      return [l.x[o.from], l.y[o.from], l.x[o.to], l.y[o.to]];
    case 'rise':
      return [l.z[o.from], l.z[o.to]];
    case 'east':
      return [l.x[o.from]];
    case 'north':
      return [l.y[o.from]];
    case 'elevation':
      return [l.z[o.from]];
  }
}

/** Coefficients of an observation for its unknowns, and observed less computed. */
function equation(
  o: NetworkObservation,
  points: readonly NetworkPoint[],
  orientations: Float64Array,
): { a: number[]; off: number } {
  const p = points[o.from];
  if (o.kind === 'east') return { a: [1], off: o.value - p.x };
  if (o.kind === 'north') return { a: [1], off: o.value - p.y };
  if (o.kind === 'elevation') return { a: [1], off: o.value - p.z };
  const q = points[o.to];
  if (o.kind === 'rise') return { a: [-1, 1], off: o.value - (q.z - p.z) };
  const [dx, dy] = [q.x - p.x, q.y - p.y];
  const d = Math.max(length(dx, dy), 1e-6);
  if (o.kind === 'distance') return { a: [-dx / d, -dy / d, dx / d, dy / d], off: o.value - d };
  const [sx, sy] = [dy / (d * d), -dx / (d * d)];
  return { a: [-sx, -sy, sx, sy, -1], off: difference(o.value + orientations[o.set] - atan2(dx, dy)) };
}

function assemble(
  l: Layout,
  points: readonly NetworkPoint[],
  observations: readonly NetworkObservation[],
  orientations: Float64Array,
): { normal: Skyline; right: Float64Array } {
  const normal = new Skyline(l.first);
  const right = new Float64Array(l.count);
  const add = (unknowns: readonly number[], a: readonly number[], off: number, sd: number): void => {
    const w = 1 / (sd * sd);
    for (let i = 0; i < a.length; i++) {
      const u = unknowns[i];
      if (u < 0) continue;
      right[u] += w * a[i] * off;
      for (let j = 0; j <= i; j++) {
        const v = unknowns[j];
        if (v < 0) continue;
        if (u !== v || i === j) normal.add(u, v, w * a[i] * a[j]);
      }
    }
  };
  for (const o of observations) {
    const { a, off } = equation(o, points, orientations);
    add(unknownsOf(l, o), a, off, o.sd);
  }
  if (l.loose) for (const u of [...l.x, ...l.y, ...l.z]) add([u], [1], 0, LOOSE);
  return { normal, right };
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

function report(
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

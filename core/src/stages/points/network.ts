import { adjustAndTest, type Adjustment, type NetworkObservation, type NetworkOutlier, type NetworkPoint } from '#core/adjustment'; // prettier-ignore
import { distance, makeAnew, type Keep } from '#core/kernel';
import type { Known, Reduction } from '#core/reduction';
import type { Settings, Standing } from '#core/project';

export interface TestedNetwork {
  adjustment: Adjustment;
  /** What the others contradict: it takes no part. */
  outliers: NetworkOutlier[];
}

/**
 * Everything that the books say of stations and known points, adjusted together: control fixed, weighted or free
 * as its standing has it, a set of directions for each setup, distances and rises. All of it is in until the test says
 * otherwise; only what a person set aside is not.
 */
export function adjustReduction(
  reduction: Reduction,
  standingOf: (number: string) => Standing,
  settings: Pick<Settings, 'checkPlan' | 'checkHeight' | 'centring'>,
  datum: 'standing' | 'free' = 'standing',
  keep: Keep = makeAnew,
): TestedNetwork {
  const index = new Map<string, number>();
  const points: NetworkPoint[] = [];
  const observations: NetworkObservation[] = [];
  const tied = tiedByLevel(reduction);
  const pointOf = (k: Known): number => {
    const found = index.get(k.number);
    if (found !== undefined) return found;
    const standing = k.from === 'control' && datum === 'standing' ? standingOf(k.number) : 'check';
    const at = points.length;
    index.set(k.number, at);
    points.push({
      number: k.number,
      x: k.x,
      y: k.y,
      z: k.z,
      standing: standing === 'check' ? 'free' : standing,
      sdPlan: k.sdPlan,
      sdHeight: k.sdHeight,
    });
    // Free in itself, nothing outside it holds or bends the network.
    const observed = datum === 'standing' && (standing === 'weighted' || k.from === 'gnss');
    if (!observed) return at;
    observations.push(...coordinatesOf(k, at).filter((o) => o.kind !== 'elevation' || !tied.has(k.number)));
    return at;
  };
  const decided = new Map(reduction.setups.flatMap((s) => s.backsights.filter((b) => b.decided).map((b) => [`${s.book}:${b.row}`, b.state] as const))); // prettier-ignore
  for (const s of reduction.sights) {
    const state = decided.get(`${s.book}:${s.row}`);
    if (state === 'aside') continue;
    const station = reduction.setups[s.setup].station;
    const target = reduction.known.get(s.number);
    if (!station || !target) continue;
    const apart = distance(target.x - station.x, target.y - station.y);
    if (apart < 0.5) continue;
    const [from, to] = [pointOf(station), pointOf(target)];
    const source = `${s.book}:${s.row}`;
    const base = { from, to, source };
    const aim = (settings.centring / apart) * 1.4142135623730951;
    if (state !== 'distance')
      observations.push({
        ...base,
        kind: 'direction',
        set: s.setup,
        value: s.circle,
        sd: Math.sqrt(s.sdDirection * s.sdDirection + aim * aim),
      });
    if (!Number.isNaN(s.horizontal) && state !== 'direction')
      observations.push({ ...base, kind: 'distance', set: -1, value: s.horizontal, sd: s.sdDistance });
    if (!Number.isNaN(s.rise) && state !== 'direction' && !Number.isNaN(station.z + target.z))
      observations.push({ ...base, kind: 'rise', set: -1, value: s.rise, sd: s.sdRise });
  }
  for (const run of reduction.levelling?.runs ?? [])
    for (const d of run.differences) {
      const [a, b] = [reduction.known.get(d.from), reduction.known.get(d.to)];
      if (!a || !b || Number.isNaN(a.z + b.z)) continue;
      observations.push({ kind: 'rise', from: pointOf(a), to: pointOf(b), set: -1, value: d.difference, sd: d.sd, source: `${d.book}:${d.rows[1]}` }); // prettier-ignore
    }
  const [sets, allowed] = [reduction.setups.length, { plan: settings.checkPlan, height: settings.checkHeight }];
  // A shot that ties no stations leaves the network as it was.
  return keep('network', [points, observations, sets, allowed], () =>
    adjustAndTest(points, observations, sets, allowed),
  );
}

/**
 * Given coordinates as observations. Where they are correlated, each is what it leaves beside those before it, so that
 * all three stand apart from each other (the Cholesky factor of their covariances, row by row).
 */
function coordinatesOf(k: Known, at: number): NetworkObservation[] {
  const base = { from: at, to: -1, set: -1, source: `${k.number} as given` };
  if (k.covariance && !Number.isNaN(k.z)) {
    const [xx, yy, zz, xy, xz, yz] = k.levelled ? withHeight(k.covariance, k.sdHeight) : k.covariance;
    const plan = xx * yy - xy * xy;
    const north = xy / xx;
    const [byEast, byNorth] = [(xz * yy - yz * xy) / plan, (yz * xx - xz * xy) / plan];
    const [east, northing] = [k.x, k.y];
    return [
      { ...base, kind: 'east', value: k.x, sd: Math.sqrt(xx) },
      { ...base, kind: 'north', value: k.y, sd: Math.sqrt(plan / xx), beside: [{ a: north, value: east }] },
      {
        ...base,
        kind: 'elevation',
        value: k.z,
        sd: Math.sqrt(zz - byEast * xz - byNorth * yz),
        beside: [
          { a: byEast, value: east },
          { a: byNorth, value: northing },
        ],
      },
    ];
  }
  const coordinates = [
    { ...base, kind: 'east' as const, value: k.x, sd: k.sdPlan },
    { ...base, kind: 'north' as const, value: k.y, sd: k.sdPlan },
    { ...base, kind: 'elevation' as const, value: k.z, sd: k.sdHeight },
  ];
  return coordinates.filter((c) => !Number.isNaN(c.value));
}

/** Covariances of a place whose elevation is measured apart. */
const withHeight = ([xx, yy, , xy]: readonly number[], sd: number): number[] => [xx, yy, sd * sd, xy, 0, 0];

/** Points whose elevation is what levels say, and whose levels are in the network: it is not observed a second time. */
function tiedByLevel({ known, levelling }: Reduction): Set<string> {
  const edges = new Map<string, string[]>();
  for (const run of levelling?.runs ?? [])
    for (const { from, to } of run.differences) {
      if (!known.has(from) || !known.has(to)) continue;
      edges.set(from, [...(edges.get(from) ?? []), to]);
      edges.set(to, [...(edges.get(to) ?? []), from]);
    }
  const holds = (n: string): boolean => !known.get(n)!.levelled && !Number.isNaN(known.get(n)!.z);
  const open = [...edges.keys()].filter(holds);
  const tied = new Set<string>();
  for (let n = open.pop(); n !== undefined; n = open.pop())
    for (const to of edges.get(n)!) {
      if (tied.has(to) || !known.get(to)!.levelled) continue;
      tied.add(to);
      open.push(to);
    }
  return tied;
}

/** Adjusted stations as known points; control that is fixed stays what it is. */
export function adjustedStations(adjustment: Adjustment, reduction: Reduction): Known[] {
  if (!adjustment.ok) return [];
  return adjustment.points.flatMap((p): Known[] => {
    const before = reduction.known.get(p.number);
    if (!before || before.from === 'control') return [];
    return [
      {
        number: p.number,
        x: p.x,
        y: p.y,
        z: p.z,
        sdPlan: Math.sqrt((p.sdX * p.sdX + p.sdY * p.sdY) / 2),
        sdHeight: p.sdZ,
        from: 'adjusted',
      },
    ];
  });
}

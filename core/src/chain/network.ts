import { adjustAndTest, type Adjustment, type NetworkObservation, type NetworkOutlier, type NetworkPoint } from '#core/adjustment'; // prettier-ignore
import { distance } from '#core/kernel';
import type { Known, Reduction } from '#core/reduction';
import type { Settings, Standing } from './document.ts';

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
): TestedNetwork {
  const index = new Map<string, number>();
  const points: NetworkPoint[] = [];
  const observations: NetworkObservation[] = [];
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
    const coordinate = (kind: NetworkObservation['kind'], value: number, sd: number): void => {
      if (!Number.isNaN(value))
        observations.push({ kind, from: at, to: -1, set: -1, value, sd, source: `${k.number} as given` });
    };
    coordinate('east', k.x, k.sdPlan);
    coordinate('north', k.y, k.sdPlan);
    coordinate('elevation', k.z, k.sdHeight);
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
  return adjustAndTest(points, observations, reduction.setups.length, { plan: settings.checkPlan, height: settings.checkHeight }); // prettier-ignore
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

import { CRITICAL, distance } from '#core/kernel';
import { adjustNetwork } from './network.ts';
import { type Adjusted, type AdjustedObservation, type Adjustment, type NetworkObservation, type NetworkPoint } from './network-types.ts'; // prettier-ignore

/** An observation that the others contradict, and that was left out for it. */
export interface NetworkOutlier {
  observation: NetworkObservation;
  /** By how much it must be wrong, radians or metres. */
  slip: number;
  /** Baarda's w when it was left out. */
  standardised: number;
  /** Others that would explain the misfit nearly as well: no geometry tells them apart. */
  alike: NetworkObservation[];
}

/** What is too small to be asked about, however sure it is, m. */
export interface SnoopingLimits {
  plan: number;
  height: number;
}

const MOST_TURNS = 25;
/** Within this part of the largest w, another one explains the misfit as well. */
const ALIKE = 0.95;

/**
 * The adjustment of all observations, then without the one that fits worst, until none stands out (data snooping,
 * W. Baarda 1968, from memory). The test comes first, with everything in: an observation is left out because the
 * others contradict it, not because it is far from a coordinate that may itself be wrong.
 */
export function adjustAndTest(
  given: readonly NetworkPoint[],
  observations: readonly NetworkObservation[],
  sets: number,
  limits: SnoopingLimits,
): { adjustment: Adjustment; outliers: NetworkOutlier[] } {
  const outliers: NetworkOutlier[] = [];
  let used = observations;
  let adjustment = adjustNetwork(given, used, sets);
  for (let turn = 0; turn < MOST_TURNS && adjustment.ok; turn++) {
    const worst = standingOut(adjustment, limits);
    if (worst.length === 0) break;
    // Those that share no station do not hide each other: they go in one turn.
    const touched = new Set<number>();
    const gone = new Set<NetworkObservation>();
    for (const o of worst) {
      const { from, to } = o.observation;
      if (touched.has(from) || touched.has(to)) continue;
      touched.add(from).add(to);
      gone.add(o.observation);
      outliers.push({
        observation: o.observation,
        slip: slipOf(o),
        standardised: o.standardised,
        alike: worst.filter((p) => p !== o && p.standardised > ALIKE * o.standardised && sharesStation(p, o)).map((p) => p.observation), // prettier-ignore
      });
    }
    used = used.filter((o) => !gone.has(o));
    const next = adjustNetwork(given, used, sets);
    if (!next.ok) break;
    adjustment = next;
  }
  return { adjustment, outliers };
}

const sharesStation = (p: AdjustedObservation, o: AdjustedObservation): boolean =>
  [p.observation.from, p.observation.to].some((k) => k === o.observation.from || k === o.observation.to);

/** The estimate of a slip from its residual: what redundancy leaves of it shows. */
const slipOf = (o: AdjustedObservation): number => -o.residual / Math.max(o.redundancy, 1e-6);

function standingOut(a: Adjusted, limits: SnoopingLimits): AdjustedObservation[] {
  const isLarge = (o: AdjustedObservation): boolean => {
    const { kind, from, to } = o.observation;
    if (kind === 'east' || kind === 'north' || kind === 'elevation') return false;
    const size = Math.abs(slipOf(o));
    if (kind === 'rise') return size > limits.height;
    const far =
      kind === 'direction' ? distance(a.points[to].x - a.points[from].x, a.points[to].y - a.points[from].y) : 1;
    return size * far > limits.plan;
  };
  return a.observations
    .filter((o) => o.standardised > CRITICAL && isLarge(o))
    .sort((p, q) => q.standardised - p.standardised);
}

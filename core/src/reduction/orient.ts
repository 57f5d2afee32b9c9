import { atan2, difference, distance as length, turned } from '#core/kernel';
import type { Compared, Decision, Known, ReductionSettings } from './types.ts';
import { CENTRING, type Measured } from './measure.ts';

export const bearingTo = (from: { x: number; y: number }, to: { x: number; y: number }): number =>
  turned(atan2(to.x - from.x, to.y - from.y));

export interface Oriented {
  orientation: number;
  sd: number;
  backsights: Compared[];
}

interface Candidate {
  measured: Measured;
  target: Known | null;
  bearing: number;
  orientation: number;
  weight: number;
}

/**
 * Orientation of a setup from its backsights: each gives bearing less circle; their weighted mean is taken,
 * weights by what direction, centring and given coordinates promise at that distance. A backsight outside
 * tolerance is undecided until a person says; it takes no part while others do.
 */
export function orient(
  station: Known,
  measured: readonly Measured[],
  known: ReadonlyMap<string, Known>,
  azimuths: ReadonlyMap<string, number>,
  decisionOf: (row: number) => Decision | undefined,
  settings: ReductionSettings,
): Oriented {
  const candidates = measured.flatMap((m): Candidate[] => {
    if (Number.isNaN(m.pointing.circle)) return [];
    const target = known.get(m.pointing.number) ?? null;
    const typed = azimuths.get(m.pointing.number);
    const apart = target ? length(target.x - station.x, target.y - station.y) : 0;
    if (target && apart > 0.01) {
      const bearing = bearingTo(station, target);
      const sd = m.sdDirection + (CENTRING + target.sdPlan + station.sdPlan) / apart;
      return [
        { measured: m, target, bearing, orientation: difference(bearing - m.pointing.circle), weight: 1 / (sd * sd) },
      ];
    }
    if (typed === undefined) return [];
    const sd = m.sdDirection + settings.angleSpread;
    return [
      {
        measured: m,
        target: null,
        bearing: typed,
        orientation: difference(typed - m.pointing.circle),
        weight: 1 / (sd * sd),
      },
    ];
  });
  let compared = candidates.map((c) => compare(c, station, NaN, decisionOf, settings));
  const taking = (): Candidate[] => candidates.filter((_, i) => compared[i].state === 'used');
  const begin = taking().length ? taking() : candidates;
  let mean = weightedMean(begin);
  // Of three or more the middle one is begun from: one wild backsight must not drag the others out of tolerance.
  if (begin.length >= 3) mean = { ...mean, orientation: medianOf(begin) };
  // Judged against what all agree on; the worst goes first, then the rest is judged again.
  for (let turn = 0; turn <= candidates.length; turn++) {
    compared = candidates.map((c) => compare(c, station, mean.orientation, decisionOf, settings));
    const used = taking();
    const next = weightedMean(used.length ? used : candidates);
    if (Math.abs(difference(next.orientation - mean.orientation)) < 1e-12) break;
    mean = next;
  }
  return { orientation: mean.orientation, sd: mean.sd, backsights: compared };
}

function weightedMean(list: readonly Candidate[]): { orientation: number; sd: number } {
  if (list.length === 0) return { orientation: NaN, sd: NaN };
  const first = medianOf(list);
  let [sum, weights] = [0, 0];
  for (const c of list) {
    sum += c.weight * difference(c.orientation - first);
    weights += c.weight;
  }
  return { orientation: difference(first + sum / weights), sd: 1 / Math.sqrt(weights) };
}

function medianOf(list: readonly Candidate[]): number {
  const zero = list[0].orientation;
  const sorted = list.map((c) => difference(c.orientation - zero)).sort((a, b) => a - b);
  return zero + sorted[(sorted.length - 1) >> 1];
}

/** Observed less computed at one backsight; of a target without coordinates there is no distance nor height to compare. */
function compare(
  c: Candidate,
  station: Known,
  orientation: number,
  decisionOf: (row: number) => Decision | undefined,
  settings: ReductionSettings,
): Compared {
  const seen = differences(c.measured, station, c.target, c.bearing, orientation, settings);
  const decision = decisionOf(seen.row);
  const byRule: Decision = seen.within && settings.rule === 'within' ? 'used' : 'undecided';
  return { ...seen, state: decision ?? byRule, decided: decision !== undefined };
}

/** A sighting of a known point from an oriented setup. */
export function check(
  station: Known,
  m: Measured,
  target: Known,
  orientation: number,
  settings: ReductionSettings,
): Compared {
  const seen = differences(m, station, target, bearingTo(station, target), orientation, settings);
  return { ...seen, state: seen.within ? 'used' : 'undecided', decided: false };
}

function differences(
  m: Measured,
  station: Known,
  target: Known | null,
  bearing: number,
  orientation: number,
  settings: ReductionSettings,
): Omit<Compared, 'state' | 'decided'> {
  const observed = Number.isNaN(orientation) ? NaN : turned(m.pointing.circle + orientation);
  const turn = Number.isNaN(observed) ? 0 : difference(observed - bearing);
  const apart = target ? length(target.x - station.x, target.y - station.y) : NaN;
  const distanceDifference = m.horizontal - apart;
  const heightDifference = target ? station.z + m.rise - target.z : NaN;
  const aside = Number.isNaN(apart) ? 0 : Math.abs(turn) * apart;
  const along = Number.isNaN(distanceDifference) ? 0 : Math.abs(distanceDifference);
  const off = Math.sqrt(aside * aside + along * along);
  return {
    row: m.pointing.records[0].row,
    number: m.pointing.number,
    bearing,
    observed,
    difference: turn,
    distance: m.horizontal,
    distanceDifference,
    heightDifference,
    off,
    within: off <= settings.checkPlan && !(Math.abs(heightDifference) > settings.checkHeight),
  };
}

import { atan2, difference, distance as length, turned } from '#core/kernel';
import type { Compared } from './types.ts';
import type { Decision, ReductionSettings } from './settings.ts';
import type { Known } from './known.ts';
import { readingProblem, type Measured } from './measure.ts';

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
  /** Radians. */
  sd: number;
  weight: number;
  /** Distance to the target, m; 0 of a typed azimuth. */
  apart: number;
  /** Read in the face that it says. */
  sound: boolean;
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
  const candidates = measured.flatMap((m) => candidateOf(m, station, known, azimuths, settings) ?? []);
  const judged = (orientation: number): Compared[] =>
    candidates.map((c) => compare(c, station, orientation, decisionOf, settings));
  let compared = judged(NaN);
  const taking = (): Candidate[] => candidates.filter((_, i) => orients(compared[i]));
  const sound = candidates.filter((c) => c.sound);
  const open = sound.filter((c) => compared[candidates.indexOf(c)].state !== 'aside');
  // Set aside, one still places the points of a setup that waits, so that they can be looked at.
  const able = open.length ? open : sound;
  let mean = weightedMean(taking().length ? taking() : able);
  // Of three or more the largest group that agrees is begun from: one wild backsight must not drag the others along.
  const begin = taking().length ? taking() : able;
  if (begin.length >= 3) mean = { ...mean, orientation: mostAgreed(begin, settings.checkPlan) };
  // Judged against what all agree on; the worst goes first, then the rest is judged again.
  for (let turn = 0; turn <= candidates.length; turn++) {
    compared = judged(mean.orientation);
    const used = taking();
    const next = weightedMean(used.length ? used : able);
    if (Math.abs(difference(next.orientation - mean.orientation)) < 1e-12) break;
    mean = next;
  }
  return { orientation: mean.orientation, sd: mean.sd, backsights: compared };
}

/** Of a backsight in the mean orientation: by precision 1/σ², by length, or all alike. */
function weightOf(how: ReductionSettings['orientationWeights'], sd: number, apart: number): number {
  if (how === 'precision') return 1 / (sd * sd);
  return how === 'length' ? Math.max(apart, 1) : 1;
}

/** Whether a backsight takes part in the orientation. */
export const orients = (c: Compared): boolean => c.state === 'used' || c.state === 'direction';

function candidateOf(
  m: Measured,
  station: Known,
  known: ReadonlyMap<string, Known>,
  azimuths: ReadonlyMap<string, number>,
  settings: ReductionSettings,
): Candidate | null {
  if (Number.isNaN(m.pointing.circle)) return null;
  const target = known.get(m.pointing.number) ?? null;
  const typed = azimuths.get(m.pointing.number);
  const apart = target ? length(target.x - station.x, target.y - station.y) : 0;
  // A reading in the other face than it says points half a turn away.
  const sound = readingProblem(m.pointing)?.kind !== 'face-wrong';
  const of = (t: Known | null, bearing: number, sd: number): Candidate => ({
    measured: m,
    target: t,
    bearing,
    orientation: difference(bearing - m.pointing.circle),
    sd,
    weight: weightOf(settings.orientationWeights, sd, apart),
    apart,
    sound,
  });
  if (target && apart > 0.01)
    return of(
      target,
      bearingTo(station, target),
      m.sdDirection + (settings.centring + target.sdPlan + station.sdPlan) / apart,
    );
  return typed === undefined ? null : of(null, typed, m.sdDirection + settings.angleSpread);
}

/** The orientation that most of them agree with across their sights, to within `plan` m; the nearest agreement of two alike. */
function mostAgreed(list: readonly Candidate[], plan: number): number {
  let best = { count: -1, sum: Infinity, orientation: NaN };
  for (const c of list) {
    const offs = list.map((o) => Math.abs(difference(o.orientation - c.orientation)) * Math.max(o.apart, 1));
    const near = offs.filter((off) => off <= plan);
    const sum = near.reduce((s, off) => s + off, 0);
    if (near.length > best.count || (near.length === best.count && sum < best.sum))
      best = { count: near.length, sum, orientation: c.orientation };
  }
  return best.count > 1 ? best.orientation : medianOf(list);
}

function weightedMean(list: readonly Candidate[]): { orientation: number; sd: number } {
  if (list.length === 0) return { orientation: NaN, sd: NaN };
  const first = medianOf(list);
  let [sum, weights] = [0, 0];
  let variance = 0;
  for (const c of list) {
    sum += c.weight * difference(c.orientation - first);
    weights += c.weight;
    variance += c.weight * c.weight * c.sd * c.sd;
  }
  return { orientation: difference(first + sum / weights), sd: Math.sqrt(variance) / weights };
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
  // What nobody may use as it stands is not used by an earlier decision either: its reading says another face.
  const state = seen.slip === 'face' && decision === 'used' ? 'undecided' : (decision ?? byRule);
  return { ...seen, state, decided: decision !== undefined && state === decision };
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
  // Read in the other face than it says, the level distance comes out negative: it is as long all the same.
  const horizontal = Math.abs(m.horizontal);
  const distanceDifference = horizontal - apart;
  const heightDifference = target ? station.z + m.rise - target.z : NaN;
  const aside = Number.isNaN(apart) ? 0 : Math.abs(turn) * apart;
  const along = Number.isNaN(distanceDifference) ? 0 : Math.abs(distanceDifference);
  const off = Math.sqrt(aside * aside + along * along);
  const slip = slipOf(m, turn, distanceDifference, settings);
  return {
    row: m.pointing.records[0].row,
    number: m.pointing.number,
    bearing,
    observed,
    difference: turn,
    distance: horizontal,
    distanceDifference,
    heightDifference,
    off,
    slip,
    within: slip === null && off <= settings.checkPlan && !(Math.abs(heightDifference) > settings.checkHeight),
  };
}

/** What the readings themselves say against a sighting. */
function slipOf(m: Measured, turn: number, distanceDifference: number, settings: ReductionSettings): Compared['slip'] {
  const { pointing: p } = m;
  if (readingProblem(p)?.kind === 'face-wrong') return 'face';
  const half = Math.abs(Math.abs(turn) - PI) < HALF_TURN_WITHIN;
  if (half && !(Math.abs(distanceDifference) > settings.checkPlan)) return 'face';
  const far = Number.isNaN(m.horizontal) ? 0 : m.horizontal;
  return p.spreadCircle * far > settings.checkPlan || p.spreadDistance > settings.checkPlan ? 'spread' : null;
}
const PI = 3.141592653589793;
const HALF_TURN_WITHIN = 0.0087;

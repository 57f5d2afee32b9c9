import { sin, sinCosInto, type SinCos } from '#core/kernel';
import { PLAIN_INSTRUMENT, type BookRecord, type Instrument, type ObservationDeviation, type Target } from '#core/book';
import { reduceSlopeInto, velocityPpm, type Air } from './corrections.ts';
import type { Pointing } from './pointings.ts';

const PI = 3.141592653589793;

/** A pointing with everything that instrument, air and earth ask for taken into account. */
export interface Measured {
  pointing: Pointing;
  /** Slope distance, corrected, m. */
  slope: number;
  /** On the grid, m. */
  horizontal: number;
  /** Target's foot above the station's mark, m; NaN when a height is missing. */
  rise: number;
  /** Standard deviations: direction radians, distance and rise metres. */
  sdDirection: number;
  sdDistance: number;
  sdRise: number;
}

/** What holds for every sighting of one setup. */
export interface Setting {
  instrument: Instrument;
  targets: ReadonlyMap<string, Target>;
  /** Where a sighting names no target. */
  target: string;
  /** First velocity correction, parts per million. */
  ppm: number;
  /** Instrument height over the mark, m. */
  height: number;
  refraction: number;
  factor: number;
  /** Radius of the earth, m; Infinity where the ground is taken as a plane. */
  radius: number;
  centring: number;
  distanceParts: 'squares' | 'sum';
  /** What level distances are where their book does not say. */
  flatDistances: 'ask' | 'geometric' | 'reduced';
}

export const velocityOf = (air: Air | null, instrument: Instrument): number =>
  air ? velocityPpm(air, instrument.wavelength) : 0;

const HEIGHT_READING = 0.001;

/**
 * Variances of a distance on the level and of a rise, m², by propagation: the slope distance's variance along the
 * sight, the vertical angle's across it, and the centring or the reading of both heights.
 */
export const distanceVariance = (along: number, across: number, sz: number, cz: number, centring: number): number =>
  along * sz * sz + across * cz * cz + 2 * centring * centring;
export const riseVariance = (along: number, across: number, sz: number, cz: number): number =>
  along * cz * cz + across * sz * sz + 2 * HEIGHT_READING * HEIGHT_READING;

/** Instrument's and target's constants together, m. */
export const constantOf = (target: string, s: Setting): number =>
  s.instrument.constant + (target === '' ? 0 : (s.targets.get(target)?.constant ?? 0));

/** Numbers of one measured sighting; written into, so that many of them make no garbage. */
export type MeasuredNumbers = Omit<Measured, 'pointing'>;

const angle: SinCos = { sin: 0, cos: 0 };
const reduced = { horizontal: 0, rise: 0 };

/** Constants, air, earth and grid applied to one reading, the mean of `n`; into `out`. */
export function measureInto(
  out: MeasuredNumbers,
  zenith: number,
  distance: number,
  height: number,
  target: string,
  n: number,
  s: Setting,
  radius = s.radius,
): void {
  const { instrument: i } = s;
  const slope = (distance + constantOf(target === '' ? s.target : target, s)) * (1 + s.ppm * 1e-6);
  sinCosInto(zenith, angle);
  const { sin: sz, cos: cz } = angle;
  reduceSlopeInto(slope, sz, cz, s.refraction, radius, reduced);
  const long = i.ppm * 1e-6 * slope;
  const varSlope = (s.distanceParts === 'sum' ? (i.distance + long) ** 2 : i.distance * i.distance + long * long) / n;
  const across = (slope * i.zenith * slope * i.zenith) / n;
  out.slope = slope;
  out.horizontal = reduced.horizontal * s.factor;
  out.rise = reduced.rise + s.height - height;
  // Stated for level sights: what pointing leaves across the sight turns the circle the more the steeper it is. One
  // without a zenith angle is taken for level.
  out.sdDirection =
    (n === 1 ? i.direction : i.direction / Math.sqrt(n)) / Math.max(Number.isNaN(sz) ? 1 : Math.abs(sz), 1e-6);
  out.sdDistance = Math.sqrt(distanceVariance(varSlope, across, sz, cz, s.centring));
  out.sdRise = Math.sqrt(riseVariance(varSlope, across, sz, cz));
}

export function measure(pointing: Pointing, s: Setting): Measured {
  const out = { pointing, slope: 0, horizontal: 0, rise: 0, sdDirection: 0, sdDistance: 0, sdRise: 0 };
  const [first] = pointing.records;
  const flat = first.flat === 'unsaid' ? s.flatDistances : first.flat;
  // The instrument has applied curvature and refraction already: once is enough.
  const radius = flat === 'reduced' ? Infinity : s.radius;
  const own = first.sd ? { ...s, instrument: stating(s.instrument, first.sd) } : s;
  const inPlan = isInPlan(pointing);
  // A level distance that somebody gave a vertical angle afterwards lies beside the slope of it.
  const distance = first.flat === 'plan' && !inPlan ? pointing.distance / sin(pointing.zenith) : pointing.distance;
  const zenith = inPlan ? PI / 2 : pointing.zenith;
  measureInto(out, zenith, distance, pointing.height, pointing.target, pointing.records.length, own, radius); // prettier-ignore
  if (inPlan) out.rise = NaN;
  return out;
}

/** An instrument with what one observation states of its own precision. */
function stating(i: Instrument, sd: ObservationDeviation): Instrument {
  const or = (own: number, other: number): number => (Number.isNaN(own) ? other : own);
  const own = !Number.isNaN(sd.distance);
  return { ...i, direction: or(sd.direction, i.direction), zenith: or(sd.zenith, i.zenith), distance: or(sd.distance, i.distance), ppm: own ? 0 : i.ppm }; // prettier-ignore
}

type ReadingProblem = { kind: 'reading-missing' | 'zenith-impossible' | 'face-wrong'; text: string } | null;

/** Whether a level distance is all that it says: a place in plan, and no elevation. */
const isInPlan = (p: Pointing): boolean => p.records[0].flat === 'plan' && Number.isNaN(p.zenith);

/** Why a sighting gives no place, or null. */
export function readingProblem(p: { circle: number; zenith: number; distance: number }): ReadingProblem {
  // The usual case first: one comparison each, false for what is missing.
  if (p.distance > 0 && p.zenith > 0 && p.zenith <= PI && p.circle >= 0) return null;
  if (Number.isNaN(p.circle)) return { kind: 'reading-missing', text: 'has no circle reading' };
  if (Number.isNaN(p.distance)) return { kind: 'reading-missing', text: 'has no distance' };
  if (Number.isNaN(p.zenith)) return { kind: 'reading-missing', text: 'has no vertical angle' };
  if (p.distance <= 0) return { kind: 'reading-missing', text: 'has a distance of zero' };
  // Straight up or down a sight may pass the plumb line by what the instrument's index is off.
  if (p.zenith !== 0 && (Math.abs(p.zenith) < PLUMB || Math.abs(p.zenith - PI) < PLUMB)) return null;
  if (p.zenith > PI && p.zenith < 2 * PI)
    return { kind: 'face-wrong', text: 'has a vertical angle of the other face than the one it says' };
  return { kind: 'zenith-impossible', text: 'has a vertical angle of exactly 0, which is what an instrument writes that read none' }; // prettier-ignore
}
const PLUMB = 0.001;

/** The same of a pointing; a place in plan asks for no vertical angle. */
export const pointingProblem = (p: Pointing): ReadingProblem =>
  readingProblem(isInPlan(p) ? { ...p, zenith: PI / 2 } : p);

export const instrumentNamed = (list: readonly Instrument[], name: string): Instrument =>
  list.find((i) => i.name === name) ?? (name === '' && list.length === 1 ? list[0] : { ...PLAIN_INSTRUMENT, name });

/** The air that a weather record states, or null where it says too little. */
export const airOf = (r: BookRecord): Air | null =>
  Number.isNaN(r.temperature) || Number.isNaN(r.pressure)
    ? null
    : {
        temperature: r.temperature,
        pressure: r.pressure,
        humidity: Number.isNaN(r.humidity) ? 60 : r.humidity,
      };

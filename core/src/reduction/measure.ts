import { cos, sin } from '#core/kernel';
import { PLAIN_INSTRUMENT, type BookRecord, type Instrument, type Target } from '#core/book';
import { reduceSlope, velocityPpm, type Air } from './corrections.ts';
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

export interface Setting {
  instrument: Instrument;
  targets: ReadonlyMap<string, Target>;
  air: Air | null;
  /** Instrument height over the mark, m. */
  height: number;
  refraction: number;
  factor: number;
}

/** Centring of instrument and target over their marks, m (common practice with optical plummets and poles). */
const CENTRING = 0.001;
const HEIGHT_READING = 0.001;

export function measure(p: Pointing, s: Setting): Measured {
  const { instrument: i } = s;
  const constant = i.constant + (s.targets.get(p.target)?.constant ?? 0);
  const ppm = s.air ? velocityPpm(s.air, i.wavelength) : 0;
  const raw = p.distance + constant;
  const slope = raw * (1 + ppm * 1e-6);
  const reduced = reduceSlope(slope, p.zenith, s.refraction);
  const n = p.records.length;
  const sdSlope = Math.sqrt((i.distance * i.distance + (i.ppm * 1e-6 * slope) ** 2) / n);
  const [sz, cz] = [sin(p.zenith), cos(p.zenith)];
  const sdZenith = i.zenith / Math.sqrt(n);
  const sdDistance = Math.sqrt((sdSlope * sz) ** 2 + (slope * cz * sdZenith) ** 2 + 2 * CENTRING * CENTRING);
  const sdRise = Math.sqrt((sdSlope * cz) ** 2 + (slope * sz * sdZenith) ** 2 + 2 * HEIGHT_READING * HEIGHT_READING);
  return {
    pointing: p,
    slope,
    horizontal: reduced.horizontal * s.factor,
    rise: reduced.rise + s.height - p.height,
    sdDirection: i.direction / Math.sqrt(n),
    sdDistance,
    sdRise,
  };
}

/** Why a sighting gives no place, or null. */
export function readingProblem(p: Pointing): { kind: 'reading-missing' | 'zenith-impossible'; text: string } | null {
  if (Number.isNaN(p.circle)) return { kind: 'reading-missing', text: 'has no circle reading' };
  if (Number.isNaN(p.distance)) return { kind: 'reading-missing', text: 'has no distance' };
  if (Number.isNaN(p.zenith)) return { kind: 'reading-missing', text: 'has no vertical angle' };
  if (p.distance <= 0) return { kind: 'reading-missing', text: 'has a distance of zero' };
  // Nobody points within five degrees of straight up or down: a zenith of 0 is a reading that was not made.
  if (p.zenith < 0.0873 || p.zenith > PI - 0.0873)
    return { kind: 'zenith-impossible', text: 'has a vertical angle that points straight up or down' };
  return null;
}

export const instrumentNamed = (list: readonly Instrument[], name: string): Instrument =>
  list.find((i) => i.name === name) ?? (name === '' && list.length === 1 ? list[0] : { ...PLAIN_INSTRUMENT, name });

/** The air as it was last written down before a record, or null. */
export function airBefore(records: readonly BookRecord[], at: number): Air | null {
  for (let i = at; i >= 0; i--) {
    const r = records[i];
    if (r.kind !== 'weather' || r.deleted) continue;
    if (Number.isNaN(r.temperature) || Number.isNaN(r.pressure)) continue;
    return {
      temperature: r.temperature,
      pressure: r.pressure,
      humidity: Number.isNaN(r.humidity) ? 60 : r.humidity,
    };
  }
  return null;
}

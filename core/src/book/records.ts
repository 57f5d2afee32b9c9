import type { AngleForm, FileUnit } from '#core/measure';

export const RECORD_KINDS = ['setup', 'sighting', 'gnss', 'level', 'point', 'azimuth', 'weather', 'remark'] as const;
export type RecordKind = (typeof RECORD_KINDS)[number];

/** Why a target was sighted: to orient by, to fix a new point, to see whether the set-up is good; of a point, that it is control. */
export const ROLES = ['', 'back', 'shot', 'check', 'fore', 'inter', 'control'] as const;
export type SightingRole = (typeof ROLES)[number];

/** What a receiver says of how good a position is. NaN and '' where it says nothing. */
export interface GnssQuality {
  /** Standard deviations as stated, m. */
  plan: number;
  height: number;
  fix: string;
  method: string;
  satellites: number;
  pdop: number;
  hdop: number;
  vdop: number;
  base: string;
  /** Radians off the vertical. */
  tilt: number;
  warning: string;
  /** Variances and covariances of the position, m²: xx, yy, zz, xy, xz, yz; null where none are said. */
  covariance: readonly number[] | null;
}

/** Whether the earth's curvature and refraction are still to be applied to a level distance and a rise. */
export const FLAT_FORMS = ['', 'geometric', 'reduced', 'unsaid', 'plan'] as const;
export type FlatForm = (typeof FLAT_FORMS)[number];

/** Standard deviations that one observation states for itself; radians and metres, NaN where it says nothing. */
export interface ObservationDeviation {
  direction: number;
  zenith: number;
  distance: number;
}

/** One entry of a field book, in the order observed. Metres and radians; NaN and '' where nothing was said. */
export interface BookRecord {
  kind: RecordKind;
  /**
   * Row in the received file, from 1, and its own alone: changes and decisions know a record by it. A setup that a
   * table only names in the row of its first sighting stands half a row before it (`fileRowOf`).
   */
  row: number;
  /** Deleted in the field: kept, marked, not computed with. */
  deleted: boolean;
  time: string;
  /** Station of a setup, target of a sighting, number of a point or of a GNSS shot. */
  number: string;
  code: string;
  role: SightingRole;
  /** 1 left, 2 right, 0 unsaid. */
  face: number;
  round: number;
  /** Instrument height of a setup, target height of a sighting, antenna height of a GNSS shot, reading of a staff. */
  height: number;
  /** Horizontal circle of a sighting; the azimuth of an azimuth. */
  circle: number;
  zenith: number;
  /** Slope distance as shown by the instrument. */
  distance: number;
  x: number;
  y: number;
  z: number;
  /** Air temperature °C, pressure hPa, relative humidity %. */
  temperature: number;
  pressure: number;
  humidity: number;
  /** Names in the instrument list. */
  instrument: string;
  target: string;
  text: string;
  gnss: GnssQuality | null;
  /** Parts per million to add to distances, typed in the place of the air. */
  ppm: number;
  /**
   * Of a sighting that was written down as a level distance and a rise; '' of a slope and a zenith angle. plan: the level
   * distance alone, which is then its distance.
   */
  flat: FlatForm;
  sd: ObservationDeviation | null;
}

/** Stated accuracies and constants of an instrument; radians and metres. */
export interface Instrument {
  name: string;
  /** Standard deviation of a direction and of a zenith angle in one face. */
  direction: number;
  zenith: number;
  /** Standard deviation of a distance: constant part, and part of the distance. */
  distance: number;
  ppm: number;
  /** Added to every distance. */
  constant: number;
  /** Carrier wavelength, micrometres, and the air at which the instrument shows true distances. */
  wavelength: number;
}

export interface Target {
  name: string;
  /** Added to every distance to it. */
  constant: number;
}

export interface BookProblem {
  row: number;
  text: string;
  reason: string;
}

export interface Book {
  name: string;
  unit: FileUnit;
  angle: AngleForm;
  records: BookRecord[];
  instruments: Instrument[];
  targets: Target[];
  problems: BookProblem[];
  problemCount: number;
  rows: number;
  /** What the book says of its own reduction, in the place of the project's settings. */
  earth?: 'curved' | 'plane';
  seaLevel?: boolean;
  /** Whether the book ends as one does: a book cut off in the middle does not. */
  complete: boolean;
}

const SECOND = 4.84813681109536e-6;

/** An ordinary instrument, where a book names none: 5″ directions, 2 mm + 2 ppm distances. */
export const PLAIN_INSTRUMENT: Instrument = {
  name: '',
  direction: 5 * SECOND,
  zenith: 5 * SECOND,
  distance: 0.002,
  ppm: 2,
  constant: 0,
  wavelength: 0.658,
};

/** A record's row as the file counts it. */
export const fileRowOf = (row: number): number => Math.ceil(row);

export const emptyRecord = (kind: RecordKind, row: number): BookRecord => ({
  kind,
  deleted: false,
  role: '',
  face: 0,
  round: 0,
  flat: '',
  sd: null,
  number: '',
  height: NaN,
  circle: NaN,
  zenith: NaN,
  distance: NaN,
  target: '',
  code: '',
  row,
  time: '',
  x: NaN,
  y: NaN,
  z: NaN,
  temperature: NaN,
  pressure: NaN,
  humidity: NaN,
  instrument: '',
  text: '',
  gnss: null,
  ppm: NaN,
});

export const NO_QUALITY: GnssQuality = {
  plan: NaN,
  height: NaN,
  fix: '',
  method: '',
  satellites: NaN,
  pdop: NaN,
  hdop: NaN,
  vdop: NaN,
  base: '',
  tilt: NaN,
  warning: '',
  covariance: null,
};

/** Day of an ISO time, year month day as one number: 20260720; 0 of anything else. */
export function dayOf(time: string): number {
  const found = /^(\d{4})-(\d{2})-(\d{2})/.exec(time);
  return found ? Number(found[1]) * 10_000 + Number(found[2]) * 100 + Number(found[3]) : 0;
}

import type { BookRecord } from '#core/book';
import type { CircleTurn } from './circle-sets.ts';
import type { GnssMean } from './gnss.ts';
import type { Levelling } from './levelling.ts';
import type { FaceErrors } from './pointings.ts';
import type { ReducedPoints } from './points.ts';

/** A point whose coordinates are given or found; metres, NaN where there is no elevation. */
export interface Known {
  number: string;
  x: number;
  y: number;
  z: number;
  sdPlan: number;
  sdHeight: number;
  /** Variances and covariances of a place by satellite, m²: xx, yy, zz, xy, xz, yz; only where its readings say them. */
  covariance?: readonly number[];
  /** Its elevation is a levelled one, in the place of what was there before. */
  levelled?: true;
  from: 'control' | 'typed' | 'gnss' | 'carried' | 'resected' | 'adjusted';
}

/**
 * What a person decided: on a sighting that orients or checks (used, set aside, undecided, only its direction or only
 * its distance used), on a setup that waits (used).
 */
export type Decision = 'used' | 'aside' | 'undecided' | 'direction' | 'distance';

export interface ReductionSettings {
  /** Tolerances: position and height, m; repeated angles, radians. */
  checkPlan: number;
  checkHeight: number;
  angleSpread: number;
  /** Coefficient of refraction. */
  refraction: number;
  /** Length on the grid over length on the ground. */
  factor: number;
  /** Centring of instrument and target over their marks, m. */
  centring: number;
  /** How the two parts of a distance's deviation, constant and in proportion, come together. */
  distanceParts: 'squares' | 'sum';
  /** How backsights count in an orientation: by what each promises, by their length, or all alike. */
  orientationWeights: 'precision' | 'length' | 'equal';
  /** Which coordinates stand where a number has typed ones and some by satellite. */
  typedOrGnss: 'typed' | 'gnss';
  /** Standard deviation of levelling one kilometre once, m. */
  levelDeviation: number;
  /** Whether the earth's curvature and refraction are applied, or the ground is taken for a plane. */
  earth: 'curved' | 'plane';
  /** Whether distances are brought down to the level of the sea before the factor. */
  seaLevel: boolean;
  /** What level distances and rises are where their book does not say. */
  flatDistances: 'ask' | 'geometric' | 'reduced';
  /** What a position by satellite must promise: standard deviations m, dilution, satellites, tilt radians. */
  gnss: { plan: number; height: number; pdop: number; satellites: number; tilt: number };
  /** Whether a fixed position beats one that is not, or all of them are in the mean. */
  gnssMean: 'fixed' | 'all';
  /** Whether a resection finds a scale for its distances. */
  scaleFree: boolean;
  /** Misclosure of levelling allowed on one kilometre, m. */
  levelClosure: number;
  /** What lies within tolerance is used by itself, or every backsight waits to be decided. */
  rule: 'within' | 'ask';
}

/** What practice differs in, where neither project nor book says. */
export const PLAIN_PRACTICE = {
  centring: 0.001,
  distanceParts: 'squares',
  orientationWeights: 'precision',
  typedOrGnss: 'typed',
  levelDeviation: 0.003,
  earth: 'curved',
  seaLevel: false,
  flatDistances: 'ask',
} as const;

/** How books are reduced where nobody says otherwise; the same as a project begins with. */
export const PLAIN_SETTINGS: ReductionSettings = {
  checkPlan: 0.03,
  checkHeight: 0.05,
  angleSpread: 2.42406840554768e-5,
  refraction: 0.13,
  factor: 1,
  ...PLAIN_PRACTICE,
  gnss: { plan: 0.03, height: 0.05, pdop: 6, satellites: 5, tilt: 0.2618 },
  gnssMean: 'fixed',
  scaleFree: false,
  levelClosure: 0.01,
  rule: 'within',
};

/** One book with edits laid over it, and how decisions on its records are kept. */
export interface BookInput {
  id: string;
  records: readonly BookRecord[];
  instruments: readonly import('#core/book').Instrument[];
  targets: readonly import('#core/book').Target[];
  /** What the book says of its reduction, in the place of the settings. */
  earth?: 'curved' | 'plane';
  seaLevel?: boolean;
  /** Rows of sightings before which a person says that the circle was turned. */
  turned?: ReadonlySet<number>;
}

/** A sighting of a known point, at a backsight or as a check; observed less computed. */
export interface Compared {
  /** Row of its first record. */
  row: number;
  number: string;
  /** Computed from coordinates, radians. */
  bearing: number;
  observed: number;
  /** Radians; of a backsight, against the setup's orientation. */
  difference: number;
  /** m, NaN where nothing was measured. */
  distance: number;
  distanceDifference: number;
  heightDifference: number;
  /** Off in position, m. */
  off: number;
  /** What its readings show by themselves: read in the other face, or readings of it that differ by too much. */
  slip: 'face' | 'spread' | null;
  within: boolean;
  state: Decision;
  /** Whether the state is a person's decision or the rule's. */
  decided: boolean;
}

/** A sight of a free station that the others contradict, or one of several of which one must be wrong. */
export interface SightDoubt {
  row: number;
  number: string;
  what: 'direction' | 'distance' | 'height';
  /** By how much it must be wrong: radians or metres. */
  off: number;
  /** In its own standard deviations. */
  standardised: number;
  /** Whether the others tell that it is this one. */
  sure: boolean;
}

export interface SetupResult {
  book: string;
  row: number;
  number: string;
  height: number;
  station: Known | null;
  /** What its circle reads at grid north is −orientation: bearing = circle + orientation. NaN without. */
  orientation: number;
  /** Standard deviation, radians. */
  sdOrientation: number;
  errors: FaceErrors;
  /** ISO 17123-3, of a direction in both faces; NaN without rounds. */
  directionSd: number;
  /** Turns of the circle between its sightings. */
  turns: CircleTurn[];
  /** Sights of a free station that do not fit. */
  doubts: SightDoubt[];
  backsights: Compared[];
  checks: Compared[];
  shots: number;
  /** Why its points wait, or null. */
  waits: string | null;
  /** Why it could not be reduced at all, or null. */
  failed: string | null;
}

export interface ReducedPoint {
  book: string;
  row: number;
  number: string;
  code: string;
  x: number;
  y: number;
  z: number;
  /** One standard deviation, m. */
  sdPlan: number;
  sdHeight: number;
  /** As of a known point. */
  covariance?: readonly number[];
  /** Index into the setups, −1 of GNSS and typed points. */
  setup: number;
  waits: boolean;
}

/** A sighting between a station and a point that is stood on, oriented by, or known: what a network is made of. */
export interface Sight {
  book: string;
  row: number;
  /** Index into the setups. */
  setup: number;
  number: string;
  circle: number;
  horizontal: number;
  rise: number;
  sdDirection: number;
  sdDistance: number;
  sdRise: number;
}

export interface ReductionNote {
  kind:
    | 'no-backsight'
    | 'backsight-unknown'
    | 'station-unknown'
    | 'reading-missing'
    | 'zenith-impossible'
    | 'spread'
    | 'typed-differs'
    | 'gnss-poor'
    | 'gnss-spread'
    | 'gnss-left'
    | 'gnss-check'
    | 'level-misclosure'
    | 'level-unreached'
    | 'station-twice'
    | 'face-wrong'
    | 'before-setup'
    | 'turn-unknown'
    | 'spread-wide'
    | 'uncontrolled';
  book: string;
  row: number;
  rows: number[];
  number: string;
  text: string;
  values: number[];
  /** Of readings that differ by too much: which of them points to what else, by row and number. */
  others?: { row: number; number: string }[];
}

export interface Reduction {
  setups: SetupResult[];
  points: ReducedPoints;
  notes: ReductionNote[];
  sights: Sight[];
  known: Map<string, Known>;
  /** Level runs and the heights they give; null without level readings. */
  levelling: Levelling | null;
  /** Points measured by satellite; of many shots only those measured more than once, or that are control. */
  gnss: GnssMean[];
}

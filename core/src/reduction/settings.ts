import type { BookRecord } from '#core/book';

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
  /** Whether the earth's curvature and refraction are applied, or the ground is taken as a plane. */
  earth: 'curved' | 'plane';
  /** Whether distances are brought down to the level of the sea before the factor. */
  seaLevel: boolean;
  /** What level distances and rises are where their book does not say. */
  flatDistances: 'ask' | 'geometric' | 'reduced';
  /** The quality that a position by satellite must have: standard deviations m, dilution, satellites, tilt radians. */
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

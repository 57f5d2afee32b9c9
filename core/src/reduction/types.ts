import type { CircleTurn } from './circle-sets.ts';
import type { GnssMean } from './gnss.ts';
import type { Levelling } from './levels.ts';
import type { FaceErrors } from './pointings.ts';
import type { ReducedPoints } from './points.ts';
import type { Known } from './known.ts';
import type { Decision } from './settings.ts';
import type { ReductionNote } from './notes.ts';

/** A sighting of a known point, at a backsight or as a check; observed − computed. */
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

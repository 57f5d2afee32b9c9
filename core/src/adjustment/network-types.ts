import type { Ellipse } from './statistics.ts';

/** A station of a network; metres. Fixed: held; weighted: observed with its deviations; free: found. */
export interface NetworkPoint {
  number: string;
  x: number;
  y: number;
  z: number;
  standing: 'fixed' | 'weighted' | 'free';
  sdPlan: number;
  sdHeight: number;
}

/** One observation between stations, by their indices; radians and metres. */
export interface NetworkObservation {
  kind: 'direction' | 'distance' | 'rise' | 'east' | 'north' | 'elevation';
  /** Station observed from, or the one whose coordinate it is. */
  from: number;
  /** Station observed; −1 of coordinates. */
  to: number;
  /** Set of directions with one orientation; −1 of others. */
  set: number;
  value: number;
  sd: number;
  /**
   * Of a coordinate that is correlated with those before it (east, north): what it leaves beside them is the
   * observation, value − Σ a · (their value less their adjusted one), and sd is of that.
   */
  beside?: readonly { a: number; value: number }[];
  /** Where it comes from, carried through to the result. */
  source: string;
}

export interface AdjustedObservation {
  observation: NetworkObservation;
  /** Adjusted less observed. */
  residual: number;
  /** 0 not controlled … 1 fully. */
  redundancy: number;
  /** |residual| over its own standard deviation (Baarda's w); NaN where nothing controls it. */
  standardised: number;
}

export interface AdjustedPoint {
  number: string;
  x: number;
  y: number;
  z: number;
  sdX: number;
  sdY: number;
  sdZ: number;
  ellipse: Ellipse;
  /** Adjusted less begun from, m. */
  moved: number;
}

export interface Adjusted {
  ok: true;
  points: AdjustedPoint[];
  orientations: number[];
  observations: AdjustedObservation[];
  freedom: number;
  /** Σ (v/σ)² over the degrees of freedom; near 1 when the stated accuracies are true. */
  varianceFactor: number;
  /** Bounds of the variance factor at 95 %, chi-square. */
  bounds: [number, number];
  /** Index of the observation with the largest standardised residual, −1 when none is controlled. */
  doubtful: number;
  iterations: number;
  unknowns: number;
  /** Values kept of the normal matrix: what sparsity saves. */
  kept: number;
}

export type Adjustment = Adjusted | { ok: false; reason: string };

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

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

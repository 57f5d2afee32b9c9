/** A straight line through volumes over time, by least squares. */
export interface Trend {
  /** m³ a day. */
  rate: number;
  /** Half of the interval that holds the rate with 95 %; null of two dates, which any line fits. */
  ratePlusMinus: number | null;
  /** The line at a day, m³, and half of the interval that holds a measurement there with 95 %. */
  at: (day: number) => { volume: number; plusMinus: number | null };
  /** The day on which the line is 0; null where it does not fall. */
  empty: number | null;
}

/** Two-sided 95 % quantiles of Student's t for 1 to 30 degrees of freedom (tables of the distribution, from memory). */
const STUDENT_95 = [12.706, 4.303, 3.182, 2.776, 2.571, 2.447, 2.365, 2.306, 2.262, 2.228, 2.201, 2.179, 2.16, 2.145, 2.131, 2.12, 2.11, 2.101, 2.093, 2.086, 2.08, 2.074, 2.069, 2.064, 2.06, 2.056, 2.052, 2.048, 2.045, 2.042]; // prettier-ignore
/** Beyond the table, by its first term over the degrees of freedom. */
const student95 = (dof: number): number => STUDENT_95[dof - 1] ?? 1.96 + 2.4 / dof;

/**
 * Fits a straight line to volumes, m³, at days. With as many dates as a line has parameters nothing is left to tell how well
 * it fits; what is expected later lies within the prediction interval of ordinary least squares. Null for fewer than two days.
 */
export function trendOf(days: readonly number[], volumes: readonly number[]): Trend | null {
  const n = days.length;
  const meanOf = (v: readonly number[]): number => v.reduce((a, b) => a + b, 0) / n;
  const [meanDay, meanVolume] = [meanOf(days), meanOf(volumes)];
  const spread = days.reduce((sum, d) => sum + (d - meanDay) ** 2, 0);
  if (n < 2 || !(spread > 0)) return null;
  const rate = days.reduce((sum, d, i) => sum + (d - meanDay) * (volumes[i] - meanVolume), 0) / spread;
  const line = (day: number): number => meanVolume + rate * (day - meanDay);
  const dof = n - 2;
  const off = days.reduce((sum, d, i) => sum + (volumes[i] - line(d)) ** 2, 0);
  const sd = dof > 0 ? Math.sqrt(off / dof) : null;
  const within = (variance: number): number | null => (sd === null ? null : student95(dof) * sd * Math.sqrt(variance));
  return {
    rate,
    ratePlusMinus: within(1 / spread),
    at: (day) => ({ volume: line(day), plusMinus: within(1 + 1 / n + (day - meanDay) ** 2 / spread) }),
    empty: rate < 0 ? meanDay - meanVolume / rate : null,
  };
}

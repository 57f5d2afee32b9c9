/** How far a surface is from shots that are not in it. Differences are surface − shot, m. */
export interface VerticalAccuracy {
  shots: number;
  mean: number;
  /** Root mean square of the differences. */
  rmse: number;
  /** What 95 % of places are within, where differences are normal: 1.9600 × RMSE (FGDC-STD-007.3-1998, NSSDA). */
  nssda: number;
  largest: number;
  /** Whether there are the twenty shots that NSSDA asks for. */
  enough: boolean;
}

export const NSSDA_SHOTS = 20;
const NSSDA_FACTOR = 1.96;

/** @param differences m, at least one */
export function verticalAccuracy(differences: readonly number[]): VerticalAccuracy {
  const shots = differences.length;
  const sum = differences.reduce((a, d) => a + d, 0);
  const rmse = Math.sqrt(differences.reduce((a, d) => a + d * d, 0) / shots);
  const largest = differences.reduce((a, d) => Math.max(a, Math.abs(d)), 0);
  return { shots, mean: sum / shots, rmse, nssda: NSSDA_FACTOR * rmse, largest, enough: shots >= NSSDA_SHOTS };
}

import { lowOrder, Skyline } from '#core/kernel';

/** An observation linear in elevations: Σ a·x of its terms, metres. */
export interface HeightObservation {
  terms: { unknown: number; a: number }[];
  /** Observed less what the start elevations say. */
  off: number;
  sd: number;
}

/** What one more unknown, a shift of some observations alike, would explain. */
export interface ShiftTest {
  /** How much the observations are too large by, m. */
  shift: number;
  sd: number;
  /** By how much it lessens the sum of weighted squares; its root is normal where there is no slip. */
  gain: number;
}

/** m; what nothing ties is held there so loosely that it bends nothing. */
const LOOSE = 1000;

/**
 * Differences of elevation and given elevations by least squares, and the test of any slip that shifts some of them:
 * with c the observations it shifts, shift = cᵀPv / cᵀPQPc, gain = (cᵀPv)² / cᵀPQPc, Q the residuals' cofactors
 * (W. Baarda's test of an alternative hypothesis, 1968, from memory).
 */
export class HeightSystem {
  /** Observed less adjusted, m. */
  readonly residuals: Float64Array;
  private readonly place: Int32Array;
  private readonly normal: Skyline;

  constructor(
    private readonly observations: readonly HeightObservation[],
    unknowns: number,
  ) {
    const neighbours: Set<number>[] = Array.from({ length: unknowns }, () => new Set());
    for (const { terms } of observations)
      for (const p of terms) for (const q of terms) if (p.unknown !== q.unknown) neighbours[p.unknown].add(q.unknown);
    this.place = new Int32Array(unknowns);
    lowOrder(neighbours.map((s) => [...s])).forEach((node, i) => (this.place[node] = i));
    const first = Int32Array.from({ length: unknowns }, (_, i) => i);
    for (const { terms } of observations) {
      const at = terms.map((t) => this.place[t.unknown]);
      const lowest = Math.min(...at);
      for (const i of at) first[i] = Math.min(first[i], lowest);
    }
    this.normal = new Skyline(first);
    for (let i = 0; i < unknowns; i++) this.normal.add(i, i, 1 / (LOOSE * LOOSE));
    const right = new Float64Array(unknowns);
    for (const { terms, off, sd } of observations) {
      const w = 1 / (sd * sd);
      terms.forEach((p, i) => {
        right[this.place[p.unknown]] += w * p.a * off;
        for (let k = 0; k <= i; k++) {
          const q = terms[k];
          this.normal.add(this.place[p.unknown], this.place[q.unknown], w * p.a * q.a);
        }
      });
    }
    this.normal.factor();
    this.normal.solve(right);
    this.residuals = Float64Array.from(observations, (o) => o.off - this.along(o, right));
  }

  private along = ({ terms }: HeightObservation, x: Float64Array): number =>
    terms.reduce((s, t) => s + t.a * x[this.place[t.unknown]], 0);

  /** Tests a shift of observations, by their indices; null where nothing would show it. */
  test(shifted: readonly number[]): ShiftTest | null {
    const right = new Float64Array(this.normal.n);
    let [mixed, own] = [0, 0];
    for (const i of shifted) {
      const { terms, sd } = this.observations[i];
      const w = 1 / (sd * sd);
      for (const t of terms) right[this.place[t.unknown]] += w * t.a;
      mixed += w * this.residuals[i];
      own += w;
    }
    this.normal.solve(right);
    let square = own;
    for (const i of shifted) square -= this.along(this.observations[i], right) / this.observations[i].sd ** 2;
    // A millionth of its weight left over is rounding, and the loose hold.
    if (!(square > 1e-4 * own)) return null;
    return { shift: mixed / square, sd: 1 / Math.sqrt(square), gain: (mixed * mixed) / square };
  }

  /** Standardised residual, without its redundancy: enough to see which are worth a test. */
  loudness = (i: number): number => Math.abs(this.residuals[i]) / this.observations[i].sd;
}

/** Mean of values, summed by size: the order in which they come does not move its last bit. */
export function meanOf(values: ArrayLike<number>): number {
  return (
    Float64Array.from(values)
      .sort()
      .reduce((sum, v) => sum + v, 0) / values.length
  );
}

/** A sum that keeps what rounding would lose (Neumaier 1974), for millions of small volumes. */
export class CompensatedSum {
  private sum = 0;
  private lost = 0;

  add(value: number): void {
    const next = this.sum + value;
    this.lost += Math.abs(this.sum) >= Math.abs(value) ? this.sum - next + value : value - next + this.sum;
    this.sum = next;
  }

  value(): number {
    return this.sum + this.lost;
  }
}

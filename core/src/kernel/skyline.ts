/**
 * A symmetric positive definite matrix kept row by row from its first element to the diagonal (skyline), with
 * its Cholesky factor in place of it. What lies outside the skyline is zero, and stays so.
 */
export class Skyline {
  readonly n: number;
  readonly first: Int32Array;
  private readonly start: Float64Array;
  private readonly values: Float64Array;

  /** `first[i]` is the lowest column of row i that is not zero. */
  constructor(first: Int32Array) {
    this.n = first.length;
    this.first = first;
    this.start = new Float64Array(this.n + 1);
    for (let i = 0; i < this.n; i++) this.start[i + 1] = this.start[i] + (i - first[i] + 1);
    this.values = new Float64Array(this.start[this.n]);
  }

  /** How many values are kept. */
  get size(): number {
    return this.values.length;
  }

  private at(i: number, j: number): number {
    return this.start[i] + (j - this.first[i]);
  }

  get(i: number, j: number): number {
    return i >= j ? (j < this.first[i] ? 0 : this.values[this.at(i, j)]) : this.get(j, i);
  }

  add(i: number, j: number, value: number): void {
    if (i >= j) this.values[this.at(i, j)] += value;
    else this.values[this.at(j, i)] += value;
  }

  /** Cholesky in place. Gives the row whose unknown the equations do not determine, or −1 when all is well. */
  factor(): number {
    const { n, first, values } = this;
    for (let i = 0; i < n; i++) {
      const own = this.at(i, i);
      const diagonal = values[own];
      for (let j = first[i]; j < i; j++) {
        const from = Math.max(first[i], first[j]);
        let sum = values[this.at(i, j)];
        const a = this.at(i, from);
        const b = this.at(j, from);
        for (let k = 0; k < j - from; k++) sum -= values[a + k] * values[b + k];
        values[this.at(i, j)] = sum / values[this.at(j, j)];
      }
      let rest = diagonal;
      for (let k = this.at(i, first[i]); k < own; k++) rest -= values[k] * values[k];
      // What is left of the diagonal tells how far this unknown is determined apart from those before it.
      if (!(rest > 1e-12 * diagonal)) return i;
      values[own] = Math.sqrt(rest);
    }
    return -1;
  }

  /** Solves with the factor; `b` becomes the solution. */
  solve(b: Float64Array): void {
    const { n, first, values } = this;
    for (let i = 0; i < n; i++) {
      let sum = b[i];
      const row = this.at(i, first[i]);
      for (let k = first[i]; k < i; k++) sum -= values[row + k - first[i]] * b[k];
      b[i] = sum / values[this.at(i, i)];
    }
    for (let i = n - 1; i >= 0; i--) {
      b[i] /= values[this.at(i, i)];
      const row = this.at(i, first[i]);
      for (let k = first[i]; k < i; k++) b[k] -= values[row + k - first[i]] * b[i];
    }
  }

  /**
   * The inverse's elements within the skyline (Takahashi, Fagan and Chin 1973): enough for every observation's
   * redundancy and every station's ellipse, without the full inverse.
   */
  inverse(): Skyline {
    const { n, first, values } = this;
    const out = new Skyline(first);
    const columns: number[][] = Array.from({ length: n }, () => []);
    for (let i = 0; i < n; i++) for (let j = first[i]; j < i; j++) columns[j].push(i);
    for (let j = n - 1; j >= 0; j--) {
      const pivot = values[this.at(j, j)];
      const rows = columns[j];
      const below = rows.map((k) => values[this.at(k, j)]);
      let diagonal = 1 / pivot;
      for (let r = rows.length - 1; r >= 0; r--) {
        let sum = 0;
        for (let k = 0; k < rows.length; k++) sum += below[k] * out.get(rows[r], rows[k]);
        out.values[out.at(rows[r], j)] = -sum / pivot;
        diagonal += (below[r] * sum) / pivot;
      }
      out.values[out.at(j, j)] = diagonal / pivot;
    }
    return out;
  }
}

/**
 * An order of nodes that keeps neighbours near each other (reverse Cuthill–McKee, 1969), so that the skyline is
 * low. `neighbours[i]` lists the nodes that i shares an equation with. Gives the nodes in their new order.
 */
export function lowOrder(neighbours: readonly (readonly number[])[]): number[] {
  const n = neighbours.length;
  const seen = new Uint8Array(n);
  const order: number[] = [];
  const byDegree = Array.from({ length: n }, (_, i) => i).sort(
    (a, b) => neighbours[a].length - neighbours[b].length || a - b,
  );
  for (const seed of byDegree) {
    if (seen[seed]) continue;
    const from = farthest(seed, neighbours);
    seen[from] = 1;
    const part = [from];
    for (let at = 0; at < part.length; at++) {
      const next = neighbours[part[at]].filter((k) => !seen[k]);
      next.sort((a, b) => neighbours[a].length - neighbours[b].length || a - b);
      for (const k of next) {
        if (seen[k]) continue;
        seen[k] = 1;
        part.push(k);
      }
    }
    order.push(...part);
  }
  return order.reverse();
}

/** A node at the far end of the part that a node lies in: a good place to begin from. */
function farthest(from: number, neighbours: readonly (readonly number[])[]): number {
  let end = from;
  for (let turn = 0; turn < 3; turn++) {
    const seen = new Set([end]);
    let level = [end];
    for (;;) {
      const next: number[] = [];
      for (const i of level)
        for (const k of neighbours[i])
          if (!seen.has(k)) {
            seen.add(k);
            next.push(k);
          }
      if (next.length === 0) break;
      level = next;
    }
    end = level.reduce((best, i) => (neighbours[i].length < neighbours[best].length ? i : best), level[0]);
  }
  return end;
}

export interface Solved {
  unknowns: number[];
  /** Computed minus observed, one a row. */
  residuals: number[];
  /** Diagonal of A (AᵀA)⁻¹ Aᵀ: the part of each observation that the unknowns take. */
  hat: number[];
  squares: number;
}

/** Least squares with equal weights by normal equations and their Cholesky factor, columns scaled to unit length; null when the unknowns cannot be told apart. */
export function solveNormal(rows: readonly number[][], observed: readonly number[]): Solved | null {
  const u = rows[0]?.length ?? 0;
  if (u === 0 || rows.length < u) return null;
  const length = Array.from({ length: u }, (_, j) => Math.sqrt(rows.reduce((s, r) => s + r[j] * r[j], 0)));
  if (length.some((l) => !(l > 0))) return null;
  const a = rows.map((r) => r.map((v, j) => v / length[j]));
  const l: number[][] = [];
  for (let i = 0; i < u; i++) {
    l.push([]);
    for (let j = 0; j <= i; j++) {
      let sum = a.reduce((s, r) => s + r[i] * r[j], 0);
      for (let k = 0; k < j; k++) sum -= l[i][k] * l[j][k];
      if (i === j) {
        // Columns have unit length: what is left of the diagonal tells how far they can be told apart.
        if (!(sum > 1e-12)) return null;
        l[i].push(Math.sqrt(sum));
      } else l[i].push(sum / l[j][j]);
    }
  }
  const forward = (b: number[]): number[] => {
    const y: number[] = [];
    for (let i = 0; i < u; i++) {
      let sum = b[i];
      for (let k = 0; k < i; k++) sum -= l[i][k] * y[k];
      y.push(sum / l[i][i]);
    }
    return y;
  };
  const y = forward(Array.from({ length: u }, (_, j) => a.reduce((s, r, i) => s + r[j] * observed[i], 0)));
  const x = new Array<number>(u).fill(0);
  for (let i = u - 1; i >= 0; i--) {
    let sum = y[i];
    for (let k = i + 1; k < u; k++) sum -= l[k][i] * x[k];
    x[i] = sum / l[i][i];
  }
  const residuals = a.map((r, i) => r.reduce((s, v, j) => s + v * x[j], 0) - observed[i]);
  return {
    unknowns: x.map((v, j) => v / length[j]),
    residuals,
    hat: a.map((r) => forward(r).reduce((s, v) => s + v * v, 0)),
    squares: residuals.reduce((s, v) => s + v * v, 0),
  };
}

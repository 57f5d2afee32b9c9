/**
 * Inverse of a symmetric positive definite matrix, rows of n, by Cholesky; null when it is none. For matrices
 * of a handful of unknowns.
 */
export function inverseSymmetric(a: readonly number[][]): number[][] | null {
  const n = a.length;
  const scale = a.map((row, i) => 1 / Math.sqrt(row[i]));
  if (scale.some((s) => !Number.isFinite(s))) return null;
  const l = a.map(() => new Array<number>(n).fill(0));
  for (let i = 0; i < n; i++)
    for (let j = 0; j <= i; j++) {
      let sum = a[i][j] * scale[i] * scale[j];
      for (let k = 0; k < j; k++) sum -= l[i][k] * l[j][k];
      if (i === j) {
        // Scaled to a unit diagonal: what is left tells how far the unknowns can be told apart.
        if (!(sum > 1e-11)) return null;
        l[i][i] = Math.sqrt(sum);
      } else l[i][j] = sum / l[j][j];
    }
  const inverse = a.map(() => new Array<number>(n).fill(0));
  for (let c = 0; c < n; c++) {
    const y = new Array<number>(n).fill(0);
    for (let i = 0; i < n; i++) {
      let sum = i === c ? 1 : 0;
      for (let k = 0; k < i; k++) sum -= l[i][k] * y[k];
      y[i] = sum / l[i][i];
    }
    for (let i = n - 1; i >= 0; i--) {
      let sum = y[i];
      for (let k = i + 1; k < n; k++) sum -= l[k][i] * inverse[k][c];
      inverse[i][c] = sum / l[i][i];
    }
  }
  return inverse.map((row, i) => row.map((v, j) => v * scale[i] * scale[j]));
}

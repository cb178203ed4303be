/** Solves a system by Gauss with pivots; null: it has no one solution. @param matrix n rows of n, which it uses up, as it does `right` */
export function solveLinear(matrix: number[][], right: number[]): number[] | null {
  const n = right.length;
  for (let k = 0; k < n; k++) {
    let pivot = k;
    for (let i = k + 1; i < n; i++) if (Math.abs(matrix[i][k]) > Math.abs(matrix[pivot][k])) pivot = i;
    if (!(Math.abs(matrix[pivot][k]) > 1e-300)) return null;
    [matrix[k], matrix[pivot]] = [matrix[pivot], matrix[k]];
    [right[k], right[pivot]] = [right[pivot], right[k]];
    for (let i = k + 1; i < n; i++) {
      const by = matrix[i][k] / matrix[k][k];
      if (by === 0) continue;
      for (let j = k; j < n; j++) matrix[i][j] -= by * matrix[k][j];
      right[i] -= by * right[k];
    }
  }
  const out = new Array<number>(n).fill(0);
  for (let i = n - 1; i >= 0; i--) {
    let sum = right[i];
    for (let j = i + 1; j < n; j++) sum -= matrix[i][j] * out[j];
    out[i] = sum / matrix[i][i];
  }
  return out.every(Number.isFinite) ? out : null;
}

/** Main directions of what is spread about a middle. */

/** An eigenvalue of a symmetric matrix, and its vector of length 1. */
export interface Eigen {
  value: number;
  vector: number[];
}

/**
 * Eigenvalues and vectors of a symmetric matrix by Jacobi's rotations (Golub and Van Loan, "Matrix Computations", 8.5), in no order.
 * @param matrix n rows of n
 */
export function eigenOf(matrix: readonly (readonly number[])[]): Eigen[] {
  const n = matrix.length;
  const a = matrix.map((row) => [...row]);
  const v = matrix.map((row, i) => row.map((_, j): number => (i === j ? 1 : 0)));
  for (let sweep = 0; sweep < 60; sweep++) {
    let off = 0;
    let all = 0;
    for (let i = 0; i < n; i++)
      for (let j = 0; j < n; j++) {
        all += a[i][j] ** 2;
        if (i !== j) off += a[i][j] ** 2;
      }
    if (off <= 1e-30 * all) break;
    for (let p = 0; p < n - 1; p++)
      for (let q = p + 1; q < n; q++) {
        if (a[p][q] === 0) continue;
        const theta = (a[q][q] - a[p][p]) / (2 * a[p][q]);
        const t = (theta >= 0 ? 1 : -1) / (Math.abs(theta) + Math.sqrt(theta * theta + 1));
        const c = 1 / Math.sqrt(t * t + 1);
        const s = t * c;
        for (let k = 0; k < n; k++) {
          const [kp, kq] = [a[k][p], a[k][q]];
          a[k][p] = c * kp - s * kq;
          a[k][q] = s * kp + c * kq;
        }
        for (let k = 0; k < n; k++) {
          const [pk, qk] = [a[p][k], a[q][k]];
          a[p][k] = c * pk - s * qk;
          a[q][k] = s * pk + c * qk;
          const [vp, vq] = [v[k][p], v[k][q]];
          v[k][p] = c * vp - s * vq;
          v[k][q] = s * vp + c * vq;
        }
      }
  }
  return a.map((row, i) => ({ value: row[i], vector: v.map((of) => of[i]) }));
}

/** The greatest first. */
export const byValue = (one: Eigen, other: Eigen): number => other.value - one.value;

/**
 * Two directions across a normal and each other (Duff and others, "Building an orthonormal basis, revisited", 2017).
 * @returns x, y, z of the one, then of the other
 */
export function acrossNormal(
  nx: number,
  ny: number,
  nz: number,
): [ux: number, uy: number, uz: number, vx: number, vy: number, vz: number] {
  const sign = nz >= 0 ? 1 : -1;
  const a = -1 / (sign + nz);
  const b = nx * ny * a;
  return [1 + sign * nx * nx * a, sign * b, -sign * nx, b, sign + ny * ny * a, -ny];
}

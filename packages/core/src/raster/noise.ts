/** Noise that is the same everywhere: integer hashes of the lattice, smooth between. */

/** 0..1 of a lattice point. */
function lattice(x: number, y: number, seed: number): number {
  let h = (Math.imul(x, 0x27d4eb2d) ^ Math.imul(y, 0x165667b1) ^ Math.imul(seed + 1, 0x9e3779b1)) >>> 0;
  h = Math.imul(h ^ (h >>> 15), 0x85ebca6b) >>> 0;
  h = Math.imul(h ^ (h >>> 13), 0xc2b2ae35) >>> 0;
  return ((h ^ (h >>> 16)) >>> 0) / 4294967296;
}

/** Value noise 0..1 at a point, in lattice units. */
export function noiseAt(x: number, y: number, seed: number): number {
  const [x0, y0] = [Math.floor(x), Math.floor(y)];
  const [fx, fy] = [x - x0, y - y0];
  const [u, v] = [fx * fx * (3 - 2 * fx), fy * fy * (3 - 2 * fy)];
  const top = lattice(x0, y0, seed) * (1 - u) + lattice(x0 + 1, y0, seed) * u;
  const bottom = lattice(x0, y0 + 1, seed) * (1 - u) + lattice(x0 + 1, y0 + 1, seed) * u;
  return top * (1 - v) + bottom * v;
}

/** Three octaves, 0..1. */
export const roughAt = (x: number, y: number, seed: number): number =>
  (noiseAt(x, y, seed) * 4 + noiseAt(x * 2, y * 2, seed + 17) * 2 + noiseAt(x * 4, y * 4, seed + 31)) / 7;

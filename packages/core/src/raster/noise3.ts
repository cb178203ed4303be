/** Noise in space, the same everywhere: integer hashes of the lattice, smooth between. */

/** 0..1 of a lattice point. */
export function lattice(x: number, y: number, z: number, seed: number): number {
  let h =
    (Math.imul(x, 0x27d4eb2d) ^
      Math.imul(y, 0x165667b1) ^
      Math.imul(z, 0x5bd1e995) ^
      Math.imul(seed + 1, 0x9e3779b1)) >>>
    0;
  h = Math.imul(h ^ (h >>> 15), 0x85ebca6b) >>> 0;
  h = Math.imul(h ^ (h >>> 13), 0xc2b2ae35) >>> 0;
  return ((h ^ (h >>> 16)) >>> 0) / 4294967296;
}

/** Value noise of one lattice, in lattice units. Neighbouring texels ask for one cell after another: its corners are kept. */
export class Noise3 {
  private x = NaN;
  private y = NaN;
  private z = NaN;
  private readonly corners = new Float64Array(8);

  constructor(private readonly seed: number) {}

  /** 0..1, on average a half. */
  at(x: number, y: number, z: number): number {
    const x0 = Math.floor(x);
    const y0 = Math.floor(y);
    const z0 = Math.floor(z);
    const c = this.corners;
    if (x0 !== this.x || y0 !== this.y || z0 !== this.z) {
      this.x = x0;
      this.y = y0;
      this.z = z0;
      for (let k = 0; k < 8; k++) c[k] = lattice(x0 + (k & 1), y0 + ((k >> 1) & 1), z0 + (k >> 2), this.seed);
    }
    const fx = x - x0;
    const fy = y - y0;
    const fz = z - z0;
    const u = fx * fx * (3 - 2 * fx);
    const v = fy * fy * (3 - 2 * fy);
    const w = fz * fz * (3 - 2 * fz);
    const a = c[0] + (c[1] - c[0]) * u;
    const b = c[2] + (c[3] - c[2]) * u;
    const d = c[4] + (c[5] - c[4]) * u;
    const e = c[6] + (c[7] - c[6]) * u;
    const near = a + (b - a) * v;
    return near + (d + (e - d) * v - near) * w;
  }
}

const OCTAVES = 3;
/** What is left of each octave's contrast after three were mixed; stretched by it, the share of values under one is near that value. */
const SPREAD = 2.35;

/** Three octaves of noise in space, 0..1, near evenly spread; what is finer than samples are is left out. */
export class Rough3 {
  private readonly octaves: readonly Noise3[];

  constructor(seed: number) {
    this.octaves = Array.from({ length: OCTAVES }, (_, k) => new Noise3(seed + 17 * k));
  }

  /**
   * @param x in patches, as y and z
   * @param foot size of a sample, in patches: octaves with two samples to a patch or fewer fade out
   */
  at(x: number, y: number, z: number, foot: number): number {
    let sum = 0;
    for (let k = 0, scale = 1, weight = 4; k < OCTAVES; k++, scale *= 2, weight /= 2) {
      const seen = 1 / (scale * foot) - 1;
      if (seen <= 0) break;
      const n = this.octaves[k].at(x * scale, y * scale, z * scale) - 0.5;
      sum += n * (seen < 1 ? weight * seen : weight);
    }
    const value = 0.5 + (sum * SPREAD) / 7;
    return value < 0 ? 0 : value > 1 ? 1 : value;
  }
}

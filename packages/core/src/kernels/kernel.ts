/** The WebAssembly kernels (packages/core/kernels) with their tables in place. */
import { ANCHOR_2, ANCHOR_3A, ANCHOR_3B, PARTITIONS_2, PARTITIONS_3, WEIGHTS as FACTORS } from '../published/bc7.ts';
import { AT, BASE, KERNELS, SIZE } from './kernels.generated.ts';

/** What the kernels export; addresses are bytes in `memory`. */
export interface Kernel {
  memory: WebAssembly.Memory;
  forget(): void;
  row(format: number, source: number, stride: number, columns: number, out: number): void;
  unrow(format: number, source: number, columns: number, out: number, stride: number): void;
  meanRow(source: number, count: number, out: number, weigh: number): void;
  acrossRow(source: number, windows: number, taps: number, out: number, count: number): void;
  sumRows(rows: number, taps: number, out: number, count: number): void;
  byteRow(source: number, count: number, out: number, kind: number, alphaScale: number): void;
  blend(mode: number, atop: number, backdrop: number, source: number, texels: number): void;
  fadeAll(at: number, texels: number, share: number): void;
  fadeEach(at: number, shares: number, texels: number): void;
  tint(at: number, shares: number, colour: number, texels: number): void;
  premultiply(source: number, texels: number, out: number): void;
  straightRow(source: number, texels: number, out: number, thresholds: number, x0: number): void;
  halveRow(upper: number, lower: number, out: number, width: number): void;
  fillRun(at: number, colour: number, texels: number): void;
  overAll(backdrop: number, colour: number, texels: number): void;
  cover(
    tile: number,
    rows: number,
    stamp: number,
    stride: number,
    x0: number,
    x1: number,
    share: number,
    bounds: number,
  ): void;
  rampRow(out: number, texels: number, ramp: number, at: number, slope: number): void;
  radialRow(
    out: number,
    texels: number,
    ramp: number,
    steps: number,
    px: number,
    step: number,
    py2: number,
    scale: number,
  ): void;
}

const {
  WEIGHTS,
  SUBSETS2,
  SUBSETS3,
  ESTIMATE2,
  ESTIMATE3,
  COUNTS2,
  COUNTS3,
  ANCHORS,
  FLAT7,
  FLAT5,
  FLAT6,
  CLUSTERS,
  CLUSTERS3,
  PARTITION_BYTES2,
  PARTITION_BYTES3,
  FULL,
} = AT;
export const { SETTINGS } = AT;
/** Where rows of texels and results may lie, up to ROOM_END. */
export const { ROOM } = AT;
export const ROOM_END = BASE;
/** All that kernels have at first, bytes: what is put behind it has to be asked for. */
export const KERNEL_BYTES = SIZE;

let module: WebAssembly.Module | null = null;
let made: Kernel | null = null;

/** The kernels that encode and decode on this thread. */
export function kernel(): Kernel {
  if (made) return made;
  made = newKernel();
  writeTables(made.memory.buffer);
  return made;
}

/** Kernels with a memory of their own, for all but encoding: the encoders' tables are not there. */
export function newKernel(): Kernel {
  module ??= new WebAssembly.Module(Uint8Array.from(atob(KERNELS), (c) => c.charCodeAt(0)));
  return new WebAssembly.Instance(module, {}).exports as unknown as Kernel;
}

/** Puts the published tables where the kernels look for them. */
export function writeTables(buffer: ArrayBufferLike): void {
  const bytes = new Uint8Array(buffer);
  const shorts = new Int16Array(buffer);
  const reals = new Float32Array(buffer);
  for (const bits of [2, 3, 4]) bytes.set(FACTORS[bits], WEIGHTS + (bits - 2) * 16);
  for (let i = 0; i < 16; i++) shorts[FULL / 2 + i] = -1;
  for (let p = 0; p < 64; p++) {
    bytes.set(PARTITIONS_2[p], PARTITION_BYTES2 + p * 16);
    bytes.set(PARTITIONS_3[p], PARTITION_BYTES3 + p * 16);
    for (let i = 0; i < 16; i++) {
      shorts[SUBSETS2 / 2 + p * 32 + PARTITIONS_2[p][i] * 16 + i] = -1;
      shorts[SUBSETS3 / 2 + p * 48 + PARTITIONS_3[p][i] * 16 + i] = -1;
      const lane = (p >> 2) * 64 + (i >> 1) * 8 + (p & 3) * 2 + (i & 1);
      if (PARTITIONS_2[p][i] === 1) {
        shorts[ESTIMATE2 / 2 + lane] = 1;
        reals[COUNTS2 / 4 + p]++;
      }
      const third = PARTITIONS_3[p][i];
      if (third > 0) {
        shorts[ESTIMATE3 / 2 + (third - 1) * 1024 + lane] = 1;
        reals[COUNTS3 / 4 + (third - 1) * 64 + p]++;
      }
    }
  }
  bytes.set(ANCHOR_2, ANCHORS);
  bytes.set(ANCHOR_3A, ANCHORS + 64);
  bytes.set(ANCHOR_3B, ANCHORS + 128);
  bytes.set(
    flatEnds(7, (a, b) => (a * 43 + b * 21 + 32) >> 6),
    FLAT7,
  );
  bytes.set(
    flatEnds(5, (a, b) => (2 * a + b) / 3),
    FLAT5,
  );
  bytes.set(
    flatEnds(6, (a, b) => (2 * a + b) / 3),
    FLAT6,
  );
  for (let i = 0; i <= 16; i++) {
    for (let j = i; j <= 16; j++) {
      reals[CLUSTERS3 / 4 + i * 20 + j] = gain([i, j - i, 16 - j]);
      for (let k = j; k <= 16; k++) {
        reals[CLUSTERS / 4 + (i * 17 + j) * 20 + k] = gain([i, j - i, k - j, 16 - k]);
      }
    }
  }
}

/**
 * How much a cut into clusters explains, for a squared sum of one. With texels about their mean and s the sum of the sums up to each
 * cut, the squared error that least-squares ends take away is 16 s s / (levels - 1)^2 / (aa bb - ab ab), where a and b are the shares
 * of the two ends in each texel.
 */
function gain(sizes: readonly number[]): number {
  const steps = sizes.length - 1;
  let [aa, ab, bb] = [0, 0, 0];
  sizes.forEach((size, level) => {
    const b = level / steps;
    aa += size * (1 - b) * (1 - b);
    ab += size * (1 - b) * b;
    bb += size * b * b;
  });
  const det = aa * bb - ab * ab;
  return det < 1e-9 ? 0 : 16 / (steps * steps) / det;
}

/**
 * For each 8-bit value the pair of `bits`-bit ends whose mix comes nearest; of equal ones the closer pair, where decoders that round
 * in their own ways differ least.
 */
function flatEnds(bits: number, mixOf: (a: number, b: number) => number): Uint8Array {
  const top = (1 << bits) - 1;
  const wide = (v: number) => (v << (8 - bits)) | (v >> (2 * bits - 8));
  const table = new Uint8Array(512);
  const least = new Float64Array(256).fill(Infinity);
  for (let a = 0; a <= top; a++) {
    for (let b = 0; b <= top; b++) {
      const mix = mixOf(wide(a), wide(b));
      for (let value = Math.max(0, Math.ceil(mix - 4)); value <= Math.min(255, mix + 4); value++) {
        const cost = Math.abs(Math.round((mix - value) * 3)) * 256 + Math.abs(a - b);
        if (cost >= least[value]) continue;
        least[value] = cost;
        table[value * 2] = a;
        table[value * 2 + 1] = b;
      }
    }
  }
  return table;
}

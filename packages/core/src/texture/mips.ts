/** Mip levels: windowed sums in linear light or of plain values, made row by row in the kernels. */
import { LINEAR_OF_SRGB8, LINEAR_ONE, srgb8OfLinear } from '../colour/srgb.ts';
import { newImage, type Image8 } from '../raster/image.ts';
import { kernel, type Kernel } from './kernel.ts';

export type MipFilter = 'box' | 'kaiser';
/**
 * How a map's values are averaged: sRGB colour in linear light; data as it stands; normals as vectors, brought back to length one;
 * ids never, the most frequent of the texels beneath stands for them.
 */
export type MipKind = 'srgb' | 'linear' | 'normal' | 'ids';

export interface MipOptions {
  kind: MipKind;
  filter: MipFilter;
  /** Levels, the full chain unless it says otherwise. */
  count?: number;
  /** Coverage weighs colour, so that clear texels do not bleed; data is a signal of its own. Coverage for sRGB, else data. */
  alpha?: 'coverage' | 'data';
  /** Alpha (0..1) at which a cut-out begins: every level then keeps the share of texels above it. */
  coverage?: number;
}

/** Levels of a full chain down to 1 x 1: floor(log2(longer side)) + 1 (common practice, and the Direct3D 11 functional specification, 5.7). */
export function fullMipCount(width: number, height: number): number {
  return 32 - Math.clz32(Math.max(width, height));
}

/** Size of a level: halved and rounded down, at least 1. */
export function mipSize(width: number, height: number, level: number): { width: number; height: number } {
  return { width: Math.max(1, width >> level), height: Math.max(1, height >> level) };
}

/** The mip chain of a straight RGBA8 image, level 0 first (the image itself). Every level is made from the floats of the one above. */
export function mipChain(image: Image8, options: MipOptions): Image8[] {
  const { kind, filter, alpha = kind === 'srgb' ? 'coverage' : 'data', coverage } = options;
  const count = Math.min(options.count ?? Infinity, fullMipCount(image.width, image.height));
  if (kind === 'ids') return majorityChain(image, count);
  const k = kernel();
  writeTables(k, kind);
  const levels = [image];
  const finish = kind === 'normal' ? NORMAL : alpha === 'coverage' ? WEIGHTED : PLAIN;
  let above: FloatImage | Image8 = image;
  const share = coverage === undefined ? 0 : shareAbove(image.data, 255, coverage);
  for (let level = 1; level < count; level++) {
    const size = mipSize(image.width, image.height, level);
    const floats = resample(k, above, size.width, size.height, filter, alpha === 'coverage');
    const scale = coverage === undefined ? 1 : alphaScale(floats.data, coverage, share);
    levels.push(toImage(k, floats, finish, scale));
    above = floats;
  }
  return levels;
}

interface FloatImage {
  width: number;
  height: number;
  /** Meanings of r g b and alpha 0..1; colour times alpha where alpha is coverage. */
  data: Float32Array;
}

// Addresses and numbers as in kernels/mips.ts; from ROWS on this module lays the memory out itself.
const MEANING = 0x200000;
const BYTE_OF = 0x201000;
const ROWS = 0x212000;
const [PLAIN, WEIGHTED, NORMAL] = [0, 1, 2];
/** Texels beyond a row's ends that windows may reach. */
const MARGIN = 32;

/** What each byte means, and the byte for each meaning. */
function writeTables(k: Kernel, kind: MipKind): void {
  const meaning = new Float32Array(k.memory.buffer, MEANING, 256);
  const byteOf = new Uint8Array(k.memory.buffer, BYTE_OF, 65536);
  for (let v = 0; v < 256; v++) {
    meaning[v] = kind === 'srgb' ? LINEAR_OF_SRGB8[v] / LINEAR_ONE : kind === 'normal' ? v / 127.5 - 1 : v / 255;
  }
  for (let i = 0; i < 65536; i++) {
    byteOf[i] =
      kind === 'srgb' ? srgb8OfLinear(Math.round((i / 65535) * LINEAR_ONE)) : Math.floor((i * 255) / 65535 + 0.5);
  }
}

/** One level from the one above: each row across, into a ring, and from the ring down. */
function resample(
  k: Kernel,
  from: FloatImage | Image8,
  width: number,
  height: number,
  filter: MipFilter,
  weigh: boolean,
): FloatImage {
  const across = weightsFor(from.width, width, filter);
  const down = weightsFor(from.height, height, filter);
  const taps = across[0].weights.length;
  const windows = ROWS;
  const source = align(windows + width * (1 + taps) * 4);
  const packed = source + (from.width + 2 * MARGIN) * 16;
  const sum = align(packed + from.width * 4);
  const ring = sum + width * 16;
  const slots = down[0].weights.length + 1;
  grow(k, ring + slots * width * 16);
  const view = new DataView(k.memory.buffer);
  across.forEach(({ first, weights }, x) => {
    const at = windows + x * (1 + taps) * 4;
    view.setInt32(at, first + MARGIN, true);
    weights.forEach((w, i) => view.setFloat32(at + 4 + i * 4, w, true));
  });
  const row = new Float32Array(k.memory.buffer, source, (from.width + 2 * MARGIN) * 4);
  const data = new Float32Array(width * height * 4);
  const slotOf = (y: number) => ring + (((y % slots) + slots) % slots) * width * 16;
  let done = -1;
  const fill = (y: number) => {
    const start = y * from.width * 4;
    if (from.data instanceof Float32Array) row.set(from.data.subarray(start, start + from.width * 4), MARGIN * 4);
    else {
      new Uint8Array(k.memory.buffer, packed, from.width * 4).set(from.data.subarray(start, start + from.width * 4));
      k.meanRow(packed, from.width, source + MARGIN * 16, weigh ? 1 : 0);
    }
    row.copyWithin(0, MARGIN * 4, MARGIN * 4 + 4);
    for (let m = 1; m < MARGIN; m++) row.copyWithin(m * 4, 0, 4);
    const end = (MARGIN + from.width) * 4;
    for (let m = 0; m < MARGIN; m++) row.copyWithin(end + m * 4, end - 4, end);
    k.acrossRow(source, windows, taps, slotOf(y), width);
  };
  for (let y = 0; y < height; y++) {
    const { first, weights } = down[y];
    const last = Math.min(from.height - 1, first + weights.length - 1);
    while (done < last) fill(++done);
    let begun = false;
    weights.forEach((w, i) => {
      const at = Math.max(0, Math.min(from.height - 1, first + i));
      k.addRow(sum, slotOf(at), w, width, begun ? 0 : 1);
      begun = true;
    });
    data.set(new Float32Array(k.memory.buffer, sum, width * 4), y * width * 4);
  }
  return { width, height, data };
}

const align = (address: number) => (address + 15) & ~15;

function grow(k: Kernel, end: number): void {
  const missing = end - k.memory.buffer.byteLength;
  if (missing > 0) k.memory.grow(Math.ceil(missing / 65536));
}

function toImage(k: Kernel, image: FloatImage, kind: number, scale: number): Image8 {
  const { width, height } = image;
  const out = newImage(width, height);
  const [source, packed] = [ROWS, ROWS + width * 16];
  grow(k, packed + width * 4);
  const row = new Float32Array(k.memory.buffer, source, width * 4);
  const bytes = new Uint8Array(k.memory.buffer, packed, width * 4);
  for (let y = 0; y < height; y++) {
    row.set(image.data.subarray(y * width * 4, (y + 1) * width * 4));
    k.byteRow(source, width, packed, kind, scale);
    out.data.set(bytes, y * width * 4);
  }
  return out;
}

/** Share of texels whose alpha is at or above the threshold. @param one what full alpha is */
function shareAbove(data: Uint8Array | Float32Array, one: number, threshold: number, scale = 1): number {
  let above = 0;
  for (let i = 3; i < data.length; i += 4) if (data[i] * scale >= threshold * one) above++;
  return above / (data.length / 4);
}

/** What to multiply alpha by so that as large a share as in level 0 stays above the threshold: by halving, to one in 4096. */
function alphaScale(data: Float32Array, threshold: number, share: number): number {
  let [low, high] = [0, 16];
  for (let step = 0; step < 16; step++) {
    const middle = (low + high) / 2;
    if (shareAbove(data, 1, threshold, middle) < share) low = middle;
    else high = middle;
  }
  return share === 0 ? 1 : high;
}

/** Each texel is the most frequent of those beneath it in the level above, of equal ones the first. */
function majorityChain(image: Image8, count: number): Image8[] {
  const levels = [image];
  for (let level = 1; level < count; level++) {
    const above = levels[level - 1];
    const { width, height } = mipSize(image.width, image.height, level);
    const from = new Uint32Array(above.data.buffer, above.data.byteOffset, above.data.length / 4);
    const out = newImage(width, height);
    const to = new Uint32Array(out.data.buffer);
    for (let y = 0; y < height; y++) {
      for (let x = 0; x < width; x++) to[y * width + x] = mostFrequent(from, above, x, y, width, height);
    }
    levels.push(out);
  }
  return levels;
}

function mostFrequent(texels: Uint32Array, above: Image8, x: number, y: number, width: number, height: number): number {
  const counts = new Map<number, number>();
  let [best, most] = [0, 0];
  for (let sy = Math.floor((y * above.height) / height); sy < ((y + 1) * above.height) / height; sy++) {
    for (let sx = Math.floor((x * above.width) / width); sx < ((x + 1) * above.width) / width; sx++) {
      const value = texels[sy * above.width + sx];
      const n = (counts.get(value) ?? 0) + 1;
      counts.set(value, n);
      if (n > most) [best, most] = [value, n];
    }
  }
  return best;
}

interface Weights {
  first: number;
  weights: number[];
}

/** Half width, in texels of the smaller level, and shape of the Kaiser-windowed sinc. */
const KAISER_WIDTH = 3;
const KAISER_ALPHA = 4;

/** What each texel of the smaller side takes from the larger; the weights of one texel add up to 1. All have the same number of taps. */
function weightsFor(from: number, to: number, filter: MipFilter): Weights[] {
  const scale = from / to;
  const all = Array.from({ length: to }, (_, i) => {
    const centre = (i + 0.5) * scale;
    const radius = from === to ? 0.5 : filter === 'box' ? scale / 2 : KAISER_WIDTH * scale;
    const first = Math.floor(centre - radius);
    const last = Math.ceil(centre + radius) - 1;
    const weights: number[] = [];
    for (let s = first; s <= last; s++) {
      if (filter === 'box' || from === to)
        weights.push(Math.min(s + 1, centre + radius) - Math.max(s, centre - radius));
      else weights.push(kaiserSinc((s + 0.5 - centre) / scale));
    }
    const sum = weights.reduce((a, b) => a + b, 0);
    return { first, weights: weights.map((w) => w / sum) };
  });
  const taps = Math.max(...all.map((w) => w.weights.length));
  for (const { weights } of all) while (weights.length < taps) weights.push(0);
  return all;
}

function kaiserSinc(x: number): number {
  const t = x / KAISER_WIDTH;
  if (t <= -1 || t >= 1) return 0;
  return sinc(x) * (bessel0(KAISER_ALPHA * Math.sqrt(1 - t * t)) / bessel0(KAISER_ALPHA));
}

/** sin(pi x) / (pi x) for |x| < 4, by reduction to a quarter turn and the Taylor series: the same on every engine. */
function sinc(x: number): number {
  const a = x < 0 ? -x : x;
  if (a < 1e-9) return 1;
  const turns = Math.round(a);
  const r = (a - turns) * 3.141592653589793;
  const r2 = r * r;
  let term = r;
  let sine = r;
  for (let k = 2; k < 22; k += 2) {
    term *= -r2 / (k * (k + 1));
    sine += term;
  }
  return (turns % 2 ? -sine : sine) / (a * 3.141592653589793);
}

/** Modified Bessel function of the first kind, order zero, by its power series. */
function bessel0(x: number): number {
  let sum = 1;
  let term = 1;
  for (let k = 1; k < 32; k++) {
    const half = x / (2 * k);
    term *= half * half;
    sum += term;
  }
  return sum;
}

/** Mip levels: windowed sums in linear light or of plain values, made row by row in the kernels. */
import { LINEAR_OF_SRGB8, LINEAR_ONE, srgb8OfLinear } from '../colour/srgb.ts';
import { wordsOf, type Image8 } from '../raster/image.ts';
import { kernel, type Kernel } from '../kernels/kernel.ts';

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

/**
 * Levels of a full chain down to 1 x 1: floor(log2(longer side)) + 1 (common practice, and the Direct3D 11 functional specification, 5.7).
 * @example
 * import { fullMipCount } from './texture/mips.ts';
 * fullMipCount(1024, 512); // 11
 */
export function fullMipCount(width: number, height: number): number {
  return 32 - Math.clz32(Math.max(width, height));
}

/**
 * Size of a level: halved and rounded down, at least 1.
 * @example
 * import { mipSize } from './texture/mips.ts';
 * mipSize(96, 48, 6); // { width: 1, height: 1 }
 */
export function mipSize(width: number, height: number, level: number): { width: number; height: number } {
  return { width: Math.max(1, width >> level), height: Math.max(1, height >> level) };
}

/** How a level is made from another: halved, or brought to any size (`fit`: averages when smaller, Catmull and Rom's cubic when larger). */
export type FilterOptions = Omit<MipOptions, 'filter'> & { filter: MipFilter | 'fit' };

/** The mip chain of a straight RGBA8 image, level 0 first (the image itself), on this thread. */
export function mipChain(image: Image8, options: MipOptions): Image8[] {
  const levels = emptyChain(image, options);
  if (options.kind === 'ids') fillMajority(levels);
  else {
    filterBand(image, options, 1, levels, 0, 1);
    keepCoverage(levels, options);
  }
  return levels;
}

/** The levels of a chain, to be filled. @param make where their texels are to lie */
export function emptyChain(
  image: Image8,
  options: MipOptions,
  make: (bytes: number) => Uint8Array = (bytes) => new Uint8Array(bytes),
): Image8[] {
  const count = Math.min(options.count ?? Infinity, fullMipCount(image.width, image.height));
  const levels = [image];
  for (let level = 1; level < count; level++) {
    const { width, height } = mipSize(image.width, image.height, level);
    levels.push({ width, height, data: make(width * height * 4) });
  }
  return levels;
}

/** A level as floats: r g b by their meaning and alpha 0..1; colour times alpha where alpha is coverage. */
export interface FloatImage {
  width: number;
  height: number;
  data: Float32Array;
}

/**
 * Fills a share of the rows of `levels` from `first` on, each level from the floats of the one above; no float level is ever held whole.
 * Bands give the same texels as one run over everything.
 * @param base the level above `first`: the image itself, or floats that an earlier call left
 * @param band which of `bands` shares
 * @param last takes the floats of the last level when more are to be made of it
 */
export function filterBand(
  base: Image8 | FloatImage,
  options: FilterOptions,
  first: number,
  levels: readonly Image8[],
  band: number,
  bands: number,
  last?: FloatImage,
): void {
  if (levels.length <= first) return;
  const { kind, filter, alpha = kind === 'srgb' ? 'coverage' : 'data' } = options;
  const k = kernel();
  writeTables(k, kind);
  const finish = kind === 'normal' ? NORMAL : alpha === 'coverage' ? WEIGHTED : PLAIN;
  const steps: Step[] = [];
  let end = ROWS;
  for (let level = first; level < levels.length; level++) {
    const above = level === first ? base : levels[level - 1];
    steps.push(layOut(above, levels[level], filter, end));
    end = steps[steps.length - 1].end;
  }
  const packed = end;
  grow(k, packed + base.width * 4);
  steps.forEach((step) => step.writeWindows(new DataView(k.memory.buffer)));
  const bytes = new Uint8Array(k.memory.buffer);
  const floats = new Float32Array(k.memory.buffer);
  const ints = new Int32Array(k.memory.buffer);

  /** Brings row y of what a step reads from into its source row, with margins. */
  const bring = (n: number, y: number) => {
    const { source, from } = steps[n];
    const at = source / 4 + MARGIN * 4;
    const start = y * from.width * 4;
    if (n > 0) {
      const row = makeRow(n - 1, y) / 4;
      floats.copyWithin(at, row, row + from.width * 4);
    } else if (base.data instanceof Float32Array) floats.set(base.data.subarray(start, start + from.width * 4), at);
    else {
      bytes.set(base.data.subarray(start, start + from.width * 4), packed);
      k.meanRow(packed, from.width, source + MARGIN * 16, alpha === 'coverage' ? 1 : 0);
    }
    for (let m = 0; m < MARGIN; m++) floats.copyWithin(source / 4 + m * 4, at, at + 4);
    const past = at + from.width * 4;
    for (let m = 0; m < MARGIN; m++) floats.copyWithin(past + m * 4, past - 4, past);
  };

  /** Makes row y of a step's level; rows are asked for in order. @returns where it lies */
  const makeRow = (n: number, y: number): number => {
    const step = steps[n];
    const { first: top, weights } = step.down[y];
    const bottom = Math.min(step.from.height - 1, top + weights.length - 1);
    for (step.done = Math.max(step.done, top - 1); step.done < bottom;) {
      step.done++;
      bring(n, step.done);
      k.acrossRow(step.source, step.windows, step.taps, step.slot(step.done), step.to.width);
    }
    for (let i = 0; i < weights.length; i++) {
      const row = Math.max(0, Math.min(step.from.height - 1, top + i));
      ints[(step.rows >> 2) + i * 2] = step.slot(row);
      floats[(step.rows >> 2) + i * 2 + 1] = weights[i];
    }
    k.sumRows(step.rows, weights.length, step.sum, step.to.width);
    step.next = y + 1;
    const { width, height, data } = step.to;
    if (y >= share(height, band, bands) && y < share(height, band + 1, bands)) {
      k.byteRow(step.sum, width, packed, finish, 1);
      data.set(bytes.subarray(packed, packed + width * 4), y * width * 4);
      if (last && n === steps.length - 1)
        last.data.set(floats.subarray(step.sum / 4, step.sum / 4 + width * 4), y * width * 4);
    }
    return step.sum;
  };

  // A level starts where its own band does, or earlier where the one below needs more.
  for (let n = steps.length - 1; n >= 0; n--) {
    const own = share(steps[n].to.height, band, bands);
    const below = steps[n + 1];
    steps[n].next = below ? Math.min(own, Math.max(0, below.down[below.next].first)) : own;
  }
  for (let n = steps.length - 1; n >= 0; n--) {
    const to = share(steps[n].to.height, band + 1, bands);
    while (steps[n].next < to) makeRow(n, steps[n].next);
  }
}

const share = (rows: number, band: number, bands: number) => Math.floor((rows * band) / bands);

// Addresses and numbers as in kernels/mips.ts; from ROWS on this module lays the memory out itself.
const MEANING = 0x200000;
const ALPHA = 0x200400;
const BYTE_OF = 0x201000;
const ROWS = 0x212000;
const [PLAIN, WEIGHTED, NORMAL] = [0, 1, 2];
/** Texels beyond a row's ends that windows may reach. */
const MARGIN = 32;

/** One level made from the one above, and where its rows lie. */
interface Step {
  from: { width: number; height: number };
  to: Image8;
  down: Weights[];
  taps: number;
  windows: number;
  source: number;
  /** Where the rows of a sum and their weights are listed. */
  rows: number;
  sum: number;
  end: number;
  /** The last row of `from` that is in the ring, and the next of `to` to be made. */
  done: number;
  next: number;
  slot(row: number): number;
  writeWindows(view: DataView): void;
}

function layOut(
  from: { width: number; height: number },
  to: Image8,
  filter: FilterOptions['filter'],
  start: number,
): Step {
  const across = weightsFor(from.width, to.width, filter);
  const down = weightsFor(from.height, to.height, filter);
  const taps = across[0].weights.length;
  const windows = start;
  const source = align(windows + to.width * (1 + taps) * 4);
  const rows = source + (from.width + 2 * MARGIN) * 16;
  const sum = align(rows + down[0].weights.length * 8);
  const ring = sum + to.width * 16;
  const slots = down[0].weights.length + 1;
  return {
    from,
    to,
    down,
    taps,
    windows,
    source,
    rows,
    sum,
    end: ring + slots * to.width * 16,
    done: -1,
    next: 0,
    slot: (row) => ring + (row % slots) * to.width * 16,
    writeWindows: (view) =>
      across.forEach(({ first, weights }, x) => {
        const at = windows + x * (1 + taps) * 4;
        view.setInt32(at, first + MARGIN, true);
        weights.forEach((w, i) => view.setFloat32(at + 4 + i * 4, w, true));
      }),
  };
}

/** What each byte means, and the byte for each meaning. */
function writeTables(k: Kernel, kind: MipKind): void {
  const meaning = new Float32Array(k.memory.buffer, MEANING, 256);
  const alpha = new Float32Array(k.memory.buffer, ALPHA, 256);
  const byteOf = new Uint8Array(k.memory.buffer, BYTE_OF, 65536);
  for (let v = 0; v < 256; v++) {
    // Of whole numbers under 2^24 the quotient in double, rounded once more, is the one in single.
    alpha[v] = v / 255;
    meaning[v] = kind === 'srgb' ? LINEAR_OF_SRGB8[v] / LINEAR_ONE : kind === 'normal' ? v / 127.5 - 1 : v / 255;
  }
  for (let i = 0; i < 65536; i++) {
    byteOf[i] =
      kind === 'srgb' ? srgb8OfLinear(Math.round((i / 65535) * LINEAR_ONE)) : Math.floor((i * 255) / 65535 + 0.5);
  }
}

const align = (address: number) => (address + 15) & ~15;

function grow(k: Kernel, end: number): void {
  const missing = end - k.memory.buffer.byteLength;
  if (missing > 0) k.memory.grow(Math.ceil(missing / 65536));
}

/** Brings the alpha of each level to where as large a share of its texels as in level 0 is at or above the cut. */
export function keepCoverage(levels: readonly Image8[], { coverage }: MipOptions): void {
  if (coverage === undefined) return;
  const cut = coverage * 255;
  const wanted = shareAbove(levels[0], (alpha) => alpha >= cut);
  if (wanted === 0 || wanted === 1) return;
  for (const level of levels.slice(1)) {
    let [low, high] = [0, 16];
    for (let step = 0; step < 20; step++) {
      const middle = (low + high) / 2;
      if (shareAbove(level, (alpha) => alpha * middle >= cut) < wanted) low = middle;
      else high = middle;
    }
    // Shares go in steps: of the two about the wanted one, the nearer.
    const off = (scale: number) => Math.abs(shareAbove(level, (alpha) => alpha * scale >= cut) - wanted);
    const scale = off(low) < off(high) ? low : high;
    const { data } = level;
    for (let i = 3; i < data.length; i += 4) data[i] = Math.min(255, Math.floor(data[i] * scale + 0.5));
  }
}

function shareAbove({ data }: Image8, above: (alpha: number) => boolean): number {
  const counts = new Uint32Array(256);
  for (let i = 3; i < data.length; i += 4) counts[data[i]]++;
  return counts.reduce((n, count, alpha) => n + (above(alpha) ? count : 0), 0) / (data.length / 4);
}

/** Each texel is the most frequent of those beneath it in the level above, of equal ones the one that is so first, row by row. */
function fillMajority(levels: readonly Image8[]): void {
  for (let level = 1; level < levels.length; level++) {
    const above = levels[level - 1];
    const { width, height, data } = levels[level];
    const [from, to] = [wordsOf(above.data), wordsOf(data)];
    const halved = above.width === 2 * width && above.height === 2 * height;
    for (let y = 0, i = 0; y < height; y++)
      for (let x = 0; x < width; x++, i++) {
        if (!halved) {
          to[i] = mostFrequent(from, above, x, y, width, height);
          continue;
        }
        const at = y * 2 * above.width + x * 2;
        const [a, b, c, d] = [from[at], from[at + 1], from[at + above.width], from[at + above.width + 1]];
        to[i] = a === b || a === c ? a : b === c || b === d ? b : c === d ? c : a;
      }
  }
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

/** What one texel of a smaller side is made of: the first texel of the larger side (before 0 or past its end: the last one again), and the weights from there on. */
export interface Weights {
  first: number;
  weights: number[];
}

/** Half width, in texels of the smaller level, and shape of the Kaiser-windowed sinc. */
const KAISER_WIDTH = 3;
const KAISER_ALPHA = 4;

/** What each texel of the smaller side takes from the larger; the weights of one texel add up to 1. All have the same number of taps. */
export function weightsFor(from: number, to: number, filter: FilterOptions['filter']): Weights[] {
  const scale = from / to;
  if (filter === 'fit') return from < to ? cubicWeights(scale, to) : weightsFor(from, to, 'box');
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

function cubicWeights(scale: number, to: number): Weights[] {
  return Array.from({ length: to }, (_, i) => {
    const centre = (i + 0.5) * scale - 0.5;
    const base = Math.floor(centre);
    const t = centre - base;
    const weights = [
      ((2 - t) * t - 1) * t * 0.5,
      ((3 * t - 5) * t * t + 2) * 0.5,
      ((4 - 3 * t) * t + 1) * t * 0.5,
      (t - 1) * t * t * 0.5,
    ];
    return { first: base - 1, weights };
  });
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

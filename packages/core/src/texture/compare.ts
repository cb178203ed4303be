import { ciede2000, labOfSrgb8 } from '../colour/ciede2000.ts';
import type { Image8 } from '../raster/image.ts';
import { InputError } from '../errors.ts';

export interface Comparison {
  /** dB over R, G and B; Infinity when equal. */
  psnrRgb: number;
  psnrAlpha: number;
  /** Largest difference of any channel, 0..255. */
  largest: number;
  /** CIEDE2000 over all texels, alpha aside: the mean, and what 95 of 100 stay under. */
  deltaE: { mean: number; percentile95: number };
}

/** Two straight RGBA8 images of one size. @throws InputError when the sizes differ */
export function compareImages(a: Image8, b: Image8): Comparison {
  if (a.width !== b.width || a.height !== b.height) {
    throw new InputError(`The pictures differ in size: ${a.width} x ${a.height} and ${b.width} x ${b.height}.`);
  }
  const squares = squaredErrors(a, b);
  const rgb = psnrOf(squares[0] + squares[1] + squares[2], a.width * a.height * 3);
  let largest = 0;
  for (let i = 0; i < a.data.length; i++) {
    const d = Math.abs(a.data[i] - b.data[i]);
    if (d > largest) largest = d;
  }
  return { psnrRgb: rgb, psnrAlpha: psnrOf(squares[3], a.width * a.height), largest, deltaE: deltaE(a, b) };
}

/** Sums of squared differences of r, g, b and alpha. */
export function squaredErrors(a: Image8, b: Image8): [number, number, number, number] {
  let [r, g, bl, al] = [0, 0, 0, 0];
  for (let i = 0; i < a.data.length; i += 4) {
    const [dr, dg] = [a.data[i] - b.data[i], a.data[i + 1] - b.data[i + 1]];
    const [db, da] = [a.data[i + 2] - b.data[i + 2], a.data[i + 3] - b.data[i + 3]];
    r += dr * dr;
    g += dg * dg;
    bl += db * db;
    al += da * da;
  }
  return [r, g, bl, al];
}

/** Peak signal-to-noise ratio in dB: 10 log10(255^2 / mean squared error); Infinity when there is no error. */
export function psnrOf(squares: number, values: number): number {
  return squares === 0 ? Infinity : 10 * Math.log10((255 * 255 * values) / squares);
}

/** The same over the channels that a format carries. */
export function psnrOver(a: Image8, b: Image8, channels: 'rgba' | 'rgb' | 'rg' | 'r'): number {
  const squares = squaredErrors(a, b).slice(0, channels.length);
  return psnrOf(
    squares.reduce((sum, s) => sum + s, 0),
    a.width * a.height * channels.length,
  );
}

function deltaE(a: Image8, b: Image8): Comparison['deltaE'] {
  const all = new Float64Array(a.width * a.height);
  let sum = 0;
  for (let i = 0, o = 0; i < all.length; i++, o += 4) {
    const same = a.data[o] === b.data[o] && a.data[o + 1] === b.data[o + 1] && a.data[o + 2] === b.data[o + 2];
    if (same) continue;
    all[i] = ciede2000(
      labOfSrgb8(a.data[o], a.data[o + 1], a.data[o + 2]),
      labOfSrgb8(b.data[o], b.data[o + 1], b.data[o + 2]),
    );
    sum += all[i];
  }
  all.sort();
  return { mean: sum / all.length, percentile95: all[Math.min(all.length - 1, Math.floor(all.length * 0.95))] };
}

import { ciede2000, labOfSrgb8 } from '../colour/ciede2000.ts';
import type { Image8 } from '../raster/image.ts';
import { InputError } from '../errors.ts';
import { decodeImage } from './encode.ts';
import { FORMATS, type FormatKey } from './formats/index.ts';

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

/** The same over the channels that a format carries. @param squares of r, g, b, alpha */
export function psnrOver(squares: readonly number[], texels: number, channels: 'rgba' | 'rgb' | 'rg' | 'r'): number {
  const sum = squares.slice(0, channels.length).reduce((a, b) => a + b, 0);
  return psnrOf(sum, texels * channels.length);
}

/** Squared errors of r, g, b and alpha that rows of blocks make, `bytes` being their encoding. */
export function rowErrors(image: Image8, key: FormatKey, from: number, to: number, bytes: Uint8Array): number[] {
  const step = FORMATS[key].blockBytes ? 4 : 1;
  const [top, bottom] = [from * step, Math.min(image.height, to * step)];
  const part = image.data.subarray(top * image.width * 4, bottom * image.width * 4);
  const painted = { width: image.width, height: bottom - top, data: part };
  return squaredErrors(painted, decodeImage(bytes, key, image.width, bottom - top));
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

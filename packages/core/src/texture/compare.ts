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

/** Peak signal-to-noise ratio of two straight RGBA8 images of one size: 10 log10(255^2 / mean squared error). */
export function compareImages(a: Image8, b: Image8): Comparison {
  if (a.width !== b.width || a.height !== b.height) {
    throw new InputError(`The pictures differ in size: ${a.width} x ${a.height} and ${b.width} x ${b.height}.`);
  }
  let [rgb, alpha, largest] = [0, 0, 0];
  for (let i = 0; i < a.data.length; i++) {
    const d = Math.abs(a.data[i] - b.data[i]);
    if (d > largest) largest = d;
    if ((i & 3) === 3) alpha += d * d;
    else rgb += d * d;
  }
  const texels = a.width * a.height;
  const psnr = (sum: number, count: number) => (sum === 0 ? Infinity : 10 * Math.log10((255 * 255 * count) / sum));
  return { psnrRgb: psnr(rgb, texels * 3), psnrAlpha: psnr(alpha, texels), largest, deltaE: deltaE(a, b) };
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

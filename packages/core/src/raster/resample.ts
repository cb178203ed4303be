/** A picture at another size: averages of the texels beneath when it becomes smaller, cubic between them when it grows. */
import { LINEAR_OF_SRGB8, LINEAR_ONE, srgb8OfLinear } from '../colour/srgb.ts';
import { newImage, type Image8 } from './image.ts';

/** `srgb` averages colour in linear light, `linear` values as they stand, `nearest` takes over single texels (pixel art, ids). */
export type ResampleKind = 'srgb' | 'linear' | 'nearest';

interface Taps {
  first: number;
  weights: Float64Array;
}

/**
 * Straight RGBA8 in, straight RGBA8 out; alpha weighs colour, so that clear texels do not bleed. Smaller: exact box average. Larger:
 * Catmull and Rom, "A class of local interpolating splines", 1974, which goes through the texels.
 */
export function resample(image: Image8, width: number, height: number, kind: ResampleKind): Image8 {
  if (image.width === width && image.height === height) return image;
  const out = newImage(width, height);
  if (kind === 'nearest') {
    for (let y = 0, o = 0; y < height; y++) {
      const row = Math.floor(((y + 0.5) * image.height) / height) * image.width;
      for (let x = 0; x < width; x++, o += 4) {
        const from = (row + Math.floor(((x + 0.5) * image.width) / width)) * 4;
        out.data.set(image.data.subarray(from, from + 4), o);
      }
    }
    return out;
  }
  const linear = kind === 'srgb' ? LINEAR_OF_SRGB8 : PLAIN;
  const columns = tapsOf(image.width, width);
  const rows = tapsOf(image.height, height);
  const lines = new Map<number, Float64Array>();
  /** One row of the source at the new width: r g b times alpha, and alpha 0..255. */
  const lineOf = (y: number): Float64Array => {
    const known = lines.get(y);
    if (known) return known;
    const line = new Float64Array(width * 4);
    for (let x = 0; x < width; x++) {
      const { first, weights } = columns[x];
      for (let k = 0; k < weights.length; k++) {
        const i = (y * image.width + first + k) * 4;
        const a = image.data[i + 3] * weights[k];
        for (let c = 0; c < 3; c++) line[x * 4 + c] += linear[image.data[i + c]] * a;
        line[x * 4 + 3] += a;
      }
    }
    lines.set(y, line);
    return line;
  };
  const sum = new Float64Array(width * 4);
  for (let y = 0; y < height; y++) {
    const { first, weights } = rows[y];
    for (const held of lines.keys()) if (held < first) lines.delete(held);
    sum.fill(0);
    weights.forEach((weight, k) => {
      const line = lineOf(first + k);
      for (let i = 0; i < sum.length; i++) sum[i] += line[i] * weight;
    });
    for (let x = 0, o = y * width * 4; x < width; x++, o += 4) {
      const a = sum[x * 4 + 3];
      if (a <= 0.001) continue;
      for (let c = 0; c < 3; c++) {
        const value = Math.max(0, Math.min(LINEAR_ONE, sum[x * 4 + c] / a));
        out.data[o + c] = kind === 'srgb' ? srgb8OfLinear(value) : Math.round((value / LINEAR_ONE) * 255);
      }
      out.data[o + 3] = Math.max(0, Math.min(255, Math.round(a)));
    }
  }
  return out;
}

const PLAIN = Float64Array.from({ length: 256 }, (_, i) => (i / 255) * LINEAR_ONE);

/** For each texel of the new row the old ones that it is made of; weights sum to 1. */
function tapsOf(from: number, to: number): Taps[] {
  const scale = from / to;
  return Array.from({ length: to }, (_, i) => {
    const taps = new Map<number, number>();
    const add = (at: number, weight: number) => {
      const inside = Math.max(0, Math.min(from - 1, at));
      if (weight !== 0) taps.set(inside, (taps.get(inside) ?? 0) + weight);
    };
    if (scale >= 1) {
      const [low, high] = [i * scale, (i + 1) * scale];
      for (let at = Math.floor(low); at < high; at++) add(at, (Math.min(at + 1, high) - Math.max(at, low)) / scale);
    } else {
      const centre = (i + 0.5) * scale - 0.5;
      const base = Math.floor(centre);
      const t = centre - base;
      add(base - 1, ((2 - t) * t - 1) * t * 0.5);
      add(base, ((3 * t - 5) * t * t + 2) * 0.5);
      add(base + 1, ((4 - 3 * t) * t + 1) * t * 0.5);
      add(base + 2, (t - 1) * t * t * 0.5);
    }
    const first = Math.min(...taps.keys());
    const weights = new Float64Array(Math.max(...taps.keys()) - first + 1);
    for (const [at, weight] of taps) weights[at - first] = weight;
    return { first, weights };
  });
}

/** The picture mirrored: `across` changes left and right, `down` top and bottom. */
export function mirrorImage(image: Image8, mirror: 'none' | 'across' | 'down'): Image8 {
  if (mirror === 'none') return image;
  const { width, height } = image;
  const from = new Uint32Array(image.data.buffer, image.data.byteOffset, width * height);
  const out = newImage(width, height);
  const to = new Uint32Array(out.data.buffer);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++)
      to[y * width + x] = mirror === 'across' ? from[y * width + width - 1 - x] : from[(height - 1 - y) * width + x];
  return out;
}

import { LINEAR_OF_SRGB8, LINEAR_ONE, srgb8OfLinear } from '../colour/srgb.ts';
import type { Image8 } from '../raster/image.ts';

export type MipFilter = 'box' | 'kaiser';
/** How a map's values are averaged: sRGB colour in linear light; data as it stands. */
export type MipKind = 'srgb' | 'linear';

/** Levels of a full chain down to 1 x 1: floor(log2(longer side)) + 1 (common practice, and the Direct3D 11 functional specification, 5.7). */
export function fullMipCount(width: number, height: number): number {
  return 32 - Math.clz32(Math.max(width, height));
}

/** Size of a level: halved and rounded down, at least 1. */
export function mipSize(width: number, height: number, level: number): { width: number; height: number } {
  return { width: Math.max(1, width >> level), height: Math.max(1, height >> level) };
}

/**
 * The mip chain of a straight RGBA8 image, level 0 first (the image itself). Colour is weighted by alpha, so that clear texels
 * do not bleed into edges. Every level is made from the one above it, kept in doubles, and rounded once.
 */
export function mipChain(
  image: Image8,
  kind: MipKind,
  filter: MipFilter,
  count = fullMipCount(image.width, image.height),
): Image8[] {
  const levels = [image];
  let current = toFloat(image, kind);
  for (let level = 1; level < count; level++) {
    const size = mipSize(image.width, image.height, level);
    current = resample(current, size.width, size.height, filter);
    levels.push(toImage(current, kind));
  }
  return levels;
}

interface FloatImage {
  width: number;
  height: number;
  /** Premultiplied, 0..1 linear light or plain value; alpha 0..1. */
  data: Float32Array;
}

function toFloat(image: Image8, kind: MipKind): FloatImage {
  const data = new Float32Array(image.data.length);
  for (let i = 0; i < data.length; i += 4) {
    const a = image.data[i + 3] / 255;
    for (let c = 0; c < 3; c++) {
      const v = image.data[i + c];
      data[i + c] = (kind === 'srgb' ? LINEAR_OF_SRGB8[v] / LINEAR_ONE : v / 255) * a;
    }
    data[i + 3] = a;
  }
  return { width: image.width, height: image.height, data };
}

function toImage(image: FloatImage, kind: MipKind): Image8 {
  const data = new Uint8Array(image.data.length);
  for (let i = 0; i < data.length; i += 4) {
    const a = image.data[i + 3];
    if (a <= 0) continue;
    for (let c = 0; c < 3; c++) {
      const v = image.data[i + c] / a;
      const clamped = v < 0 ? 0 : v > 1 ? 1 : v;
      data[i + c] =
        kind === 'srgb' ? srgb8OfLinear(Math.floor(clamped * LINEAR_ONE + 0.5)) : Math.floor(clamped * 255 + 0.5);
    }
    data[i + 3] = Math.floor(Math.min(1, a) * 255 + 0.5);
  }
  return { width: image.width, height: image.height, data };
}

function resample(image: FloatImage, width: number, height: number, filter: MipFilter): FloatImage {
  const across = weightsFor(image.width, width, filter);
  const down = weightsFor(image.height, height, filter);
  const middle = new Float32Array(width * image.height * 4);
  for (let y = 0; y < image.height; y++) {
    for (let x = 0; x < width; x++) {
      const { first, weights } = across[x];
      let [r, g, b, a] = [0, 0, 0, 0];
      for (let k = 0; k < weights.length; k++) {
        const sx = Math.max(0, Math.min(image.width - 1, first + k));
        const i = (y * image.width + sx) * 4;
        const w = weights[k];
        r += image.data[i] * w;
        g += image.data[i + 1] * w;
        b += image.data[i + 2] * w;
        a += image.data[i + 3] * w;
      }
      const o = (y * width + x) * 4;
      middle[o] = r;
      middle[o + 1] = g;
      middle[o + 2] = b;
      middle[o + 3] = a;
    }
  }
  const out = new Float32Array(width * height * 4);
  for (let y = 0; y < height; y++) {
    const { first, weights } = down[y];
    for (let k = 0; k < weights.length; k++) {
      const row = Math.max(0, Math.min(image.height - 1, first + k)) * width * 4;
      const w = weights[k];
      const o = y * width * 4;
      for (let i = 0; i < width * 4; i++) out[o + i] += middle[row + i] * w;
    }
  }
  return { width, height, data: out };
}

interface Weights {
  first: number;
  weights: number[];
}

/** Half width, in texels of the smaller level, and shape of the Kaiser-windowed sinc. */
const KAISER_WIDTH = 3;
const KAISER_ALPHA = 4;

/** What each texel of the smaller side takes from the larger; the weights of one texel add up to 1. */
function weightsFor(from: number, to: number, filter: MipFilter): Weights[] {
  const scale = from / to;
  return Array.from({ length: to }, (_, i) => {
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

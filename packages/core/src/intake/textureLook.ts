/** What a texture's pixels say about its use, in figures. */
import { alphaKind, type Image8 } from '../raster/image.ts';

export interface TextureLook {
  readonly alpha: 'none' | 'cutout' | 'soft';
  /** Mean and standard deviation of each channel, 0..255: red, green, blue, alpha. */
  readonly mean: readonly number[];
  readonly spread: readonly number[];
  /** Share of texels whose three channels are alike within 4, of those that are not near black (of all, where all are). */
  readonly grey: number;
  /** Correlation of red and green, green and blue, red and blue, -1..1; 0 where a channel is flat. */
  readonly together: readonly [number, number, number];
  /** Mean length of 2c - 1 taken as a vector, and how far lengths stray from 1 (root mean square). */
  readonly length: number;
  readonly stray: number;
  /** The same over red and green alone with the third worked out: share of texels where they fit into the unit circle. */
  readonly inCircle: number;
  /** Share of texels near black (all channels below 24). */
  readonly black: number;
  /** For each channel the share of texels below 16 or above 239. */
  readonly extreme: readonly number[];
  /** Colours at 3 bits a channel that make up 95 % of the texels; at most 64 are counted. */
  readonly colours: number;
  /** 16 x 16 means of luma, 0..255: pictures of one thing at several sizes have nearly the same. */
  readonly small: Float32Array;
}

const SIDE = 16;
/** Larger textures are looked at through every n-th texel. */
const MOST = 1 << 18;

export function lookOfTexture(image: Image8): TextureLook {
  const { width, height, data } = image;
  const step = Math.max(1, Math.ceil(Math.sqrt((width * height) / MOST)));
  const sum = [0, 0, 0, 0];
  const square = [0, 0, 0, 0];
  const cross = [0, 0, 0];
  const extreme = [0, 0, 0, 0];
  const small = new Float32Array(SIDE * SIDE);
  const smallCount = new Float32Array(SIDE * SIDE);
  const histogram = new Uint32Array(512);
  let n = 0;
  let grey = 0;
  let black = 0;
  let lengths = 0;
  let strays = 0;
  let circle = 0;
  for (let y = 0; y < height; y += step) {
    for (let x = 0; x < width; x += step) {
      const i = (y * width + x) * 4;
      const [r, g, b, a] = [data[i], data[i + 1], data[i + 2], data[i + 3]];
      n++;
      for (let c = 0; c < 4; c++) {
        const v = data[i + c];
        sum[c] += v;
        square[c] += v * v;
        if (v < 16 || v > 239) extreme[c]++;
      }
      cross[0] += r * g;
      cross[1] += g * b;
      cross[2] += r * b;
      if (r < 24 && g < 24 && b < 24) black++;
      else if (Math.max(r, g, b) - Math.min(r, g, b) <= 4) grey++;
      const [vx, vy, vz] = [r / 127.5 - 1, g / 127.5 - 1, b / 127.5 - 1];
      const length = Math.sqrt(vx * vx + vy * vy + vz * vz);
      lengths += length;
      strays += (length - 1) * (length - 1);
      if (vx * vx + vy * vy <= 1.02) circle++;
      histogram[((r >> 5) << 6) | ((g >> 5) << 3) | (b >> 5)]++;
      const cell = Math.floor((y * SIDE) / height) * SIDE + Math.floor((x * SIDE) / width);
      // Clear texels show nothing, whatever colour lies under them.
      small[cell] += ((0.2126 * r + 0.7152 * g + 0.0722 * b) * a) / 255;
      smallCount[cell]++;
    }
  }
  for (let i = 0; i < small.length; i++) small[i] /= Math.max(1, smallCount[i]);
  const mean = sum.map((s) => s / n);
  const variance = square.map((s, c) => Math.max(0, s / n - mean[c] * mean[c]));
  const correlation = (k: number, p: number, q: number) => {
    const both = Math.sqrt(variance[p] * variance[q]);
    return both < 1 ? 0 : (cross[k] / n - mean[p] * mean[q]) / both;
  };
  let colours = 0;
  let counted = 0;
  for (const share of [...histogram].sort((a, b) => b - a)) {
    if (counted >= n * 0.95 || colours >= 64) break;
    counted += share;
    colours++;
  }
  return {
    alpha: alphaKind(image),
    mean,
    spread: variance.map(Math.sqrt),
    grey: black === n ? 1 : grey / (n - black),
    together: [correlation(0, 0, 1), correlation(1, 1, 2), correlation(2, 0, 2)],
    length: lengths / n,
    stray: Math.sqrt(strays / n),
    inCircle: circle / n,
    black: black / n,
    extreme: extreme.map((e) => e / n),
    colours,
    small,
  };
}

/** Mean difference of two small pictures, 0..255, and the same after both are brought to one brightness. */
export function apartness(a: TextureLook, b: TextureLook): { plain: number; shape: number } {
  let plain = 0;
  const norm = ({ small }: TextureLook) => {
    const mean = small.reduce((s, v) => s + v, 0) / small.length;
    const spread = Math.sqrt(small.reduce((s, v) => s + (v - mean) * (v - mean), 0) / small.length);
    return small.map((v) => (spread < 0.5 ? 0 : (v - mean) / spread));
  };
  const [p, q] = [norm(a), norm(b)];
  let shape = 0;
  for (let i = 0; i < p.length; i++) {
    plain += Math.abs(a.small[i] - b.small[i]);
    shape += Math.abs(p[i] - q[i]);
  }
  return { plain: plain / p.length, shape: shape / p.length };
}

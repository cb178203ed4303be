/** Softening with a Gaussian, the same wherever a tile begins. */
import { exp } from '../colour/steady.ts';

/** How far beyond a texel it looks. */
export const reachOf = (sigma: number): number => Math.ceil(sigma * 3.2) + 2;

/** Below this a kernel of integer weights is exact and quick; above it three boxes with fractional ends stand for the Gaussian. */
const DIRECT = 3;

/**
 * Softens in place with a Gaussian of standard deviation `sigma` in samples; beyond the edges everything is what is at the edge.
 * All sums are of integers, so a sample's outcome does not depend on where its tile begins. Wide ones are three extended boxes
 * (Gwosdek, Grewenig, Bruhn and Weickert, "Theoretical Foundations of Gaussian Convolution by Extended Box Filtering", 2011).
 */
export function gaussian(values: Uint16Array, width: number, height: number, channels: number, sigma: number): void {
  if (sigma < 0.05) return;
  const line = new Float64Array(Math.max(width, height));
  const out = new Float64Array(line.length);
  const pass = sigma < DIRECT ? directPass(sigma) : boxesPass(sigma);
  const run = (start: number, count: number, stride: number) => {
    let any = false;
    for (let i = 0, at = start; i < count; i++, at += stride) any = (line[i] = values[at]) > 0 || any;
    if (!any) return;
    pass(line, out, count);
    for (let i = 0, at = start; i < count; i++, at += stride) values[at] = out[i];
  };
  for (let c = 0; c < channels; c++) {
    for (let y = 0; y < height; y++) run(y * width * channels + c, width, channels);
    for (let x = 0; x < width; x++) run(x * channels + c, height, width * channels);
  }
}

type Pass = (line: Float64Array, out: Float64Array, count: number) => void;

function directPass(sigma: number): Pass {
  const reach = Math.ceil(sigma * 4);
  const weights = Array.from({ length: reach + 1 }, (_, i) => Math.round(exp((-i * i) / (2 * sigma * sigma)) * 65536));
  const total = weights[0] + 2 * weights.slice(1).reduce((a, b) => a + b, 0);
  return (line, out, count) => {
    for (let i = 0; i < count; i++) {
      let sum = line[i] * weights[0];
      for (let k = 1; k <= reach; k++)
        sum += (line[i - k < 0 ? 0 : i - k] + line[i + k >= count ? count - 1 : i + k]) * weights[k];
      out[i] = Math.floor(sum / total + 0.5);
    }
  };
}

function boxesPass(sigma: number): Pass {
  // Each box has a third of the variance: full weight within r, a share of 1/1024ths one further.
  const variance = (sigma * sigma) / 3;
  const r = Math.floor(0.5 * Math.sqrt(12 * variance + 1) - 0.5);
  const length = 2 * r + 1;
  const share = ((length * (r * (r + 1) - 3 * variance)) / (6 * (variance - (r + 1) * (r + 1)))) * 1024;
  const edge = Math.max(0, Math.round(share));
  const total = 1024 * length + 2 * edge;
  const box: Pass = (line, out, count) => {
    const at = (i: number) => line[i < 0 ? 0 : i >= count ? count - 1 : i];
    let sum = 0;
    for (let k = -r; k <= r; k++) sum += at(k);
    for (let i = 0; i < count; i++) {
      out[i] = Math.floor((sum * 1024 + (at(i - r - 1) + at(i + r + 1)) * edge) / total + 0.5);
      sum += at(i + r + 1) - at(i - r);
    }
  };
  return (line, out, count) => {
    const middle = new Float64Array(count);
    box(line, out, count);
    box(out, middle, count);
    box(middle, out, count);
  };
}

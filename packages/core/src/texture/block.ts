import type { Image8 } from '../raster/image.ts';

/** Copies the 4 x 4 block at block column bx, row by into `out` (64 bytes RGBA8); edge texels repeat past the image. */
export function readBlock(image: Image8, bx: number, by: number, out: Uint8Array): void {
  const { width, height, data } = image;
  for (let y = 0, o = 0; y < 4; y++) {
    const sy = by * 4 + y < height ? by * 4 + y : height - 1;
    for (let x = 0; x < 4; x++, o += 4) {
      const sx = bx * 4 + x < width ? bx * 4 + x : width - 1;
      const i = (sy * width + sx) * 4;
      out[o] = data[i];
      out[o + 1] = data[i + 1];
      out[o + 2] = data[i + 2];
      out[o + 3] = data[i + 3];
    }
  }
}

/** Writes a block's texels that lie inside the image. */
export function writeBlock(image: Image8, bx: number, by: number, block: Uint8Array): void {
  for (let y = 0; y < 4 && by * 4 + y < image.height; y++) {
    for (let x = 0; x < 4 && bx * 4 + x < image.width; x++) {
      const i = ((by * 4 + y) * image.width + bx * 4 + x) * 4;
      const o = (y * 4 + x) * 4;
      for (let c = 0; c < 4; c++) image.data[i + c] = block[o + c];
    }
  }
}

/** Fits a line through some texels of a block. Scratch for the encoders: one of them runs at a time. */
export class LineFit {
  readonly low = new Float64Array(4);
  readonly high = new Float64Array(4);
  private readonly mean = new Float64Array(4);
  private readonly axis = new Float64Array(4);
  private readonly cov = new Float64Array(16);

  /**
   * Ends of the texels' spread along their principal axis into `low` and `high` (not clamped).
   * @param member which of the 16 texels count (value `subset`), null for all
   */
  fit(block: Uint8Array, channels: number, member: Uint8Array | null, subset: number): void {
    const { mean, axis, cov, low, high } = this;
    mean.fill(0);
    cov.fill(0);
    let n = 0;
    for (let i = 0; i < 16; i++) {
      if (member && member[i] !== subset) continue;
      n++;
      for (let c = 0; c < channels; c++) mean[c] += block[i * 4 + c];
    }
    for (let c = 0; c < channels; c++) mean[c] /= n;
    for (let i = 0; i < 16; i++) {
      if (member && member[i] !== subset) continue;
      for (let a = 0; a < channels; a++) {
        const da = block[i * 4 + a] - mean[a];
        for (let b = a; b < channels; b++) cov[a * 4 + b] += da * (block[i * 4 + b] - mean[b]);
      }
    }
    for (let a = 0; a < channels; a++) for (let b = 0; b < a; b++) cov[a * 4 + b] = cov[b * 4 + a];
    let start = 0;
    for (let c = 1; c < channels; c++) if (cov[c * 5] > cov[start * 5]) start = c;
    for (let c = 0; c < channels; c++) axis[c] = cov[start * 4 + c];
    for (let round = 0; round < 6; round++) {
      let [x, y, z, w] = [0, 0, 0, 0];
      for (let c = 0; c < channels; c++) {
        x += cov[c] * axis[c];
        y += cov[4 + c] * axis[c];
        z += cov[8 + c] * axis[c];
        w += cov[12 + c] * axis[c];
      }
      const size = Math.max(Math.abs(x), Math.abs(y), Math.abs(z), Math.abs(w));
      if (size < 1e-9) break;
      axis[0] = x / size;
      axis[1] = y / size;
      axis[2] = z / size;
      axis[3] = w / size;
    }
    let norm = 0;
    for (let c = 0; c < channels; c++) norm += axis[c] * axis[c];
    if (norm < 1e-9) {
      low.set(mean);
      high.set(mean);
      return;
    }
    let [from, to] = [Infinity, -Infinity];
    for (let i = 0; i < 16; i++) {
      if (member && member[i] !== subset) continue;
      let t = 0;
      for (let c = 0; c < channels; c++) t += (block[i * 4 + c] - mean[c]) * axis[c];
      t /= norm;
      if (t < from) from = t;
      if (t > to) to = t;
    }
    for (let c = 0; c < channels; c++) {
      low[c] = mean[c] + from * axis[c];
      high[c] = mean[c] + to * axis[c];
    }
  }

  /**
   * Least-squares ends for given weights (share of the high end, 0..1) into `low` and `high`.
   * @returns false when the weights are all alike and decide nothing
   */
  solve(block: Uint8Array, channels: number, member: Uint8Array | null, subset: number, weight: Float64Array): boolean {
    let [aa, ab, bb] = [0, 0, 0];
    const { low, high } = this;
    low.fill(0);
    high.fill(0);
    for (let i = 0; i < 16; i++) {
      if (member && member[i] !== subset) continue;
      const b = weight[i];
      const a = 1 - b;
      aa += a * a;
      ab += a * b;
      bb += b * b;
      for (let c = 0; c < channels; c++) {
        low[c] += a * block[i * 4 + c];
        high[c] += b * block[i * 4 + c];
      }
    }
    const det = aa * bb - ab * ab;
    if (det < 1e-6) return false;
    for (let c = 0; c < channels; c++) {
      const l = (low[c] * bb - high[c] * ab) / det;
      const h = (high[c] * aa - low[c] * ab) / det;
      low[c] = l;
      high[c] = h;
    }
    return true;
  }
}

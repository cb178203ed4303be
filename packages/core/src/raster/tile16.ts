/**
 * The one intermediate of all rendering: 16-bit premultiplied RGBA, 0..65535 (an 8-bit value v is v * 257),
 * and its one dithered rounding to straight 8 bits.
 */
import { inArena, kernelOf, newTile, STRAIGHT, THRESHOLDS } from './arena.ts';

export const ONE = 65535;

const SHARE = Math.fround(1 / 257);

/** To the nearest whole number in float32, within 2^16 of zero: half to the even one. */
const nearest = (value: number): number => Math.fround(value + 12582912) - 12582912;

/** 8 x 8 ordered thresholds, (-0.5, 0.5) exclusive: a value that is exactly an 8-bit one is never changed by them. */
const DITHER = (() => {
  const order = new Float64Array(64);
  for (let y = 0; y < 8; y++) {
    for (let x = 0; x < 8; x++) {
      let rank = 0;
      for (let bit = 0; bit < 3; bit++) {
        const xb = (x >> bit) & 1;
        const yb = (y >> bit) & 1;
        rank = rank * 4 + ((xb ^ yb) * 2 + yb);
      }
      order[y * 8 + x] = (rank + 0.5) / 64 - 0.5;
    }
  }
  return order;
})();

/**
 * Rounds a rectangle of 16-bit premultiplied RGBA to straight RGBA8, in float32.
 * @param x0,y0 where the rectangle's first texel lies in the sheet: the dither pattern belongs to the sheet, not to the tile.
 */
export function toStraight8(source: Uint16Array, width: number, height: number, x0: number, y0: number): Uint8Array {
  const out = new Uint8Array(width * height * 4);
  if (inArena(source)) return straightByKernel(source, width, height, x0, y0, out);
  const f = Math.fround;
  for (let y = 0, i = 0; y < height; y++) {
    const row = ((y0 + y) & 7) * 8;
    for (let x = 0; x < width; x++, i += 4) {
      const a = source[i + 3];
      if (a === 0) continue;
      const d = DITHER[row + ((x0 + x) & 7)];
      for (let c = i; c < i + 3; c++) {
        const value = nearest(f(f(a === ONE ? source[c] * SHARE : (source[c] * 255) / a) + d));
        out[c] = value > 255 ? 255 : value;
      }
      out[i + 3] = nearest(f(f(a * SHARE) + d));
    }
  }
  return out;
}

function straightByKernel(
  source: Uint16Array,
  width: number,
  height: number,
  x0: number,
  y0: number,
  out: Uint8Array,
): Uint8Array {
  const kernel = kernelOf();
  const thresholds = new Float32Array(kernel.memory.buffer, THRESHOLDS, 32);
  const row = new Uint8Array(kernel.memory.buffer, STRAIGHT, width * 4);
  for (let y = 0; y < height; y++) {
    for (let i = 0; i < 32; i++) thresholds[i] = DITHER[((y0 + y) & 7) * 8 + (i >> 2)];
    kernel.straightRow(source.byteOffset + y * width * 8, width, STRAIGHT, THRESHOLDS, x0);
    out.set(row, y * width * 4);
  }
  return out;
}

/** Halves a square region of 16-bit premultiplied RGBA by averaging 2 x 2 (both sides even). */
export function halve16(source: Uint16Array, width: number, height: number): Uint16Array {
  const w = width >> 1;
  const h = height >> 1;
  if (inArena(source)) {
    const small = newTile(w * h * 4);
    for (let y = 0; y < h; y++) {
      const from = source.byteOffset + y * 2 * width * 8;
      kernelOf().halveRow(from, from + width * 8, small.byteOffset + y * w * 8, w);
    }
    return small;
  }
  const out = new Uint16Array(w * h * 4);
  for (let y = 0, o = 0; y < h; y++) {
    for (let x = 0; x < w; x++) {
      const i = (y * 2 * width + x * 2) * 4;
      const j = i + width * 4;
      for (let c = 0; c < 4; c++, o++)
        out[o] = (source[i + c] + source[i + 4 + c] + source[j + c] + source[j + 4 + c] + 2) >> 2;
    }
  }
  return out;
}

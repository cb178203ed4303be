/**
 * The one intermediate of all rendering: 16-bit premultiplied RGBA, 0..65535 (an 8-bit value v is v * 257),
 * and its one dithered rounding to straight 8 bits.
 */
export const ONE = 65535;

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
 * Rounds a rectangle of 16-bit premultiplied RGBA to straight RGBA8.
 * @param x0,y0 where the rectangle's first texel lies in the sheet: the dither pattern belongs to the sheet, not to the tile.
 */
export function toStraight8(source: Uint16Array, width: number, height: number, x0: number, y0: number): Uint8Array {
  const out = new Uint8Array(width * height * 4);
  for (let y = 0, i = 0; y < height; y++) {
    const row = ((y0 + y) & 7) * 8;
    for (let x = 0; x < width; x++, i += 4) {
      const a = source[i + 3];
      if (a === 0) continue;
      const d = DITHER[row + ((x0 + x) & 7)] + 0.5;
      if (a === ONE) {
        out[i] = (source[i] / 257 + d) | 0;
        out[i + 1] = (source[i + 1] / 257 + d) | 0;
        out[i + 2] = (source[i + 2] / 257 + d) | 0;
        out[i + 3] = 255;
        continue;
      }
      for (let c = 0; c < 3; c++) {
        const value = (source[i + c] * 255) / a + d;
        out[i + c] = value >= 255 ? 255 : value | 0;
      }
      out[i + 3] = (a / 257 + d) | 0;
    }
  }
  return out;
}

/** Halves a square region of 16-bit premultiplied RGBA by averaging 2 x 2 (both sides even). */
export function halve16(source: Uint16Array, width: number, height: number): Uint16Array {
  const w = width >> 1;
  const h = height >> 1;
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

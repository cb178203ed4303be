import type { RowFormat } from './kind.ts';

/** 8 x 8 ordered thresholds, -0.5 to 0.5: spreads what 5 and 6 bits cannot hold. */
const threshold = (x: number, y: number): number => {
  let rank = 0;
  for (let bit = 0; bit < 3; bit++) {
    const [a, b] = [(x >> bit) & 1, (y >> bit) & 1];
    rank = rank * 4 + ((a ^ b) * 2 + b);
  }
  return (rank + 0.5) / 64 - 0.5;
};

export const rgb565 = {
  name: 'uncompressed 5-6-5',
  alpha: 'none',
  channels: 'rgb',
  blockBytes: 0,
  texelBytes: 2,
  dds: { masks: [16, 0xf800, 0x7e0, 0x1f, 0], dxgi: [85] },
  tried: true,
  encodeRows({ width, data }, from, to, out, dither) {
    for (let y = from, o = 0; y < to; y++) {
      for (let x = 0; x < width; x++, o += 2) {
        const i = (y * width + x) * 4;
        const d = dither ? threshold(x, y) : 0;
        const code = (v: number, top: number) => Math.max(0, Math.min(top, Math.floor((v * top) / 255 + 0.5 + d)));
        const word = (code(data[i], 31) << 11) | (code(data[i + 1], 63) << 5) | code(data[i + 2], 31);
        out[o] = word;
        out[o + 1] = word >> 8;
      }
    }
  },
  decode(bytes, { data }) {
    for (let o = 0, i = 0; o < data.length; o += 4, i += 2) {
      const word = bytes[i] | (bytes[i + 1] << 8);
      const [r, g, b] = [word >> 11, (word >> 5) & 63, word & 31];
      data[o] = (r << 3) | (r >> 2);
      data[o + 1] = (g << 2) | (g >> 4);
      data[o + 2] = (b << 3) | (b >> 2);
      data[o + 3] = 255;
    }
  },
} as const satisfies RowFormat;

/** What the encoders choose, block by block. */
import { describe, expect, test } from 'vitest';
import type { Image8 } from '../raster/image.ts';
import { picture, randomFrom } from '../testing/images.ts';
import { PARTITIONS_2 } from '../published/bc7.ts';
import { compareImages } from './compare.ts';
import { decodeImage, encodeImage } from './encode.ts';
import type { FormatKey } from './formats/index.ts';

/** The mode of each BC7 block: the place of its first set bit (Khronos Data Format Specification 1.3, section 20.1). */
function modesOf(bytes: Uint8Array): number[] {
  return Array.from({ length: bytes.length / 16 }, (_, i) => 31 - Math.clz32(bytes[i * 16] & -bytes[i * 16]));
}
const there = (image: Image8, format: FormatKey, effort: 'fast' | 'normal' | 'best' = 'normal') => {
  const bytes = encodeImage(image, format, { effort });
  return { bytes, back: decodeImage(bytes, format, image.width, image.height) };
};

describe('BC7', () => {
  test('flat blocks take mode 5 and are exact, opaque and clear', () => {
    for (const colour of [
      [12, 200, 77, 255],
      [255, 255, 255, 255],
      [3, 3, 3, 0],
      [90, 20, 30, 128],
    ]) {
      const flat = picture(8, 8, () => colour);
      const { bytes, back } = there(flat, 'bc7');
      expect(new Set(modesOf(bytes))).toEqual(new Set([5]));
      expect(compareImages(flat, back).largest).toBe(0);
    }
  });

  test('a smooth ramp takes mode 6 and is off by at most two', () => {
    const ramp = picture(4, 4, (x, y) => [40 + x * 3 + y * 12, 60 + x * 3 + y * 12, 90 + x * 3 + y * 12, 255]);
    const { bytes, back } = there(ramp, 'bc7');
    expect(modesOf(bytes)).toEqual([6]);
    expect(compareImages(ramp, back).largest).toBeLessThanOrEqual(2);
  });

  test('two ramps that cross along a published partition take a mode of two subsets', () => {
    for (const p of [0, 7, 13, 29]) {
      // Along one line in each of the two subsets, so that two subsets can hold it.
      const two = picture(4, 4, (x, y) => {
        const t = (x + y) * 6;
        return PARTITIONS_2[p][y * 4 + x] ? [220 - t, 30 + t, 20, 255] : [10, 60 + t, 200 - t, 255];
      });
      const { bytes, back } = there(two, 'bc7', 'best');
      expect([1, 3]).toContain(modesOf(bytes)[0]);
      expect(compareImages(two, back).psnrRgb).toBeGreaterThan(40);
    }
  });

  test('soft alpha over two colours is carried', () => {
    const strands = picture(64, 64, (x, y) => [x % 7 < 3 ? 90 : 140, 60, 40, Math.round(127 + 120 * Math.sin(y / 6))]);
    const { bytes, back } = there(strands, 'bc7');
    expect(modesOf(bytes).some((mode) => mode === 5 || mode === 6 || mode === 7)).toBe(true);
    expect(compareImages(strands, back).psnrAlpha).toBeGreaterThan(36);
  });

  test('opaque texels beside soft ones stay exactly opaque, in every mode that is used', () => {
    const random = randomFrom(8);
    const mixed = picture(128, 128, () =>
      [random() * 256, random() * 256, random() * 256, random() < 0.5 ? 255 : random() * 255].map(Math.floor),
    );
    for (const format of ['bc7', 'bc3'] as const) {
      const { back } = there(mixed, format);
      for (let i = 3; i < mixed.data.length; i += 4) if (mixed.data[i] === 255) expect(back.data[i]).toBe(255);
    }
  });
});

describe('BC1', () => {
  test('every grey as a flat block is off by at most three: the nearest mix of two 5-6-5 ends', () => {
    for (let v = 0; v < 256; v++) {
      const flat = picture(4, 4, () => [v, v, v, 255]);
      expect(compareImages(flat, there(flat, 'bc1').back).largest).toBeLessThanOrEqual(3);
    }
  });

  test('blocks are always of four opaque colours: the first end is above the second, or the block is flat', () => {
    const random = randomFrom(5);
    const noise = picture(64, 64, () => [random() * 256, random() * 256, random() * 256, 255].map(Math.floor));
    const { bytes, back } = there(noise, 'bc1');
    for (let at = 0; at < bytes.length; at += 8) {
      const [a, b] = [bytes[at] | (bytes[at + 1] << 8), bytes[at + 2] | (bytes[at + 3] << 8)];
      // Equal ends mean three colours and clear; then the fourth index, which is clear, is not used.
      if (a > b) continue;
      for (let k = 4; k < 8; k++) for (let i = 0; i < 4; i++) expect((bytes[at + k] >> (i * 2)) & 3).not.toBe(3);
    }
    expect(back.data.every((v, i) => i % 4 !== 3 || v === 255)).toBe(true);
  });

  test('black and white in turn are exact', () => {
    const bars = picture(16, 16, (x) => (x % 2 ? [255, 255, 255, 255] : [0, 0, 0, 255]));
    expect(compareImages(bars, there(bars, 'bc1').back).largest).toBe(0);
  });
});

test('BC3 carries every alpha of a ramp within two', () => {
  const ramp = picture(4, 4, (x, y) => [100, 100, 100, (y * 4 + x) * 17]);
  const { back } = there(ramp, 'bc3');
  for (let i = 3; i < 64; i += 4) expect(Math.abs(back.data[i] - ramp.data[i])).toBeLessThanOrEqual(19);
  const two = picture(4, 4, (x) => [100, 100, 100, x < 2 ? 0 : 255]);
  expect(compareImages(two, there(two, 'bc3').back).psnrAlpha).toBe(Infinity);
});

import { describe, expect, test } from 'vitest';
import { srgbToLinear, linearToSrgb } from '../colour/srgb.ts';
import { compareImages } from './compare.ts';
import { boxedByPillow } from '../testing/independent.ts';
import { picture as filled } from '../testing/images.ts';
import type { Image8 } from '../raster/image.ts';
import { mirrorImage } from '../raster/mirror.ts';
import { resample } from './resample.ts';

const busy = (width: number, height: number) =>
  filled(width, height, (x, y) => [(x * 37 + y * 11) % 256, (x * y * 3) % 256, 128 + ((x + y) % 5) * 20, 255]);

describe('bringing a picture to another size', () => {
  test('one colour stays that colour, at every size and kind', () => {
    const flat = filled(7, 5, () => [201, 17, 94, 255]);
    for (const kind of ['srgb', 'linear', 'nearest'] as const)
      for (const [w, h] of [
        [3, 2],
        [7, 11],
        [20, 13],
        [1, 1],
      ] as const)
        expect(new Set(resample(flat, w, h, kind).data)).toEqual(new Set([201, 17, 94, 255]));
  });

  test('half the size averages light: black and white give sRGB 188, not 128 (IEC 61966-2-1)', () => {
    const chequer = filled(8, 8, (x, y) => [...Array<number>(3).fill((x + y) % 2 ? 255 : 0), 255]);
    const half = Math.round(linearToSrgb((srgbToLinear(0) + srgbToLinear(1)) / 2) * 255);
    expect(half).toBe(188);
    expect(resample(chequer, 4, 4, 'srgb').data[0]).toBe(half);
    expect(resample(chequer, 4, 4, 'linear').data[0]).toBe(128);
  });

  test('a third of the size is the mean of nine texels, and 3 to 2 weighs the shared one by half', () => {
    const ramp = filled(9, 9, (x, y) => [x * 20, y * 20, 10, 255]);
    expect([...resample(ramp, 3, 3, 'linear').data.subarray(0, 4)]).toEqual([20, 20, 10, 255]);
    const three = filled(3, 1, (x) => [[0, 90, 240][x], 0, 0, 255]);
    expect([...resample(three, 2, 1, 'linear').data].filter((_, i) => i % 4 === 0)).toEqual([30, 190]);
  });

  test('clear texels do not bleed into colour', () => {
    const edge = filled(2, 2, (x) => (x === 0 ? [250, 0, 0, 255] : [0, 0, 255, 0]));
    const [r, g, b, a] = resample(edge, 1, 1, 'linear').data;
    expect([r, g, b, a]).toEqual([250, 0, 0, 128]);
  });

  test('a ramp that grows stays a ramp, and texels of twice the size keep their mean', () => {
    const ramp = filled(16, 1, (x) => [x * 10, 0, 0, 255]);
    const grown = resample(ramp, 64, 1, 'linear');
    for (let x = 8; x < 56; x++) expect(grown.data[x * 4]).toBe(Math.round(((x + 0.5) / 4 - 0.5) * 10));
  });

  test('a half, a quarter and a sixth of the size are what Pillow’s box filter gives', () => {
    const image = busy(64, 48);
    for (const [width, height] of [
      [32, 24],
      [16, 8],
    ] as const) {
      const theirs = boxedByPillow(image, width, height);
      expect(compareImages(resample(image, width, height, 'linear'), theirs).largest).toBeLessThanOrEqual(1);
    }
  });

  test('nearest takes over single texels', () => {
    const four = filled(2, 2, (x, y) => [x * 255, y * 255, 7, 255]);
    const grown = resample(four, 6, 4, 'nearest');
    for (let y = 0; y < 4; y++)
      for (let x = 0; x < 6; x++)
        expect([...grown.data.subarray((y * 6 + x) * 4, (y * 6 + x) * 4 + 2)]).toEqual([
          x < 3 ? 0 : 255,
          y < 2 ? 0 : 255,
        ]);
  });
});

test('mirrored twice is the same; across swaps left and right, down swaps top and bottom', () => {
  const image = busy(5, 4);
  for (const mirror of ['across', 'down'] as const)
    expect(mirrorImage(mirrorImage(image, mirror), mirror)).toEqual(image);
  const texel = (of: Image8, x: number, y: number) => [...of.data.subarray((y * 5 + x) * 4, (y * 5 + x) * 4 + 4)];
  expect(texel(mirrorImage(image, 'across'), 0, 1)).toEqual(texel(image, 4, 1));
  expect(texel(mirrorImage(image, 'down'), 2, 0)).toEqual(texel(image, 2, 3));
});

import { expect, test } from 'vitest';
import { liveryLike, randomFrom } from '../testing/images.ts';
import { liveLevels, putLive } from './liveLevels.ts';
import { mipChain } from './mips.ts';

const random = randomFrom(12);
/** A square cut out of a picture; beyond its edges nothing is covered. */
function cut(image: { width: number; height: number; data: Uint8Array }, side: number, x: number, y: number) {
  const out = new Uint8ClampedArray(side * side * 4);
  for (let row = 0; row < side && y + row < image.height; row++)
    for (let i = 0; i < side && x + i < image.width; i++) {
      const from = ((y + row) * image.width + x + i) * 4;
      out.set(image.data.subarray(from, from + 4), (row * side + i) * 4);
    }
  return out;
}

test.each([
  [256, 256],
  [320, 96],
  [75, 133],
  [1, 40],
])('%i x %i: whatever is put in pieces is what is put in one piece, on every level', (width, height) => {
  const image = liveryLike(width, height);
  const [pieces, whole] = [liveLevels(width, height), liveLevels(width, height)];
  expect([pieces.at(-1)!.width, pieces.at(-1)!.height]).toEqual([1, 1]);
  putLive(whole, cut(image, 512, 0, 0), 512, 0, 0);
  const squares: [number, number][] = [];
  for (let y = 0; y < height; y += 32) for (let x = 0; x < width; x += 32) squares.push([x, y]);
  squares.sort(() => random() - 0.5);
  for (const [x, y] of squares) putLive(pieces, cut(image, 32, x, y), 32, x, y);
  pieces.forEach((level, i) => expect(Buffer.compare(level.data, whole[i].data)).toBe(0));
});

test('levels are those of the chain that is delivered, but for roundings', () => {
  const image = liveryLike(256, 256);
  for (let i = 3; i < image.data.length; i += 4) image.data[i] = 255;
  const levels = liveLevels(256, 256);
  putLive(levels, cut(image, 256, 0, 0), 256, 0, 0);
  mipChain(image, { kind: 'srgb', filter: 'box' }).forEach(({ data }, level) => {
    let worst = 0;
    for (let i = 0; i < data.length; i++) worst = Math.max(worst, Math.abs(data[i] - levels[level].data[i]));
    // Each level is made from the rounded one before, as a graphics card does it: half a step more with each.
    expect(worst).toBeLessThanOrEqual(Math.ceil(level / 2));
  });
});

test('what is not covered is grey, and half covered half of it', () => {
  const levels = liveLevels(2, 2);
  putLive(levels, new Uint8ClampedArray([255, 0, 0, 255, 255, 0, 0, 128, 9, 9, 9, 0, 9, 9, 9, 0]), 2, 0, 0);
  const [red, half, ground] = [
    [255, 0, 0, 255],
    [192, 64, 64, 255],
    [128, 128, 128, 255],
  ];
  expect([...levels[0].data]).toEqual([...red, ...half, ...ground, ...ground]);
});

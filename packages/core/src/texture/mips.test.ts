import { describe, expect, test } from 'vitest';
import type { Image8 } from '../raster/image.ts';
import { liveryLike, picture, randomFrom } from '../testing/images.ts';
import { throughImageMagick } from '../testing/independent.ts';
import { compareImages } from './compare.ts';
import { emptyChain, filterBand, mipChain, type FloatImage } from './mips.ts';

const texel = (image: Image8, x: number, y: number) => [
  ...image.data.subarray((y * image.width + x) * 4, (y * image.width + x) * 4 + 4),
];
const plain = { kind: 'linear', filter: 'box' } as const;

describe('what alpha means', () => {
  const half = picture(4, 4, (x) => (x % 2 ? [200, 40, 40, 255] : [0, 240, 0, 0]));

  test('as coverage it weighs colour: clear texels lend none', () => {
    expect(texel(mipChain(half, { kind: 'srgb', filter: 'box' })[1], 0, 0)).toEqual([200, 40, 40, 128]);
  });

  test('as data it is a signal of its own: neither weighs the other', () => {
    expect(texel(mipChain(half, plain)[1], 0, 0)).toEqual([100, 140, 20, 128]);
    // Changing alpha changes no colour, and the other way round.
    const other = picture(4, 4, (x, y) => [...texel(half, x, y).slice(0, 3), 77]);
    const [a, b] = [mipChain(half, plain)[1], mipChain(other, plain)[1]];
    for (let i = 0; i < a.data.length; i++) if (i % 4 !== 3) expect(b.data[i]).toBe(a.data[i]);
  });
});

test('normals are averaged as vectors and have length one on every level', () => {
  const bump = picture(64, 64, (x, y) => {
    const [dx, dy] = [Math.sin(x / 5) * 0.7, Math.cos(y / 7) * 0.7];
    const length = Math.hypot(dx, dy, 1);
    return [...[dx, dy, 1].map((v) => Math.round((v / length) * 127.5 + 127.5)), 255];
  });
  for (const level of mipChain(bump, { kind: 'normal', filter: 'kaiser' }).slice(1)) {
    for (let i = 0; i < level.data.length; i += 4) {
      const length = Math.hypot(...[0, 1, 2].map((c) => level.data[i + c] / 127.5 - 1));
      expect(Math.abs(length - 1)).toBeLessThan(0.015);
    }
  }
  // Two that lean apart by the same angle average to straight up.
  const pair = picture(2, 2, (x) => [x ? 217 : 38, 128, 217, 255]);
  expect(texel(mipChain(pair, { kind: 'normal', filter: 'box' })[1], 0, 0)).toEqual([128, 128, 255, 255]);
});

test('of ids the most frequent stands for those beneath; none is ever made up', () => {
  const ids = picture(8, 8, (x, y) => (x < 5 ? [10, 0, 0, 255] : [(x + y) % 2 ? 20 : 30, 0, 0, 255]));
  const chain = mipChain(ids, { kind: 'ids', filter: 'box' });
  expect(chain.map((level) => level.width)).toEqual([8, 4, 2, 1]);
  for (const level of chain)
    for (let i = 0; i < level.data.length; i += 4) expect([10, 20, 30]).toContain(level.data[i]);
  expect(texel(chain[3], 0, 0)[0]).toBe(10);
});

test('cut-outs keep their coverage: the share of texels above the cut stays within three percent of level 0', () => {
  const random = randomFrom(4);
  const leaves = picture(256, 256, (x, y) => [
    40,
    90,
    30,
    Math.hypot((x % 16) - 8, (y % 16) - 8) < 4 + random() * 2 ? 255 : 0,
  ]);
  const share = ({ data }: Image8) => data.filter((v, i) => i % 4 === 3 && v >= 127.5).length / (data.length / 4);
  const wanted = share(leaves);
  const [kept, plainly] = [0.5, undefined].map((coverage) =>
    mipChain(leaves, { kind: 'srgb', filter: 'box', coverage }),
  );
  for (const level of [1, 2, 3]) expect(Math.abs(share(kept[level]) - wanted)).toBeLessThan(0.03);
  expect(Math.abs(share(plainly[3]) - wanted)).toBeGreaterThan(0.1);
});

describe('bands and partial chains', () => {
  test.each([
    [512, 512, 2],
    [516, 300, 3],
    [130, 700, 4],
  ])('%i x %i in %i bands is what one run makes', (width, height, bands) => {
    const image = picture(width, height, (x, y) => [(x * 7) % 256, (y * 3) % 256, (x * y) % 256, x % 9 ? 255 : 90]);
    const options = { kind: 'srgb', filter: 'kaiser' } as const;
    const whole = mipChain(image, options);
    const levels = emptyChain(image, options);
    const depth = 3;
    const size = { width: levels[depth].width, height: levels[depth].height };
    const last: FloatImage = { ...size, data: new Float32Array(size.width * size.height * 4) };
    for (let band = 0; band < bands; band++)
      filterBand(image, options, 1, levels.slice(0, depth + 1), band, bands, last);
    filterBand(last, options, depth + 1, levels, 0, 1);
    levels.forEach((level, i) => expect(Buffer.compare(Buffer.from(level.data), Buffer.from(whole[i].data))).toBe(0));
  });

  test('a partial chain is the beginning of the full one', () => {
    const image = liveryLike(64);
    const full = mipChain(image, { kind: 'srgb', filter: 'box' });
    const part = mipChain(image, { kind: 'srgb', filter: 'box', count: 3 });
    expect(part).toHaveLength(3);
    expect(compareImages(part[2], full[2]).largest).toBe(0);
    expect(mipChain(image, { kind: 'srgb', filter: 'box', count: 99 })).toHaveLength(7);
  });

  test('sides that are no powers of two go down to 1 x 1, each level half of the one above, rounded down', () => {
    const chain = mipChain(
      picture(37, 5, (x) => [x * 6, 0, 0, 255]),
      { kind: 'srgb', filter: 'kaiser' },
    );
    expect(chain.map(({ width, height }) => [width, height])).toEqual([
      [37, 5],
      [18, 2],
      [9, 1],
      [4, 1],
      [2, 1],
      [1, 1],
    ]);
  });
});

test('the Kaiser filter keeps a mean of linear light within half a step of ImageMagick’s box', () => {
  const image = liveryLike(128, 5);
  const ours = mipChain(image, { kind: 'srgb', filter: 'kaiser' })[3];
  const args = ['-colorspace', 'RGB', '-filter', 'box', '-resize', '16x16!', '-colorspace', 'sRGB'];
  const theirs = throughImageMagick(image, args, 16, 16);
  const mean = ({ data }: Image8, c: number) =>
    data.reduce((n, v, i) => (i % 4 === c ? n + v : n), 0) / (data.length / 4);
  for (let c = 0; c < 3; c++) expect(Math.abs(mean(ours, c) - mean(theirs, c))).toBeLessThan(1.5);
});

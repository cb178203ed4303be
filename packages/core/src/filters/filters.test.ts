import { converter } from 'culori';
import { describe, expect, test } from 'vitest';
import { rgbOfHex } from '../colour/hex.ts';
import { oklabOf } from '../colour/oklab.ts';
import { Filter, FILTERS } from '../livery/paint.ts';
import { newImage } from '../raster/image.ts';
import { toStraight8 } from '../raster/tile16.ts';
import { randomFrom } from '../testing/images.ts';
import { throughImageMagick } from '../testing/independent.ts';
import { gaussian } from './gaussian.ts';
import { applyFilters, looksAtOne } from './index.ts';
import { shadingLeft } from './recolour/apply.ts';

const env = {
  colour: (paint: object) => rgbOfHex('hex' in paint ? (paint.hex as string) : '#000000'),
  origin: { x: 0, y: 0 },
};

/** A filter on opaque texels of given 8-bit colours, straight and unrounded 0..255. */
function filtered(filter: Filter, colours: readonly (readonly number[])[], width = colours.length): number[][] {
  const texels = Uint16Array.from(colours.flatMap(([r, g, b]) => [r * 257, g * 257, b * 257, 65535]));
  applyFilters([Filter.parse(filter)], texels, { x: 0, y: 0, width, height: colours.length / width, step: 1 }, env);
  return colours.map((_, i) => [...texels.subarray(i * 4, i * 4 + 3)].map((v) => v / 257));
}
const levels = (more: object): Filter =>
  Filter.parse({ kind: 'levels', channel: 'all', black: 0, white: 255, gamma: 1, outBlack: 0, outWhite: 255, ...more });

test('levels: ends, middle and single channels, by the usual formula', () => {
  const [a, b] = filtered(levels({ black: 51, white: 204 }), [
    [102, 51, 204],
    [255, 0, 153],
  ]);
  [85, 0, 255].forEach((v, c) => expect(a[c]).toBeCloseTo(v, 0));
  [255, 0, 170].forEach((v, c) => expect(b[c]).toBeCloseTo(v, 0));
  const [bent] = filtered(levels({ gamma: 2.2 }), [[64, 128, 192]]);
  [64, 128, 192].forEach((v, c) => expect(bent[c]).toBeCloseTo(255 * (v / 255) ** (1 / 2.2), 0));
  expect(filtered(levels({ channel: 'green', outBlack: 100 }), [[10, 0, 10]])[0].map(Math.round)).toEqual([
    10, 100, 10,
  ]);
});

test('hue turned and chroma scaled are what an independent library (culori) gives in OKLCh', () => {
  const [toOklch, toRgb] = [converter('oklch'), converter('rgb')];
  for (const rgb of [
    [180, 90, 60],
    [40, 90, 120],
    [128, 150, 120],
  ]) {
    const lch = toOklch({ mode: 'rgb', r: rgb[0] / 255, g: rgb[1] / 255, b: rgb[2] / 255 });
    const theirs = toRgb({ ...lch, h: (lch.h ?? 0) + 40, c: lch.c * 0.7 });
    const [ours] = filtered({ kind: 'hcl', hue: 40, chroma: -30, lightness: 0 }, [rgb]);
    [theirs.r, theirs.g, theirs.b].forEach((v, c) => expect(ours[c]).toBeCloseTo(v * 255, 0));
  }
});

describe('recolour', () => {
  const filter = {
    kind: 'recolour' as const,
    paint: { hex: '#2f6d8a' },
    strength: 100,
    contrast: 100,
    middle: oklabOf(0.5, 0.5, 0.5)[0],
  };
  const greys = Array.from({ length: 9 }, (_, i) => [90 + i * 10, 90 + i * 10, 90 + i * 10]);

  test('the middle becomes the colour, and every step of the shading stays as large as it was', () => {
    const out = filtered(filter, [...greys, [127.5, 127.5, 127.5].map(Math.round)]);
    const middle = out.pop()!;
    rgbOfHex('#2f6d8a').forEach((v, c) => expect(Math.abs(middle[c] - v)).toBeLessThan(2));
    const L = (rgb: readonly number[]) => oklabOf(rgb[0] / 255, rgb[1] / 255, rgb[2] / 255)[0];
    for (let i = 1; i < out.length; i++)
      expect(L(out[i]) - L(out[i - 1])).toBeCloseTo(L(greys[i]) - L(greys[i - 1]), 2);
  });

  test('half the strength is half the way, and alpha stays', () => {
    const [whole] = filtered(filter, [[200, 180, 160]]);
    const [half] = filtered({ ...filter, strength: 50 }, [[200, 180, 160]]);
    [200, 180, 160].forEach((v, c) => expect(half[c]).toBeCloseTo((v + whole[c]) / 2, 0));
  });

  test('says when a colour is so dark or so light that the shading is gone', () => {
    const range: [number, number] = [0.35, 0.75];
    expect(shadingLeft(filter, rgbOfHex('#2f6d8a'), range).lost).toBeNull();
    expect(shadingLeft(filter, rgbOfHex('#000000'), range).lost).toBe('dark');
    expect(shadingLeft({ ...filter, middle: 0.3 }, rgbOfHex('#ffffff'), range).lost).toBe('light');
    expect(shadingLeft({ ...filter, contrast: 2 }, rgbOfHex('#808080'), range).lost).not.toBeNull();
    // A colour near either end loses one half of the shading, though much of the other is left.
    expect(shadingLeft(filter, rgbOfHex('#fff4b0'), range).lost).toBe('light');
    expect(shadingLeft(filter, rgbOfHex('#050507'), range).lost).toBe('dark');
    // Nothing to lose: a flat picture has no shading.
    expect(shadingLeft(filter, rgbOfHex('#000000'), [0.5, 0.5]).lost).toBeNull();
  });
});

test('a colour is replaced with its shades, and others are left alone', () => {
  const filter: Filter = { kind: 'replace', from: '#c02020', to: { hex: '#2040c0' }, tolerance: 12, soft: 4 };
  const [same, shade, other] = filtered(filter, [
    [0xc0, 0x20, 0x20],
    [0xb0, 0x1c, 0x1c],
    [0x20, 0xa0, 0x40],
  ]);
  [0x20, 0x40, 0xc0].forEach((v, c) => expect(Math.abs(same[c] - v)).toBeLessThan(1.5));
  expect(shade[2]).toBeLessThan(same[2]);
  expect(shade[2]).toBeGreaterThan(shade[0] * 2);
  expect(other.map(Math.round)).toEqual([0x20, 0xa0, 0x40]);
});

describe('softening', () => {
  const [width, height] = [160, 120];
  const random = randomFrom(5);
  const discs = Array.from({ length: 20 }, () => [
    random() * width,
    random() * height,
    3 + random() * 14,
    random() * 255,
  ]);
  const image = newImage(width, height);
  for (let i = 0; i < width * height; i++) {
    const hit = discs.find(([x, y, r]) => Math.hypot((i % width) - x, Math.floor(i / width) - y) < r);
    image.data.set([hit?.[3] ?? 30, hit ? 255 - hit[3] : 60, (i * 7) % 256, 255], i * 4);
  }

  test.each([0.8, 1.5, 2.5, 4, 7, 12])('a Gaussian of %f texels is ImageMagick’s', (sigma) => {
    const texels = Uint16Array.from(image.data, (v) => v * 257);
    gaussian(texels, width, height, 4, sigma);
    const ours = toStraight8(texels, width, height, 0, 0);
    const theirs = throughImageMagick(image, ['-virtual-pixel', 'edge', '-gaussian-blur', `0x${sigma}`], width, height);
    // Within the picture: the filter is given a margin, and what lies beyond that is nobody's.
    const margin = Math.ceil(sigma * 3);
    let [sum, worst] = [0, 0];
    for (let i = 0; i < ours.length; i++) {
      const [x, y] = [(i >> 2) % width, Math.floor((i >> 2) / width)];
      if (x < margin || y < margin || x >= width - margin || y >= height - margin) continue;
      const d = Math.abs(ours[i] - theirs.data[i]);
      sum += d;
      worst = Math.max(worst, d);
    }
    expect(sum / ours.length).toBeLessThan(0.8);
    // Three boxes stand for wide ones: they differ most beside hard edges.
    expect(worst).toBeLessThan(sigma < 3 ? 2.5 : 5.5);
  });

  test('does not depend on where its region begins', () => {
    const make = (left: number) => {
      const w = 60;
      const texels = new Uint16Array(w * 40 * 4);
      for (let y = 0; y < 40; y++)
        for (let x = 0; x < w; x++)
          for (let c = 0; c < 4; c++) texels[(y * w + x) * 4 + c] = image.data[(y * width + x + left) * 4 + c] * 257;
      gaussian(texels, w, 40, 4, 5);
      return (x: number) => [...texels.subarray((20 * w + x - left) * 4, (20 * w + x - left) * 4 + 4)];
    };
    const [a, b] = [make(0), make(8)];
    for (let x = 30; x < 38; x++) expect(a(x)).toEqual(b(x));
  });

  test('sharpening raises edges and leaves flats alone', () => {
    const row = Array.from({ length: 40 }, (_, x) => (x < 20 ? [80, 80, 80] : [160, 160, 160]));
    const out = filtered({ kind: 'sharpen', radius: 1.5, amount: 100 }, row, 40);
    expect(out[19][0]).toBeLessThan(76);
    expect(out[20][0]).toBeGreaterThan(164);
    expect(out[2][0]).toBeCloseTo(80, 1);
  });
});

describe('noise', () => {
  const flat = Array.from({ length: 64 * 64 }, () => [128, 128, 128]);
  test('grain is the same for the same seed, keeps the mean, and is coloured only when asked to', () => {
    const filter: Filter = { kind: 'grain', amount: 30, size: 1, coloured: false, seed: 4 };
    const out = filtered(filter, flat, 64);
    expect(filtered(filter, flat, 64)).toEqual(out);
    expect(out.reduce((sum, [r]) => sum + r, 0) / out.length).toBeCloseTo(128, -0.5);
    expect(out.every(([r, g, b]) => r === g && g === b)).toBe(true);
    expect(filtered({ ...filter, coloured: true }, flat, 64).some(([r, g]) => Math.abs(r - g) > 5)).toBe(true);
  });

  test('worn takes away about its share, more with more, and only makes less', () => {
    const left = (amount: number) => {
      const texels = new Uint16Array(256 * 256 * 4).fill(65535);
      applyFilters(
        [{ kind: 'worn', amount, size: 12, fade: 0, seed: 9 }],
        texels,
        { x: 0, y: 0, width: 256, height: 256, step: 1 },
        env,
      );
      return texels.reduce((sum, v, i) => (i % 4 === 3 ? sum + v : sum), 0) / (256 * 256 * 65535);
    };
    const shares = [0, 20, 50, 80].map(left);
    expect(shares[0]).toBe(1);
    expect(Math.abs(shares[1] - 0.8)).toBeLessThan(0.12);
    expect(Math.abs(shares[2] - 0.5)).toBeLessThan(0.12);
    expect(shares[3]).toBeLessThan(shares[2]);
  });
});

describe.each(Object.keys(FILTERS) as (keyof typeof FILTERS)[])('%s, as it says of itself', (kind) => {
  const about = FILTERS[kind];
  const start = { paint: { hex: '#102030' }, hex: '#405060', seed: 7, middle: null };
  const filter = Filter.parse({ kind, ...about.begin(start) });

  test('begins as its schema wants it, and names only settings that it has, in ranges that are taken', () => {
    const values = filter as unknown as Record<string, unknown>;
    for (const row of about.rows) {
      if (typeof row === 'string') continue;
      expect(values).toHaveProperty(row.key);
      if (row.is === 'slide')
        for (const value of [row.min, row.max])
          expect(Filter.safeParse({ ...filter, [row.key]: value }).success).toBe(true);
      if (row.is === 'choice')
        for (const value of row.options) expect(Filter.safeParse({ ...filter, [row.key]: value }).success).toBe(true);
    }
  });

  test('is offered for what lies below only when it looks at each texel alone', () => {
    if (about.alone) expect(looksAtOne(filter)).toBe(true);
  });
});

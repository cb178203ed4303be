import { describe, expect, test } from 'vitest';
import { contrast, hexOfRgb, rgbOfHex } from './hex.ts';
import { ciede2000, labOfSrgb8 } from './ciede2000.ts';
import { LINEAR_OF_SRGB8, LINEAR_ONE, linearToSrgb, srgb8OfLinear, srgbToLinear, THRESHOLD } from './srgb.ts';

describe('sRGB transfer (IEC 61966-2-1)', () => {
  test('the published breakpoints: 0.04045 encoded is 0.0031308 linear', () => {
    expect(srgbToLinear(0.04045)).toBeCloseTo(0.0031308, 7);
    expect(linearToSrgb(0.0031308)).toBeCloseTo(0.04045, 6);
    expect(srgbToLinear(1)).toBe(1);
    expect(srgbToLinear(0)).toBe(0);
  });

  test('linear 0.5 is 8-bit 188, and linear 0.0025 is encoded 0.0323, 8-bit 8', () => {
    expect(srgb8OfLinear(LINEAR_ONE / 2)).toBe(188);
    expect(linearToSrgb(0.0025)).toBeCloseTo(0.0323, 4);
    expect(srgb8OfLinear(Math.round(0.0025 * LINEAR_ONE))).toBe(8);
  });

  test('every 8-bit value comes back from its linear value', () => {
    for (let v = 0; v < 256; v++) expect(srgb8OfLinear(LINEAR_OF_SRGB8[v])).toBe(v);
  });

  test('rounds to the nearest value at every threshold', () => {
    for (let v = 0; v < 255; v++) {
      expect(srgb8OfLinear(THRESHOLD[v])).toBe(v + 1);
      expect(srgb8OfLinear(THRESHOLD[v] - 1)).toBe(v);
    }
  });

  test('no table entry hangs on the last bit of Math.pow', () => {
    for (let v = 0; v < 256; v++) {
      const exact = srgbToLinear(v / 255) * LINEAR_ONE;
      const half = srgbToLinear((v + 0.5) / 255) * LINEAR_ONE;
      const distance = (x: number) => Math.abs(x - Math.floor(x) - 0.5);
      if (v > 0) expect(distance(exact)).toBeGreaterThan(1e-5);
      if (v < 255) expect(Math.abs(half - Math.round(half))).toBeGreaterThan(1e-5);
    }
  });
});

describe('contrast (WCAG 2.2)', () => {
  test('black on white is 21 to 1, a colour on itself 1 to 1', () => {
    expect(contrast([0, 0, 0], [255, 255, 255])).toBeCloseTo(21, 10);
    expect(contrast([90, 12, 200], [90, 12, 200])).toBe(1);
  });

  test('#767676 is the lightest grey that reaches 4.5 on white (a value well known from WCAG practice, from memory)', () => {
    expect(contrast(rgbOfHex('#767676'), [255, 255, 255])).toBeGreaterThan(4.5);
    expect(contrast(rgbOfHex('#777777'), [255, 255, 255])).toBeLessThan(4.5);
  });
});

test('hex and triples are each other', () => {
  for (const hex of ['#000000', '#01a0ff', '#ffffff', '#7f8081']) expect(hexOfRgb(rgbOfHex(hex))).toBe(hex);
});

/** Pairs and results of Sharma, Wu and Dalal (2005), table 1; pair numbers as there. Typed in from memory of the published table. */
const SHARMA: readonly [pair: number, ...numbers: number[]][] = [
  [1, 50, 2.6772, -79.7751, 50, 0, -82.7485, 2.0425],
  [2, 50, 3.1571, -77.2803, 50, 0, -82.7485, 2.8615],
  [3, 50, 2.8361, -74.02, 50, 0, -82.7485, 3.4412],
  [4, 50, -1.3802, -84.2814, 50, 0, -82.7485, 1.0],
  [7, 50, 0, 0, 50, -1, 2, 2.3669],
  [9, 50, 2.49, -0.001, 50, -2.49, 0.0009, 7.1792],
  [11, 50, 2.49, -0.001, 50, -2.49, 0.0011, 7.2195],
  [16, 50, 2.5, 0, 50, 0, -2.5, 4.3065],
  [17, 50, 2.5, 0, 73, 25, -18, 27.1492],
  [20, 50, 2.5, 0, 58, 24, 15, 19.4535],
  [25, 60.2574, -34.0099, 36.2677, 60.4626, -34.1751, 39.4387, 1.2644],
  [29, 22.7233, 20.0904, -46.694, 23.0331, 14.973, -42.5619, 2.0373],
  [34, 2.0776, 0.0795, -1.135, 0.9033, -0.0636, -0.5514, 0.9082],
];

describe('CIEDE2000', () => {
  test.each(SHARMA)('published pair %i', (_pair, l1, a1, b1, l2, a2, b2, expected) => {
    expect(ciede2000([l1, a1, b1], [l2, a2, b2])).toBeCloseTo(expected, 4);
    expect(ciede2000([l2, a2, b2], [l1, a1, b1])).toBeCloseTo(expected, 4);
  });

  test('white is L* 100 without hue, and mid grey 119 is L* 50', () => {
    const [l, a, b] = labOfSrgb8(255, 255, 255);
    expect(l).toBeCloseTo(100, 3);
    expect(Math.hypot(a, b)).toBeLessThan(0.02);
    expect(labOfSrgb8(119, 119, 119)[0]).toBeCloseTo(50, 0);
  });
});

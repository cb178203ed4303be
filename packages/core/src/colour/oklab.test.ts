import { converter } from 'culori';
import { expect, test } from 'vitest';
import { randomFrom } from '../testing/images.ts';
import { decode, encode, oklabOf, rgbOfOklab } from './oklab.ts';
import { cbrt, exp, pow } from './steady.ts';

const toOklab = converter('oklab');

/*
 * OKLab of the primaries, white and mid grey, as CSS Color Module Level 4 and the colour libraries that follow it give them; typed in from
 * memory. The publication itself (Ottosson 2020) lists XYZ, of which white has L 1 and no a and b.
 */
test.each([
  ['white', [1, 1, 1], [1, 0, 0]],
  ['red', [1, 0, 0], [0.62796, 0.22486, 0.12585]],
  ['green', [0, 1, 0], [0.86644, -0.23389, 0.1795]],
  ['blue', [0, 0, 1], [0.45201, -0.03246, -0.31153]],
  ['black', [0, 0, 0], [0, 0, 0]],
] as const)('%s', (_name, rgb, lab) => {
  const made = oklabOf(rgb[0], rgb[1], rgb[2]);
  for (let c = 0; c < 3; c++) expect(made[c]).toBeCloseTo(lab[c], 4);
});

test('random colours are what an independent library (culori) gives, and come back', () => {
  const random = randomFrom(4);
  for (let k = 0; k < 400; k++) {
    const rgb: [number, number, number] = [random(), random(), random()];
    const theirs = toOklab({ mode: 'rgb', r: rgb[0], g: rgb[1], b: rgb[2] });
    const ours = oklabOf(...rgb);
    expect(ours[0]).toBeCloseTo(theirs.l, 4);
    expect(ours[1]).toBeCloseTo(theirs.a, 4);
    expect(ours[2]).toBeCloseTo(theirs.b, 4);
    rgbOfOklab(ours).forEach((v, c) => expect(v).toBeCloseTo(rgb[c], 4));
  }
});

test('what sRGB cannot show loses chroma and keeps its lightness and hue', () => {
  const rgb = rgbOfOklab([0.7, 0.3, 0.2]);
  expect(rgb.every((v) => v >= 0 && v <= 1)).toBe(true);
  const back = oklabOf(...rgb);
  expect(back[0]).toBeCloseTo(0.7, 2);
  expect(back[2] / back[1]).toBeCloseTo(2 / 3, 1);
});

test('linear 0.0025 is sRGB 0.0323 (IEC 61966-2-1), and every 16-bit value comes back', () => {
  expect(encode(0.0025)).toBeCloseTo(0.0323, 5);
  for (let v = 0; v <= 65535; v += 17) expect(Math.abs(encode(decode(v / 65535)) * 65535 - v)).toBeLessThan(0.2);
});

test('roots and powers from plain arithmetic are those of Math within 1e-12', () => {
  const random = randomFrom(8);
  for (let k = 0; k < 2000; k++) {
    const [x, y] = [random() * 10 ** (random() * 6 - 4), random() * 6 - 3];
    expect(Math.abs(cbrt(x) / Math.cbrt(x) - 1)).toBeLessThan(1e-12);
    expect(Math.abs(pow(x, y) / x ** y - 1)).toBeLessThan(1e-11);
    expect(Math.abs(exp(y * 5) / Math.exp(y * 5) - 1)).toBeLessThan(1e-12);
  }
  expect([cbrt(0), pow(0, 2), exp(0)]).toEqual([0, 0, 1]);
});

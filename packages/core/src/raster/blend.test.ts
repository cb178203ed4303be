import { describe, expect, test } from 'vitest';
import { BLEND_MODES, type BlendMode } from './modes.ts';
import { randomFrom } from '../testing/images.ts';
import { mul16 } from './mul16.ts';
import { blendOver } from './blend.ts';

/*
 * The formulas of W3C Compositing and Blending Level 1 (section 10), written down here once more on plain 0..1 numbers:
 * Cs = (1 - ab) Cs + ab B(Cb, Cs), then co = as Cs + (1 - as) ab Cb, ao = as + ab (1 - as)  (section 5.1 and 10).
 */
type Rgb = number[];
const lum = ([r, g, b]: Rgb) => 0.3 * r + 0.59 * g + 0.11 * b;
const clip = (c: Rgb): Rgb => {
  const [l, n, x] = [lum(c), Math.min(...c), Math.max(...c)];
  let out = c;
  if (n < 0) out = out.map((v) => l + ((v - l) * l) / (l - n));
  if (x > 1) out = out.map((v) => l + ((v - l) * (1 - l)) / (x - l));
  return out;
};
const setLum = (c: Rgb, l: number) => clip(c.map((v) => v + l - lum(c)));
const sat = (c: Rgb) => Math.max(...c) - Math.min(...c);
/** SetSat as the specification states it, by sorting the channels. */
const setSat = (c: Rgb, s: number): Rgb => {
  const order = [0, 1, 2].sort((a, b) => c[a] - c[b]);
  const [min, mid, max] = order;
  const out = [0, 0, 0];
  if (c[max] > c[min]) {
    out[mid] = ((c[mid] - c[min]) * s) / (c[max] - c[min]);
    out[max] = s;
  }
  return out;
};
const each = (f: (b: number, s: number) => number) => (b: Rgb, s: Rgb) => b.map((v, i) => f(v, s[i]));
const multiply = (b: number, s: number) => b * s;
const screen = (b: number, s: number) => b + s - b * s;
const hard = (b: number, s: number) => (s <= 0.5 ? multiply(b, 2 * s) : screen(b, 2 * s - 1));
const FORMULAS: Record<BlendMode, (b: Rgb, s: Rgb) => Rgb> = {
  normal: (_b, s) => s,
  multiply: each(multiply),
  screen: each(screen),
  overlay: each((b, s) => hard(s, b)),
  darken: each(Math.min),
  lighten: each(Math.max),
  'color-dodge': each((b, s) => (b === 0 ? 0 : s === 1 ? 1 : Math.min(1, b / (1 - s)))),
  'color-burn': each((b, s) => (b === 1 ? 1 : s === 0 ? 0 : 1 - Math.min(1, (1 - b) / s))),
  'hard-light': each(hard),
  'soft-light': each((b, s) => {
    if (s <= 0.5) return b - (1 - 2 * s) * b * (1 - b);
    return b + (2 * s - 1) * ((b <= 0.25 ? ((16 * b - 12) * b + 4) * b : Math.sqrt(b)) - b);
  }),
  difference: each((b, s) => Math.abs(b - s)),
  exclusion: each((b, s) => b + s - 2 * b * s),
  hue: (b, s) => setLum(setSat(s, sat(b)), lum(b)),
  saturation: (b, s) => setLum(setSat(b, sat(s)), lum(b)),
  color: (b, s) => setLum(s, lum(b)),
  luminosity: (b, s) => setLum(b, lum(s)),
  // Common practice, no source; layered.test.ts compares them with an independent reader.
  'linear-dodge': each((b, s) => Math.min(1, b + s)),
  'linear-burn': each((b, s) => Math.max(0, b + s - 1)),
  'vivid-light': each((b, s) =>
    s <= 0.5 ? FORMULAS['color-burn']([b], [2 * s])[0] : FORMULAS['color-dodge']([b], [2 * s - 1])[0],
  ),
  'linear-light': each((b, s) => Math.min(1, Math.max(0, b + 2 * s - 1))),
  'pin-light': each((b, s) => (s <= 0.5 ? Math.min(b, 2 * s) : Math.max(b, 2 * s - 1))),
  'darker-color': (b, s) => (lum(s) < lum(b) ? s : b),
  'lighter-color': (b, s) => (lum(s) > lum(b) ? s : b),
  divide: each((b, s) => (b === 0 ? 0 : s <= b ? 1 : b / s)),
  subtract: each((b, s) => Math.max(0, b - s)),
};

const premultiplied = (c: Rgb, a: number) => [...c.map((v) => Math.round(v * a * 65535)), Math.round(a * 65535)];

describe.each(BLEND_MODES)('%s', (mode) => {
  test('is the published formula within one 8-bit step, for random colours and alphas', () => {
    const random = randomFrom(7);
    for (let i = 0; i < 400; i++) {
      // Multiples of 1/255, so that the ends of the scale come up as in real pictures.
      const c = () => Math.floor(random() * 256) / 255;
      const [cb, cs] = [
        [c(), c(), c()],
        [c(), c(), c()],
      ];
      const [ab, as] = i % 3 === 0 ? [1, 1] : [Math.max(1 / 16, c()), Math.max(1 / 16, c())];
      const backdrop = Uint16Array.from(premultiplied(cb, ab));
      blendOver(backdrop, Uint16Array.from(premultiplied(cs, as)), mode);
      const mixed = FORMULAS[mode](cb, cs);
      const ao = as + ab * (1 - as);
      const expected = cs.map((v, k) => as * ((1 - ab) * v + ab * mixed[k]) + (1 - as) * ab * cb[k]);
      expect(Math.abs(backdrop[3] / 65535 - ao)).toBeLessThan(1 / 65535 + 1e-9);
      expected.forEach((v, k) =>
        expect(Math.abs(backdrop[k] / 65535 - v), `${mode} ${cb} ${cs} ${ab} ${as}`).toBeLessThan(1 / 255),
      );
    }
  });

  test('a clear source changes nothing, and colour never exceeds alpha', () => {
    const random = randomFrom(11);
    for (let i = 0; i < 60; i++) {
      const a = Math.floor(random() * 65536);
      const before = Uint16Array.of(...[random(), random(), random()].map((v) => Math.floor(v * a)), a);
      const same = before.slice();
      blendOver(same, new Uint16Array(4), mode);
      expect([...same]).toEqual([...before]);
      const sa = Math.floor(random() * 65536);
      blendOver(before, Uint16Array.of(...[random(), random(), random()].map((v) => Math.floor(v * sa)), sa), mode);
      for (let k = 0; k < 3; k++) expect(before[k]).toBeLessThanOrEqual(before[3] + 1);
    }
  });

  test('clipped to what is below it keeps the alpha below, and its colour is the formula over an opaque backdrop', () => {
    const random = randomFrom(13);
    for (let i = 0; i < 100; i++) {
      const c = () => Math.floor(random() * 256) / 255;
      const [cb, cs] = [
        [c(), c(), c()],
        [c(), c(), c()],
      ];
      const [ab, as] = [Math.max(1 / 16, c()), Math.max(1 / 16, c())];
      const backdrop = Uint16Array.from(premultiplied(cb, ab));
      const alpha = backdrop[3];
      blendOver(backdrop, Uint16Array.from(premultiplied(cs, as)), mode, true);
      expect(backdrop[3]).toBe(alpha);
      const mixed = FORMULAS[mode](cb, cs);
      mixed.forEach((v, k) =>
        expect(Math.abs(backdrop[k] / 65535 - ab * (as * v + (1 - as) * cb[k]))).toBeLessThan(1 / 255),
      );
    }
  });
});

describe('mul16', () => {
  test('is the nearest whole number for every product that could go wrong', () => {
    const nearest = (a: number, b: number) => Number((BigInt(a) * BigInt(b) * 2n + 65535n) / 131070n);
    for (let a = 0; a <= 65535; a++) {
      // Beside every half: the products nearest to (k + 1/2) * 65535.
      for (const b of [0, 1, 2, 32767, 32768, 65534, 65535, (a * 40503) & 65535, (a * 7919 + 13) & 65535])
        if (mul16(a, b) !== nearest(a, b)) expect(mul16(a, b), `${a} * ${b}`).toBe(nearest(a, b));
    }
    expect(mul16(65535, 65535)).toBe(65535);
  });
});

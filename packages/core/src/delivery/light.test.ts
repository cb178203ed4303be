import { describe, expect, it } from 'vitest';
import { newImage, type Image8 } from '../raster/image.ts';
import { colourSheet, maskSheet, normalSheet } from '../testing/textures.ts';
import { lightRelation, paintInLight } from './light.ts';

/** sRGB to linear and back (IEC 61966-2-1), by the published formula and not by our tables. */
const lin = (v: number) => (v / 255 <= 0.04045 ? v / 255 / 12.92 : ((v / 255 + 0.055) / 1.055) ** 2.4);
const enc = (l: number) =>
  255 * (l <= 0.0031308 ? Math.max(0, l) * 12.92 : 1.055 * Math.min(1, l) ** (1 / 2.4) - 0.055);

type Curve = (rgb: number[], u: number, v: number) => number[];
const CURVES: [string, Curve][] = [
  ['dusk: each channel its own gain', ([r, g, b]) => [r * 0.62, g * 0.58, b * 0.74]],
  ['wet: darker by a power', (rgb) => rgb.map((v) => 255 * (v / 255) ** 1.45)],
  ['haze: lifted blacks, less contrast', (rgb) => rgb.map((v) => 46 + v * 0.6)],
  ['night: a fraction of the light, bluish', (rgb) => rgb.map((v, c) => enc(lin(v) * [0.08, 0.1, 0.17][c]))],
  [
    'soiled: colour taken out, browner',
    ([r, g, b]) => {
      const y = 0.2126 * r + 0.7152 * g + 0.0722 * b;
      return [0.55 * r + 0.3 * y + 18, 0.5 * g + 0.3 * y + 12, 0.4 * b + 0.3 * y + 6];
    },
  ],
  ['evening: darker from left to right', (rgb, u) => rgb.map((v) => v * (0.9 - 0.45 * u))],
];

function through(image: Image8, curve: Curve): Image8 {
  const out = newImage(image.width, image.height);
  for (let i = 0; i < image.data.length; i += 4) {
    const at = i / 4;
    const [u, v] = [((at % image.width) + 0.5) / image.width, (Math.floor(at / image.width) + 0.5) / image.height];
    const made = curve([...image.data.subarray(i, i + 3)], u, v);
    made.forEach((value, c) => (out.data[i + c] = Math.max(0, Math.min(255, Math.round(value)))));
    out.data[i + 3] = image.data[i + 3];
  }
  return out;
}

/** Stripes of strong colours and a soft edge over a sheet. */
function painted(image: Image8): { picture: Image8; changed: Uint8Array } {
  const picture = { ...image, data: image.data.slice() };
  const changed = new Uint8Array(image.width * image.height);
  const colours = [
    [217, 87, 63],
    [232, 228, 218],
    [47, 93, 98],
    [20, 30, 40],
  ];
  for (let y = 20; y < 100; y++)
    for (let x = 30; x < 150; x++) {
      const i = y * image.width + x;
      const share = Math.min(1, (x - 29) / 16);
      const colour = colours[Math.floor((y - 20) / 20)];
      for (let c = 0; c < 3; c++)
        picture.data[i * 4 + c] = Math.round(image.data[i * 4 + c] * (1 - share) + colour[c] * share);
      changed[i] = 1;
    }
  return { picture, changed };
}

describe('paint in another light', () => {
  it.each(CURVES)('%s: the mean error is under one of 255', (_name, curve) => {
    for (const seed of [3, 11, 29]) {
      const master = colourSheet(seed, 192, 128);
      const copy = through(master, curve);
      const relation = lightRelation(master, copy);
      expect(relation.kind).toBe('light');
      const { picture, changed } = painted(master);
      const wanted = through(picture, curve);
      const made = { ...copy, data: copy.data.slice() };
      paintInLight(made, picture, master, changed, relation, 1);
      let [sum, n] = [0, 0];
      for (let i = 0; i < changed.length; i++) {
        for (let c = 0; c < 4; c++) {
          const apart = Math.abs(made.data[i * 4 + c] - wanted.data[i * 4 + c]);
          if (!changed[i]) expect(apart).toBe(0);
          else if (c < 3) {
            sum += apart;
            n++;
          }
        }
      }
      expect(sum / n).toBeLessThan(1);
    }
  });

  it('the same picture is no other light, and another picture is said', () => {
    const master = colourSheet(5, 160, 160);
    expect(lightRelation(master, master).kind).toBe('same');
    for (const other of [maskSheet(8, 160), normalSheet(4, 160), colourSheet(77, 160, 160)])
      expect(lightRelation(master, other).kind).toBe('unlike');
  });

  it('lamps and dirt of the copy stay to be seen on the paint; strength 0 puts the paint on as it is', () => {
    const master = colourSheet(5, 192, 128);
    const copy = through(master, (rgb) => rgb.map((v) => v * 0.4));
    // A lit window that the master does not have.
    for (let y = 30; y < 36; y++) for (let x = 100; x < 106; x++) copy.data.set([250, 220, 120], (y * 192 + x) * 4);
    const relation = lightRelation(master, copy);
    const { picture, changed } = painted(master);
    const made = { ...copy, data: copy.data.slice() };
    paintInLight(made, picture, master, changed, relation, 1);
    const at = (32 * 192 + 102) * 4;
    expect(made.data[at]).toBeGreaterThan(200);
    const plain = { ...copy, data: copy.data.slice() };
    paintInLight(plain, picture, master, changed, relation, 0);
    expect(plain.data.subarray(at, at + 3)).toEqual(picture.data.subarray(at, at + 3));
  });

  it('follows a copy of another size', () => {
    const master = colourSheet(9, 256, 256);
    const small = through(master, (rgb) => rgb.map((v) => v * 0.5));
    const half = newImage(128, 128);
    for (let y = 0; y < 128; y++)
      for (let x = 0; x < 128; x++)
        half.data.set(small.data.subarray((y * 2 * 256 + x * 2) * 4, (y * 2 * 256 + x * 2) * 4 + 4), (y * 128 + x) * 4);
    expect(lightRelation(master, half).kind).toBe('light');
  });
});

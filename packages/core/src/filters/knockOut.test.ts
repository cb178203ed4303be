/** Marks whose true coverage is known are put on a ground, knocked out of it, and compared with what they were. */
import { describe, expect, test } from 'vitest';
import type { Image8 } from '../raster/image.ts';
import { boxColour } from '../raster/box.ts';
import { pictureOf } from '../raster/picture.ts';
import { fillCoverage, type Contour } from '../shapes/coverage.ts';
import { picture } from '../testing/images.ts';
import { knockOut } from './knockOut.ts';

const SIDE = 96;
type Rgb = readonly [number, number, number];

const disc = (x: number, y: number, r: number): Contour =>
  Float64Array.from(
    Array.from({ length: 128 }, (_, k) => (k * Math.PI) / 64).flatMap((a) => [
      x + r * Math.cos(a),
      y + r * Math.sin(a),
    ]),
  );
/** A band from one point to another. */
const band = (ax: number, ay: number, bx: number, by: number, width: number): Contour => {
  const long = Math.hypot(bx - ax, by - ay);
  const [nx, ny] = [((ay - by) / long) * (width / 2), ((bx - ax) / long) * (width / 2)];
  return Float64Array.of(ax + nx, ay + ny, bx + nx, by + ny, bx - nx, by - ny, ax - nx, ay - ny);
};

/** A mark of one colour, with exact coverage of its edges, on a ground. */
function onGround(shapes: Contour[], colour: Rgb, ground: Rgb): { image: Image8; coverage: Float64Array } {
  const coverage = fillCoverage(shapes, SIDE, SIDE).map((v) => Math.min(1, v));
  const image = picture(SIDE, SIDE, (x, y) => {
    const a = coverage[y * SIDE + x];
    return [0, 1, 2].map((c) => Math.round(colour[c] * a + ground[c] * (1 - a))).concat(255) as [
      number,
      number,
      number,
      number,
    ];
  });
  return { image, coverage };
}

/** Largest and mean difference from the true mark, both put on another ground. */
function error(found: Image8, coverage: Float64Array, colour: Rgb, onto: Rgb): { most: number; mean: number } {
  let [most, sum, edges] = [0, 0, 0];
  for (let i = 0; i < coverage.length; i++) {
    const a = found.data[i * 4 + 3] / 255;
    for (let c = 0; c < 3; c++) {
      const wanted = colour[c] * coverage[i] + onto[c] * (1 - coverage[i]);
      const got = found.data[i * 4 + c] * a + onto[c] * (1 - a);
      most = Math.max(most, Math.abs(wanted - got));
      sum += Math.abs(wanted - got);
    }
    if (coverage[i] > 0 && coverage[i] < 1) edges++;
  }
  return { most, mean: sum / 3 / Math.max(1, edges) };
}

const hexOf = (rgb: Rgb) => `#${rgb.map((v) => v.toString(16).padStart(2, '0')).join('')}`;
const WHITE: Rgb = [255, 255, 255];
const BLACK: Rgb = [0, 0, 0];
const CASES: readonly [string, Contour[], Rgb, Rgb, Rgb, number][] = [
  ['a dark disc off white, on black', [disc(48, 47, 30.3)], [40, 60, 90], WHITE, BLACK, 12],
  ['a red disc off white, on dark blue', [disc(40.5, 50, 22)], [200, 30, 40], WHITE, [10, 20, 60], 12],
  ['a light disc off green, on white', [disc(48, 48, 33.7)], [240, 235, 210], [40, 120, 60], WHITE, 12],
  [
    'thin strokes off white, on black',
    [band(10, 12, 84, 70, 3.2), band(20, 80, 80, 14, 2.4)],
    [20, 20, 30],
    WHITE,
    BLACK,
    60,
  ],
];

describe.each(CASES)('%s', (_name, shapes, colour, ground, onto, most) => {
  const { image, coverage } = onGround(shapes, colour, ground);
  const setting = { hex: hexOf(ground), tolerance: 3, connected: true };

  test('comes out as if it had been drawn on nothing', () => {
    const found = error(knockOut(image, setting), coverage, colour, onto);
    expect(found.most).toBeLessThanOrEqual(most);
    // Left as it was, an edge keeps its share of the old ground: many times that error.
    const kept = picture(SIDE, SIDE, (x, y) => {
      const i = (y * SIDE + x) * 4;
      const clear = coverage[y * SIDE + x] < 0.02;
      return [...image.data.subarray(i, i + 3), clear ? 0 : 255] as unknown as [number, number, number, number];
    });
    expect(found.mean * 4).toBeLessThan(error(kept, coverage, colour, onto).mean);
  });

  test('its picture is not changed, and far from any edge not one value is', () => {
    const before = image.data.slice();
    const out = knockOut(image, setting);
    for (let i = 0; i < before.length; i++) if (before[i] !== image.data[i]) expect(i).toBe(-1);
    for (let i = 0; i < coverage.length; i++) {
      const own = out.data.subarray(i * 4, i * 4 + 4);
      if (coverage[i] === 0 && own[3] > 0) expect([i, ...own]).toEqual([i, 0, 0, 0, 0]);
    }
  });
});

test('connected: a hole of the ground’s colour inside the mark stays; everywhere: it goes too', () => {
  const ring = picture(40, 40, (x, y) => {
    const d = Math.max(Math.abs(x - 20), Math.abs(y - 20));
    return d < 5 || d > 14 ? [255, 255, 255, 255] : [30, 40, 50, 255];
  });
  const setting = { hex: '#ffffff', tolerance: 4 };
  const alphaAt = (image: Image8, x: number, y: number) => image.data[(y * 40 + x) * 4 + 3];
  const kept = knockOut(ring, { ...setting, connected: true });
  const gone = knockOut(ring, { ...setting, connected: false });
  expect([alphaAt(kept, 20, 20), alphaAt(kept, 1, 1), alphaAt(kept, 20, 10)]).toEqual([255, 0, 255]);
  expect([alphaAt(gone, 20, 20), alphaAt(gone, 1, 1), alphaAt(gone, 20, 10)]).toEqual([0, 0, 255]);
});

test('tolerance: a ground that is uneven as a photograph’s goes whole, and a tolerance of nothing takes the one colour alone', () => {
  const uneven = picture(40, 40, (x, y) =>
    x > 12 && x < 28 && y > 12 && y < 28 ? [180, 20, 20, 255] : [236 + ((x * 7 + y * 3) % 12), 240, 238, 255],
  );
  const clear = (tolerance: number) => {
    const { data } = knockOut(uneven, { hex: '#f0f0ee', tolerance, connected: false });
    return data.filter((v, i) => i % 4 === 3 && v === 0).length;
  };
  expect(clear(6)).toBe(40 * 40 - 15 * 15);
  expect(clear(0)).toBeLessThan(400);
});

test('the colour of the box that a picture brings along is found, and is gone once it is knocked out', () => {
  const { image } = onGround([disc(48, 48, 30)], [40, 60, 90], [250, 251, 252]);
  expect(boxColour(pictureOf(image))).toEqual([250, 251, 252]);
  expect(boxColour(pictureOf(knockOut(image, { hex: '#fafbfc', tolerance: 3, connected: true })))).toBeNull();
  expect(boxColour(pictureOf(picture(32, 32, () => [9, 9, 9, 255])))).toBeNull();
});

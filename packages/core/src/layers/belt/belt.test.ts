/** The band is where the model says, on every sheet alike: against formulas for planes cut through plain bodies. */
import { describe, expect, test } from 'vitest';
import { renderCoarse } from '../../compose/renderSheet.ts';
import type { Template } from '../../livery/template.ts';
import { body, type Patch } from '../../testing/bodies.ts';
import type { Vec } from '../../surface/vectors.ts';
import { layerOf, smallLivery, sourcesFor } from '../../testing/scenes.ts';

const belt = (set: object) =>
  layerOf('belt', { paint: { hex: '#ff0000' }, along: 'height', from: 0.25, to: 0.5, soft: 0, ...set });

/** Alpha 0..1 of a sheet with one belt on it. */
async function drawn(template: Template, layer: ReturnType<typeof belt>, sheet = template.sheets[0].key, step = 1) {
  const livery = smallLivery([layer], template);
  const { width, height } = template.sheets[0];
  const sources = await sourcesFor(livery, template);
  const { data } = renderCoarse(livery, sheet, 'colour', { width, height }, step, sources);
  return (x: number, y: number) => data[(y * Math.ceil(width / step) + x) * 4 + 3] / 255;
}

const SIDE = 256;
const INSET = 0.125;

describe('on a flat wall', () => {
  const wall = body(
    SIDE,
    ['face'],
    [{ sheet: 'face', box: [INSET, INSET, 0.75, 0.75], at: (u, v) => [u, 1 - v, 0], columns: 2, rows: 2 }],
  );
  const high = SIDE * 0.75;

  test('a hard edge covers the exact share of each row of texels', async () => {
    const [from, to] = [0.3141, 0.6543];
    const at = await drawn(wall, belt({ from, to }));
    for (let y = 40; y < 216; y++) {
      // The row's own heights on the wall.
      const top = 1 - (y - SIDE * INSET) / high;
      const share = Math.max(0, Math.min(to, top) - Math.max(from, top - 1 / high)) * high;
      expect(Math.abs(at(128, y) - share)).toBeLessThan(1.01 / 255);
    }
  });

  test('a soft edge is half at its plane, and as wide as it says', async () => {
    const at = await drawn(wall, belt({ from: 0.5, to: 2, soft: 0.25 }));
    const rowOf = (height: number) => Math.round(SIDE * INSET + (1 - height) * high - 0.5);
    expect(at(128, rowOf(0.5))).toBeCloseTo(0.5, 1);
    expect([at(128, rowOf(0.36)), at(128, rowOf(0.64))]).toEqual([0, 1]);
    expect(at(128, rowOf(0.45))).toBeGreaterThan(0.05);
  });

  test('gutters carry it on; what belongs to no island stays clear', async () => {
    const at = await drawn(wall, belt({ from: 0.25, to: 0.75 }));
    const edge = SIDE * (1 - INSET);
    expect([at(edge + 5, 128), at(edge + 25, 128), at(2, 2)]).toEqual([1, 0, 0]);
  });

  test('drafts show it where the sheet does', async () => {
    const layer = belt({ from: 0.25, to: 0.75 });
    const [fine, coarse] = [await drawn(wall, layer), await drawn(wall, layer, 'face', 4)];
    for (let y = 10; y < 54; y++)
      for (const x of [20, 40]) {
        let mean = 0;
        for (let k = 0; k < 16; k++) mean += fine(x * 4 + (k & 3), y * 4 + (k >> 2)) / 16;
        expect(Math.abs(coarse(x, y) - mean)).toBeLessThan(2.1 / 255);
      }
  });

  test('the ends may be given either way round', async () => {
    const [one, two] = [await drawn(wall, belt({})), await drawn(wall, belt({ from: 0.5, to: 0.25 }))];
    for (let y = 0; y < SIDE; y += 3) expect(one(128, y)).toBe(two(128, y));
  });
});

test('on a slope the band is as much wider as the slope is longer', async () => {
  // Rises 0.6 over a length of 1 along the sheet's y: sin is 0.6.
  const slope = body(
    SIDE,
    ['face'],
    [
      {
        sheet: 'face',
        box: [INSET, INSET, 0.75, 0.75],
        at: (u, v) => [u, 0.6 * (1 - v), 0.8 * v],
        columns: 1,
        rows: 1,
      },
    ],
  );
  const at = await drawn(slope, belt({ from: 0.1, to: 0.4 }));
  let texels = 0;
  for (let y = 0; y < SIDE; y++) texels += at(128, y);
  expect(texels).toBeCloseTo((0.3 / 0.6) * SIDE * 0.75, 1);
});

test('round a cylinder cut into islands that lie every which way, on two sheets, both sides of each seam are alike', async () => {
  const around =
    (from: number, to: number) =>
    (u: number, v: number): Vec => {
      const angle = 2 * Math.PI * (from + (to - from) * u);
      return [Math.cos(angle), 1 - v, Math.sin(angle)];
    };
  const turned =
    (at: Patch['at']): Patch['at'] =>
    (u, v) =>
      at(v, 1 - u);
  const mirrored =
    (at: Patch['at']): Patch['at'] =>
    (u, v) =>
      at(1 - u, v);
  const [a, b, c] = [around(0, 0.4), turned(around(0.4, 0.7)), mirrored(around(0.7, 1))];
  const patches: Patch[] = [
    { sheet: 'one', box: [0.1, 0.1, 0.8, 0.35], at: a, columns: 20, rows: 3 },
    { sheet: 'one', box: [0.1, 0.55, 0.3, 0.35], at: b, columns: 3, rows: 15 },
    { sheet: 'two', box: [0.2, 0.2, 0.5, 0.6], at: c, columns: 15, rows: 3 },
  ];
  const template = body(512, ['one', 'two'], patches);
  // So soft that a step of one texel is small: what differs across a seam is not the sampling.
  const layer = belt({ from: 0.3, to: 0.7, soft: 0.3 });
  const [one, two] = [await drawn(template, layer, 'one'), await drawn(template, layer, 'two')];
  /** The value on a patch's island by bilinear reading at (u, v). */
  const read = ({ sheet, box }: Patch, u: number, v: number) => {
    const at = sheet === 'one' ? one : two;
    const [x, y] = [(box[0] + box[2] * u) * 512 - 0.5, (box[1] + box[3] * v) * 512 - 0.5];
    const [left, top] = [Math.floor(x), Math.floor(y)];
    const [s, t] = [x - left, y - top];
    return (
      (at(left, top) * (1 - s) + at(left + 1, top) * s) * (1 - t) +
      (at(left, top + 1) * (1 - s) + at(left + 1, top + 1) * s) * t
    );
  };
  for (let k = 1; k < 200; k++) {
    const h = k / 200;
    // Ends of the first, the turned and the mirrored island that meet at the same height.
    const seams = [
      [read(patches[0], 1, h), read(patches[1], 1 - h, 0)],
      [read(patches[1], 1 - h, 1), read(patches[2], 1, h)],
      [read(patches[2], 0, h), read(patches[0], 0, h)],
    ];
    for (const [here, there] of seams) expect(Math.abs(here - there)).toBeLessThan(2 / 255);
  }
});

test('round a sphere it ends at circles of height: by the share that each texel’s own plane gives', async () => {
  const ball = (u: number, v: number): Vec => {
    const [turn, rise] = [2 * Math.PI * u, Math.PI * (0.1 + 0.8 * v)];
    return [Math.sin(rise) * Math.cos(turn), Math.cos(rise), Math.sin(rise) * Math.sin(turn)];
  };
  const template = body(
    512,
    ['face'],
    [{ sheet: 'face', box: [0.05, 0.05, 0.9, 0.9], at: ball, columns: 64, rows: 128 }],
  );
  const at = await drawn(template, belt({ from: -0.2, to: 0.35 }));
  // The circle of height h lies on row v with cos(pi (0.1 + 0.8 v)) = h; facets are flat, within their sagitta of the ball.
  const rowOf = (h: number) => (0.05 + (0.9 * (Math.acos(h) / Math.PI - 0.1)) / 0.8) * 512;
  for (let x = 40; x < 470; x += 7) {
    let texels = 0;
    for (let y = 0; y < 512; y++) texels += at(x, y);
    expect(Math.abs(texels - (rowOf(-0.2) - rowOf(0.35)))).toBeLessThan(0.1);
  }
});

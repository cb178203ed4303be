/** Wear lies where its model says: against plain bodies whose surfaces are known by formula. */
import { describe, expect, test } from 'vitest';
import { renderCoarse, renderSheet } from '../../compose/renderSheet.ts';
import { renderRegion } from '../../compose/renderTile.ts';
import type { Template } from '../../livery/template.ts';
import { Rough3 } from '../../raster/noise3.ts';
import { body, cube, turnedBody } from '../../testing/bodies.ts';
import { randomFrom } from '../../testing/images.ts';
import fc from '../../testing/property.ts';
import { smallLivery, sourcesFor, wearOn } from '../../testing/scenes.ts';
import { fieldsIn } from '../../surface/fields.ts';
import { SheetSurface } from '../../surface/surface.ts';
import { WEAR } from './data.ts';

interface Sample {
  alpha: number;
  position: readonly number[];
  normal: readonly number[];
}

/** Alpha 0..1, place and normal of each texel of the model on a sheet. */
async function samplesOf(template: Template, layer: ReturnType<typeof wearOn>, key = template.sheets[0].key) {
  const livery = smallLivery([layer], template);
  const { width, height } = template.sheets[0];
  const { data } = renderSheet(livery, key, 'colour', { width, height }, await sourcesFor(livery, template));
  return placesOf(template, key).map(({ i, ...place }): Sample => ({ ...place, alpha: data[i * 4 + 3] / 255 }));
}

type PlaceOfTexel = Omit<Sample, 'alpha'> & { i: number };
const known = new WeakMap<Template, PlaceOfTexel[]>();

/** Each texel of the model on a sheet, where it lies and where it looks. */
function placesOf(template: Template, key: string): PlaceOfTexel[] {
  const found = known.get(template);
  if (found) return found;
  const { width, height } = template.sheets[0];
  const window = { left: 0, top: 0, right: width, bottom: height };
  const { inside, position, normal } = fieldsIn(new SheetSurface(template, key), window);
  const three = (of: Float32Array, i: number) => [...of.subarray(i * 3, i * 3 + 3)];
  const made = Array.from(inside, (_, i) => i).flatMap((i): PlaceOfTexel[] =>
    inside[i] ? [{ i, position: three(position, i), normal: three(normal, i) }] : [],
  );
  known.set(template, made);
  return made;
}

const mean = (values: readonly number[]) => values.reduce((sum, v) => sum + v, 0) / Math.max(1, values.length);
const ball = body(
  256,
  ['face'],
  [
    {
      ...{ sheet: 'face', box: [0, 0, 1, 1], columns: 64, rows: 32 },
      ...turnedBody(
        (v) => Math.sin(Math.PI * (0.02 + 0.96 * v)),
        (v) => Math.cos(Math.PI * (0.02 + 0.96 * v)),
      ),
    },
  ],
);
const block = cube(256);

describe('where it lies', () => {
  test('dust on what looks up, thinner down the sides, none below', async () => {
    const all = await samplesOf(ball, wearOn(ball, 'dust'));
    const at = (low: number, high: number) =>
      mean(all.filter(({ normal }) => normal[1] > low && normal[1] <= high).map(({ alpha }) => alpha));
    const [above, side, below] = [at(0.8, 1), at(0.2, 0.5), at(-1, -0.2)];
    expect(above).toBeGreaterThan(0.6);
    expect(side).toBeLessThan(above / 2);
    expect(below).toBe(0);
    // Blown from starboard it lies there.
    const blown = await samplesOf(ball, wearOn(ball, 'dust', { heading: 90, rise: 0 }));
    expect(mean(blown.filter(({ normal }) => normal[2] < -0.2).map(({ alpha }) => alpha))).toBe(0);
    expect(mean(blown.filter(({ normal }) => normal[2] > 0.8).map(({ alpha }) => alpha))).toBeGreaterThan(0.5);
  });

  test('grime from the lowest point up to its reach, and not beyond', async () => {
    const all = await samplesOf(ball, wearOn(ball, 'grime', { reach: 0.8, amount: 100 }));
    const high = ({ position }: Sample) => position[1] + Math.cos(Math.PI * 0.02);
    expect(all.filter((one) => high(one) > 0.8).every(({ alpha }) => alpha === 0)).toBe(true);
    expect(all.filter((one) => high(one) < 0.6).every(({ alpha }) => alpha > 0.98)).toBe(true);
  });

  test('streaks are the same all along their way, and end within their reach', async () => {
    const side = body(
      256,
      ['face'],
      [
        {
          ...{ sheet: 'face', box: [0, 0, 1, 1] as [number, number, number, number], columns: 8, rows: 8 },
          ...{ at: (u: number, v: number) => [u, 1 - v, 0] as const, normal: () => [0, 0, 1] as const },
        },
      ].map((patch) => ({ ...patch, at: (u, v) => [...patch.at(u, v)], normal: () => [0, 0, 1] })),
    );
    const layer = wearOn(side, 'streaks', { reach: 0.5, size: 0.03, soft: 30, amount: 60 });
    const livery = smallLivery([layer], side);
    const { data } = renderSheet(livery, 'face', 'colour', { width: 256, height: 256 }, await sourcesFor(livery, side));
    const alpha = (x: number, y: number) => data[(y * 256 + x) * 4 + 3];
    let [lanes, gaps, thicker, beyond] = [0, 0, 0, 0];
    for (let x = 4; x < 252; x++) {
      // Thinner the farther down, and nothing beyond the reach.
      for (let y = 3; y < 250; y++) thicker = Math.max(thicker, alpha(x, y + 1) - alpha(x, y));
      beyond = Math.max(beyond, alpha(x, 134));
      if (alpha(x, 4) > 200) lanes++;
      if (alpha(x, 4) < 20) gaps++;
    }
    expect(thicker).toBeLessThanOrEqual(1);
    expect(beyond).toBe(0);
    expect(lanes).toBeGreaterThan(30);
    expect(gaps).toBeGreaterThan(30);
  });

  test('chips on edges, none in the middle of faces', async () => {
    const all = await samplesOf(block, wearOn(block, 'chips', { amount: 70 }));
    const edge = ({ position }: Sample) => position.map(Math.abs).toSorted((a, b) => a - b)[1];
    const near = all.filter((one) => edge(one) > 0.97);
    const middle = all.filter((one) => edge(one) < 0.6);
    expect(mean(near.map(({ alpha }) => alpha))).toBeGreaterThan(0.3);
    expect(middle.every(({ alpha }) => alpha === 0)).toBe(true);
  });

  test('soot downstream of its place only, thinner the farther, within its reach', async () => {
    const place = { ahead: 1, height: 1, starboard: 0, heading: 180, rise: 0, reach: 1.2, size: 0.3, amount: 90 };
    const all = await samplesOf(block, wearOn(block, 'soot', place));
    const top = all.filter(({ normal, position }) => normal[1] > 0.9 && Math.abs(position[2]) < 0.1);
    const at = (x: number) =>
      mean(top.filter(({ position }) => Math.abs(position[0] - x) < 0.1).map(({ alpha }) => alpha));
    expect(at(0.8)).toBeGreaterThan(0.8);
    expect(at(0)).toBeLessThan(at(0.8));
    const outside = ({ position, normal }: Sample) =>
      position[0] < -0.21 ||
      normal[1] < -0.9 ||
      Math.abs(position[2]) > 0.3 + 0.3 * Math.max(0, 1 - position[0]) + 0.01;
    expect(all.filter(outside).every(({ alpha }) => alpha === 0)).toBe(true);
  });

  test('salt on what meets it, up to its reach; sun where it gets to', async () => {
    const salt = await samplesOf(ball, wearOn(ball, 'salt', { reach: 1, amount: 100 }));
    expect(salt.filter(({ position }) => position[1] > 0.01).every(({ alpha }) => alpha === 0)).toBe(true);
    const below = salt.filter(({ position }) => position[1] < -0.2);
    const meets = (side: number) =>
      mean(below.filter(({ normal }) => normal[0] * side > 0.5).map(({ alpha }) => alpha));
    expect(meets(1)).toBeGreaterThan(meets(-1) + 0.2);
    const sun = await samplesOf(ball, wearOn(ball, 'sun', { amount: 100, soft: 100 }));
    const off = sun.map(({ alpha, normal }) => Math.abs(alpha - Math.max(0, 0.35 + 0.65 * normal[1])));
    expect(Math.max(...off)).toBeLessThan(0.05);
  });
});

describe.each(WEAR)('%s', (how) => {
  test('nothing at 0, and never less for more of it', async () => {
    const layers = [0, 20, 55, 100].map((amount) => wearOn(block, how, { amount }));
    const drawn = await Promise.all(layers.map((layer) => samplesOf(block, layer)));
    expect(drawn[0].every(({ alpha }) => alpha === 0)).toBe(true);
    for (let k = 1; k < drawn.length; k++)
      expect(drawn[k].every(({ alpha }, i) => alpha >= drawn[k - 1][i].alpha - 1 / 254)).toBe(true);
  });

  test('is the same, to the bit, in whatever pieces it is drawn', async () => {
    const livery = smallLivery([wearOn(ball, how, { amount: 70 })], ball);
    const sources = await sourcesFor(livery, ball);
    const whole = renderRegion(
      livery,
      'face',
      'colour',
      { x: 0, y: 0, width: 256, height: 256, step: 1 },
      sources,
    ).slice();
    const random = randomFrom(5);
    for (let k = 0; k < 12; k++) {
      const [x, y] = [Math.floor(random() * 200), Math.floor(random() * 200)];
      const piece = renderRegion(livery, 'face', 'colour', { x, y, width: 56, height: 40, step: 1 }, sources);
      for (let j = 0; j < 40; j++)
        expect(piece.subarray(j * 56 * 4, (j + 1) * 56 * 4)).toEqual(
          whole.subarray(((y + j) * 256 + x) * 4, ((y + j) * 256 + x + 56) * 4),
        );
    }
  });

  test('no step at a seam: a ball cut in two, on two sheets, is worn as one is', async () => {
    const half = (from: number, sheet: string) => ({
      ...{ sheet, box: [0, 0, 1, 1] as [number, number, number, number], columns: 48, rows: 48 },
      ...(() => {
        const rise = (v: number) => Math.PI * (0.02 + 0.96 * v);
        const at = (u: number, v: number): [number, number, number] => {
          const turn = Math.PI * (from + u);
          return [Math.sin(rise(v)) * Math.cos(turn), Math.cos(rise(v)), Math.sin(rise(v)) * Math.sin(turn)];
        };
        return { at };
      })(),
    });
    const two = body(192, ['one', 'other'], [half(0, 'one'), half(1, 'other')]);
    const layer = wearOn(two, how, { amount: 60, soft: 60, size: 0.4 });
    const livery = smallLivery([layer], two);
    const sources = await sourcesFor(livery, two);
    const [one, other] = ['one', 'other'].map(
      (key) => renderSheet(livery, key, 'colour', { width: 192, height: 192 }, sources).data,
    );
    // The last texels of the one and the first of the other are a texel apart; so are neighbours within a sheet.
    let [within, across] = [0, 0];
    for (let y = 0; y < 192; y++) {
      const a = (data: Uint8Array, x: number) => data[(y * 192 + x) * 4 + 3];
      across += Math.abs(a(one, 191) - a(other, 0)) + Math.abs(a(other, 191) - a(one, 0));
      within += Math.abs(a(one, 95) - a(one, 96)) + Math.abs(a(other, 95) - a(other, 96));
      within += Math.abs(a(one, 40) - a(one, 41)) + Math.abs(a(other, 140) - a(other, 141));
    }
    expect(across / 192 / 2).toBeLessThan(within / 192 / 4 + 4);
  });

  test('drafts show it where the sheet does', async () => {
    const livery = smallLivery([wearOn(ball, how, { amount: 60, size: 0.5, soft: 60 })], ball);
    const sources = await sourcesFor(livery, ball);
    const fine = renderSheet(livery, 'face', 'colour', { width: 256, height: 256 }, sources);
    const coarse = renderCoarse(livery, 'face', 'colour', { width: 256, height: 256 }, 2, sources);
    let off = 0;
    for (let y = 4; y < 124; y++)
      for (let x = 4; x < 124; x++) {
        let sum = 0;
        for (const [dx, dy] of [
          [0, 0],
          [1, 0],
          [0, 1],
          [1, 1],
        ])
          sum += fine.data[((y * 2 + dy) * 256 + x * 2 + dx) * 4 + 3] / 4;
        off += Math.abs(coarse.data[(y * 128 + x) * 4 + 3] - sum);
      }
    expect(off / 120 / 120).toBeLessThan(9);
  });
});

test('noise is spread near evenly: of values under one there are about as many as it says, whatever the seed', () => {
  fc.assert(
    fc.property(fc.integer({ min: 0, max: 9999 }), (seed) => {
      const noise = new Rough3(seed);
      const random = randomFrom(seed + 1);
      const values = Array.from({ length: 4000 }, () => noise.at(random() * 200, random() * 200, random() * 200, 0));
      for (const share of [0.25, 0.5, 0.75])
        expect(Math.abs(values.filter((v) => v < share).length / values.length - share)).toBeLessThan(0.08);
    }),
    { numRuns: 10 },
  );
});

test('what is finer than samples are is even: no sparkle in drafts', () => {
  const noise = new Rough3(3);
  for (let k = 0; k < 50; k++) expect(noise.at(k * 1.7, k * 0.3, 1, 1)).toBe(0.5);
});

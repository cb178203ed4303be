/** Night follows the day: against evaluations of the tests' own, and distances along plain bodies by formula. */
import { describe, expect, test } from 'vitest';
import { renderCoarse, renderSheet } from '../compose/renderSheet.ts';
import { renderFinished } from '../compose/renderTile.ts';
import { TileCache } from '../compose/tileCache.ts';
import { nightUnseen } from '../delivery/checks/nightUnseen.ts';
import { isOriginal, planDelivery } from '../delivery/plan.ts';
import { NO_TARGET } from '../delivery/target.ts';
import { mapContent } from '../depends/content.ts';
import { rgbOfHex } from '../colour/hex.ts';
import { hexOfRgb } from '../colour/hex.ts';
import { packPixels } from '../files/pixels.ts';
import { SHIPPED_SPECS } from '../games/index.ts';
import { LayerId, Sha256 } from '../livery/ids.ts';
import { originalLayer } from '../livery/originalLayer.ts';
import { LAYERS, type Layer } from '../livery/layer.ts';
import type { Livery } from '../livery/livery.ts';
import { FIRST_LIT, FIRST_NIGHT, Lit, type NightLook } from '../livery/night.ts';
import { newLivery } from '../livery/newLivery.ts';
import type { Template } from '../livery/template.ts';
import { fieldsIn } from '../surface/fields.ts';
import { SheetSurface } from '../surface/surface.ts';
import { boxOfMesh } from '../surface/triangles.ts';
import type { Vec } from '../surface/vectors.ts';
import { body, cube, flat, turnedBody } from '../testing/bodies.ts';
import { randomFrom } from '../testing/images.ts';
import { layerOf, NO_HASH, smallLivery, sourcesFor } from '../testing/scenes.ts';

const BARE: NightLook = { light: 0, colour: 100, tint: '#ffffff' };

/** A template whose sheets have a map for the night. */
const withNight = (template: Template): Template => ({
  ...template,
  sheets: template.sheets.map((sheet) => ({ ...sheet, maps: [{ key: 'night', name: 'Night', alpha: 'none' }] })),
});

/** @param layers of the day, by sheet */
function nightOf(
  template: Template,
  layers: (sheet: string) => Layer[],
  night: NightLook | undefined = FIRST_NIGHT,
): Livery {
  const livery = smallLivery([], template);
  return {
    ...livery,
    ...(night && { night }),
    sheets: livery.sheets.map((sheet) => ({
      ...sheet,
      maps: [
        { key: 'colour', alpha: 'none', layers: layers(sheet.key) },
        { key: 'night', alpha: 'none', layers: [] },
      ],
    })),
  };
}

async function picture(livery: Livery, template: Template, map = 'night', sheet = template.sheets[0].key) {
  const { width, height } = template.sheets.find(({ key }) => key === sheet)!;
  return renderSheet(livery, sheet, map, { width, height }, await sourcesFor(livery, template)).data;
}

const lit = (set: Partial<Lit> = {}) => ({ lit: Lit.parse({ ...FIRST_LIT, ...set }) });
const SIDE = 64;
const plank = withNight(cube(SIDE));
/** A box about a place. */
const box = (x: number, y: number, width: number, height: number, hex: string, set: object = {}) =>
  layerOf('shape', {
    paint: { hex },
    x,
    y,
    line: null,
    paths: [
      {
        closed: true,
        how: 'add',
        knots: [[-1, -1], [1, -1], [1, 1], [-1, 1]].map(([i, j]) => ({ x: (i * width) / 2, y: (j * height) / 2, smooth: false })),
      },
    ],
    ...set,
  }); // prettier-ignore

/** Straight RGBA of the middle of a texel. */
const at = (data: Uint8Array, x: number, y: number, side = SIDE) => [
  ...data.subarray((y * side + x) * 4, (y * side + x) * 4 + 4),
];
/** What is left of a colour at night, by the decision record: luma of ITU-R BT.709, then tint and light. */
function darkened([r, g, b]: readonly number[], { light, colour, tint }: NightLook): number[] {
  const y = 0.2126 * r + 0.7152 * g + 0.0722 * b;
  return [r, g, b].map((v, i) => (y + (v - y) * (colour / 100)) * (rgbOfHex(tint)[i] / 255) * (light / 100));
}
const near = (found: readonly number[], wanted: readonly number[], by = 1.01) =>
  Math.max(...wanted.map((v, i) => Math.abs(found[i] - v))) <= by;

describe('the day made dark', () => {
  test('is every colour by light, colour and tint', async () => {
    const random = randomFrom(7);
    for (let k = 0; k < 60; k++) {
      const rgb = [0, 1, 2].map(() => Math.floor(random() * 256)) as [number, number, number];
      const tint = hexOfRgb([0, 1, 2].map(() => Math.floor(random() * 256)) as [number, number, number]);
      const night = { light: Math.floor(random() * 101), colour: Math.floor(random() * 101), tint };
      const livery = nightOf(plank, () => [layerOf('solid', { paint: { hex: hexOfRgb(rgb) } })], night);
      const data = await picture(livery, plank);
      expect(near(at(data, 9, 31), [...darkened(rgb, night), 255]), JSON.stringify({ rgb, night })).toBe(true);
    }
  });

  test('without a night it is as painted by hand; without anything painted there is none', async () => {
    const layers = () => [layerOf('solid', { paint: { hex: '#808080' }, ...lit() })];
    expect((await picture(nightOf(plank, layers, undefined), plank)).every((v) => v === 0)).toBe(false);
    const { night: _night, ...byHand } = nightOf(plank, layers);
    expect((await picture(byHand, plank)).every((v) => v === 0)).toBe(true);
    expect(
      (
        await picture(
          nightOf(plank, () => []),
          plank,
        )
      ).every((v) => v === 0),
    ).toBe(true);
    const hidden = () => [layerOf('solid', { paint: { hex: '#808080' }, hidden: true })];
    expect((await picture(nightOf(plank, hidden), plank)).every((v) => v === 0)).toBe(true);
  });

  test('by hand it can be painted over', async () => {
    const livery = nightOf(plank, () => [layerOf('solid', { paint: { hex: '#808080' } })]);
    livery.sheets[0].maps[1].layers = [box(32, 32, 20, 20, '#ffee00')];
    const data = await picture(livery, plank);
    expect(at(data, 32, 32)).toEqual([255, 238, 0, 255]);
    expect(near(at(data, 4, 4), darkened([128, 128, 128], FIRST_NIGHT))).toBe(true);
  });

  test('a new livery of a craft with night maps follows the day', () => {
    expect(newLivery(plank, NO_HASH, 'New').night).toEqual(FIRST_NIGHT);
    expect(newLivery(cube(8), NO_HASH, 'New').night).toBeUndefined();
  });
});

describe('where the game brought a night', () => {
  const pixels = (of: (x: number, y: number) => readonly [number, number, number]) => {
    const image = { width: SIDE, height: SIDE, data: new Uint8Array(SIDE * SIDE * 4).fill(255) };
    for (let y = 0; y < SIDE; y++) for (let x = 0; x < SIDE; x++) image.data.set(of(x, y), (y * SIDE + x) * 4);
    return packPixels(image);
  };
  const [dayHash, nightHash] = ['1', '2'].map((digit) => Sha256.parse(digit.repeat(64)));
  const blobs = new Map([
    [dayHash as string, pixels((x, y) => [x * 3, y * 3, 90])],
    [nightHash as string, pixels((x, y) => [x, 7, y])],
  ]);
  const size = { width: SIDE, height: SIDE };
  const template: Template = {
    ...plank,
    begin: {
      face: [originalLayer(dayHash, size, LayerId.parse('day'))],
      'face/night': [originalLayer(nightHash, size, LayerId.parse('dark'))],
    },
  };
  const pictured = async (more: Layer[]) => {
    const livery = newLivery(template, NO_HASH, 'Over');
    livery.sheets[0].maps[0].layers.push(...more);
    const sources = await sourcesFor(livery, template, blobs);
    return { livery, data: renderSheet(livery, 'face', 'night', size, sources).data };
  };

  test('only what was painted by day changes it; where nothing was it is the game’s own, to the bit', async () => {
    const untouched = await pictured([]);
    expect(isOriginal(untouched.livery, template, 'face', 'night')).toBe(true);
    for (const [x, y] of [[3, 3], [40, 20]]) expect(at(untouched.data, x, y)).toEqual([x, 7, y, 255]); // prettier-ignore
    const { livery, data } = await pictured([box(20, 20, 16, 16, '#c08040'), box(44, 44, 8, 8, '#ffffff', lit())]);
    expect(isOriginal(livery, template, 'face', 'night')).toBe(false);
    expect(near(at(data, 20, 20), darkened([192, 128, 64], FIRST_NIGHT))).toBe(true);
    expect(at(data, 44, 44)).toEqual([255, 255, 255, 255]);
    for (const [x, y] of [[3, 3], [40, 20], [50, 50]]) expect(at(data, x, y)).toEqual([x, 7, y, 255]); // prettier-ignore
  });
});

describe('what preflight says of the night', () => {
  const spec = SHIPPED_SPECS['ninth-meridian'];
  const says = async (livery: Livery, of = spec) =>
    (
      await nightUnseen.run({
        ...{ livery, template: plank, spec: of, plan: planDelivery(livery, plank, of), target: NO_TARGET },
        sources: await sourcesFor(livery, plank),
      })
    ).map(({ title }) => title);
  const day = (set: Partial<Lit>) => () => [
    layerOf('solid', { paint: { hex: '#808080' } }),
    box(32, 32, 9, 9, '#ffffff', { name: 'Window', ...lit(set) }),
  ];

  test('nothing where it is seen', async () => {
    expect(await says(nightOf(plank, day({})))).toEqual([]);
    expect(await says(nightOf(plank, () => [layerOf('solid', { paint: { hex: '#808080' } })]))).toEqual([]);
  });
  test('a night that does not follow, a game that takes none, a light as dark as the rest', async () => {
    const { night: _night, ...byHand } = nightOf(plank, day({}));
    expect(await says(byHand)).toEqual(['The night of face does not follow the day']);
    const blind = { ...spec, files: spec.files.filter(({ map }) => map !== 'night') };
    expect(await says(nightOf(plank, day({})), blind)).toEqual(['Ninth Meridian does not see what is lit on face']);
    expect(await says(nightOf(plank, day({ strength: 20 })))).toEqual(['“Window” is lit no brighter than the night']);
    expect(await says(nightOf(plank, day({ strength: 20, paint: { hex: '#ff0000' } })))).toEqual([]);
  });
});

describe('what is lit', () => {
  test('in its own colours it is as by day, where nothing covers it; by a paint it is that', async () => {
    const day = [
      layerOf('solid', { paint: { hex: '#334455' } }),
      box(32, 32, 40, 20, '#ffcc66', lit()),
      box(20, 32, 16, 30, '#112233'),
      box(44, 32, 6, 6, '#000000', lit({ paint: { hex: '#40ff80' } })),
    ];
    const livery = nightOf(plank, () => day);
    const data = await picture(livery, plank);
    expect(at(data, 32, 32)).toEqual([255, 204, 102, 255]);
    expect(at(data, 44, 32)).toEqual([64, 255, 128, 255]);
    expect(near(at(data, 20, 32), darkened([17, 34, 51], FIRST_NIGHT))).toBe(true);
    expect(near(at(data, 32, 8), darkened([51, 68, 85], FIRST_NIGHT))).toBe(true);
  });

  test('of any build-up of boxes it is what a plain evaluation says', async () => {
    const random = randomFrom(11);
    const int = (n: number) => Math.floor(random() * n);
    for (let round = 0; round < 120; round++) {
      const night = { light: int(60), colour: int(101), tint: hexOfRgb([int(256), int(256), int(256)]) };
      const boxes = Array.from({ length: 2 + int(5) }, () => ({
        rgb: [int(256), int(256), int(256)] as [number, number, number],
        left: int(40), top: int(40), wide: 8 + int(40), high: 8 + int(40), opacity: 10 + int(91),
        light: random() < 0.5 ? { strength: int(101), paint: random() < 0.5 ? ([int(256), int(256), int(256)] as [number, number, number]) : null } : null,
        only: random() < 0.2,
      })); // prettier-ignore
      const layers = boxes.map(({ rgb, left, top, wide, high, opacity, light, only }) =>
        box(left + wide / 2, top + high / 2, wide, high, hexOfRgb(rgb), {
          opacity,
          ...(light &&
            lit({
              strength: light.strength,
              ...(light.paint && { paint: { hex: hexOfRgb(light.paint) } }),
              ...(only && { only: true }),
            })),
        }),
      );
      const data = await picture(
        nightOf(plank, () => layers, night),
        plank,
      );
      for (let k = 0; k < 40; k++) {
        const [x, y] = [int(SIDE), int(SIDE)];
        // Premultiplied day, light and its share, first on first.
        let [day, alpha] = [[0, 0, 0], 0];
        let [light, share] = [[0, 0, 0], 0];
        for (const one of boxes) {
          if (x < one.left || x >= one.left + one.wide || y < one.top || y >= one.top + one.high) continue;
          const a = one.opacity / 100;
          const strength = one.light ? one.light.strength / 100 : 0;
          if (!(one.only && one.light)) {
            day = day.map((v, c) => v * (1 - a) + one.rgb[c] * a);
            alpha = alpha * (1 - a) + a;
          }
          light = light.map((v, c) => v * (1 - a) + (one.light ? (one.light.paint ?? one.rgb)[c] * strength * a : 0));
          share = share * (1 - a) + strength * a;
        }
        const dark = darkened(day, night);
        const [rgb, total] = [dark.map((v, c) => v * (1 - share) + light[c]), alpha * (1 - share) + share];
        const straight = total > 0 ? rgb.map((v) => v / total) : [0, 0, 0];
        const found = at(data, x, y);
        expect(
          near(found, [...straight, total * 255], total < 0.2 ? 6 : 2),
          JSON.stringify({ found, straight, total, boxes, night, x, y }),
        ).toBe(true);
      }
    }
  });

  test('at night alone it is not there by day, and covers nothing', async () => {
    const day = [layerOf('solid', { paint: { hex: '#334455' } }), box(32, 32, 20, 20, '#ffffff', lit({ only: true }))];
    const livery = nightOf(plank, () => day);
    expect(at(await picture(livery, plank, 'colour'), 32, 32)).toEqual([51, 68, 85, 255]);
    expect(at(await picture(livery, plank), 32, 32)).toEqual([255, 255, 255, 255]);
  });

  test('a group lights what it holds; what is clipped to something lit lies on it', async () => {
    const group = layerOf('group', { id: 'g', through: false, ...lit() });
    const day = [
      layerOf('solid', { paint: { hex: '#334455' } }),
      group,
      box(32, 32, 40, 20, '#ff0000', { group: group.id }),
      box(32, 32, 8, 60, '#00ff00', { group: group.id, clipped: true }),
      box(50, 50, 20, 20, '#8080ff', lit()),
      box(56, 50, 20, 30, '#101010', { clipped: true }),
    ];
    const data = await picture(
      nightOf(plank, () => day),
      plank,
    );
    expect(at(data, 20, 32)).toEqual([255, 0, 0, 255]);
    expect(at(data, 32, 32)).toEqual([0, 255, 0, 255]);
    expect(near(at(data, 32, 10), darkened([51, 68, 85], FIRST_NIGHT))).toBe(true);
    expect(at(data, 43, 50)).toEqual([128, 128, 255, 255]);
    expect(near(at(data, 56, 50), darkened([16, 16, 16], FIRST_NIGHT))).toBe(true);
  });

  test('of many windows so many are dark, the same ones wherever they are moved', async () => {
    const windows = (dx: number, seed = 3) => {
      const group = layerOf('group', { id: `w${dx}`, through: false, ...lit({ flicker: { dark: 40, seed } }) });
      const all = Array.from({ length: 100 }, (_, i) =>
        box(4.5 + dx + (i % 10) * 6, 4.5 + Math.floor(i / 10) * 6, 3, 3, '#ffffff', { group: group.id }),
      );
      return nightOf(plank, () => [group, ...all], BARE);
    };
    const brightAt = (data: Uint8Array, dx: number) =>
      Array.from({ length: 100 }, (_, i) => at(data, 4 + dx + (i % 10) * 6, 4 + Math.floor(i / 10) * 6)[0]);
    const first = brightAt(await picture(windows(0), plank), 0);
    const dark = first.filter((v) => v === 0).length;
    expect(dark).toBeGreaterThan(25);
    expect(dark).toBeLessThan(55);
    for (const v of first) expect(v === 0 || v > 139).toBe(true);
    expect(new Set(first).size).toBeGreaterThan(30);
    // To a dithered last bit.
    const moved = brightAt(await picture(windows(1), plank), 1);
    expect(moved.every((v, i) => Math.abs(v - first[i]) <= 1)).toBe(true);
    expect(brightAt(await picture(windows(0, 4), plank), 0)).not.toEqual(first);
    // A window is lit evenly, to its edge.
    const data = await picture(windows(0), plank);
    first.forEach((v, i) => {
      const [x, y] = [4 + (i % 10) * 6, 4 + Math.floor(i / 10) * 6];
      for (const [dx, dy] of [[-1, -1], [1, 1], [0, 1], [-1, 0]]) expect(Math.abs(at(data, x + dx, y + dy)[0] - v)).toBeLessThanOrEqual(1); // prettier-ignore
    });
  });
});

/** Texels of a sheet that belong to the model, with their places. */
function placesOf(template: Template, sheet: string) {
  const surface = new SheetSurface(template, sheet);
  const { width, height } = surface;
  const { centred, position, normal } = fieldsIn(surface, { left: 0, top: 0, right: width, bottom: height });
  return Array.from({ length: width * height }, (_, i) => i).flatMap((i) =>
    centred[i]
      ? [
          {
            i,
            at: [...position.subarray(i * 3, i * 3 + 3)] as unknown as Vec,
            normal: [...normal.subarray(i * 3, i * 3 + 3)] as unknown as Vec,
          },
        ]
      : [],
  );
}

/** The largest error of a shine, of 255, and how many texels it reaches. @param far how far a place is from the light, along the surface; null: do not look */
async function shineError(
  template: Template,
  layers: (sheet: string) => Layer[],
  spread: number,
  far: (at: Vec, normal: Vec) => number | null,
) {
  const livery = nightOf(template, layers, BARE);
  let [worst, reached] = [0, 0];
  for (const { key } of template.sheets) {
    const data = await picture(livery, template, 'night', key);
    for (const { i, at, normal } of placesOf(template, key)) {
      const way = far(at, normal);
      if (way === null) continue;
      const rest = Math.max(0, 1 - way / spread);
      if (rest > 0) reached++;
      const off = Math.abs(data[i * 4] - 255 * rest * rest);
      worst = Math.max(worst, off);
    }
  }
  return { worst, reached };
}

describe('what shines', () => {
  const GROUND = () => layerOf('solid', { paint: { hex: '#000000' } });

  test('on a plane it falls by distance', async () => {
    const plane = withNight(flat(512, 4));
    // A square of one metre in the middle: 128 texels.
    const layers = () => [GROUND(), box(256, 256, 128, 128, '#ffffff', lit({ spread: 0.8 }))];
    const { worst, reached } = await shineError(plane, layers, 0.8, ([x, , z]) => {
      const [dx, dz] = [Math.max(0, Math.abs(x - 2) - 0.5), Math.max(0, Math.abs(z - 2) - 0.5)];
      const way = Math.hypot(dx, dz);
      // At the edge itself a texel is lit by half.
      return way < 0.012 ? null : way;
    });
    expect(reached).toBeGreaterThan(30_000);
    // A texel is 1/128 m, points of the outline lie 1/40 m apart: 255 * 2 * (1/80) / 0.8.
    expect(worst).toBeLessThan(9);
  });

  test('around the edge of a cube it goes on over the seam, and not to the side behind', async () => {
    const template = withNight(cube(512));
    // The middle of the top (the fifth face), 0.6 m from its edges.
    const middle = [0.03 + 0.32 + 0.14, 0.05 + 0.45 + 0.14].map((v) => v * 512);
    const scale = (0.28 * 512) / 2;
    const layers = () => [
      GROUND(),
      box(middle[0], middle[1], 0.8 * scale, 0.8 * scale, '#ffffff', lit({ spread: 1.5 })),
    ];
    const { worst, reached } = await shineError(template, layers, 1.5, ([x, y, z], [nx, ny]) => {
      if (ny > 0.5) {
        const way = Math.hypot(Math.max(0, Math.abs(x) - 0.4), Math.max(0, Math.abs(z) - 0.4));
        return way < 0.03 ? null : way;
      }
      if (ny < -0.5) return 9;
      // Unfolded about the edge: down the side, and along it.
      const along = nx === 0 ? x : z;
      return Math.hypot(0.6 + (1 - y), Math.max(0, Math.abs(along) - 0.4));
    });
    expect(reached).toBeGreaterThan(20_000);
    expect(worst).toBeLessThan(12);
  });

  test('about a cylinder it goes by the arc, over the seam between two sheets', async () => {
    const round = turnedBody(
      () => 1,
      (v) => 3 - 6 * v,
    );
    const half = (from: number, sheet: string) => ({
      sheet,
      box: [0, 0, 1, 1] as [number, number, number, number],
      at: (u: number, v: number) => round.at(from + u / 2, v),
      normal: (u: number) => round.at(from + u / 2, 0.5),
      columns: 24,
      rows: 4,
    });
    const template = withNight(body(256, ['one', 'two'], [half(0, 'one'), half(0.5, 'two')]));
    // A band across the first sheet, near its right edge: from 0.8 to 0.95 of its width, the whole way up.
    const layers = (sheet: string) => [
      GROUND(),
      ...(sheet === 'one' ? [box(224, 128, 38.4, 256, '#ffffff', lit({ spread: 1.2 }))] : []),
    ];
    const [from, to] = [(224 - 19.2) / 256, (224 + 19.2) / 256].map((u) => Math.PI * u);
    const { worst, reached } = await shineError(template, layers, 1.2, ([x, y, z]) => {
      const angle = (Math.atan2(x, z) + 2 * Math.PI) % (2 * Math.PI);
      if (Math.abs(y) > 2.9) return null;
      const off = (edge: number) => Math.min(Math.abs(angle - edge), 2 * Math.PI - Math.abs(angle - edge));
      if (angle >= from - 0.02 && angle <= to + 0.02) return null;
      return Math.min(off(from), off(to));
    });
    expect(reached).toBeGreaterThan(15_000);
    expect(worst).toBeLessThan(14);
  });

  test('its colour is that of the paint where it is nearest, or its own; as strong as it is', async () => {
    const layers = () => [
      GROUND(),
      box(20, 32, 8, 8, '#ff0000', lit({ spread: 0.5 })),
      box(44, 32, 8, 8, '#ff0000', lit({ spread: 0.5, paint: { hex: '#0000ff' }, strength: 50 })),
    ];
    const plane = withNight(flat(SIDE, 4));
    const data = await picture(nightOf(plane, layers, BARE), plane);
    const [r, , b] = at(data, 25, 32);
    expect(r).toBeGreaterThan(100);
    expect(b).toBe(0);
    const [r2, , b2] = at(data, 49, 32);
    expect(r2).toBe(0);
    // The same way beside it, half as strong.
    expect(Math.abs(b2 - r / 2)).toBeLessThan(3);
  });
});

test('a light of very many edges, and one that shines no farther than a texel, end all the same', async () => {
  const template = withNight(cube(1024));
  const dots = layerOf('halftone', {
    ...LAYERS.halftone.makers[0].make({
      ...{ sheet: template.sheets[0], x: 512, y: 512, model: boxOfMesh(template.mesh), finishes: [] },
      ...{ spot: () => null, paint: () => ({ hex: '#ffffff' }) },
    }),
    ...lit({ spread: 0.001 }),
  });
  const livery = nightOf(template, () => [layerOf('solid', { paint: { hex: '#000000' } }), dots], BARE);
  const data = await picture(livery, template);
  expect(data.some((v, i) => i % 4 === 0 && v > 200)).toBe(true);
});

describe('everybody draws the same night', () => {
  const layers = (sheet: string) => [
    layerOf('solid', { id: `ground-${sheet}`, paint: { hex: '#203040' } }),
    box(256, 300, 180, 120, '#ffcc66', { id: `a-${sheet}`, ...lit({ spread: 0.7, flicker: { dark: 30, seed: 5 } }) }),
    box(300, 300, 20, 300, '#203040', { id: `b-${sheet}` }),
  ];
  const template = withNight(cube(512));

  test('in whatever pieces, through the cache or not', async () => {
    const livery = nightOf(template, layers);
    const sources = await sourcesFor(livery, template);
    const whole = renderSheet(livery, 'face', 'night', { width: 512, height: 512 }, sources).data;
    const cache = new TileCache(64 * 2 ** 20);
    for (const [tx, ty] of [[0, 0], [1, 0], [0, 1], [1, 1]]) {
      const region = { x: tx * 256, y: ty * 256, width: 256, height: 256, step: 1 };
      const piece = renderFinished(livery, 'face', 'night', region, sources);
      const rows = Array.from({ length: 256 }, (_, y) => whole.subarray(((ty * 256 + y) * 512 + tx * 256) * 4, ((ty * 256 + y) * 512 + tx * 256 + 256) * 4));
      expect(rows.every((row, y) => Buffer.from(row).equals(piece.subarray(y * 1024, y * 1024 + 1024)))).toBe(true);
      // Twice: the second is what was kept, with one layer in hand.
      const exact = cache.exact(livery, 'face', 'night', { width: 512, height: 512 }, 0, tx, ty, sources);
      const held = cache.exact(livery, 'face', 'night', { width: 512, height: 512 }, 0, tx, ty, sources, { hot: 'a-face' });
      expect(Buffer.from(held.buffer).equals(Buffer.from(exact.buffer))).toBe(true);
    } // prettier-ignore
    // A draft is the sheet, coarsely.
    const draft = renderCoarse(livery, 'face', 'night', { width: 512, height: 512 }, 4, sources);
    let off = 0;
    for (let y = 0; y < 128; y++)
      for (let x = 0; x < 128; x++)
        off += Math.abs(draft.data[(y * 128 + x) * 4] - whole[((y * 4 + 2) * 512 + x * 4 + 2) * 4]);
    expect(off / (128 * 128)).toBeLessThan(4);
  });

  test('what shines from another sheet makes no night of one that nobody painted', async () => {
    const two = withNight(flat(64, 1, 'one', 'two'));
    const only = (sheet: string) => (sheet === 'one' ? [box(60, 32, 8, 64, '#ffffff', lit({ spread: 0.5 }))] : []);
    expect((await picture(nightOf(two, only, BARE), two, 'night', 'two')).every((v) => v === 0)).toBe(true);
    const both = (sheet: string) => [layerOf('solid', { paint: { hex: '#000000' } }), ...only(sheet)];
    expect(at(await picture(nightOf(two, both, BARE), two, 'night', 'two'), 1, 32)[0]).toBeGreaterThan(220);
  });

  test('is another picture whenever light or day changes, and the day is the same when light does', () => {
    const of = (change: (layer: Layer) => Layer, night = FIRST_NIGHT) => {
      const two = withNight(flat(64, 1, 'one', 'two'));
      const livery = nightOf(two, (sheet) => layers(sheet).map((one) => (sheet === 'one' ? change(one) : one)), night);
      return {
        day: mapContent(livery, two, 'one', 'colour'),
        night: mapContent(livery, two, 'one', 'night'),
        beside: mapContent(livery, two, 'two', 'night'),
      };
    };
    const before = of((one) => one);
    expect(of((one) => ({ ...one }))).toEqual(before);
    const glow = (set: object) => of((one) => (one.lit ? { ...one, lit: { ...one.lit, ...set } } : one));
    for (const set of [
      { strength: 40 },
      { spread: 0.2 },
      { paint: { hex: '#00ff00' } },
      { flicker: { dark: 31, seed: 5 } },
      { flicker: { dark: 30, seed: 6 } },
    ]) {
      const after = glow(set);
      expect(after.day).toBe(before.day);
      expect(after.night).not.toBe(before.night);
      // It shines on the other sheet.
      expect(after.beside).not.toBe(before.beside);
    }
    expect(of((one) => one, { ...FIRST_NIGHT, light: 30 }).night).not.toBe(before.night);
    const moved = of((one) => (one.id === 'b-one' && one.kind === 'shape' ? { ...one, x: one.x + 1 } : one));
    expect([moved.day === before.day, moved.night === before.night, moved.beside === before.beside]).toEqual([
      false,
      false,
      false,
    ]);
  });
});

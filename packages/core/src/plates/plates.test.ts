/**
 * Plates on bodies that are known by formula; their places against three.js, which turns and places by code of its own; the glTF document
 * read by glTF Transform.
 */
import { WebIO } from '@gltf-transform/core';
import { Euler, Matrix4, Quaternion, Vector3, type EulerOrder } from 'three';
import { XMLParser } from 'fast-xml-parser';
import { describe, expect, test } from 'vitest';
import { planDelivery, type PlannedSheet, type PlannedSidecar } from '../delivery/plan.ts';
import { SHIPPED_SPECS } from '../games/index.ts';
import { applyEdit, Edit } from '../livery/edit.ts';
import { Plate } from '../livery/plate.ts';
import { DeliverySpec } from '../livery/spec.ts';
import { AXES, SpecPlates, type Axis, type PlateTurn } from '../livery/specPlates.ts';
import type { Template } from '../livery/template.ts';
import { plus, unit, upright, type Vec } from '../surface/vectors.ts';
import { body, cube, flat, turnedBody } from '../testing/bodies.ts';
import fc from '../testing/property.ts';
import { layerOf, smallLivery } from '../testing/scenes.ts';
import { fitPlate, HAIR, measurePlate } from './fit.ts';
import { platesGltf } from './gltf.ts';
import { meshOfPlate, standing, standingPlates } from './panel.ts';
import { bleedColour, pieceOf } from './picture.ts';
import { plateKeys, platesInText, turnNumbers, turnOf } from './placement.ts';
import { BETWEEN, roomFor } from './room.ts';

const plateOf = (rest: Partial<Plate> = {}): Plate =>
  Plate.parse({
    ...{ id: 'one', name: 'One', sheet: 'plates', left: 0, top: 0, width: 256, height: 128 },
    ...{ at: [0, 0, 0], facing: [0, 0, 1], up: [0, 1, 0], across: 0.8, lift: 0, form: { kind: 'flat' } },
    ...rest,
  });

const withPlates = (template: Template): Template => ({
  ...template,
  sheets: [
    ...template.sheets,
    { key: 'plates', name: 'plates', width: 1024, height: 512, alpha: 'coverage', axis: null, plates: true },
  ],
});

/** A barrel of radius 1 about y, 4 high, seen from outside, or lined within. */
const barrel = (radius = 1, inside = false): Template =>
  withPlates(
    body(
      256,
      ['face'],
      [
        {
          ...{ sheet: 'face', box: [0, 0, 1, 1], columns: 180, rows: 2 },
          at: (u, v) => [
            radius * Math.sin(2 * Math.PI * (inside ? -u : u)),
            2 - 4 * v,
            radius * Math.cos(2 * Math.PI * (inside ? -u : u)),
          ],
          normal: (u) => {
            const turn = 2 * Math.PI * (inside ? -u : u);
            const by = inside ? -1 : 1;
            return [by * Math.sin(turn), 0, by * Math.cos(turn)];
          },
        },
      ],
    ),
  );
/** What a chord of the barrel is off its arc. */
const CHORD = 1 - Math.cos(Math.PI / 180);

const PNG = new Uint8Array(8);

describe('triangles', () => {
  test('a flat plate is a rectangle where it stands, its picture upright as it is seen', () => {
    const stands = standing(plateOf({ at: [1, 2, 3], facing: [0, 0, 2], up: [1, 5, 7], lift: 0.01 }));
    const mesh = meshOfPlate(stands, withPlates(flat(64, 1)));
    expect(stands.axes).toEqual({ right: expect.anything(), up: expect.anything(), out: [0, 0, 1] });
    // Top left, top right, bottom left, bottom right; what is up leans to x.
    const [a, b, c] = [0, 1, 2].map((k) => new Vector3(...mesh.positions.slice(k * 3, k * 3 + 3)));
    expect(a.distanceTo(b)).toBeCloseTo(0.8, 12);
    expect(a.distanceTo(c)).toBeCloseTo(0.4, 12);
    expect(b.clone().sub(a).dot(c.clone().sub(a))).toBeCloseTo(0, 12);
    expect(a.z).toBeCloseTo(3.01, 12);
    const up = a.clone().sub(c).normalize();
    expect(up.x / up.y).toBeCloseTo(1 / 5, 9);
    expect(mesh.uvs).toEqual([0, 0, 0.25, 0, 0, 0.25, 0.25, 0.25]);
    // Its front looks out.
    const [i, j, k] = mesh.indices.map((n) => new Vector3(...mesh.positions.slice(n * 3, n * 3 + 3)));
    expect(j.sub(i).cross(k.sub(i)).normalize().z).toBeCloseTo(1, 12);
  });

  test('a bent plate lies on its arc, as long along it as it is across', () => {
    for (const about of ['up', 'across'] as const)
      for (const radius of [0.7, -0.7]) {
        const plate = plateOf({ form: { kind: 'bent', about, radius, pieces: 12 } });
        const mesh = meshOfPlate(standing(plate), withPlates(flat(64, 1)));
        const middle = [0, 0, -radius];
        const turns: number[] = [];
        for (let i = 0; i < mesh.positions.length; i += 3) {
          const [x, y, z] = mesh.positions.slice(i, i + 3);
          const aside = about === 'up' ? x : y;
          expect(Math.hypot(aside, z - middle[2])).toBeCloseTo(0.7, 12);
          turns.push(Math.asin(aside / 0.7));
        }
        expect((Math.max(...turns) - Math.min(...turns)) * 0.7).toBeCloseTo(about === 'up' ? 0.8 : 0.4, 12);
      }
  });

  test('the partner of a readable plate is read as its own is; of one that is not, as a mirror shows it', () => {
    const at = { at: [0.3, 0.5, 1] as [number, number, number], facing: [0.2, 0.1, 1] as [number, number, number] };
    for (const readable of [true, false]) {
      const plate = plateOf({ ...at, partner: { normal: [0, 0, 2], offset: 0, readable } });
      const template = withPlates(flat(64, 1));
      const [own, other] = standingPlates({ plates: [plate] });
      const [mine, theirs] = [own, other].map((one) => meshOfPlate(one, template));
      // The same corners in the mirror, from the other end of each row.
      for (const [k, m] of [
        [0, 1],
        [1, 0],
        [2, 3],
        [3, 2],
      ]) {
        const place = theirs.positions.slice(m * 3, m * 3 + 3);
        [mine.positions[k * 3], mine.positions[k * 3 + 1], -mine.positions[k * 3 + 2]].forEach((v, i) =>
          expect(place[i]).toBeCloseTo(v, 12),
        );
        // A mirror shows the same texel in the same place.
        const same = mine.uvs[k * 2] === theirs.uvs[m * 2];
        expect(same).toBe(!readable);
      }
      const out = new Vector3(...other.axes.right).cross(new Vector3(...other.axes.up));
      expect(out.distanceTo(new Vector3(...other.axes.out))).toBeLessThan(1e-12);
    }
  });

  test('laid on a ball each corner lies on it, its lift off; where there is none, as its neighbours', () => {
    const { at } = turnedBody(
      (v) => Math.sin(Math.PI * v),
      (v) => Math.cos(Math.PI * v),
    );
    const ball = withPlates(
      body(256, ['face'], [{ sheet: 'face', box: [0, 0, 1, 1], at, normal: at, columns: 160, rows: 80 }]),
    );
    const laid = { kind: 'laid', columns: 8, rows: 6 } as const;
    const plate = plateOf({ at: [0, 0, 1], across: 0.8, height: 256, lift: 0.004, form: laid });
    const mesh = meshOfPlate(standing(plate), ball);
    for (let i = 0; i < mesh.positions.length; i += 3) {
      const [x, y, z] = mesh.positions.slice(i, i + 3);
      // Lifted straight out of the plate, not out of the ball.
      expect(Math.hypot(x, y, z - 0.004)).toBeCloseTo(1, 1.9);
    }
    const fit = measurePlate(standing(plate), ball);
    expect(fit.gap).toBeLessThan(0.012);
    const beside = meshOfPlate(standing(plateOf({ ...plate, at: [0.9, 0, 0.4] })), ball);
    expect(beside.positions.every(Number.isFinite)).toBe(true);
  });
});

describe('how it fits', () => {
  test('before a wall its gap is its lift; sunk, its cut is how deep it is sunk', () => {
    const wall = withPlates(cube(256));
    const at = (z: number, lift: number) => measurePlate(standing(plateOf({ at: [0, 0, z], lift, across: 0.3 })), wall);
    const face = Math.max(...wall.mesh.positions);
    expect(at(face, 0.01)).toEqual({ gap: expect.closeTo(0.01, 6), cut: 0, hangs: 0, hidden: 0 });
    expect(at(face - 0.03, 0)).toMatchObject({ gap: 0, cut: expect.closeTo(0.03, 6) });
  });

  test('flat before a barrel its edges stand off by the arc’s height, flat within one they are sunk by it', () => {
    const half = 0.4;
    const height = 1 - Math.sqrt(1 - half ** 2);
    const outside = measurePlate(standing(plateOf({ at: [0, 0, 1], lift: 0.002 })), barrel());
    expect(outside.cut).toBe(0);
    expect(Math.abs(outside.gap - height - 0.002)).toBeLessThan(2 * CHORD);
    const within = measurePlate(standing(plateOf({ at: [0, 0, 1], facing: [0, 0, -1], lift: 0.002 })), barrel(1, true));
    expect(Math.abs(within.cut - (height - 0.002))).toBeLessThan(2 * CHORD);
  });

  test('what hangs over an edge, and what something stands before, is said as a share', () => {
    const wall = withPlates(cube(256));
    const face = Math.max(...wall.mesh.positions);
    const over = measurePlate(standing(plateOf({ at: [face, 0, face], lift: 0.002, across: 0.4 })), wall);
    expect(over.hangs).toBeCloseTo(0.5, 1);
    // Two walls, one before half of the other.
    const pane = (x: number, z: number, width: number) => ({
      ...{ sheet: 'face', box: [0, 0, 1, 1] as [number, number, number, number], columns: 1, rows: 1 },
      at: (u: number, v: number): Vec => [x + width * u, 1 - 2 * v, z],
      normal: (): Vec => [0, 0, 1],
    });
    const walls = withPlates(body(64, ['face'], [pane(-1, 0, 2), pane(0, 0.1, 1)]));
    const fit = measurePlate(standing(plateOf({ lift: 0.002, across: 0.4 })), walls);
    // Panes have no inside: from behind one is looked at its back.
    expect(fit.cut).toBeCloseTo(0.098, 3);
  });

  test('on a barrel it is bent about the barrel’s axis by the barrel’s radius, however it is turned and wherever it stood', () => {
    for (const turn of [0, 0.6, 2.2, 4])
      for (const upside of [false, true]) {
        const out: Vec = [Math.sin(turn), 0, Math.cos(turn)];
        // A little beside where it should be, and leaning.
        const leaning = unit(plus(out, [0.02, 0.05, -0.03]));
        const up: Vec = upside ? [Math.cos(turn), 0.02, -Math.sin(turn)] : [0, 1, 0];
        const plate = plateOf({
          at: plus([0, 0.2, 0], out, 1.02),
          facing: leaning,
          up: upright(up, leaning),
          across: 0.6,
        });
        const fitted = { ...plate, ...fitPlate(plate, barrel()) };
        expect(fitted.form).toMatchObject({ kind: 'bent', about: upside ? 'across' : 'up' });
        const { radius } = fitted.form as Extract<Plate['form'], { kind: 'bent' }>;
        expect(Math.abs(radius - 1)).toBeLessThan(upside ? 0.25 : 0.12);
        const { gap, cut } = measurePlate(standing(fitted), barrel());
        expect(cut).toBe(0);
        expect(gap).toBeLessThan(0.006);
        // What it is for: half as far off as it was flat at best.
        const flatGap = measurePlate(standing({ ...fitted, form: { kind: 'flat' } }), barrel()).gap;
        expect(gap).toBeLessThan(flatGap / 2);
      }
  });

  test('within a barrel it is bent the other way; on a wall it stays flat, a hair off', () => {
    const plate = plateOf({ at: [0, 0, 1], facing: [0, 0, -1], across: 0.6 });
    const fitted = fitPlate(plate, barrel(1, true));
    expect(fitted.form).toMatchObject({ kind: 'bent', about: 'up' });
    expect((fitted.form as { radius: number }).radius).toBeLessThan(-0.8);
    const wall = withPlates(cube(256));
    const face = Math.max(...wall.mesh.positions);
    expect(fitPlate(plateOf({ at: [0, 0, face + 0.01], across: 0.3 }), wall)).toEqual({
      ...{ at: [0, 0, expect.closeTo(face, 4)], facing: [0, 0, 1], up: [0, 1, 0] },
      ...{ form: { kind: 'flat' }, lift: HAIR },
    });
  });

  test('where there is nothing to fit to it stays as it is', () => {
    const plate = plateOf({ at: [50, 0, 0] });
    expect(fitPlate(plate, barrel())).toMatchObject({ at: [50, 0, 0], facing: [0, 0, 1], form: { kind: 'flat' } });
  });

  test('one that never lies in the model after it was fitted, wherever it was put', () => {
    const solid = barrel(0.5);
    fc.assert(
      fc.property(
        fc.double({ min: 0, max: 6, noNaN: true }),
        fc.double({ min: -1, max: 1, noNaN: true }),
        fc.double({ min: 0.05, max: 0.5, noNaN: true }),
        (turn, height, across) => {
          const out: Vec = [Math.sin(turn), 0, Math.cos(turn)];
          const plate = plateOf({ at: plus([0, height, 0], out, 0.5), facing: out as Plate['facing'], across });
          const fitted = { ...plate, ...fitPlate(plate, solid) };
          expect(measurePlate(standing(fitted), solid).cut).toBeLessThan(1e-6);
        },
      ),
      { numRuns: 60 },
    );
  });
});

/** A turn as three.js makes it of a game's numbers. */
function madeByThree(numbers: number[], turn: PlateTurn): Matrix4 {
  switch (turn.as) {
    case 'angles': {
      const [x, y, z] = numbers.map((v) => (turn.unit === 'degrees' ? (v * Math.PI) / 180 : v));
      return new Matrix4().makeRotationFromEuler(new Euler(x, y, z, turn.order.toUpperCase() as EulerOrder));
    }
    case 'quaternion': {
      const [x, y, z, w] = turn.order === 'xyzw' ? numbers : [...numbers.slice(1), numbers[0]];
      return new Matrix4().makeRotationFromQuaternion(new Quaternion(x, y, z, w));
    }
    case 'matrix': {
      const [a, b, c, d, e, f, g, h, i] = numbers;
      return turn.order === 'rows'
        ? new Matrix4(a, b, c, 0, d, e, f, 0, g, h, i, 0, 0, 0, 0, 1)
        : new Matrix4(a, d, g, 0, b, e, h, 0, c, f, i, 0, 0, 0, 0, 1);
    }
  }
}

const TURNS: PlateTurn[] = [
  ...(['xyz', 'xzy', 'yxz', 'yzx', 'zxy', 'zyx'] as const).flatMap((order) =>
    (['degrees', 'radians'] as const).map((unit) => ({ as: 'angles' as const, order, unit })),
  ),
  ...(['xyzw', 'wxyz'] as const).map((order) => ({ as: 'quaternion' as const, order })),
  ...(['columns', 'rows'] as const).map((order) => ({ as: 'matrix' as const, order })),
];
/** Every way in which a game's axes can lie: 48, half of them left-handed. */
const EVERY_AXES = AXES.flatMap((a) => AXES.flatMap((b) => AXES.map((c) => [a, b, c] as [Axis, Axis, Axis]))).filter(
  (axes) => new Set(axes.map((axis) => axis.at(-1))).size === 3,
);

describe('in a game’s own terms', () => {
  const inGame = (axes: readonly Axis[], v: readonly number[]) =>
    new Vector3(...axes.map((axis) => v['xyz'.indexOf(axis.at(-1)!)] * (axis.length > 1 ? -1 : 1)));
  const direction = fc
    .tuple(
      ...([0, 1, 2].map(() => fc.double({ min: -1, max: 1, noNaN: true })) as [
        fc.Arbitrary<number>,
        fc.Arbitrary<number>,
        fc.Arbitrary<number>,
      ]),
    )
    .filter((d) => Math.hypot(...d) > 0.1);

  test('a plate that is not turned, turned by the numbers, is the plate, in all axes and kinds of turns', () => {
    expect(EVERY_AXES.length).toBe(48);
    fc.assert(
      fc.property(
        fc.oneof(direction, fc.constantFrom<[number, number, number]>([1, 0, 0], [0, -1, 0], [0, 0, -1], [0, 1, 0])),
        fc.oneof(direction, fc.constantFrom<[number, number, number]>([0, 1, 0], [0, 0, 1], [-1, 0, 0])),
        fc.constantFrom(...EVERY_AXES),
        fc.constantFrom(...TURNS),
        (facing, up, axes, turn) => {
          const stands = standing(plateOf({ facing, up }));
          const three = madeByThree(turnNumbers(turnOf(stands, axes), turn), turn);
          for (const [own, now] of [
            [[1, 0, 0], stands.axes.right],
            [[0, 1, 0], stands.axes.up],
            [[0, 0, 1], stands.axes.out],
          ])
            expect(inGame(axes, own).applyMatrix4(three).distanceTo(inGame(axes, now))).toBeLessThan(1e-6);
        },
      ),
      { numRuns: 3000 },
    );
  });

  const spec = SpecPlates.parse({
    ...{ kinds: ['flat', 'bent'], textures: 'either', unit: 'cm', axes: ['x', '-z', 'y'] },
    turn: { as: 'angles', order: 'zyx', unit: 'degrees' },
  });
  const template = withPlates(cube(256));
  const plates = [
    plateOf({ left: 256, top: 64, partner: { normal: [0, 0, 1], offset: 0, readable: false } }),
    plateOf({ id: 'two', own: true, group: 'Nose' }),
    plateOf({ id: 'three', name: 'Öne!', hidden: true }),
  ];
  const livery = { ...smallLivery([], template), plates };
  const files = new Map([
    [plates[0], { name: 'shared.dds', own: false }],
    [plates[1], { name: 'own.dds', own: true }],
  ]);

  test('texts have the place, the window of the texture, and whose partner it is', () => {
    const [first, other, own, ...more] = platesInText(livery, template, spec, files) as Record<string, unknown>[];
    expect(more).toEqual([]);
    expect(first).toMatchObject({ key: 'one', partnerOf: '', file: 'shared.dds', across: 80, tall: 40 });
    expect(first).toMatchObject({ left: 0.25, right: 0.5, top: 0.125, bottom: 0.375 });
    expect(other).toMatchObject({ key: 'one-other', partnerOf: 'one', left: 0.5, right: 0.25 });
    expect(own).toMatchObject({ key: 'one-2', group: 'Nose', file: 'own.dds', left: 0, right: 1, top: 0, bottom: 1 });
    const below = platesInText(livery, template, { ...spec, fromBelow: true }, files)[0];
    expect(below).toMatchObject({ top: 0.875, bottom: 0.625 });
  });

  test('no two plates have one key, whatever they are called', () => {
    fc.assert(
      fc.property(
        fc.array(fc.constantFrom('a', 'a other', 'A-2', 'a 2 other', '—', 'plate', 'ä'), { maxLength: 12 }),
        (names) => {
          const all = names.map((name, i) =>
            plateOf({ id: `${i}`, name, partner: { normal: [0, 0, 1], offset: 0, readable: true } }),
          );
          const keys = platesInText(
            { ...livery, plates: all },
            template,
            spec,
            new Map(all.map((one) => [one, { name: 'f', own: false }])),
          );
          expect(new Set(keys.map((one) => (one as { key: string }).key)).size).toBe(all.length * 2);
          expect(plateKeys({ plates: all }).size).toBe(all.length);
        },
      ),
    );
  });

  test('as glTF they stand where they stand (read by glTF Transform)', async () => {
    const bent = plateOf({
      facing: [1, 2, 3],
      up: [0, 1, 0.2],
      form: { kind: 'bent', about: 'up', radius: 0.9, pieces: 5 },
    });
    const all = {
      ...livery,
      plates: [
        { ...bent, partner: { normal: [0, 0, 1] as [number, number, number], offset: 0.1, readable: true } },
        plates[1],
      ],
    };
    const names = new Map(all.plates.map((one, i) => [one as Plate, { name: `${i}.png`, own: i === 1 }]));
    const document = platesGltf(all, template, names);
    // Pictures are not at hand here.
    const read = await new WebIO().readJSON({ json: document as never, resources: { '0.png': PNG, '1.png': PNG } });
    const nodes = read.getRoot().listNodes();
    const stood = standingPlates(all);
    expect(nodes.map((node) => node.getName())).toEqual(['one', 'one-other', 'one-2']);
    nodes.forEach((node, n) => {
      const mesh = meshOfPlate(stood[n], template);
      const [primitive] = node.getMesh()!.listPrimitives();
      const [position, uv] = ['POSITION', 'TEXCOORD_0'].map((key) => primitive.getAttribute(key)!);
      expect(position.getCount()).toBe(mesh.positions.length / 3);
      const stands = new Matrix4().fromArray(node.getWorldMatrix());
      for (let i = 0; i < position.getCount(); i++) {
        const place = new Vector3(...position.getElement(i, [])).applyMatrix4(stands);
        expect(place.distanceTo(new Vector3(...mesh.positions.slice(i * 3, i * 3 + 3)))).toBeLessThan(1e-6);
      }
      expect(primitive.getMaterial()!.getAlphaMode()).toBe('BLEND');
      expect(primitive.getMaterial()!.getBaseColorTexture()!.getURI()).toBe(n === 2 ? '1.png' : '0.png');
      // A texture of its own is seen whole.
      if (n === 2) expect([...uv.getMin([]), ...uv.getMax([])]).toEqual([0, 0, 1, 1]);
    });
  });
});

describe('in a delivery', () => {
  const template = withPlates(cube(256));
  const painted = smallLivery([layerOf('solid', { paint: { hex: '#d9a441' } })], template);
  const livery = {
    ...painted,
    plates: [plateOf({ name: 'Bow & <stern>', own: true }), plateOf({ id: 'two', left: 512 })],
  };
  const gltf = { name: '{livery.key}.gltf', language: 'json', making: { kind: 'plates' } } as const;
  const text = `<plates>{{#plates}}
  <plate name="{{name}}" at="{{x}} {{y}} {{z}}" turn="{{#turn}}{{value}}{{^last}} {{/last}}{{/turn}}" file="{{file}}"/>{{/plates}}
</plates>
`;
  const xml = { name: 'plates.xml', language: 'xml', when: 'plates', making: { kind: 'template', text } } as const;
  const takes = { kinds: ['flat'], unit: 'mm', axes: ['z', 'x', 'y'], turn: { as: 'quaternion', order: 'wxyz' } };
  const specOf = (textures: 'own' | 'shared', plateName?: string) =>
    DeliverySpec.parse({
      ...SHIPPED_SPECS.longhaul,
      files: SHIPPED_SPECS.longhaul.files.map(({ plateName: _name, ...file }) => ({
        ...file,
        ...(plateName && { plateName }),
      })),
      sidecars: [gltf, xml],
      plates: { ...takes, textures },
    });
  const files = (of: Parameters<typeof planDelivery>[0], spec: DeliverySpec) => planDelivery(of, template, spec).files;
  const named = (all: ReturnType<typeof files>, name: string) =>
    all.find((file) => file.name === name)! as PlannedSidecar;

  test('places go along as XML and as glTF, in one file for all', async () => {
    const all = files(livery, specOf('shared'));
    expect(all.map(({ name }) => name)).toEqual(['test_face.dds', 'test_plates.dds', 'test.gltf', 'plates.xml']);
    expect(all.flatMap((file) => (file.kind === 'sidecar' ? file.problems : []))).toEqual([]);
    const document = new XMLParser({ ignoreAttributes: false, attributeNamePrefix: '', htmlEntities: true }).parse(
      named(all, 'plates.xml').text,
    ) as {
      plates: { plate: Record<string, string>[] };
    };
    expect(document.plates.plate).toEqual([
      { name: 'Bow & <stern>', at: '0 0 0', turn: '1 0 0 0', file: 'test_plates.dds' },
      { name: 'One', at: '0 0 0', turn: '1 0 0 0', file: 'test_plates.dds' },
    ]);
    const json = JSON.parse(named(all, 'test.gltf').text) as { images: { uri: string }[] };
    expect(json.images).toEqual([{ uri: 'test_plates.dds' }]);
    const bare = { ...json, images: [{ uri: 'test_plates.png' }] };
    const read = await new WebIO().readJSON({ json: bare as never, resources: { 'test_plates.png': PNG } });
    expect(read.getRoot().listNodes().length).toBe(2);
  });

  test('each in a file of its own, of its own size; without a name for one, in their sheet’s all the same', () => {
    const all = files(livery, specOf('own', '{plate.key}.dds'));
    expect(all.map(({ name }) => name)).toEqual([
      'test_face.dds',
      'bow-stern.dds',
      'one.dds',
      'test.gltf',
      'plates.xml',
    ]);
    const own = all.find(({ name }) => name === 'one.dds') as PlannedSheet;
    expect(own).toMatchObject({ sheet: { width: 256, height: 128 }, plate: { left: 512, top: 0 }, mips: 9 });
    expect(named(all, 'plates.xml').text).toContain('file="bow-stern.dds"');
    const unnamed = files(livery, specOf('own'));
    expect(unnamed.map(({ name }) => name)).toContain('test_plates.dds');
    const uv = JSON.parse(named(unnamed, 'test.gltf').text) as { images: object[] };
    expect(uv.images).toEqual([{ uri: 'test_plates.dds' }]);
  });

  test('a plate that moves changes no texture; one whose picture is elsewhere changes its own alone', () => {
    const spec = specOf('own', '{plate.key}.dds');
    const signatures = (of: typeof livery) =>
      new Map(files(of, spec).flatMap((file) => (file.kind === 'sheet' ? [[file.name, file.signature] as const] : [])));
    const before = signatures(livery);
    const [first, second] = livery.plates;
    expect(signatures({ ...livery, plates: [first, { ...second, at: [1, 1, 1], across: 2 }] })).toEqual(before);
    const after = signatures({ ...livery, plates: [first, { ...second, left: 520 }] });
    expect([...before.keys()].filter((name) => before.get(name) !== after.get(name))).toEqual(['one.dds']);
  });

  test('one that says it is on a sheet that the model wears takes that sheet’s file from nobody', () => {
    const stray = { ...livery, plates: [plateOf({ sheet: 'face' })] };
    expect(files(stray, specOf('own', '{plate.key}.dds')).map(({ name }) => name)).toContain('test_face.dds');
  });

  test('hidden, or with none, nothing of them goes along', () => {
    for (const plates of [undefined, livery.plates.map((plate) => ({ ...plate, hidden: true as const }))]) {
      const out = files({ ...livery, plates }, specOf('shared')).filter(
        (file) => file.kind !== 'sheet' || !file.leftOut,
      );
      expect(out.map(({ name }) => name)).toEqual(['test_face.dds']);
    }
  });
});

describe('pictures', () => {
  test('there is room for each beside the others, in whole blocks, until there is none', () => {
    const side = fc.integer({ min: 1, max: 60 }).map((n) => n * 4);
    fc.assert(
      fc.property(fc.array(fc.record({ width: side, height: side }), { minLength: 1, maxLength: 40 }), (sizes) => {
        const sheet = { width: 512, height: 256 };
        const taken: { left: number; top: number; width: number; height: number }[] = [];
        for (const size of sizes) {
          const at = roomFor(taken, sheet, size);
          if (at) taken.push({ ...at, ...size });
          else expect(size.width * size.height + taken.length).toBeGreaterThan(0);
        }
        for (const [i, a] of taken.entries()) {
          expect([a.left % 4, a.top % 4, a.left + a.width <= 512, a.top + a.height <= 256]).toEqual([0, 0, true, true]);
          for (const b of taken.slice(i + 1)) {
            const aside = Math.max(a.left - b.left - b.width, b.left - a.left - a.width);
            const below = Math.max(a.top - b.top - b.height, b.top - a.top - a.height);
            expect(Math.max(aside, below)).toBeGreaterThanOrEqual(BETWEEN);
          }
        }
      }),
    );
    expect(roomFor([], { width: 64, height: 64 }, { width: 64, height: 64 })).toEqual({ left: 0, top: 0 });
    expect(roomFor([], { width: 64, height: 64 }, { width: 68, height: 4 })).toBeNull();
  });

  test('clear texels have the nearest colour and stay clear; the rest stays as it is', () => {
    const data = new Uint8Array(16 * 8 * 4);
    data.set([200, 10, 20, 255], (3 * 16 + 4) * 4);
    data.set([0, 90, 250, 1], (3 * 16 + 12) * 4);
    const image = { width: 16, height: 8, data };
    const before = data.slice();
    bleedColour(image);
    for (let i = 0; i < data.length; i += 4) {
      expect(data[i + 3]).toBe(before[i + 3]);
      const x = (i / 4) % 16;
      if (x < 8) expect([...data.subarray(i, i + 3)]).toEqual([200, 10, 20]);
      if (x > 8) expect([...data.subarray(i, i + 3)]).toEqual([0, 90, 250]);
    }
    expect([...pieceOf(image, { left: 12, top: 3, width: 4, height: 1 }).data.subarray(0, 4)]).toEqual([0, 90, 250, 1]);
    const clear = { width: 4, height: 4, data: new Uint8Array(64) };
    bleedColour(clear);
    expect(clear.data.every((v) => v === 0)).toBe(true);
  });
});

describe('steps', () => {
  const livery = smallLivery([], withPlates(flat(64, 1)));
  const sheets = [...livery.sheets, { ...livery.sheets[0], key: 'plates' }];
  const begun = { ...livery, sheets, plates: [plateOf({ group: 'Bow' }), plateOf({ id: 'two' })] };

  test('whatever is done is undone to the bit', () => {
    const partner = { normal: [0, 0, 1], offset: 0, readable: true };
    const edits = [
      { do: 'add-plate', plate: plateOf({ id: 'three', own: true }), index: 1 },
      { do: 'set-plate', plate: 'two', set: { partner, own: true, lift: 0.25 } },
      { do: 'set-plate', plate: 'one', set: { group: null, form: { kind: 'laid', columns: 4, rows: 4 } } },
      { do: 'set-plate', plate: 'one', set: { group: 'Stern', hidden: true } },
      { do: 'remove-plate', plate: 'one' },
    ].map((edit) => Edit.parse(edit));
    fc.assert(
      fc.property(fc.subarray(edits), (some) => {
        const backs: Edit[] = [];
        let now: typeof livery = begun;
        for (const edit of some) {
          const { livery: next, inverse } = applyEdit(now, edit);
          backs.unshift(inverse);
          now = next;
        }
        for (const back of backs) now = applyEdit(now, Edit.parse(JSON.parse(JSON.stringify(back)))).livery;
        expect(now).toEqual(begun);
      }),
    );
    const only = applyEdit({ ...begun, plates: undefined }, edits[0]);
    expect(applyEdit(only.livery, only.inverse).livery).not.toHaveProperty('plates');
  });

  test.each([
    [{ across: 0 }, 'across'],
    [{ left: 3 }, 'left'],
    [{ facing: [0, 0, 0] }, 'facing'],
    [{ form: { kind: 'bent', about: 'up', radius: 0, pieces: 4 } }, 'form'],
    [{ form: { kind: 'laid', columns: 1e9, rows: 2 } }, 'form'],
    [{ lift: -1 }, 'lift'],
    [{ name: '' }, 'name'],
    [{ at: [0, 0, Infinity] }, 'at'],
    [{ id: 'other' }, ''],
  ])('%j is no step', (set, key) => {
    const read = Edit.safeParse({ do: 'set-plate', plate: 'one', set });
    expect(read.success).toBe(false);
    if (key) expect(JSON.stringify(read.error!.issues)).toContain(key);
  });
});

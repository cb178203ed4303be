/** Kits on other subjects: marks at the same place of a part as people see it, whichever way the part is laid out. */
import { describe, expect, test } from 'vitest';
import { applyEdit } from '../livery/edit.ts';
import type { Layer, LayerOf } from '../livery/layer.ts';
import { layersOf, type Livery } from '../livery/livery.ts';
import { readParcel } from '../livery/parcel.ts';
import { sheetNamed, type Template } from '../livery/template.ts';
import { spotOfTexel, surfaceOf } from '../surface/locate.ts';
import { dot, minus, unit, type Vec } from '../surface/vectors.ts';
import { body, cube } from '../testing/bodies.ts';
import { demoBundle, layerOf, NO_HASH, smallLivery } from '../testing/scenes.ts';
import { repacked, reshaped } from '../testing/sisters.ts';
import { faceOf, facesOf, offFace, onFace } from './faces.ts';
import { likeness, onOther, packKit, partsOf, proposeAims, putOn } from './kit.ts';

const lettering = (x: number, y: number, rest: object = {}): LayerOf<'lettering'> =>
  layerOf('lettering', {
    ...{ name: `At ${x} ${y}`, phase: 'Marks', text: '7', font: 'russo-one', size: 20, x, y, turn: 0 },
    ...{ paint: { scheme: 'red' }, outline: null, spacing: 4, slant: 0, mirrored: false, ...rest },
  });
const through = (value: object) => readParcel(JSON.stringify(value));
const onlySpot = (template: Template, sheet: string, x: number, y: number) =>
  spotOfTexel(surfaceOf(template, sheet), x, y)!;

/** Where a mark is on the model, and which way its words run and rise there: by the surface, not by faces. */
function seen(template: Template, sheet: string, layer: Layer) {
  const mark = layer as LayerOf<'lettering'>;
  const { position, normal, tangent, hand } = onlySpot(template, sheet, mark.x, mark.y);
  const angle = (mark.turn * Math.PI) / 180;
  const flip = mark.mirrored ? -1 : 1;
  /** A direction of the sheet (right, down) on the model. */
  const lies = (dx: number, dy: number): Vec => {
    const down = [
      hand * (normal[1] * tangent[2] - normal[2] * tangent[1]),
      hand * (normal[2] * tangent[0] - normal[0] * tangent[2]),
      hand * (normal[0] * tangent[1] - normal[1] * tangent[0]),
    ] as const;
    return unit([0, 1, 2].map((k) => dx * tangent[k] + dy * down[k]) as unknown as Vec);
  };
  const runs = lies(flip * Math.cos(angle), flip * Math.sin(angle));
  const rises = lies(Math.sin(angle), -Math.cos(angle));
  const across: Vec = [
    rises[1] * normal[2] - rises[2] * normal[1],
    rises[2] * normal[0] - rises[0] * normal[2],
    rises[0] * normal[1] - rises[1] * normal[0],
  ];
  // Read forwards: seen from outside it runs to the right of where it rises.
  return { position, normal, rises, forwards: dot(runs, across) };
}

describe('a face', () => {
  test.each([0, 30, 90, 180, -135])('leads to its sheet and back, turned by %i degrees', (turn) => {
    for (const hand of [1, -1] as const) {
      const face = { x: 40, y: 60, turn, hand };
      const { right, down } = onFace(face, 51, 33);
      const back = offFace(face, right, down);
      expect(back.x).toBeCloseTo(51, 9);
      expect(back.y).toBeCloseTo(33, 9);
    }
  });

  test('stands upright, as wide as it is seen, and looks outwards', () => {
    // A wall that looks to +z, laid on its side and mirrored: its top is at the sheet's left.
    const wall = body(
      100,
      ['face'],
      [
        {
          ...{ sheet: 'face', box: [0.1, 0.2, 0.4, 0.6], columns: 1, rows: 1 },
          at: (u, v) => [v * 3, 2 - u * 2, 0],
          normal: () => [0, 0, 1],
        },
      ],
    );
    expect(faceOf(wall, wall.parts[0])).toMatchObject({ hand: -1, looks: [0, 0, 1] });
    const { x, y, width, height } = faceOf(wall, wall.parts[0])!;
    expect([x, y, width, height].map(Math.round)).toEqual([30, 50, 60, 40]);
  });
});

describe('a kit', () => {
  const template = cube(256);
  const [first] = template.sheets;
  const faces = facesOf(template).filter(({ key }) => !key.startsWith('sheet '));
  const marks = faces.flatMap((face) => {
    const at = (right: number, down: number) => offFace(face, right * face.width, down * face.height);
    const [a, b] = [at(-0.2, -0.3), at(0.25, 0.1)];
    const turn = 0 - face.turn;
    return [
      lettering(a.x, a.y, { turn, parts: [face.key] }),
      lettering(b.x, b.y, { turn: face.hand * (turn + 10), mirrored: face.hand < 0 }),
    ];
  });
  const livery: Livery = smallLivery([layerOf('solid', { paint: { scheme: 'red' } }), ...marks], template);
  const kit = through(packKit({ ...livery, pins: { ...livery.pins, fonts: { 'russo-one': NO_HASH } } }, template));

  test('holds the whole scheme, the marks alone, and where each lies', () => {
    expect(kit.layers.map(({ kind }) => kind)).toEqual(marks.map(() => 'lettering'));
    expect(kit.scheme).toEqual(livery.scheme);
    expect(partsOf(kit).map(({ face, layers }) => [face.key, layers.length])).toEqual(faces.map(({ key }) => [key, 2]));
  });

  test.each([1, 2, 3])(
    'on the same thing cut and mirrored otherwise (%i) its marks are where they were, upright and readable',
    (seed) => {
      const other = repacked(template, 256, seed);
      const parts = partsOf(kit);
      const aims = proposeAims(parts, facesOf(other));
      for (const [part, to] of aims) expect(to?.key).toBe(part.face.key);
      const target = {
        ...smallLivery([], other),
        pins: { ...livery.pins, template: 'f'.repeat(64) as typeof NO_HASH },
      };
      const put = putOn(kit, target, other, aims, 'left out');
      expect(put.left).toEqual([]);
      const after = applyEdit(target, { do: 'together', edits: put.edits }).livery;
      put.marks.forEach(({ sheet, layer }, n) => {
        const [was, is] = [seen(template, first.key, marks[n]), seen(other, sheet, layer)];
        expect(Math.hypot(...minus(was.position, is.position))).toBeLessThan(0.02);
        expect(dot(was.normal, is.normal)).toBeGreaterThan(0.999);
        expect(dot(was.rises, is.rises)).toBeGreaterThan(0.999);
        expect(is.forwards).toBeCloseTo(was.forwards, 3);
        expect(layersOf(after, sheet)).toContainEqual(layer);
      });
      // What kept to its part keeps to the other's.
      expect(put.marks[0].layer.parts).toEqual([faces[0].key]);
      expect(put.marks[1].layer.parts).toEqual([]);
      expect(put.edits.find((edit) => edit.do === 'pin-font')).toMatchObject({ font: 'russo-one', hash: NO_HASH });
    },
  );

  test('on what is larger marks grow as far as the smaller side lets them', () => {
    const [part] = partsOf(kit);
    const to = { ...part.face, x: 500, y: 500, width: part.face.width * 4, height: part.face.height * 3 };
    const laid = onOther(marks[0], part.face, to) as LayerOf<'lettering'>;
    expect(laid).toMatchObject({ size: 60, spacing: 4, turn: 0 });
    const [was, is] = [onFace(part.face, marks[0].x, marks[0].y), onFace(to, laid.x, laid.y)];
    expect(is.right / to.width).toBeCloseTo(was.right / part.face.width, 3);
    expect(is.down / to.height).toBeCloseTo(was.down / part.face.height, 3);
  });

  test('what goes nowhere is left out; from before parts were told, it is its sheet as a whole', () => {
    const { parts: _parts, ...old } = kit;
    const [whole] = partsOf(old);
    expect(whole.layers).toHaveLength(kit.layers.length);
    expect(whole.face).toMatchObject({ width: 256, height: 256, turn: 0 });
    const none = new Map(partsOf(kit).map((part) => [part, null]));
    expect(putOn(kit, livery, template, none, 'left out').marks).toEqual([]);
    const sheet = sheetNamed(template, first.key);
    const there = putOn(old, livery, template, new Map([[whole, { ...whole.face, sheet: sheet.key }]]), 'left out');
    expect(there.marks.map(({ layer }) => 'x' in layer && [layer.x, layer.y].map(Math.round))).toEqual(
      marks.map(({ x, y }) => [x, y].map(Math.round)),
    );
  });
});

test('a side is never proposed for the other one, nor a name for nothing', () => {
  const port = { ...facesOf(cube(64))[0], name: 'hull, port' };
  const starboard = { ...port, name: 'hull, starboard', looks: [-1, 0, 0] as [number, number, number] };
  const door = { ...port, name: 'door, port', looks: port.looks };
  expect(likeness(port, starboard)).toBeLessThan(likeness(port, door));
  const aims = proposeAims([{ face: port, layers: [] }], [starboard]);
  expect([...aims.values()]).toEqual([null]);
});

test('the demo skimmer’s marks find their parts on the wagon, and on a skimmer twice as long', async () => {
  const { livery, template } = await demoBundle('tern-tide');
  const wagon = (await demoBundle('ebbline-wagon')).template;
  const kit = packKit(livery, template);
  const proposed = (other: Template) =>
    Object.fromEntries(
      [...proposeAims(partsOf(kit), facesOf(other))].map(([{ face }, to]) => [face.name, to?.name ?? null]),
    );
  const long = proposed(reshaped(template, ([x, y, z]) => [x, y, z * 2]));
  for (const [from, to] of Object.entries(long)) expect(to).toBe(from);
  const there = proposed(wagon);
  expect(there['port side']).toMatch(/port/);
  expect(there['starboard side']).toMatch(/starboard/);
});

describe('kits that nobody made with this', () => {
  const template = cube(64);
  const face = facesOf(template)[0];
  const livery = smallLivery([lettering(20, 20)], template);
  const kit = packKit(livery, template);
  const withFace = (change: object) => ({
    ...kit,
    parts: [{ face: { ...face, ...change }, layers: [kit.layers[0].id] }],
  });

  test.each([
    ['no width', { width: 0 }],
    ['a width below anything', { width: 1e-300 }],
    ['a height beyond anything', { height: 1e300 }],
    ['a place beyond anything', { x: -1e300 }],
    ['a hand that is none', { hand: 0 }],
    ['a direction of any length', { looks: [9, 0, 0] }],
    ['a turn without end', { turn: 1e9 }],
    ['a name without end', { name: 'x'.repeat(100_000) }],
  ])('%s is refused in a sentence', (_what, change) => {
    expect(() => through(withFace(change))).toThrow(/no layers: parts/);
  });

  test('the smallest, largest and farthest faces that are taken leave numbers, or nothing', () => {
    const ends = [
      { width: 0.01, height: 1_000_000 },
      { width: 1_000_000, height: 0.01 },
      { x: 1_000_000, y: -1_000_000, turn: 360 },
    ].map((change) => ({ ...face, ...change }));
    for (const from of [face, ...ends])
      for (const to of [face, ...ends]) {
        const laid = onOther(kit.layers[0], from, to);
        for (const value of Object.values(laid ?? {}))
          if (typeof value === 'number') expect(Number.isFinite(value)).toBe(true);
      }
  });

  test('a mark under two parts, parts of no mark, and marks of no part are no harm', () => {
    const twice = through({ ...kit, parts: [...kit.parts!, ...kit.parts!, { face, layers: [] }] });
    const aims = new Map(partsOf(twice).map((part) => [part, face]));
    expect(putOn(twice, livery, template, aims, 'left out').marks).toHaveLength(1);
    expect(putOn(through({ ...kit, parts: [] }), livery, template, new Map(), 'left out').marks).toEqual([]);
  });
});

/** Where projectors begin: a layer that is put on the model looks as it did on its sheet. */
import { describe, expect, test } from 'vitest';
import { renderCoarse } from '../compose/renderSheet.ts';
import { PROJECTORS, Projector, type ProjectorKind } from '../livery/projector.ts';
import { SheetSurface } from '../surface/surface.ts';
import { cube } from '../testing/bodies.ts';
import { layerOf, smallLivery, sourcesFor } from '../testing/scenes.ts';
import { laidOut, stoodUp } from '../layers/stand.ts';
import { become, levelled, onPlane, seenFrom, slidTo, standOn, stanceOf, VIEWS } from './place.ts';

const template = cube(512);
const number = {
  ...{ text: '27', font: 'russo-one', size: 30, turn: 10, paint: { hex: '#ff0000' }, outline: null },
  ...{ spacing: 0, slant: 0, mirrored: false },
};

test('a mark that is put on the model covers on its sheet what it covered', async () => {
  const surface = new SheetSurface(template, 'face');
  for (const [x, y] of [
    [100, 120],
    [260, 130],
    [420, 310],
  ]) {
    const { on, mirrored } = standOn(surface, x, y)!;
    expect(mirrored).toBe(false);
    const flat = layerOf('lettering', { ...number, x, y });
    const put = layerOf('lettering', { ...number, x: 0, y: 0, on });
    const [before, after] = await Promise.all(
      [flat, put].map(async (layer) => {
        const livery = smallLivery([layer], template);
        return renderCoarse(
          livery,
          'face',
          'colour',
          { width: 512, height: 512 },
          1,
          await sourcesFor(livery, template),
        ).data;
      }),
    );

    let [both, either] = [0, 0];
    for (let i = 3; i < before.length; i += 4) {
      both += Math.min(before[i], after[i]);
      either += Math.max(before[i], after[i]);
    }
    expect(both / either).toBeGreaterThan(0.85);
  }
});

test('off the islands there is nothing to stand on', () => {
  expect(standOn(new SheetSurface(template, 'face'), 2, 2)).toBeNull();
});

describe('one kind becomes another', () => {
  const { on } = standOn(new SheetSurface(template, 'face'), 260, 130)!;
  const kinds = Object.keys(PROJECTORS) as ProjectorKind[];
  test.each(kinds.flatMap((from) => kinds.map((to) => [from, to] as const)))(
    '%s becomes %s in its place',
    (from, to) => {
      const first = become(on, from, template);
      const made = become(first, to, template);
      expect(Projector.safeParse(made).success).toBe(true);
      expect(made.kind).toBe(to);
      expect(made.scale).toBe(on.scale);
    },
  );

  test('and back, where both have a place of their own', () => {
    const { at, facing } = stanceOf(become(become(on, 'folded', template), 'flat', template), template);
    expect(at).toEqual(on.at);
    expect(facing).toEqual(on.facing.map((v) => expect.closeTo(v, 5)));
  });
});

test('its plane: x to the right and y down as seen from outside', () => {
  const on = seenFrom(
    { ...standOn(new SheetSurface(template, 'face'), 260, 130)!.on, scale: 0.1 },
    VIEWS.starboard,
    template,
  );
  // Seen from starboard the bow is on the right: x is forward.
  const [at, right, below] = [onPlane(on, 0, 0)!, onPlane(on, 10, 0)!, onPlane(on, 0, 10)!];
  expect(right.map((v, k) => v - at[k])).toEqual([expect.closeTo(1), expect.closeTo(0), expect.closeTo(0)]);
  expect(below.map((v, k) => v - at[k])).toEqual([expect.closeTo(0), expect.closeTo(-1), expect.closeTo(0)]);
});

test('slid round a corner it stands as upright as before', () => {
  const { on } = standOn(new SheetSurface(template, 'face'), 260, 130)!;
  const slid = slidTo(levelled(on), [1, 0.2, 0.3], [1, 0, 0]);
  expect(slid).toMatchObject({ at: [1, 0.2, 0.3], facing: [1, 0, 0], up: [0, 1, 0] });
});

describe('put on the model and taken back', () => {
  test.each([
    ['lettering', { ...number, x: 100, y: 110 }],
    ['stripe', { paint: { hex: '#ff0000' }, x: 260, y: 120, angle: 20, width: 14, softness: 2 }],
    ['chequer', { paint: { hex: '#ff0000' }, other: null, x: 420, y: 330, angle: -30, cell: 9, columns: 6, rows: 3 }],
  ] as const)('%s lies where it lay', (kind, rest) => {
    const layer = layerOf(kind, rest);
    const put = stoodUp(layer, new SheetSurface(template, 'face'), { x: rest.x, y: rest.y })!;
    expect(put).toMatchObject({ x: 0, y: 0, on: { kind: 'flat' } });
    const back = laidOut(put, template)!;
    expect(back.sheet).toBe('face');
    for (const [key, value] of Object.entries(rest))
      if (typeof value === 'number')
        expect((back.layer as unknown as Record<string, number>)[key]).toBeCloseTo(value, 0);
    expect(back.layer.on).toBeUndefined();
  });
});

test('looked at from another side, its middle lies on that side', () => {
  const port = {
    ...standOn(new SheetSurface(template, 'face'), 260, 130)!.on,
    at: [0.3, 0.2, -1] as [number, number, number],
  };
  expect(seenFrom(port, VIEWS.starboard, template)).toMatchObject({
    at: [0.3, 0.2, 1],
    facing: [0, 0, 1],
    up: [0, 1, 0],
  });
  expect(seenFrom(port, VIEWS.top, template)).toMatchObject({ at: [0.3, 1, -1], facing: [0, 1, 0], up: [1, 0, 0] });
});

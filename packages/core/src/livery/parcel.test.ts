/** Layers that go to another sheet or livery. */
import { describe, expect, test } from 'vitest';
import { applyEdit } from './edit.ts';
import { newColourId } from './ids.ts';
import type { Layer } from './layer.ts';
import { colourOf, layersOf, type Livery } from './livery.ts';
import { newLivery } from './newLivery.ts';
import { packLayers, parcelOf, readParcel, unpackLayers } from './parcel.ts';
import { layerOf, NO_HASH, smallLivery, smallTemplate } from '../testing/scenes.ts';

const template = smallTemplate(128);
const sheet = template.sheets[0];
const through = (value: object) => readParcel(JSON.stringify(value));

/** A livery with the same layers on top of its own. */
function withThese(livery: Livery, { edits }: ReturnType<typeof unpackLayers>): Livery {
  return applyEdit(livery, { do: 'together', edits }).livery;
}
const other = (layers: Layer[] = []): Livery => {
  const livery = smallLivery(layers, template);
  return {
    ...livery,
    scheme: [{ id: newColourId(), name: 'Sand', hex: '#d8c9a0' }],
    pins: { ...livery.pins, template: 'f'.repeat(64) as typeof NO_HASH, fonts: {} },
  };
};

test('a group comes with all that it holds, under new names that still hold together', () => {
  const group = layerOf('group', { through: false });
  const inside = layerOf('solid', { paint: { scheme: 'red' }, group: group.id, parts: ['front'] });
  const masked = layerOf('solid', {
    paint: { hex: '#102030' },
    group: group.id,
    mask: {
      from: { kind: 'layer', layer: inside.id },
      strokes: [],
      inverted: false,
      feather: 0,
      off: false,
      linked: null,
    },
  });
  const livery = smallLivery([inside, masked, group, layerOf('solid', { paint: { scheme: 'red' } })], template);
  const parcel = through(packLayers(livery, sheet, 'colour', [group.id]));
  expect(parcel.layers).toHaveLength(3);

  const here = withThese(livery, unpackLayers(parcel, livery, { sheet, map: 'colour', index: 4 }));
  const [a, b, g] = layersOf(here, sheet.key).slice(4);
  expect([a.group, b.group]).toEqual([g.id, g.id]);
  expect(b.mask?.from).toEqual({ kind: 'layer', layer: a.id });
  expect(new Set([a.id, b.id, g.id, inside.id, masked.id, group.id]).size).toBe(6);
  expect(a.parts).toEqual(['front']);
  expect(here.scheme).toEqual(livery.scheme);

  // Elsewhere parts mean nothing, and a mask by a layer that stayed behind lets everything through.
  const alone = through(packLayers(livery, sheet, 'colour', [masked.id]));
  const there = withThese(other(), unpackLayers(alone, other(), { sheet, map: 'colour', index: 0 }));
  expect(layersOf(there, sheet.key)[0].mask?.from).toEqual({ kind: 'all' });
  expect(layersOf(there, sheet.key)[0].group).toBeUndefined();
});

describe('colours', () => {
  const stops = [0, 1].map((at) => ({ at, paint: { scheme: at ? 'red' : 'sand' }, opacity: 100 }));
  const fade = layerOf('fade', { shape: 'linear', x: 0, y: 0, length: 50, angle: 0, stops });
  const livery: Livery = {
    ...smallLivery([fade], template),
    scheme: [
      { id: 'red' as never, name: 'Red', hex: '#c81e1e' },
      { id: 'sand' as never, name: 'sand', hex: '#d8c9a0' },
      { id: 'unworn' as never, name: 'Unworn', hex: '#000001' },
    ],
  };

  test('those of one name and value are one; others are added; unworn ones stay at home', () => {
    const target = other();
    const parcel = through(packLayers(livery, sheet, 'colour', [fade.id]));
    const there = withThese(target, unpackLayers(parcel, target, { sheet, map: 'colour', index: 0 }));
    expect(there.scheme.map(({ name }) => name)).toEqual(['Sand', 'Red']);
    const [layer] = layersOf(there, sheet.key);
    const worn = layer.kind === 'fade' ? layer.stops.map(({ paint }) => colourOf(there, paint)) : [];
    expect(worn).toEqual([colourOf(livery, { scheme: 'sand' as never }), colourOf(livery, { scheme: 'red' as never })]);
  });

  test('two new liveries share no colour: what one made of its first colours arrives beside those of the other', () => {
    const [one, two] = ['One', 'Two'].map((name) => newLivery(template, NO_HASH, name));
    const ids = new Set([...one.scheme, ...two.scheme].map(({ id }) => id));
    expect(ids.size).toBe(one.scheme.length + two.scheme.length);
    for (const before of [
      one,
      { ...one, scheme: one.scheme.map((c, i) => ({ ...c, id: `first-${i + 1}` as never })) },
    ]) {
      const after = { ...two, scheme: two.scheme.map((c, i) => ({ ...c, id: `first-${i + 1}` as never })) };
      const dyed = { ...before, scheme: before.scheme.map((c) => ({ ...c, hex: '#ff00aa' })) };
      const there = withThese(
        after,
        unpackLayers(through(parcelOf(dyed, sheet, [], dyed.scheme)), after, { sheet, map: 'colour', index: 0 }),
      );
      expect(there.scheme.filter(({ hex }) => hex === '#ff00aa')).toHaveLength(dyed.scheme.length);
      expect(there.scheme.slice(0, after.scheme.length)).toEqual(after.scheme);
    }
  });

  test('a scheme that is full is left alone: the layer wears the colour as it is', () => {
    const scheme = Array.from({ length: 64 }, (_, i) => ({
      id: newColourId(),
      name: `C${i}`,
      hex: `#0000${(i + 16).toString(16)}`,
    }));
    const target = { ...other(), scheme };
    const { edits, layers } = unpackLayers(packLayers(livery, sheet, 'colour', [fade.id]), target, {
      sheet,
      map: 'colour',
      index: 0,
    });
    expect(edits.some((edit) => edit.do === 'add-colour')).toBe(false);
    expect(layers[0].kind === 'fade' && layers[0].stops.map(({ paint }) => paint)).toEqual([
      { hex: '#d8c9a0' },
      { hex: '#c81e1e' },
    ]);
  });
});

test('what is no parcel is refused in one sentence', () => {
  expect(() => readParcel('{')).toThrow(/not JSON/);
  expect(() => readParcel('{"parcel":"wet-lacquer","version":2}')).toThrow(/no layers: version/);
});

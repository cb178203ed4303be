import { expect, test } from 'vitest';
import { layerOf, NO_HASH, smallLivery } from '../testing/scenes.ts';
import { applyEdit } from './edit.ts';
import type { ColourId } from './ids.ts';
import { paintsOf } from './layer.ts';
import { layersOf } from './livery.ts';
import { wearInstead, wornBy } from './wear.ts';

const red = { scheme: 'red' as ColourId };
const blue = { scheme: 'blue' as ColourId };
const stroke = (id: string, paint: object) => ({ id, how: 'paint', paint, opacity: 100, blob: NO_HASH, tiles: [0] });
const layers = () => [
  layerOf('solid', { paint: red }),
  layerOf('fade', {
    shape: 'linear',
    x: 0,
    y: 0,
    length: 9,
    angle: 0,
    stops: [0, 1].map((at) => ({ at, paint: at ? red : blue, opacity: 100 })),
  }),
  layerOf('brush', { strokes: [stroke('a', red), stroke('b', { hex: '#ff0000' }), stroke('c', red)] }),
  layerOf('solid', {
    paint: blue,
    filters: [{ kind: 'recolour', paint: red, strength: 100, contrast: 100, middle: 0.5 }],
  }),
  layerOf('solid', { paint: { hex: '#123456' } }),
];

test('a colour is found wherever a layer wears it, and another put in its place everywhere, in one step that goes back', () => {
  const livery = smallLivery(layers());
  expect(wornBy(livery, red).map(({ layer }) => layer.kind)).toEqual(['solid', 'fade', 'brush', 'solid']);
  const { livery: after, inverse } = applyEdit(livery, {
    do: 'together',
    edits: wearInstead(livery, red, blue, red.scheme),
  });
  expect(wornBy(after, red)).toEqual([]);
  expect(after.scheme.map(({ id }) => id)).toEqual(['blue']);
  const strokes = layersOf(after, 'face').find(({ kind }) => kind === 'brush');
  expect(strokes && paintsOf(strokes)).toEqual([blue, { hex: '#ff0000' }, blue]);
  expect(applyEdit(after, inverse).livery).toEqual(livery);
});

test('a locked layer keeps its colour, and nothing is changed', () => {
  const livery = smallLivery([...layers(), layerOf('solid', { paint: red, locked: true, name: 'Hull' })]);
  expect(() => wearInstead(livery, red, blue)).toThrow('Hull wears it and is locked.');
});

test('more strokes than one step can hold are refused', () => {
  const strokes = Array.from({ length: 301 }, (_, i) => stroke(`s${i}`, red));
  expect(() => wearInstead(smallLivery([layerOf('brush', { strokes })]), red, blue)).toThrow(/too much for one step/);
});

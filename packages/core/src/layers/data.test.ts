/** What each kind says of itself is true of its schema. */
import { describe, expect, test } from 'vitest';
import { partnerOf } from '../livery/arrange.ts';
import { Layer, LAYERS, LAYER_SETTINGS, type LayerKind } from '../livery/layer.ts';
import { layerOf } from '../testing/scenes.ts';
import { isDrawn } from './index.ts';

const kinds = Object.keys(LAYERS) as LayerKind[];
const model = { low: [-2, 0, -1], high: [2, 1, 1] };
const place = {
  sheet: { width: 512, height: 256 },
  model,
  x: 100,
  y: 90,
  paint: () => ({ hex: '#102030' }),
  finishes: [],
  spot: () => null,
};
const made = kinds.flatMap((kind) =>
  LAYERS[kind].makers.map((maker) => layerOf(kind, { name: maker.name, phase: maker.phase, ...maker.make(place) })),
);
const data = (layer: Layer) => LAYERS[layer.kind] as unknown as (typeof LAYERS)['stripe'];

test('every kind that can be stored is described, and no other', () => {
  expect(Layer.options.map(({ shape }) => [...shape.kind.values][0]).toSorted()).toEqual(kinds.toSorted());
});

describe.each(made.map((layer) => [layer.name, layer] as const))('%s', (_name, layer) => {
  test('names only settings that it has, within the ranges that are taken', () => {
    const settings = LAYER_SETTINGS[layer.kind];
    for (const row of data(layer).place(layer as never)) {
      if (typeof row === 'string') continue;
      if ('is' in row) {
        const values = row.is === 'slide' ? [row.min, row.max] : row.options;
        for (const value of values) expect(settings[row.key].safeParse(value).success).toBe(true);
        continue;
      }
      for (const { key, min, max } of row) {
        expect(Object.keys(settings)).toContain(key);
        for (const value of [min, max])
          if (value !== undefined) expect(settings[key].safeParse(value).success).toBe(true);
      }
    }
    for (const row of data(layer).colours)
      if (typeof row !== 'string') expect(Object.keys(settings)).toContain(row.key);
    const { turns } = data(layer);
    if (turns) expect(settings[turns].safeParse(90).success).toBe(true);
  });

  test('its partner’s partner is itself, across either line and either way', () => {
    for (const across of ['x', 'y'] as const)
      for (const readable of [true, false]) {
        const line = { across, at: 64 };
        const partner = partnerOf(layer, line, readable);
        if (!('x' in layer)) expect(partner).toBeNull();
        else expect(Layer.parse(partnerOf(partner!, line, readable))).toEqual(layer);
      }
  });

  test('its box grows to what it is dragged to', () => {
    const { frame, sides, sized } = data(layer);
    const before = frame(layer as never, 4);
    if (!before || sides(layer as never) === null) return;
    const after = { ...layer, ...sized(layer as never, before.width * 2, before.height * 2) };
    const box = frame(after as never, 4)!;
    expect([box.width / before.width, box.height / before.height].map((v) => Math.round(v * 10) / 10)).toEqual([2, 2]);
  });

  test('it is drawn, or changes what others draw', () => {
    expect(isDrawn(layer) || layer.kind === 'adjust').toBe(true);
  });
});

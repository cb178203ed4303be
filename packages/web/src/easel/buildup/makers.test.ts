import { expect, test } from 'vitest';
import { layerOf, smallLivery, smallTemplate } from '@wet-lacquer/core/testing/scenes.ts';
import type { DecalCard } from '@wet-lacquer/sync/answers.ts';
import { decalLayer, indexFor, MAKERS } from './makers.ts';
import { describe as words } from './words.ts';

const template = smallTemplate(256);
const place = { template, sheet: template.sheets[0], x: 100, y: 90, livery: smallLivery([]) };

test.each(MAKERS.map((maker) => [maker.key, maker] as const))(
  'the maker of %s makes a valid layer of its phase, each with its own id',
  (_key, maker) => {
    const [one, two] = [maker.make(place), maker.make(place)];
    expect(one.phase).toBe(maker.phase);
    expect(one.id).not.toBe(two.id);
    if ('y' in one) expect(one.y).toBe(90);
  },
);

test('a decal is placed with its own ratio', () => {
  const card = { blob: '0'.repeat(64), name: 'Crest', source: 'svg', ratio: 2 } as DecalCard;
  const layer = decalLayer(card, place);
  expect(layer).toMatchObject({ x: 100, y: 90, keepRatio: true });
  if (layer.kind === 'decal') expect(layer.width / layer.height).toBeCloseTo(2, 6);
});

test('a new layer goes above the chosen one, else above what belongs before it and under what comes after', () => {
  const layers = [
    layerOf('solid', { id: 'a', paint: { hex: '#000000' } }),
    layerOf('solid', { id: 'b', phase: 'Marks', paint: { hex: '#000000' } }),
  ];
  expect(indexFor(layers, 'Marks', 'a')).toBe(1);
  expect(indexFor(layers, 'Base', null)).toBe(1);
  expect(indexFor(layers, 'Pattern', null)).toBe(1);
  expect(indexFor(layers, 'Retouch', null)).toBe(2);
  expect(indexFor([layerOf('solid', { phase: 'Retouch', paint: { hex: '#000000' } })], 'Base', null)).toBe(0);
  expect(indexFor([], 'Marks', null)).toBe(0);
});

test('a layer is described by its kind and its parts', () => {
  const on = (parts: string[]) => words(layerOf('solid', { paint: { hex: '#000000' }, parts }), smallTemplate());
  expect([on([]), on(['left']), on(['left', 'right'])]).toEqual([
    'Solid, whole sheet',
    'Solid, left half',
    'Solid, left half and right half',
  ]);
});

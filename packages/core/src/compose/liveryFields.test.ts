/** What a livery shows before its model is worked out. */
import { expect, test } from 'vitest';
import { newMask } from '../livery/paint.ts';
import { findLayer, layersIn } from '../livery/livery.ts';
import type { LayerId } from '../livery/ids.ts';
import { cube } from '../testing/bodies.ts';
import { layerOf, smallLivery, wearOn } from '../testing/scenes.ts';
import { bakeField } from '../surface/baked/index.ts';
import { fieldsOfLivery } from './liveryFields.ts';
import { SourceStore } from './sources.ts';
import { renderRegion } from './renderTile.ts';

const template = cube(32);
const sheet = template.sheets[0].key;
const livery = smallLivery(
  [
    layerOf('solid', { id: 'base', paint: { hex: '#204060' } }),
    layerOf('solid', {
      id: 'low',
      paint: { hex: '#ff0000' },
      mask: newMask({ kind: 'field', field: 'height', from: 0, to: 1 }),
    }),
    wearOn(template, 'dust', { id: 'dust' }),
    layerOf('solid', {
      id: 'worn',
      paint: { hex: '#00ff00' },
      mask: newMask({ kind: 'layer', layer: 'dust' as LayerId }),
    }),
    layerOf('solid', {
      id: 'again',
      paint: { hex: '#0000ff' },
      mask: newMask({ kind: 'layer', layer: 'worn' as LayerId }),
    }),
  ],
  template,
);
const asked: string[] = [];
const storeOf = (field?: () => Promise<Float32Array>) =>
  new SourceStore(template, {
    blob: () => Promise.reject(new Error('none')),
    font: () => Promise.reject(new Error('none')),
    drawSvg: () => Promise.reject(new Error('none')),
    unpackPixels: () => {
      throw new Error('none');
    },
    field: (name) => {
      asked.push(name);
      return field ? field() : Promise.resolve(bakeField(template, name));
    },
  });
const hidden = (of: typeof livery) => layersIn(of).flatMap((one) => (one.hidden ? [one.id as string] : []));

test('layers that go by the model, and masks that follow them, are hidden until it is worked out; all else is drawn', async () => {
  const store = storeOf();
  await store.loadLight(livery);
  expect(asked).toEqual([]);
  expect(store.awaited(livery)).toEqual(['height', 'hollows']);
  const early = store.drawable(livery);
  expect(hidden(early)).toEqual(['low', 'dust', 'worn', 'again']);
  const region = { x: 0, y: 0, width: 32, height: 32, step: 1 };
  const only = smallLivery([findLayer(livery, 'base' as LayerId)!.layer], template);
  expect(renderRegion(early, sheet, 'colour', region, store.sources(early))).toEqual(
    renderRegion(only, sheet, 'colour', region, store.sources(only)),
  );
  // Asked for by two at once, each is fetched once.
  await Promise.all([store.loadFields(livery), store.load(livery)]);
  expect(asked).toEqual(['height', 'hollows']);
  expect(store.awaited(livery)).toEqual([]);
  expect(store.drawable(livery)).toBe(livery);
});

test('a field that cannot be had is asked for again; nothing is drawn in its place', async () => {
  let fails = true;
  const store = storeOf(() =>
    fails ? Promise.reject(new Error('away')) : Promise.resolve(bakeField(template, 'height')),
  );
  const low = smallLivery([findLayer(livery, 'low' as LayerId)!.layer], template);
  await expect(store.loadFields(low)).rejects.toThrow('away');
  expect(hidden(store.drawable(low))).toEqual(['low']);
  fails = false;
  await store.loadFields(low);
  expect(store.drawable(low)).toBe(low);
});

test('each field is named once', () => {
  const both = smallLivery([...layersIn(livery), wearOn(template, 'grime')], template);
  expect(fieldsOfLivery(both).length).toBe(new Set(fieldsOfLivery(both)).size);
});

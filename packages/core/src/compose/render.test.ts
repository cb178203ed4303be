import { beforeAll, describe, expect, test } from 'vitest';
import { layersOf, type Livery } from '../livery/livery.ts';
import { applyEdit } from '../livery/edit.ts';
import { LayerId } from '../livery/ids.ts';
import { TILE } from '../raster/image.ts';
import { toStraight8 } from '../raster/tile16.ts';
import { demoBundle, layerOf, smallLivery, smallTemplate, sourcesFor } from '../testing/scenes.ts';
import type { Template } from '../livery/template.ts';
import { renderSheet } from './renderSheet.ts';
import { layerAt, renderRegion, type Sources } from './renderTile.ts';
import { TileCache } from './tileCache.ts';

const small = smallTemplate();
const size = { width: 64, height: 64 };
const at = (image: { width: number; data: Uint8Array }, x: number, y: number) => [
  ...image.data.subarray((y * image.width + x) * 4, (y * image.width + x) * 4 + 4),
];

/** Large pictures compared quickly. */
const same = (a: Uint16Array, b: Uint16Array) => a.length === b.length && a.every((v, i) => v === b[i]);

describe('layers on a small sheet', () => {
  test('a solid with half opacity over another mixes in the sheet’s own encoding', async () => {
    const livery = smallLivery([
      layerOf('solid', { paint: { hex: '#ffffff' } }),
      layerOf('solid', { paint: { hex: '#000000' }, opacity: 50 }),
    ]);
    const image = renderSheet(livery, 'face', 'colour', size, await sourcesFor(livery, small));
    // Half way between 0 and 255 is 127.5: the dither makes it 127 or 128, and right on average.
    const values = image.data.filter((_v, i) => i % 4 === 0);
    expect(new Set(values)).toEqual(new Set([127, 128]));
    expect(values.reduce((a, b) => a + b, 0) / values.length).toBeCloseTo(127.5, 1);
  });

  test('hidden layers and layers without opacity leave the sheet clear', async () => {
    const livery = smallLivery([
      layerOf('solid', { paint: { hex: '#ffffff' }, hidden: true }),
      layerOf('solid', { paint: { hex: '#ffffff' }, opacity: 0 }),
    ]);
    expect(
      renderSheet(livery, 'face', 'colour', size, await sourcesFor(livery, small)).data.every((v) => v === 0),
    ).toBe(true);
  });

  test('a layer keeps to its parts, with their gutter', async () => {
    const livery = smallLivery([layerOf('solid', { paint: { scheme: 'red' }, parts: ['left'] })]);
    const image = renderSheet(livery, 'face', 'colour', size, await sourcesFor(livery, small));
    expect(at(image, 20, 32)).toEqual([255, 0, 0, 255]);
    expect(at(image, 40, 32)).toEqual([0, 0, 0, 0]);
    // Left of the island, within the gutter of 20 texels.
    expect(at(image, 4, 32)).toEqual([255, 0, 0, 255]);
  });

  test('a stripe of whole texels covers exactly them', async () => {
    const livery = smallLivery([
      layerOf('stripe', { paint: { scheme: 'blue' }, x: 32, y: 30, angle: 0, width: 8, softness: 0 }),
    ]);
    const image = renderSheet(livery, 'face', 'colour', size, await sourcesFor(livery, small));
    const covered = Array.from({ length: 64 }, (_, y) => at(image, 5, y)[3]);
    expect(covered.map((a, y) => (a ? y : -1)).filter((y) => y >= 0)).toEqual([26, 27, 28, 29, 30, 31, 32, 33]);
    expect(new Set(covered)).toEqual(new Set([0, 255]));
  });

  test('a slanted stripe covers its exact area: width times length', async () => {
    const livery = smallLivery([
      layerOf('stripe', { paint: { scheme: 'blue' }, x: 32, y: 32, angle: 30, width: 10, softness: 0 }),
    ]);
    const tile = renderRegion(
      livery,
      'face',
      'colour',
      { x: 0, y: 0, ...size, step: 1 },
      await sourcesFor(livery, small),
    );
    let area = 0;
    for (let i = 3; i < tile.length; i += 4) area += tile[i] / 65535;
    // The middle line crosses the square from side to side: 64 / cos 30 degrees long.
    expect(area).toBeCloseTo((10 * 64) / Math.cos(Math.PI / 6), 0);
  });

  test('stripe sets repeat their paints at their pitch', async () => {
    const livery = smallLivery([
      layerOf('stripe-set', {
        paints: [{ scheme: 'red' }, { scheme: 'blue' }],
        x: 32,
        y: 32,
        angle: 90,
        width: 4,
        gap: 4,
        count: 4,
        softness: 0,
      }),
    ]);
    const image = renderSheet(livery, 'face', 'colour', size, await sourcesFor(livery, small));
    const row = Array.from({ length: 64 }, (_, x) => at(image, x, 10));
    const red = row.map((c, x) => (c[0] === 255 && c[3] === 255 ? x : -1)).filter((x) => x >= 0);
    const blue = row.map((c, x) => (c[2] === 255 && c[3] === 255 ? x : -1)).filter((x) => x >= 0);
    expect(red).toHaveLength(8);
    expect(blue).toHaveLength(8);
    expect(row.filter((c) => c[3] > 0)).toHaveLength(16);
  });

  test('a chequer paints its cells in turn and leaves the others open', async () => {
    const livery = smallLivery([
      layerOf('chequer', {
        paint: { scheme: 'red' },
        other: null,
        x: 32,
        y: 32,
        angle: 0,
        cell: 8,
        columns: 4,
        rows: 2,
      }),
    ]);
    const image = renderSheet(livery, 'face', 'colour', size, await sourcesFor(livery, small));
    expect(at(image, 17, 25)).toEqual([255, 0, 0, 255]);
    expect(at(image, 25, 25)[3]).toBe(0);
    expect(at(image, 25, 33)).toEqual([255, 0, 0, 255]);
  });

  test('a fade goes from its first stop to its last, and is right in the middle', async () => {
    const stops = [
      { at: 0, paint: { hex: '#000000' }, opacity: 100 },
      { at: 1, paint: { hex: '#ffffff' }, opacity: 100 },
    ];
    const livery = smallLivery([layerOf('fade', { shape: 'linear', x: 0, y: 0, length: 64, angle: 0, stops })]);
    const tile = renderRegion(
      livery,
      'face',
      'colour',
      { x: 0, y: 0, ...size, step: 1 },
      await sourcesFor(livery, small),
    );
    for (const x of [0, 15, 31, 63]) expect(tile[x * 4] / 65535).toBeCloseTo((x + 0.5) / 64, 3);
  });

  test('a fade is dithered: over 64 x 64 texels its mean is off by less than 0.1 of an 8-bit step', async () => {
    const stops = [
      { at: 0, paint: { hex: '#646464' }, opacity: 100 },
      { at: 1, paint: { hex: '#666666' }, opacity: 100 },
    ];
    const livery = smallLivery([layerOf('fade', { shape: 'linear', x: 0, y: 0, length: 64, angle: 0, stops })]);
    const sources = await sourcesFor(livery, small);
    const image = renderSheet(livery, 'face', 'colour', size, sources);
    let sum = 0;
    for (let i = 0; i < image.data.length; i += 4) sum += image.data[i];
    expect(Math.abs(sum / (64 * 64) - 101)).toBeLessThan(0.1);
  });

  test('lettering follows the particulars', async () => {
    const text = layerOf('lettering', {
      text: '{number}',
      font: 'anton',
      size: 24,
      x: 32,
      y: 32,
      turn: 0,
      paint: { scheme: 'red' },
      outline: null,
      spacing: 0,
      slant: 0,
      mirrored: false,
    });
    const livery = smallLivery([text]);
    const sources = await sourcesFor(livery, small);
    const ink = (l: Livery) =>
      renderSheet(l, 'face', 'colour', size, sources).data.reduce((n, v, i) => n + (i % 4 === 3 ? v : 0), 0);
    const seven = ink(livery);
    const eights = ink(applyEdit(livery, { do: 'set-particular', key: 'number', value: '88' }).livery);
    expect(seven).toBeGreaterThan(5000);
    expect(eights).toBeGreaterThan(seven * 2);
  });

  test('lettering is as tall as it says: capitals of 40 texels reach from 12 to 52', async () => {
    const text = layerOf('lettering', {
      text: 'H',
      font: 'anton',
      size: 40,
      x: 32,
      y: 32,
      turn: 0,
      paint: { scheme: 'red' },
      outline: null,
      spacing: 0,
      slant: 0,
      mirrored: false,
    });
    const livery = smallLivery([text]);
    const image = renderSheet(livery, 'face', 'colour', size, await sourcesFor(livery, small));
    const rows = Array.from({ length: 64 }, (_, y) =>
      Array.from({ length: 64 }, (_, x) => at(image, x, y)[3]).some((a) => a > 127),
    );
    expect([rows.indexOf(true), rows.lastIndexOf(true)]).toEqual([12, 51]);
  });

  test('the layer under a point is the topmost that shows there', async () => {
    const [below, above] = [
      layerOf('solid', { paint: { scheme: 'red' } }),
      layerOf('solid', { paint: { scheme: 'blue' }, parts: ['right'] }),
    ];
    const livery = smallLivery([below, above]);
    const sources = await sourcesFor(livery, small);
    expect(layerAt(livery, 'face', 'colour', 40, 32, sources)?.id).toBe(above.id);
    expect(layerAt(livery, 'face', 'colour', 20, 32, sources)?.id).toBe(below.id);
  });

  test('a decal without its picture says which one', async () => {
    const decal = layerOf('decal', {
      blob: 'f'.repeat(64),
      source: 'pixels',
      ratio: 1,
      keepRatio: true,
      x: 1,
      y: 1,
      width: 9,
      height: 9,
      turn: 0,
      mirrored: false,
      recolour: [],
      name: 'Crest',
    });
    const sources = await sourcesFor(smallLivery([]), small);
    expect(() => renderSheet(smallLivery([decal]), 'face', 'colour', size, sources)).toThrow(
      /"Crest" has not been loaded/,
    );
  });
});

describe('the demo’s hull', () => {
  let livery: Livery;
  let template: Template;
  let sources: Sources;
  beforeAll(async () => {
    const bundle = await demoBundle('lanternfish');
    ({ livery, template } = bundle);
    sources = await sourcesFor(livery, template, bundle.blobs, bundle.fonts);
  });

  test('a tile from the cache is the same as from the whole sheet, at any place, with a layer in work or without', () => {
    const cache = new TileCache(64 * 1024 * 1024);
    const hull = template.sheets[0];
    const hot = layersOf(livery, 'hull')[9].id;
    for (const [tx, ty] of [
      [0, 1],
      [3, 2],
      [6, 3],
    ]) {
      const direct = renderRegion(
        livery,
        'hull',
        'colour',
        { x: tx * TILE, y: ty * TILE, width: TILE, height: TILE, step: 1 },
        sources,
      );
      for (const look of [{}, { hot }])
        expect(same(cache.exact(livery, 'hull', 'colour', hull, 0, tx, ty, sources, look), direct)).toBe(true);
      // A second time it comes from what was kept.
      expect(same(cache.exact(livery, 'hull', 'colour', hull, 0, tx, ty, sources, { hot }), direct)).toBe(true);
    }
  });

  test('while a layer is dragged the kept composite below it gives the same as drawing everything', () => {
    const cache = new TileCache(64 * 1024 * 1024);
    const hull = template.sheets[0];
    const layer = layersOf(livery, 'hull').find((l) => l.kind === 'lettering')!;
    cache.exact(livery, 'hull', 'colour', hull, 0, 4, 1, sources, { hot: layer.id });
    let moved = livery;
    for (const opacity of [80, 40, 10]) {
      moved = applyEdit(moved, { do: 'set-layer', layer: LayerId.parse(layer.id), set: { opacity } }).livery;
      const direct = renderRegion(
        moved,
        'hull',
        'colour',
        { x: 4 * TILE, y: TILE, width: TILE, height: TILE, step: 1 },
        sources,
      );
      const kept = cache.exact(moved, 'hull', 'colour', hull, 0, 4, 1, sources, { hot: layer.id });
      expect(same(kept, direct)).toBe(true);
    }
  });

  test('the key of a tile changes with what can be seen in it, and with nothing else', () => {
    const cache = new TileCache(1024);
    const key = (l: Livery, tx: number, ty: number) => cache.keyOf(l, 'hull', 'colour', 0, tx, ty, sources);
    const port = layersOf(livery, 'hull').find((l) => l.name === 'Rescue')!;
    const renamed = applyEdit(livery, {
      do: 'set-layer',
      layer: port.id,
      set: { name: 'Other name', locked: true },
    }).livery;
    const recoloured = applyEdit(livery, { do: 'set-layer', layer: port.id, set: { opacity: 50 } }).livery;
    expect(key(renamed, 4, 1)).toBe(key(livery, 4, 1));
    expect(key(recoloured, 4, 1)).not.toBe(key(livery, 4, 1));
    expect(key(recoloured, 4, 7)).toBe(key(livery, 4, 7));
  });

  test('zoomed out is the average of the true composite', () => {
    const cache = new TileCache(256 * 1024 * 1024);
    const hull = template.sheets[0];
    const coarse = cache.exact(livery, 'hull', 'colour', hull, 2, 0, 0, sources);
    const native = renderRegion(livery, 'hull', 'colour', { x: 400, y: 360, width: 4, height: 4, step: 1 }, sources);
    for (let c = 0; c < 4; c++) {
      let sum = 0;
      for (let i = c; i < native.length; i += 4) sum += native[i];
      expect(Math.abs(coarse[((360 / 4) * TILE + 100) * 4 + c] - sum / 16)).toBeLessThanOrEqual(2);
    }
  });

  test('opaque paint is exact: the base colour of the scheme stands in the sheet to the bit', () => {
    const tile = renderRegion(livery, 'hull', 'colour', { x: 1500, y: 2000, width: 8, height: 8, step: 1 }, sources);
    const base = livery.scheme[0].hex;
    expect([...toStraight8(tile, 8, 8, 1500, 2000).subarray(0, 4)]).toEqual([
      ...[1, 3, 5].map((i) => Number.parseInt(base.slice(i, i + 2), 16)),
      255,
    ]);
  });
});

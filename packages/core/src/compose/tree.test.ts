/** Groups, masks, clipping, channels and adjustments against plain formulas; and the cache against drawing everything. */
import { describe, expect, test } from 'vitest';
import { applyEdit } from '../livery/edit.ts';
import type { Layer } from '../livery/layer.ts';
import { layersOf, type Livery } from '../livery/livery.ts';
import type { Stroke } from '../livery/paint.ts';
import { groupsAround, treeOf, withInside } from '../livery/tree.ts';
import { packTiles } from '../paint/strokes.ts';
import { TILE } from '../raster/image.ts';
import { randomFrom } from '../testing/images.ts';
import { layerOf, smallLivery, smallTemplate, sourcesFor } from '../testing/scenes.ts';
import { layerAt, renderRegion, type Sources } from './renderTile.ts';
import { TileCache } from './tileCache.ts';
import { LIVE_STROKE } from './tileNames.ts';

const one = { x: 20, y: 20, width: 1, height: 1, step: 1 };

async function drawn(layers: Layer[], region = one): Promise<number[]> {
  const template = smallTemplate(64);
  const livery = smallLivery(layers, template);
  const sources = await sourcesFor(livery, template);
  return [...renderRegion(livery, 'face', 'colour', region, sources)].map((v) => v / 65535);
}
const solid = (hex: string, more: object = {}) => layerOf('solid', { paint: { hex }, ...more });
const close = (a: readonly number[], b: readonly number[]) => a.forEach((v, i) => expect(v).toBeCloseTo(b[i], 3));

describe('groups', () => {
  test('an isolated group is one picture: its opacity fades it as a whole', async () => {
    const group = layerOf('group', { through: false, opacity: 50 });
    const base = solid('#0000ff');
    // Red, then white at half over it: (1, .5, .5); half of that on blue.
    const inside = [solid('#ff0000', { group: group.id }), solid('#ffffff', { group: group.id, opacity: 50 })];
    close(await drawn([base, ...inside, group]), [0.5, 0.25, 0.75, 1]);
  });

  test('in an isolated group a mode sees the group alone; passed through it sees what is below', async () => {
    const make = (through: boolean) => {
      const group = layerOf('group', { through });
      return drawn([solid('#808080'), solid('#ff8000', { group: group.id, blend: 'multiply' }), group]);
    };
    close(await make(false), [1, 128 / 255, 0, 1]);
    close(await make(true), [128 / 255, (128 / 255) ** 2, 0, 1]);
  });

  test('opacity and mask of a passed-through group mix its outcome with what was there', async () => {
    const group = layerOf('group', { through: true, opacity: 25 });
    close(await drawn([solid('#ffffff'), solid('#000000', { group: group.id }), group]), [0.75, 0.75, 0.75, 1]);
  });

  test('a hidden group hides all that is in it; a group that is gone hides nothing', async () => {
    const group = layerOf('group', { through: false, hidden: true });
    const inside = solid('#ff0000', { group: group.id });
    close(await drawn([inside, group]), [0, 0, 0, 0]);
    close(await drawn([inside]), [1, 0, 0, 1]);
  });

  test('groups that would hold each other stand outside, and nothing is lost', () => {
    const a = layerOf('group', { through: false });
    const b = { ...layerOf('group', { through: false }), group: a.id };
    const looped = { ...a, group: b.id };
    const names = (nodes: ReturnType<typeof treeOf>): string[] =>
      nodes.flatMap((node) => [node.layer.id, ...names(node.inside), ...names(node.clipped)]);
    expect(names(treeOf([looped, b])).sort()).toEqual([a.id, b.id].sort());
    const leaf = solid('#000000', { group: b.id });
    const layers = [leaf, b, a];
    expect(groupsAround(layers, leaf)).toEqual([b, a]);
    expect(withInside(layers, a)).toEqual([leaf, b, a]);
  });
});

describe('masks and clipping', () => {
  const mask = (from: object, more: object = {}) => ({
    mask: { from, strokes: [], inverted: false, feather: 0, off: false, linked: null, ...more },
  });

  test('a fade masks by its share at each place, and the other way round', async () => {
    const from = { kind: 'fade', shape: 'linear', x: 0.5, y: 0, length: 64, angle: 0 };
    const [at32] = [{ ...one, x: 32 }];
    close(await drawn([solid('#ffffff', mask(from))], at32), [0.5, 0.5, 0.5, 0.5]);
    close(await drawn([solid('#ffffff', mask(from, { inverted: true }))], { ...one, x: 16 }), [0.25, 0.25, 0.25, 0.25]);
    close(await drawn([solid('#ffffff', mask(from, { off: true }))], at32), [1, 1, 1, 1]);
  });

  test('parts mask by their texels, and softened their edge is half', async () => {
    const from = { kind: 'parts', parts: ['left'] };
    const row = { x: 16, y: 32, width: 32, height: 1, step: 1 };
    const hard = await drawn([solid('#ffffff', mask(from))], row);
    expect([hard[3], hard[15 * 4 + 3], hard[16 * 4 + 3]]).toEqual([1, 1, 0]);
    const soft = await drawn([solid('#ffffff', mask(from, { feather: 3 }))], row);
    expect((soft[15 * 4 + 3] + soft[16 * 4 + 3]) / 2).toBeCloseTo(0.5, 1);
    expect(soft[19 * 4 + 3]).toBeGreaterThan(0.05);
  });

  test('another layer’s coverage masks, hidden or not; a mask that comes back to itself shows everything', async () => {
    const stripe = layerOf('stripe', {
      paint: { hex: '#ff0000' },
      x: 0,
      y: 20.5,
      angle: 0,
      width: 10,
      softness: 0,
      hidden: true,
    });
    const masked = solid('#00ff00', mask({ kind: 'layer', layer: stripe.id }));
    close(await drawn([stripe, masked]), [0, 1, 0, 1]);
    close(await drawn([stripe, masked], { ...one, y: 40 }), [0, 0, 0, 0]);
    const self = { ...masked, mask: { ...masked.mask!, from: { kind: 'layer' as const, layer: masked.id } } };
    close(await drawn([self]), [0, 1, 0, 1]);
  });

  test('a clipped layer shows only where its base has paint, and takes the base’s opacity', async () => {
    const base = layerOf('stripe', {
      paint: { hex: '#ff0000' },
      x: 0,
      y: 20.5,
      angle: 0,
      width: 10,
      softness: 0,
      opacity: 50,
    });
    const over = solid('#0000ff', { clipped: true });
    close(await drawn([base, over]), [0, 0, 0.5, 0.5]);
    close(await drawn([base, over], { ...one, y: 40 }), [0, 0, 0, 0]);
  });
});

describe('channels and adjustments', () => {
  test('a layer on one channel leaves the others, and alpha takes the grey of what is put on it', async () => {
    close(await drawn([solid('#204060'), solid('#ffffff', { channels: ['green'] })]), [0x20 / 255, 1, 0x60 / 255, 1]);
    const [r, g, b, a] = await drawn([solid('#204060'), solid('#808080', { channels: ['alpha'] })]);
    expect(a).toBeCloseTo(128 / 255, 3);
    close([r / a, g / a, b / a], [0x20 / 255, 0x40 / 255, 0x60 / 255]);
  });

  test('an adjustment changes what is below by its share, and nothing above', async () => {
    const levels = { kind: 'levels', channel: 'all', black: 0, white: 255, gamma: 1, outBlack: 255, outWhite: 0 };
    const invert = layerOf('adjust', { filters: [levels], opacity: 50 });
    const above = solid('#ff0000', { parts: ['right'] });
    close(await drawn([solid('#400000'), invert, above], { ...one, y: 32 }), [0.5, 0.5, 0.5, 1]);
    close(await drawn([solid('#400000'), invert, above], { ...one, x: 40, y: 32 }), [1, 0, 0, 1]);
    const blurred = { ...invert, filters: [{ kind: 'blur' as const, radius: 9 }] };
    close(await drawn([solid('#400000'), blurred]), await drawn([solid('#400000')]));
  });

  test('a click finds the layer in a group, and passes adjustments by', async () => {
    const group = layerOf('group', { through: false });
    const inside = solid('#ff0000', { group: group.id });
    const adjust = layerOf('adjust', { filters: [{ kind: 'hcl', hue: 9, chroma: 0, lightness: 0 }] });
    const template = smallTemplate(64);
    const livery = smallLivery([solid('#000000'), inside, group, adjust], template);
    expect(layerAt(livery, 'face', 'colour', 5, 5, await sourcesFor(livery, template))?.id).toBe(inside.id);
  });
});

/** The largest difference of two pictures, of 65535. */
function apart(a: Uint16Array, b: Uint16Array): number {
  let worst = Math.abs(a.length - b.length) * 65535;
  for (let i = 0; i < a.length; i++) worst = Math.max(worst, Math.abs(a[i] - b[i]));
  return worst;
}

/** A stroke of random coverage over some tiles, with its bytes. */
function strokeOf(random: () => number, n: number, how: Stroke['how'] = 'paint') {
  const tiles = new Map<number, Uint16Array>();
  const channels = how === 'pixels' ? 4 : 1;
  for (const number of [0, 1, 64, 65]) {
    if (random() < 0.4) continue;
    const values = new Uint16Array(TILE * TILE * channels);
    const [left, top, size] = [random() * 150, random() * 150, 30 + random() * 70];
    for (let y = 0; y < size; y++)
      for (let x = 0; x < size; x++) {
        const i = (Math.floor(top) + y) * TILE + Math.floor(left) + x;
        const a = Math.round(random() * 65535);
        if (channels === 1) values[i] = a;
        else values.set([a >> 1, a >> 2, a, a], i * 4);
      }
    tiles.set(number, values);
  }
  if (tiles.size === 0) tiles.set(0, new Uint16Array(TILE * TILE * channels).fill(9000));
  const packed = packTiles(tiles, channels)!;
  const blob = (n + 1).toString(16).padStart(64, 'a') as Stroke['blob'];
  const stroke: Stroke = {
    id: `stroke ${n}`,
    how,
    opacity: random() < 0.5 ? 100 : 60,
    blob,
    tiles: packed.tiles,
    ...(how === 'paint' && { paint: { hex: '#c04020' } }),
  };
  return { stroke, bytes: packed.bytes };
}

/** A livery of 512 x 512 with every kind of relation between layers. */
async function busyScene(seed: number): Promise<{ livery: Livery; sources: Sources }> {
  const random = randomFrom(seed);
  const blobs = new Map<string, Uint8Array>();
  const strokes = (count: number) =>
    Array.from({ length: count }, () => {
      const how = random() < 0.25 ? 'erase' : random() < 0.3 ? 'pixels' : 'paint';
      const { stroke, bytes } = strokeOf(random, blobs.size, how);
      blobs.set(stroke.blob, bytes);
      return stroke;
    });
  const groups = [
    layerOf('group', { through: false, opacity: 80, blend: 'multiply' }),
    layerOf('group', { through: true, opacity: 70 }),
  ];
  const nested = layerOf('group', { through: random() < 0.5, group: groups[0].id });
  const home = () => [undefined, groups[0].id, groups[1].id, nested.id][Math.floor(random() * 4)];
  const mode = () =>
    (['normal', 'normal', 'multiply', 'screen', 'soft-light', 'color'] as const)[Math.floor(random() * 6)];
  const more = () => {
    const group = home();
    return {
      blend: mode(),
      opacity: random() < 0.6 ? 100 : 55,
      ...(group && { group }),
      ...(random() < 0.2 && { clipped: true }),
      ...(random() < 0.15 && {
        filters: [
          { kind: 'blur', radius: 3 },
          { kind: 'grain', amount: 20, size: 2, coloured: true, seed: 1 },
        ],
      }),
      ...(random() < 0.15 && { channels: ['red', 'green'] }),
      ...(random() < 0.3 && {
        mask: {
          from:
            random() < 0.5 ? { kind: 'all' } : { kind: 'fade', shape: 'radial', x: 200, y: 200, length: 300, angle: 0 },
          strokes: strokes(2),
          inverted: random() < 0.5,
          feather: random() < 0.3 ? 4 : 0,
          off: false,
          linked: null,
        },
      }),
    };
  };
  const kinds = [
    () => layerOf('solid', { paint: { hex: '#3070a0' }, ...more() }),
    () =>
      layerOf('stripe', {
        paint: { hex: '#e0b020' },
        x: random() * 512,
        y: random() * 512,
        angle: random() * 180,
        width: 60,
        softness: 8,
        ...more(),
      }),
    () => layerOf('brush', { strokes: strokes(3), ...more() }),
    () =>
      layerOf('hazard', {
        paint: { hex: '#101010' },
        other: null,
        x: 256,
        y: 256,
        width: 400,
        height: 100,
        turn: random() * 90,
        bar: 20,
        slant: 30,
        ...more(),
      }),
    () =>
      layerOf('halftone', { paint: { hex: '#ffffff' }, x: 100, y: 100, length: 300, angle: 20, pitch: 16, ...more() }),
    () => layerOf('adjust', { ...more(), filters: [{ kind: 'hcl', hue: 60, chroma: 10, lightness: 5 }] }),
    // The plank lies in x and y, a metre to a quarter of the sheet.
    () =>
      layerOf('stripe', {
        ...{ paint: { hex: '#a03050' }, x: 0, y: 0, angle: random() * 180, width: 70, softness: 0, ...more() },
        on: {
          ...{ kind: 'flat', scale: 0.004, at: [1, 0.5, 0], facing: [0, 0, 1], up: [0, 1, 0], limit: 80, soft: 10 },
          partner: { normal: [1, 0, 0], offset: 1, readable: true },
        },
      }),
  ];
  const layers: Layer[] = [
    layerOf('solid', { paint: { hex: '#d8d0c0' } }),
    ...Array.from({ length: 16 }, (_, i) => kinds[i % kinds.length]()),
    ...groups,
    nested,
  ];
  const template = smallTemplate(512);
  const livery = smallLivery(layers, template);
  return { livery, sources: await sourcesFor(livery, template, blobs) };
}

describe('the cache', () => {
  test.each([1, 2, 3])('gives what drawing everything gives, whichever layer is worked on: scene %i', async (seed) => {
    const { livery, sources } = await busyScene(seed);
    const size = { width: 512, height: 512 };
    const cache = new TileCache(256 * 1024 * 1024);
    const direct = renderRegion(livery, 'face', 'colour', { x: 256, y: 0, width: 256, height: 256, step: 1 }, sources);
    for (const layer of layersOf(livery, 'face').filter((_, i) => i % 4 === seed)) {
      // Fading the layer makes everything about it be drawn anew from what was kept.
      const faded = applyEdit(livery, { do: 'set-layer', layer: layer.id, set: { opacity: 31 } }).livery;
      const look = { hot: layer.id };
      expect(apart(cache.exact(livery, 'face', 'colour', size, 0, 1, 0, sources, look), direct)).toBe(0);
      const exact = cache.exact(faded, 'face', 'colour', size, 0, 1, 0, sources, look);
      const anew = renderRegion(faded, 'face', 'colour', { x: 256, y: 0, width: 256, height: 256, step: 1 }, sources);
      expect(apart(exact, anew)).toBe(0);
      const live = cache.exact(faded, 'face', 'colour', size, 0, 1, 0, sources, { ...look, live: true });
      expect(apart(live, exact)).toBeLessThan(160);
    }
  });

  test.each([7, 9])(
    'a stroke that grows is drawn, rectangle by rectangle, as it will be when it is kept: scene %i',
    async (seed) => {
      const { livery, sources } = await busyScene(seed);
      const random = randomFrom(seed + 40);
      const { stroke, bytes } = strokeOf(random, 900);
      const cache = new TileCache(256 * 1024 * 1024);
      for (const layer of layersOf(livery, 'face').filter((one) => one.kind === 'brush')) {
        const live = { ...stroke, id: LIVE_STROKE };
        const painted = applyEdit(livery, { do: 'add-stroke', layer: layer.id, on: 'layer', stroke: live }).livery;
        const template = smallTemplate(512);
        const all = await sourcesFor(painted, template, new Map([...blobsOf(livery), [stroke.blob as string, bytes]]));
        const both: Sources = {
          ...sources,
          stroke: (s) => (s.blob === stroke.blob ? all.stroke(s) : sources.stroke(s)),
        };
        const rect = { x: 40, y: 70, width: 96, height: 60 };
        const part = cache.rect(painted, 'face', 'colour', 0, 0, 0, rect, both, layer.id);
        const direct = renderRegion(painted, 'face', 'colour', { ...rect, step: 1 }, both);
        expect(apart(part, direct)).toBeLessThan(160);
      }
    },
  );

  test('masks that go round in a circle are drawn, and named, and change with either layer', async () => {
    const by = (layer: Layer, other: Layer): Layer => ({
      ...layer,
      mask: {
        from: { kind: 'layer', layer: other.id },
        strokes: [],
        inverted: false,
        feather: 0,
        off: false,
        linked: null,
      },
    });
    const stripe = layerOf('stripe', { paint: { hex: '#ff0000' }, x: 0, y: 100, angle: 0, width: 50, softness: 0 });
    const full = solid('#00ff00');
    const template = smallTemplate(512);
    const livery = smallLivery([by(stripe, full), by(full, stripe)], template);
    const sources = await sourcesFor(livery, template);
    const cache = new TileCache(64 * 1024 * 1024);
    const region = { x: 0, y: 0, width: 256, height: 256, step: 1 };
    const exact = cache.exact(livery, 'face', 'colour', { width: 512, height: 512 }, 0, 0, 0, sources, {
      hot: full.id,
    });
    expect(apart(exact, renderRegion(livery, 'face', 'colour', region, sources))).toBe(0);
    // A layer masked by the group that holds it.
    const group = layerOf('group', { through: false });
    const held = smallLivery([by({ ...full, group: group.id }, group), group], template);
    const tile = cache.exact(held, 'face', 'colour', { width: 512, height: 512 }, 0, 0, 0, sources, { hot: full.id });
    expect(apart(tile, renderRegion(held, 'face', 'colour', region, sources))).toBe(0);
    const moved = applyEdit(livery, { do: 'set-layer', layer: stripe.id, set: { y: 130 } }).livery;
    const key = (of: Livery) => cache.keyOf(of, 'face', 'colour', 0, 0, 0, sources);
    expect(key(moved)).not.toBe(key(livery));
  });

  test('a stroke changes the names of the tiles that it touches, and of no other', async () => {
    const { livery, sources } = await busyScene(3);
    const cache = new TileCache(1024);
    const layer = layersOf(livery, 'face').find((one) => one.kind === 'brush' && !one.filters && !one.clipped)!;
    const stroke = { ...strokeOf(randomFrom(1), 950).stroke, tiles: [65] };
    const painted = applyEdit(livery, { do: 'add-stroke', layer: layer.id, on: 'layer', stroke }).livery;
    const key = (of: Livery, tx: number, ty: number) => cache.keyOf(of, 'face', 'colour', 0, tx, ty, sources);
    expect(key(painted, 0, 0)).toBe(key(livery, 0, 0));
    expect(key(painted, 1, 1)).not.toBe(key(livery, 1, 1));
  });
});

/** Bytes for strokes that only have to be there: each is asked for by tiles that it does not reach. */
function blobsOf(livery: Livery): Map<string, Uint8Array> {
  const any = packTiles(new Map([[0, new Uint16Array(TILE * TILE).fill(1)]]), 1)!.bytes;
  const names = layersOf(livery, 'face').flatMap((layer) => [
    ...(layer.kind === 'brush' ? layer.strokes : []),
    ...(layer.mask?.strokes ?? []),
  ]);
  return new Map(names.map(({ blob }) => [blob, any]));
}

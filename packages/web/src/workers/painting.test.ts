/** Strokes as the renderer paints them, without a page: cloned on one map and on all of them in register. */
import { describe, expect, test } from 'vitest';
import { renderRegion } from '@wet-lacquer/core/compose/renderTile.ts';
import { TileCache } from '@wet-lacquer/core/compose/tileCache.ts';
import { applyEdit } from '@wet-lacquer/core/livery/edit.ts';
import type { Livery } from '@wet-lacquer/core/livery/livery.ts';
import { BRUSHES } from '@wet-lacquer/core/paint/brush.ts';
import { unpackStroke } from '@wet-lacquer/core/paint/strokes.ts';
import { layerOf, smallLivery, smallTemplate, sourcesFor } from '@wet-lacquer/core/testing/scenes.ts';
import type { PaintAsk, PaintedStroke } from './messages.ts';
import { Painting } from './painting.ts';

const SIDE = 256;
const NORMAL_MAP = 'normal';
const MAPS = ['colour', NORMAL_MAP, 'gloss'];

const stripe = (hex: string, y: number) =>
  layerOf('stripe', { paint: { hex }, x: 0, y, angle: 0, width: 40, softness: 0 });
const flat = (hex: string) => layerOf('solid', { paint: { hex } });
const template = smallTemplate(SIDE);

function scene(): Livery {
  const livery = smallLivery([], template);
  const layers: Record<string, ReturnType<typeof layerOf>[]> = {
    colour: [flat('#204060'), stripe('#e0a020', 60), layerOf('brush', { id: 'on-colour', strokes: [] })],
    // Straight up, and a band that leans by 45 degrees.
    [NORMAL_MAP]: [flat('#8080ff'), stripe('#da80da', 60), layerOf('brush', { id: 'on-normal', strokes: [] })],
    gloss: [flat('#404040'), stripe('#f0f0f0', 60), layerOf('brush', { id: 'on-gloss', strokes: [] })],
  };
  const [sheet] = livery.sheets;
  return { ...livery, sheets: [{ ...sheet, maps: MAPS.map((key) => ({ key, alpha: 'none', layers: layers[key] })) }] };
}

async function clone(
  livery: Livery,
  also: readonly string[],
  brush: Partial<PaintAsk['brush']> = {},
  more: Partial<PaintAsk> = {},
) {
  const sources = await sourcesFor(livery, template);
  const ask: PaintAsk = {
    ...{ sheet: 'face', left: 0, top: 0, map: 'colour', layer: 'on-colour', on: 'layer' },
    ...{ how: 'paint', paint: { hex: '#000000' } },
    brush: { ...BRUSHES[0], size: 60, hardness: 100, flow: 100, opacity: 100, ...brush },
    ...{ symmetry: null, wrap: null, clone: { dx: 20, dy: 100 }, seed: 1 },
    ...more,
  };
  const size = { width: SIDE, height: SIDE };
  const painting = new Painting(ask, {
    livery,
    sources,
    cache: new TileCache(2 ** 26),
    size,
    sizeOf: () => size,
    limit: null,
  });
  const point = (x: number) => ({ x, y: 160, pressure: 1, tiltX: 0, tiltY: 0 });
  painting.move({
    points: [point(90), point(150)],
    straight: false,
    looks: [{ level: 0, tiles: [{ sheet: 'face', tx: 0, ty: 0 }] }],
  });
  return { strokes: await painting.end(point(150), also), sources };
}

/** The livery with the strokes on it, as it is drawn. */
function drawn(livery: Livery, strokes: readonly PaintedStroke[], sources: Awaited<ReturnType<typeof sourcesFor>>) {
  let whole = livery;
  for (const { map, stroke } of strokes) {
    const layer = livery.sheets[0].maps.find(({ key }) => key === map)!.layers.at(-1)!;
    whole = applyEdit(whole, { do: 'add-stroke', layer: layer.id, on: 'layer', stroke: { ...stroke, id: map } }).livery;
  }
  const bytes = new Map(strokes.map(({ stroke, bytes: own }) => [stroke.blob, own]));
  const from = {
    ...sources,
    stroke: ({ blob, tiles }: { blob: string; tiles: readonly number[] }) =>
      unpackStroke(bytes.get(blob as never)!, tiles.length),
  };
  return (map: string, x: number, y: number) =>
    [...renderRegion(whole, 'face', map, { x, y, width: 1, height: 1, step: 1 }, from as never)].map((v) =>
      Math.round(v / 257),
    );
}

describe('cloning', () => {
  test('on one map leaves the others alone', async () => {
    const { strokes } = await clone(scene(), []);
    expect(strokes.map(({ map }) => map)).toEqual(['colour']);
  });

  test('from another map brings what that one shows, on a map of directions as a direction', async () => {
    const livery = scene();
    const from = { clone: { dx: 20, dy: 100, map: 'gloss' } };
    const onto = await clone(livery, [], {}, from);
    expect(drawn(livery, onto.strokes, onto.sources)('colour', 120, 160).slice(0, 3)).toEqual([240, 240, 240]);
    const directions = await clone(livery, [], {}, { ...from, map: NORMAL_MAP, layer: 'on-normal' });
    const [r, g, b] = drawn(livery, directions.strokes, directions.sources)(NORMAL_MAP, 120, 160);
    expect(r).toBe(g);
    expect(Math.abs(Math.hypot(...[r, g, b].map((v) => (v / 255) * 2 - 1)) - 1)).toBeLessThan(0.02);
  });

  test('on every map takes the same texels to the same places', async () => {
    const livery = scene();
    const { strokes, sources } = await clone(livery, [NORMAL_MAP, 'gloss']);
    expect(strokes.map(({ map }) => map)).toEqual(MAPS);
    expect(new Set(strokes.map(({ stroke }) => stroke.tiles.join())).size).toBe(1);
    const after = drawn(livery, strokes, sources);
    const before = drawn(livery, [], sources);
    // 100 further up and 20 to the left lies the stripe.
    for (const map of MAPS) {
      expect(after(map, 120, 160)).toEqual(before(map, 100, 60));
      expect(after(map, 120, 160)).not.toEqual(before(map, 120, 160));
      expect(after(map, 240, 200)).toEqual(before(map, 240, 200));
    }
  });

  test('softly, directions keep length one', async () => {
    const livery = scene();
    const { strokes, sources } = await clone(livery, [NORMAL_MAP], { hardness: 0, flow: 40 });
    const after = drawn(livery, strokes, sources);
    for (let x = 70; x < 180; x += 5) {
      const [r, g, b] = after(NORMAL_MAP, x, 150).map((v) => (v / 255) * 2 - 1);
      expect(Math.hypot(r, g, b)).toBeGreaterThan(0.97);
      expect(Math.hypot(r, g, b)).toBeLessThan(1.03);
    }
  });
});

describe('on a surface of two sheets', () => {
  const ask = (more: Partial<PaintAsk>): PaintAsk => ({
    ...{ sheet: 'face', left: 0, top: 0, map: 'colour', layer: 'on-colour', on: 'layer' },
    ...{ how: 'paint', paint: { hex: '#000000' }, symmetry: null, wrap: null, clone: null, seed: 3 },
    brush: { ...BRUSHES[0], size: 70, hardness: 40, flow: 60, opacity: 100, smoothing: 40, jitter: 30 },
    ...more,
  });
  const paint = async (one: PaintAsk, width: number, height: number) => {
    const livery = scene();
    const sources = await sourcesFor(livery, template);
    const size = { width, height };
    const around = { livery, sources, cache: new TileCache(2 ** 26), size, sizeOf: () => size, limit: null };
    const painting = new Painting(one, around);
    const point = (k: number) => ({ x: 40 + k * 17.3, y: 100 + Math.sin(k / 3) * 50, pressure: 1, tiltX: 0, tiltY: 0 });
    for (let k = 0; k < 25; k++) painting.move({ points: [point(k)], straight: false, looks: [] });
    const done = await painting.end(point(25), []);
    return done.map(({ stroke, bytes }) => ({ stroke, patches: unpackStroke(bytes, stroke.tiles.length).patches }));
  };
  /** Coverage of one tile, whole. */
  const coverage = (done: Awaited<ReturnType<typeof paint>>, tile: number) => {
    const out = new Uint16Array(256 * 256);
    for (const { stroke, patches } of done)
      stroke.tiles.forEach((number, k) => {
        const { left, top, width, height, values } = patches[k];
        if (number !== tile) return;
        for (let y = 0; y < height; y++) out.set(values.subarray(y * width, (y + 1) * width), (top + y) * 256 + left);
      });
    return out;
  };

  test('the stroke is the one of a sheet as wide as both, cut between them', async () => {
    const wide = await paint(ask({}), 512, 256);
    const halves = [await paint(ask({}), 256, 256), await paint(ask({ left: 256 }), 256, 256)];
    for (const half of [0, 1]) {
      const [whole, part] = [coverage(wide, half), coverage(halves[half], 0)];
      expect(part.some((value) => value > 0)).toBe(true);
      let worst = 0;
      for (let i = 0; i < whole.length; i++) worst = Math.max(worst, Math.abs(whole[i] - part[i]));
      // Places of dabs are the same numbers less 256: their last bits may be rounded otherwise.
      expect(worst).toBe(0);
    }
  });

  test('a sheet that the hand does not reach keeps nothing', async () => {
    expect(await paint(ask({ top: 5000 }), 256, 256)).toEqual([]);
  });
});

/** What a picture depends on, held against the pictures themselves: random documents, random edits. */
import { describe, expect, test } from 'vitest';
import fc from '../testing/property.ts';
import { renderRegion, renderFinished } from '../compose/renderTile.ts';
import { TileCache } from '../compose/tileCache.ts';
import { planDelivery, type PlannedSheet } from '../delivery/plan.ts';
import { flatten } from '../delivery/preparedSheet.ts';
import { spec as brackwaterRun } from '../games/brackwaterRun/spec.ts';
import { applyEdit, type Edit } from '../livery/edit.ts';
import { LayerId, Sha256 } from '../livery/ids.ts';
import type { Layer } from '../livery/layer.ts';
import { layersOf, type Livery } from '../livery/livery.ts';
import type { DeliverySpec } from '../livery/spec.ts';
import { TILE } from '../raster/image.ts';
import { encodeImage } from '../texture/encode.ts';
import { sha256 } from '../files/sha256.ts';
import { layerOf, smallLivery, smallTemplate, sourcesFor } from '../testing/scenes.ts';
import { mapContent } from './content.ts';
import { ENCODERS, RENDERER } from './versions.ts';

const SIDE = 24;
const template = smallTemplate(SIDE);
const REGION = { x: 0, y: 0, width: SIDE, height: SIDE, step: 1 };

const IDS = ['a', 'b', 'c', 'd', 'e', 'f'].map((id) => LayerId.parse(id));
const paint = fc.constantFrom({ scheme: 'red' }, { scheme: 'blue' }, { hex: '#3fb3a3' }, { hex: '#f0e0d0' });
const place = fc.record({ x: fc.integer({ min: -2, max: 26 }), y: fc.integer({ min: -2, max: 26 }) });
const mask = fc.record({
  from: fc.oneof(
    fc.constant({ kind: 'all' }),
    fc.constant({ kind: 'parts', parts: ['left'] }),
    fc.constantFrom(...IDS).map((layer) => ({ kind: 'layer', layer })),
    place.map((at) => ({ kind: 'fade', shape: 'linear', ...at, length: 12, angle: 20 })),
  ),
  strokes: fc.constant([]),
  inverted: fc.boolean(),
  feather: fc.constantFrom(0, 0, 2),
  off: fc.constantFrom(false, false, true),
  linked: fc.constantFrom(null, null, { x: 4, y: 3 }),
});
const base = {
  hidden: fc.constantFrom(false, false, true),
  opacity: fc.constantFrom(100, 100, 60, 0),
  blend: fc.constantFrom('normal', 'normal', 'multiply', 'screen'),
  parts: fc.constantFrom([], [], ['left'], ['right']),
  clipped: fc.constantFrom(undefined, undefined, true),
  group: fc.constantFrom(undefined, undefined, ...IDS),
  mask: fc.option(mask, { nil: undefined, freq: 2 }),
  filters: fc.constantFrom(
    undefined,
    undefined,
    [{ kind: 'levels', black: 20, white: 200, gamma: 1.3 }],
    [{ kind: 'blur', radius: 1.5 }],
  ),
  channels: fc.constantFrom(undefined, undefined, undefined, ['red', 'alpha']),
};
const kinds = fc.oneof(
  fc.record({ kind: fc.constant('solid'), paint }),
  fc.record({ kind: fc.constant('stripe'), paint, at: place, width: fc.integer({ min: 2, max: 12 }) }),
  fc.record({ kind: fc.constant('chequer'), paint, at: place }),
  fc.record({ kind: fc.constant('group'), through: fc.boolean() }),
  fc.record({ kind: fc.constant('adjust') }),
);
const layer = fc.tuple(kinds, fc.record(base)).map(([kind, rest]) => ({ ...kind, ...rest }) as Record<string, unknown>);

/** A layer that the schema takes, or null. */
function made(given: Record<string, unknown>, id: string): Layer | null {
  const { at, ...rest } = given as { at?: { x: number; y: number } };
  const own: Record<string, unknown> = Object.fromEntries(Object.entries(rest).filter(([, v]) => v !== undefined));
  if (own.kind === 'stripe') Object.assign(own, at, { angle: 30, softness: 0 });
  if (own.kind === 'chequer') Object.assign(own, at, { other: null, angle: 0, cell: 4, columns: 3, rows: 3 });
  if (own.group === id) delete own.group;
  try {
    return layerOf(own.kind as 'solid', { ...own, id });
  } catch {
    return null;
  }
}

const documents = fc.array(layer, { minLength: 1, maxLength: 6 }).map((list) =>
  smallLivery(
    list.flatMap((one, i) => made(one, IDS[i]) ?? []),
    template,
  ),
);

/** One change of a document, by a way that people take: of settings, order, what is there, colours and facts. */
const edits = fc.record({
  what: fc.constantFrom('set', 'set', 'set', 'move', 'remove', 'add', 'colour', 'name', 'hide'),
  which: fc.nat(5),
  to: fc.nat(5),
  layer,
});

type Change = { what: string; which: number; to: number; layer: Record<string, unknown> };

function changed(livery: Livery, { what, which, to, layer: other }: Change): Livery {
  const layers = layersOf(livery, 'face');
  const target = layers[which % Math.max(1, layers.length)];
  const edit = (): Edit | null => {
    if (what === 'colour') return { do: 'set-colour', colour: 'red' as never, set: { hex: '#00aa55' } };
    if (what === 'name') return { do: 'set-particular', key: 'number', value: '42' };
    if (!target) return null;
    if (what === 'remove') return { do: 'remove-layer', layer: target.id };
    if (what === 'move') return { do: 'move-layer', layer: target.id, sheet: 'face', map: 'colour', index: to };
    if (what === 'hide') return { do: 'set-layer', layer: target.id, set: { hidden: !target.hidden } };
    if (what === 'add') {
      const fresh = made(other, 'z');
      return fresh && { do: 'add-layer', sheet: 'face', map: 'colour', layer: fresh, index: to };
    }
    const { kind: _kind, at: _at, group, ...set } = other;
    const plain = Object.fromEntries(Object.entries(set).map(([key, value]) => [key, value ?? null]));
    const keys = Object.keys(plain).filter(
      (key) => key in target || ['clipped', 'mask', 'filters', 'channels'].includes(key),
    );
    const some = Object.fromEntries(
      keys.slice(to % keys.length, (to % keys.length) + 2).map((key) => [key, plain[key]]),
    );
    return {
      do: 'set-layer',
      layer: target.id,
      set: { ...some, ...(to === 0 && group !== target.id && { group: group ?? null }) } as never,
    };
  };
  const one = edit();
  if (!one) return livery;
  try {
    return applyEdit(livery, one).livery;
  } catch {
    return livery;
  }
}

const bytesOf = (livery: Livery, sources: Awaited<ReturnType<typeof sourcesFor>>) =>
  Buffer.from(renderFinished(livery, 'face', 'colour', REGION, sources)).toString('base64');

/** `npm run fuzz` looks at many more. */
const RUNS = Number(process.env.FUZZ_RUNS ?? 1500);

describe('what a picture depends on', () => {
  test('other texels have another content and another tile; the same content has the same texels: 1,500 documents and edits', async () => {
    const sources = await sourcesFor(smallLivery([], template), template);
    const cache = new TileCache(64 * 1024 * 1024);
    const tile = (livery: Livery) => {
      const got = cache.exact(livery, 'face', 'colour', { width: SIDE, height: SIDE }, 0, 0, 0, sources);
      return renderedPart(got);
    };
    const seen = new Map<string, string>();
    let differing = 0;
    fc.assert(
      fc.property(documents, fc.array(edits, { minLength: 1, maxLength: 3 }), (before, list) => {
        const after = list.reduce((livery, edit) => changed(livery, edit), before);
        const [a, b] = [bytesOf(before, sources), bytesOf(after, sources)];
        const [ca, cb] = [before, after].map((livery) => mapContent(livery, template, 'face', 'colour'));
        if (a !== b) {
          differing++;
          expect(ca).not.toBe(cb);
        }
        // Whatever document it came from, the same content has the same texels.
        for (const [content, bytes] of [
          [ca, a],
          [cb, b],
        ]) {
          expect(seen.get(content) ?? bytes).toBe(bytes);
          seen.set(content, bytes);
        }
        // The cache holds thousands of other documents by now: a name that says too little gives one of theirs.
        expect(tile(after)).toBe(bytes16(renderRegion(after, 'face', 'colour', REGION, sources)));
      }),
      { numRuns: RUNS },
    );
    expect(differing).toBeGreaterThan(RUNS / 5);
  }, 300_000);

  test('a hidden mask source that moves, a hidden clipping base that goes, another ground: each is another signature', async () => {
    const sources = await sourcesFor(smallLivery([], template), template);
    const spec: DeliverySpec = { ...brackwaterRun, files: [{ ...brackwaterRun.files[0], alpha: 'opaque' }] };
    const signature = (livery: Livery, by = spec) =>
      (planDelivery(livery, template, by).files.find((file) => file.kind === 'sheet') as PlannedSheet).signature;
    const source = layerOf('stripe', {
      id: 'm',
      hidden: true,
      paint: { hex: '#ffffff' },
      x: 6,
      y: 6,
      angle: 0,
      width: 6,
      softness: 0,
    });
    const masked = layerOf('solid', {
      paint: { hex: '#ff0000' },
      mask: { from: { kind: 'layer', layer: 'm' }, strokes: [], inverted: false, feather: 0, off: false, linked: null },
    });
    const one = smallLivery([source, masked], template);
    const moved = applyEdit(one, { do: 'set-layer', layer: source.id, set: { y: 14 } }).livery;
    expect(bytesOf(one, sources)).not.toBe(bytesOf(moved, sources));
    expect(signature(one)).not.toBe(signature(moved));

    const ground = layerOf('stripe', { paint: { hex: '#00ff00' }, x: 12, y: 4, angle: 0, width: 6, softness: 0 });
    const base = layerOf('solid', { hidden: true, paint: { hex: '#ffffff' } });
    const clipped = layerOf('solid', { paint: { hex: '#0000ff' }, clipped: true });
    const two = smallLivery([ground, base, clipped], template);
    const without = applyEdit(two, { do: 'remove-layer', layer: base.id }).livery;
    expect(bytesOf(two, sources)).not.toBe(bytesOf(without, sources));
    expect(signature(two)).not.toBe(signature(without));

    expect(signature(one)).not.toBe(signature(one, { ...spec, ground: '#102030' }));
    for (const change of [
      { padding: 3 },
      { flip: true },
      { mipFilter: 'box' },
      { scale: 2 },
      { format: 'bc1' },
    ] as const)
      expect(signature(one)).not.toBe(signature(one, { ...spec, files: [{ ...spec.files[0], ...change }] }));
    // How a file is called changes nothing in it.
    expect(signature(one)).toBe(signature(one, { ...spec, files: [{ ...spec.files[0], name: 'other.dds' }] }));
  });

  test('the original’s own file is part of it', () => {
    const stored = { container: 'png', width: SIDE, height: SIDE, format: 'rgba8', alpha: 'none' } as const;
    const over = (blob: string) => ({
      ...template,
      originals: {
        'face/colour': {
          name: 'face.png',
          blob: Sha256.parse(blob),
          bytes: 9,
          pixels: Sha256.parse(blob),
          upsideDown: false,
          stored,
        },
      },
    });
    const rule = { ...brackwaterRun.files[0], container: 'png', format: 'rgba8', over: { follow: [] } } as const;
    const spec = { ...brackwaterRun, files: [rule] } as unknown as DeliverySpec;
    const livery = smallLivery([layerOf('solid', { paint: { hex: '#ff0000' } })], template);
    const of = (blob: string) => (planDelivery(livery, over(blob), spec).files[0] as PlannedSheet).signature;
    expect(of('1'.repeat(64))).not.toBe(of('2'.repeat(64)));
  });
});

const bytes16 = (values: Uint16Array): string =>
  Buffer.from(values.buffer, values.byteOffset, values.byteLength).toString('base64');

/** The sheet's own part of a tile, 16 bits a channel. */
function renderedPart(tile: Uint16Array): string {
  const out = new Uint16Array(SIDE * SIDE * 4);
  for (let y = 0; y < SIDE; y++) out.set(tile.subarray(y * TILE * 4, y * TILE * 4 + SIDE * 4), y * SIDE * 4);
  return bytes16(out);
}

/** Layers of every kind that needs nothing stored, mixed in the ways that there are. */
function golden(): Layer[] {
  const at = (x: number, y: number) => ({ x, y, angle: 30 });
  const group = layerOf('group', { id: 'g', through: false, opacity: 80 });
  return [
    layerOf('fade', {
      shape: 'linear',
      ...at(2, 2),
      length: 40,
      stops: [
        { at: 0, paint: { scheme: 'red' }, opacity: 100 },
        { at: 1, paint: { hex: '#e8e4da' }, opacity: 40 },
      ],
    }),
    layerOf('chequer', {
      paint: { hex: '#204060' },
      other: { hex: '#f0c040' },
      ...at(30, 30),
      cell: 6,
      columns: 5,
      rows: 4,
      opacity: 70,
    }),
    layerOf('stripe', { paint: { scheme: 'blue' }, ...at(20, 40), width: 9, softness: 3, blend: 'multiply' }),
    layerOf('stripe-set', {
      paints: [{ hex: '#ffffff' }, { hex: '#d9573f' }],
      ...at(40, 20),
      width: 3,
      gap: 2,
      count: 5,
      softness: 0,
      group: 'g',
    }),
    layerOf('hazard', {
      paint: { hex: '#101010' },
      other: null,
      x: 44,
      y: 44,
      width: 30,
      height: 14,
      turn: 12,
      bar: 5,
      slant: 40,
      group: 'g',
      blend: 'soft-light',
    }),
    group,
    layerOf('halftone', {
      paint: { hex: '#3fb3a3' },
      ...at(10, 50),
      length: 40,
      pitch: 6,
      filters: [{ kind: 'blur', radius: 1 }],
    }),
    layerOf('shape', {
      paint: { hex: '#ffffff' },
      x: 30,
      y: 30,
      line: null,
      paths: [
        {
          closed: true,
          how: 'add',
          knots: [
            [-12, -9],
            [14, -4],
            [3, 15],
          ].map(([x, y]) => ({ x, y, smooth: true })),
        },
      ],
      mask: {
        from: { kind: 'fade', shape: 'radial', x: 30, y: 30, length: 18, angle: 0 },
        strokes: [],
        inverted: false,
        feather: 2,
        off: false,
        linked: null,
      },
    }),
  ];
}

/** Hashes of what the versions make, from the first run of each version: when one moves, so must its version. */
const GOLDEN: Readonly<Record<'renderer' | 'encoders', Readonly<Record<number, string>>>> = {
  renderer: { 2: '59e5b6efb99a2ca2213d98f3074664599816ea5d71d0d197cfb25a17ba664656' },
  encoders: { 4: '47edea8ee0705968da14ef04e2447bee074c996e3eee8e0aab2d33b722fccb53' },
};

test('golden pictures hold the versions: when their hashes move, the version must move', async () => {
  const big = smallTemplate(64);
  const livery = smallLivery(golden(), big);
  const sources = await sourcesFor(livery, big);
  const region = { x: 0, y: 0, width: 64, height: 64, step: 1 };
  const picture = renderFinished(livery, 'face', 'colour', region, sources);
  expect(await sha256(picture)).toBe(GOLDEN.renderer[RENDERER]);
  const image = { width: 64, height: 64, data: picture };
  const parts = (['bc1', 'bc1a', 'bc2', 'bc3', 'bc4', 'bc5', 'bc7', 'rgb565'] as const).flatMap((format) =>
    (['fast', 'normal', 'best'] as const).map((effort) => Buffer.from(encodeImage(image, format, { effort }))),
  );
  const opaque = { ...image, data: picture.slice() };
  flatten(opaque, '#808080');
  parts.push(Buffer.from(encodeImage(opaque, 'bc7', { effort: 'normal' })));
  expect(await sha256(new Uint8Array(Buffer.concat(parts)))).toBe(GOLDEN.encoders[ENCODERS]);
});

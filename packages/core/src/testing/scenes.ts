/** Small liveries for tests. */
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import type { Sources } from '../compose/renderTile.ts';
import { bakeField } from '../surface/baked/index.ts';
import { SheetSurface } from '../surface/surface.ts';
import { boxOfMesh } from '../surface/triangles.ts';
import type { WearHow } from '../layers/wear/data.ts';
import { SourceStore } from '../compose/sources.ts';
import { readBundle, type Bundle } from '../files/bundle.ts';
import { unpackPixels } from '../files/pixels.ts';
import { drawSvg, startSvg } from '../files/svg.ts';
import { PLAIN_FINISH } from '../livery/finish.ts';
import { ColourId, LayerId, Sha256 } from '../livery/ids.ts';
import type { FieldKey } from '../livery/fields.ts';
import { Layer, LAYERS, type LayerKind, type LayerOf } from '../livery/layer.ts';
import type { Livery } from '../livery/livery.ts';
import type { Template } from '../livery/template.ts';

const root = new URL('../../../../', import.meta.url);
const require = createRequire(import.meta.url);

export const NO_HASH = Sha256.parse('0'.repeat(64));

/** A square of two triangles over the middle half of one small sheet, and a second part beside it. */
export function smallTemplate(side = 64): Template {
  const quad = (left: number, right: number) => [left, 0.25, right, 0.25, right, 0.75, left, 0.75];
  return {
    schema: 1,
    key: 'plank',
    name: 'Plank',
    game: 'brackwater-run',
    gameName: 'Brackwater Run',
    spec: { key: 'brackwater-run', version: 1 },
    sheets: [
      { key: 'face', name: 'face', width: side, height: side, alpha: 'none', axis: { kind: 'vertical', at: side / 2 } },
    ],
    parts: [
      { key: 'left', name: 'left half', sheet: 'face', first: 0, count: 2, hex: null },
      { key: 'right', name: 'right half', sheet: 'face', first: 2, count: 2, hex: null },
    ],
    mesh: {
      positions: [0, 0, 0, 1, 0, 0, 1, 1, 0, 0, 1, 0, 1, 0, 0, 2, 0, 0, 2, 1, 0, 1, 1, 0],
      normals: Array.from({ length: 8 }, () => [0, 0, 1]).flat(),
      uvs: [...quad(0.25, 0.5), ...quad(0.5, 0.75)],
      indices: [0, 1, 2, 0, 2, 3, 4, 5, 6, 4, 6, 7],
    },
  };
}

let made = 0;

/** A layer with everything that is not said set to what a new one has. */
export function layerOf<K extends LayerKind>(kind: K, rest: Record<string, unknown>): Extract<Layer, { kind: K }> {
  const base = {
    id: LayerId.parse(`layer-${++made}`),
    name: `Layer ${made}`,
    phase: 'Base',
    hidden: false,
    locked: false,
    opacity: 100,
    blend: 'normal',
    parts: [],
  };
  return Layer.parse({ kind, ...base, ...rest }) as Extract<Layer, { kind: K }>;
}

/** Wear as its maker begins it on a template, all of it. */
export function wearOn(template: Template, how: WearHow, set: object = {}): LayerOf<'wear'> {
  const { make } = LAYERS.wear.makers.find(({ key }) => key === how)!;
  const place = { sheet: template.sheets[0], x: 0, y: 0, model: boxOfMesh(template.mesh), finishes: [] };
  const made = make({ ...place, spot: () => null, paint: () => ({ hex: '#000000' }) });
  return layerOf('wear', { phase: 'Wear', ...made, opacity: 100, ...set });
}

export function smallLivery(layers: Layer[], template = smallTemplate()): Livery {
  return {
    schema: 1,
    particulars: { name: 'Test {number}', key: 'test', number: '7' },
    scheme: [
      { id: ColourId.parse('red'), name: 'Red', hex: '#ff0000' },
      { id: ColourId.parse('blue'), name: 'Blue', hex: '#0000ff' },
    ],
    sheets: template.sheets.map((sheet) => ({
      key: sheet.key,
      finish: PLAIN_FINISH,
      ready: false,
      kept: false,
      maps: [{ key: 'colour', alpha: sheet.alpha, layers }],
    })),
    pins: { template: NO_HASH, spec: template.spec, renderer: 1, fonts: {} },
  };
}

/** Bytes of a shipped font. */
/** Bytes of a whole sheet: 1 where a triangle touches the texel. */
export function insideOf(template: Template, sheet: string): Uint8Array {
  const surface = new SheetSurface(template, sheet);
  return surface.insideIn({ left: 0, top: 0, right: surface.width, bottom: surface.height });
}

export function fontBytes(key: string, weight = 400): Uint8Array {
  return new Uint8Array(readFileSync(require.resolve(`@fontsource/${key}/files/${key}-latin-${weight}-normal.woff`)));
}

/** Everything that a livery draws with, loaded. */
export async function sourcesFor(
  livery: Livery,
  template: Template,
  blobs: ReadonlyMap<string, Uint8Array> = new Map(),
  fonts: ReadonlyMap<string, Uint8Array> = new Map(),
): Promise<Sources> {
  await startSvg(() => readFileSync(require.resolve('@resvg/resvg-wasm/index_bg.wasm')));
  const store = new SourceStore(template, {
    blob: async (hash) => blobs.get(hash)!,
    font: async (key) => fonts.get(key) ?? fontBytes(key),
    drawSvg: async (svg, side) => drawSvg(svg, side),
    unpackPixels,
    field: async (name) => bakedOnce(template, name),
  });
  await store.load(livery);
  return store.sources(livery);
}

/** Fields of models, each worked out once: by the model itself. */
const baked = new WeakMap<Template['mesh'], Map<FieldKey, Float32Array>>();

function bakedOnce(template: Template, name: FieldKey): Float32Array {
  const own = baked.get(template.mesh) ?? new Map<FieldKey, Float32Array>();
  baked.set(template.mesh, own);
  const values = own.get(name) ?? bakeField(template, name);
  own.set(name, values);
  return values;
}

export const demoBytes = (file: string) => new Uint8Array(readFileSync(new URL(`demo/out/${file}`, root)));

/** A livery for each subject of the demo world. */
export const DEMO_LIVERIES = [
  'tern-tide',
  'ebbline',
  'lanternfish',
  'tern-mail',
  'rescue-warden',
  'post-harbour',
  'ember',
  'ebbline-sail',
  'rescue-launch',
  'ebbline-wagon',
] as const;

export const demoBundle = (key: (typeof DEMO_LIVERIES)[number]): Promise<Bundle> =>
  readBundle(demoBytes(`${key}.livery`));

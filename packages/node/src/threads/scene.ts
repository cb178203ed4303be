/** What a livery is drawn from, in a thread. */
import { readFile } from 'node:fs/promises';
import { createRequire } from 'node:module';
import { InputError } from '@wet-lacquer/core/errors.ts';
import { fieldsOfLivery } from '@wet-lacquer/core/compose/liveryFields.ts';
import { SourceStore } from '@wet-lacquer/core/compose/sources.ts';
import { floatsIn } from '@wet-lacquer/core/bytes.ts';
import { unpackPixels } from '@wet-lacquer/core/files/pixels.ts';
import { drawSvg, startSvg } from '@wet-lacquer/core/files/svg.ts';
import type { FieldKey } from '@wet-lacquer/core/livery/fields.ts';
import type { Livery } from '@wet-lacquer/core/livery/livery.ts';
import type { Template } from '@wet-lacquer/core/livery/template.ts';
import { bakeField } from '@wet-lacquer/core/surface/baked/index.ts';
import { shippedFont } from '../fonts.ts';

/** A livery with all that it takes to draw it. */
export interface Scene {
  livery: Livery;
  template: Template;
  /** Bytes of its decals by hash. */
  blobs: Map<string, Uint8Array>;
  /** Fonts that are not the shipped ones, by key. */
  fonts?: Map<string, Uint8Array>;
  /** Fields of the model that are worked out already, as 32-bit numbers where all threads see them; others are worked out by whoever needs them. */
  fields?: Map<FieldKey, Uint8Array>;
}

/** A scene with all that is worked out of its model: threads that draw it need not do it, each by itself. @param workOut what is not there yet */
export async function withFields<S extends Scene>(
  scene: S,
  workOut: (name: FieldKey) => Promise<Uint8Array>,
): Promise<S> {
  const fields = new Map(scene.fields);
  const missing = fieldsOfLivery(scene.livery).filter((name) => !fields.has(name));
  const values = await Promise.all(missing.map(workOut));
  missing.forEach((name, i) => fields.set(name, values[i]));
  return { ...scene, fields };
}

const require = createRequire(import.meta.url);
export const svgReady = () => startSvg(() => readFile(require.resolve('@resvg/resvg-wasm/index_bg.wasm')));

/** Stores by template, so that a thread works out each template's surface once. */
const stores = new Map<string, { store: SourceStore; scene: Scene }>();

/** Pictures of all templates together that one thread holds beside those of the livery at hand. */
const MOST_BYTES = 384 * 2 ** 20;
const MOST_STORES = 4;

/** Forgets what has not been used for longest until the rest is within the budget. */
function letGo(but: string): void {
  const bytes = () => [...stores.values()].reduce((sum, { store }) => sum + store.bytes, 0);
  for (const key of stores.keys()) {
    if (key !== but && (stores.size > MOST_STORES || bytes() > MOST_BYTES)) stores.delete(key);
  }
}

/** @param but pictures that come another way */
export async function sourcesOf(scene: Scene, but?: ReadonlySet<string>) {
  await svgReady();
  const key = scene.livery.pins.template;
  let held = stores.get(key);
  if (!held) {
    const made: { scene: Scene; store?: SourceStore } = { scene };
    made.store = new SourceStore(scene.template, {
      blob: async (hash) => made.scene.blobs.get(hash) ?? missing(hash),
      font: async (font) => made.scene.fonts?.get(font) ?? shippedFont(font),
      drawSvg: async (svg, side) => drawSvg(svg, side),
      unpackPixels,
      field: async (name) => {
        const ready = made.scene.fields?.get(name);
        return ready ? floatsIn(ready) : bakeField(made.scene.template, name);
      },
    });
    held = made as { store: SourceStore; scene: Scene };
    stores.set(key, held);
  }
  held.scene = scene;
  // The last one used is the last to go.
  stores.delete(key);
  stores.set(key, held);
  await held.store.load(scene.livery, but);
  letGo(key);
  return held.store.sources(scene.livery);
}

function missing(hash: string): never {
  throw new InputError(`The decal ${hash.slice(0, 12)} is not stored here.`);
}

/** What may join a livery's log: only what leaves a livery that can be opened, drawn, bundled and opened again. */
import { InputError } from '@wet-lacquer/core/errors.ts';
import type { Layer } from '@wet-lacquer/core/livery/layer.ts';
import { MOST } from '@wet-lacquer/core/livery/limits.ts';
import { deliveredBy, type Livery, type SpecPin } from '@wet-lacquer/core/livery/livery.ts';
import type { Stroke } from '@wet-lacquer/core/livery/paint.ts';
import type { Plate } from '@wet-lacquer/core/livery/plate.ts';
import { strokesOf, type Stored } from '@wet-lacquer/core/livery/strokes.ts';
import { mapsOf, type Template } from '@wet-lacquer/core/livery/template.ts';

/** What stored bytes are, as a look at them found. */
export type BlobFacts =
  | { is: 'pixels'; width: number; height: number }
  /** 1: coverage; 4: premultiplied RGBA. */
  | { is: 'stroke'; channels: 1 | 4; tiles: number }
  | { is: 'svg'; ratio: number }
  | { is: 'font' }
  | { is: 'other' };

/** What a livery refers to and that is kept beside it. */
export interface Known {
  /** Undefined: it is not here. */
  blob(hash: string): BlobFacts | undefined;
  template(hash: string): Pick<Template, 'sheets' | 'ownSpec'> | undefined;
  spec(pin: SpecPin, template: Pick<Template, 'ownSpec'>): boolean;
  /** SHA-256 of a font's file; undefined: there is no such font. */
  font(key: string): string | undefined;
}

/** Texels of all pictures of a livery together: a gibi-texel is 4 GiB of them in memory. */
const MOST_TEXELS = 2 ** 30;

/**
 * Looks at what a livery would become. The parts that `before` has too, as the same objects, are taken as judged.
 * @throws InputError in one sentence when it must not become that
 */
export function judge(before: Livery | null, after: Livery, known: Known): void {
  if (before === after) return;
  limits(after);
  const template = known.template(after.pins.template);
  if (!template) throw new InputError('The template that this would be painted on is not here.');
  if (before?.pins !== after.pins || before?.alsoBy !== after.alsoBy) pins(after, template, known);
  if (before?.sheets !== after.sheets || before?.pins.template !== after.pins.template) sheetsOf(after, template);
  let pictures = false;
  for (const sheet of after.sheets) {
    for (const map of sheet.maps) {
      const held = before?.sheets.find(({ key }) => key === sheet.key)?.maps.find(({ key }) => key === map.key);
      if (held?.layers === map.layers) continue;
      const same = new Set(held?.layers);
      const byId = new Map(held?.layers.map((layer) => [layer.id, layer]));
      for (const layer of map.layers) {
        if (same.has(layer)) continue;
        pictures ||= 'blob' in layer;
        judgeLayer(layer, byId.get(layer.id), known, after.pins.fonts);
      }
    }
  }
  if (before?.selections !== after.selections)
    for (const selection of after.selections ?? [])
      if (!before?.selections?.includes(selection)) stroke(selection, known, `The selection "${selection.name}"`, 1);
  if (before?.references !== after.references) {
    pictures = true;
    const had = new Set(before?.references?.map(({ blob }) => blob));
    for (const { blob, name } of after.references ?? [])
      if (!had.has(blob) && known.blob(blob)?.is !== 'pixels')
        throw new InputError(`The pinned picture "${name}" is not here.`);
  }
  if (pictures) weight(after, known);
  // One whose sheet a newer template took away can still be opened: it is named, and shows nothing.
  if (before && before.plates !== after.plates)
    for (const plate of after.plates ?? []) if (!before.plates?.includes(plate)) judgePlate(plate, template);
}

/** A plate's picture lies on a sheet of plates. */
function judgePlate({ name, sheet, left, top, width, height }: Plate, { sheets }: Pick<Template, 'sheets'>): void {
  const on = sheets.find(({ key }) => key === sheet);
  if (!on?.plates) throw new InputError(`The plate "${name}": "${sheet}" is not a sheet of plates.`);
  if (left + width > on.width || top + height > on.height)
    throw new InputError(`The plate "${name}" reaches beyond its sheet of ${on.width} x ${on.height} texels.`);
}

function limits(livery: Livery): void {
  const most = (what: string, many: number, at: number) => {
    if (many > at) throw new InputError(`A livery can have ${at} ${what}; this would make ${many}.`);
  };
  most('sheets', livery.sheets.length, MOST.sheets);
  most('scheme colours', livery.scheme.length, MOST.scheme);
  most('finishes', livery.finishes?.length ?? 0, MOST.finishes);
  most('pinned pictures', livery.references?.length ?? 0, MOST.references);
  most('named selections', livery.selections?.length ?? 0, MOST.selections);
  most('plates', livery.plates?.length ?? 0, MOST.plates);
  most('named versions', livery.versions?.length ?? 0, MOST.versions);
  const ids = new Set<string>();
  let layers = 0;
  for (const sheet of livery.sheets) {
    most('maps on a sheet', sheet.maps.length, MOST.maps);
    for (const map of sheet.maps) {
      most(`layers on one map ("${sheet.key}")`, map.layers.length, MOST.layers);
      layers += map.layers.length;
      for (const layer of map.layers) {
        ids.add(layer.id);
        if (layer.kind === 'brush') most(`strokes on one layer ("${layer.name}")`, layer.strokes.length, MOST.strokes);
        most(`strokes on one mask ("${layer.name}")`, layer.mask?.strokes.length ?? 0, MOST.strokes);
      }
    }
  }
  if (ids.size < layers) throw new InputError('Two layers would have the same id.');
}

function pins(livery: Livery, template: Pick<Template, 'ownSpec'>, known: Known): void {
  for (const pin of deliveredBy(livery))
    if (!known.spec(pin, template))
      throw new InputError(`The delivery spec "${pin.key}", version ${pin.version}, is not here.`);
  for (const [key, hash] of Object.entries(livery.pins.fonts))
    if (known.font(key) !== hash && known.blob(hash)?.is !== 'font')
      throw new InputError(`The font "${key}" is not here as this livery had it.`);
}

/** A livery has every sheet and map of its template; it may have more, of an earlier one. */
function sheetsOf(livery: Livery, template: Pick<Template, 'sheets'>): void {
  const keys = livery.sheets.map(({ key }) => key);
  if (new Set(keys).size < keys.length) throw new InputError('Two sheets of the livery would have the same key.');
  for (const { key, maps } of livery.sheets)
    if (new Set(maps.map((map) => map.key)).size < maps.length)
      throw new InputError(`Two maps of the sheet "${key}" would have the same key.`);
  for (const sheet of template.sheets) {
    const own = livery.sheets.find(({ key }) => key === sheet.key);
    if (!own) throw new InputError(`The livery would be without the sheet "${sheet.key}" of its template.`);
    for (const { key } of mapsOf(sheet))
      if (!own.maps.some((map) => map.key === key))
        throw new InputError(`The sheet "${sheet.key}" would be without its map "${key}".`);
  }
}

/**
 * Looks whether all that a layer draws with is here, and is what the layer says.
 * @param before the layer as it was; what it drew with then is taken as judged
 * @param pinned fonts that its livery is pinned to
 * @throws InputError in one sentence when it is not
 */
export function judgeLayer(
  layer: Layer,
  before: Layer | undefined,
  known: Pick<Known, 'blob' | 'font'>,
  pinned: Livery['pins']['fonts'] = {},
): void {
  const gone = (what: string) => new InputError(`${what} of "${layer.name}" is not here.`);
  if (layer.kind === 'lettering' && known.font(layer.font) === undefined && !Object.hasOwn(pinned, layer.font))
    throw gone(`The font "${layer.font}"`);
  // What the layer drew from before is still here.
  const same = before && 'blob' in before && 'blob' in layer && before.blob === layer.blob;
  if (layer.kind === 'picture' && !(same && before.kind === 'picture' && sizeOf(before) === sizeOf(layer))) {
    const facts = known.blob(layer.blob);
    if (facts?.is !== 'pixels') throw gone('The picture');
    if (facts.width !== layer.width || facts.height !== layer.height)
      throw new InputError(`The picture of "${layer.name}" is ${sizeOf(facts)}, not ${sizeOf(layer)}.`);
  }
  if (layer.kind === 'decal' && !(same && before.kind === 'decal' && before.source === layer.source))
    if (known.blob(layer.blob)?.is !== layer.source) throw gone('The picture');
  const had = new Set<Stored>(before && strokesOf(before));
  for (const one of strokesOf(layer))
    if (!had.has(one)) stroke(one, known, `A stroke of "${layer.name}"`, channelsOf(one, layer));
}

const sizeOf = ({ width, height }: { width: number; height: number }) => `${width} x ${height}`;

/** Values of a texel that a stroke must have. */
const channelsOf = (one: Stored, layer: Layer): 1 | 4 =>
  layer.kind === 'brush' && (layer.strokes as Stored[]).includes(one) && (one as Stroke).how === 'pixels' ? 4 : 1;

function stroke({ blob, tiles }: Stored, known: Pick<Known, 'blob'>, what: string, channels: 1 | 4): void {
  const facts = known.blob(blob);
  if (facts?.is !== 'stroke') throw new InputError(`${what} is not here: its pixels have not arrived.`);
  if (facts.tiles !== tiles.length || facts.channels !== channels)
    throw new InputError(`${what} does not fit its pixels.`);
}

function weight(livery: Livery, known: Known): void {
  const blobs = new Set<string>();
  for (const sheet of livery.sheets)
    for (const map of sheet.maps) for (const layer of map.layers) if ('blob' in layer) blobs.add(layer.blob);
  for (const { blob } of livery.references ?? []) blobs.add(blob);
  let texels = 0;
  for (const hash of blobs) {
    const facts = known.blob(hash);
    if (facts?.is === 'pixels') texels += facts.width * facts.height;
  }
  if (texels > MOST_TEXELS)
    throw new InputError(
      'The pictures of this livery would take more than 4 GiB of memory together; take smaller ones.',
    );
}

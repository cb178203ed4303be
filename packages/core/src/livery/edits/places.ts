/** Where things are in a livery, and the livery with something else there. */
import { InputError } from '../../errors.ts';
import { FIRST_FINISHES, finishesOf, LiveryFinish } from '../finish.ts';
import type { ColourId, FinishId, LayerId } from '../ids.ts';
import type { Layer } from '../layer.ts';
import { findLayer, type Livery, type LayerPlace } from '../livery.ts';
import type { Stroke } from '../paint.ts';
import { TargetGone, type Aim } from './kind.ts';

export const isThere = (livery: Livery, layer: LayerId): boolean => findLayer(livery, layer) !== null;

/** @throws TargetGone */
export function placeOf(livery: Livery, id: LayerId): LayerPlace {
  const found = findLayer(livery, id);
  if (!found) throw new TargetGone('The layer that this change is for is no longer there.');
  return found;
}

/** What a layer is called; one that is gone has no name any more. */
export const nameOf = (livery: Livery, id: LayerId): string => findLayer(livery, id)?.layer.name ?? 'a layer';

/** The layer that was meant, or the one that is chosen. */
export const aimedLayer = (livery: Livery, layer: LayerId, aim: Aim): LayerId | null =>
  isThere(livery, layer) ? layer : aim.layer;

/** An edit of a layer, made to mean the layer that is chosen where its own is gone; null where none is. */
export function reaimLayer<E extends { layer: LayerId }>(livery: Livery, edit: E, aim: Aim): E | null {
  const layer = aimedLayer(livery, edit.layer, aim);
  return layer && { ...edit, layer };
}

/** The map that was meant, or the one that is worked on. */
export function aimedMap(livery: Livery, { sheet, map }: { sheet: string; map: string }, aim: Aim) {
  const there = livery.sheets.find(({ key }) => key === sheet)?.maps.some(({ key }) => key === map);
  return there ? { sheet, map } : { sheet: aim.sheet, map: aim.map };
}

/** @throws TargetGone */
export function colourIndex(livery: Livery, id: ColourId): number {
  const index = livery.scheme.findIndex((colour) => colour.id === id);
  if (index < 0) throw new TargetGone('The scheme colour that this change is for is no longer there.');
  return index;
}

/** @throws TargetGone */
export function finishIndex(livery: Livery, id: FinishId): number {
  const index = finishesOf(livery).findIndex((finish) => finish.id === id);
  if (index < 0) throw new TargetGone('The finish that this change is for is no longer there.');
  return index;
}

/** The livery with these finishes; those that every livery begins with are not written down. */
export function withFinishes({ finishes: _finishes, ...livery }: Livery, finishes: readonly LiveryFinish[]): Livery {
  // Read anew, so that the order in which a database gives keys back says nothing.
  const text = (of: readonly LiveryFinish[]) => JSON.stringify(of.map((one) => LiveryFinish.parse(one)));
  return text(finishes) === text(FIRST_FINISHES) ? livery : { ...livery, finishes: [...finishes] };
}

/** @throws TargetGone */
export function sheetIndex(livery: Livery, key: string): number {
  const index = livery.sheets.findIndex((sheet) => sheet.key === key);
  if (index < 0) throw new TargetGone(`The sheet "${key}" is not part of this livery.`);
  return index;
}

/** @throws TargetGone */
export function withLayers(livery: Livery, sheet: string, map: string, change: (layers: Layer[]) => Layer[]): Livery {
  const s = sheetIndex(livery, sheet);
  const m = livery.sheets[s].maps.findIndex((found) => found.key === map);
  if (m < 0) throw new TargetGone(`The sheet "${sheet}" has no map "${map}".`);
  const before = livery.sheets[s].maps[m];
  const maps = livery.sheets[s].maps.with(m, { ...before, layers: change(before.layers) });
  return { ...livery, sheets: livery.sheets.with(s, { ...livery.sheets[s], maps }) };
}

export const withLayer = (livery: Livery, at: LayerPlace, layer: Layer): Livery =>
  withLayers(livery, at.sheet, at.map, (layers) => layers.with(at.index, layer));

/** Lists that a livery can be without. */
type ListKey = 'selections' | 'versions' | 'references' | 'plates';

/** An empty list is left out, so that taking back leaves what was there before. */
export function withList<K extends ListKey>(livery: Livery, key: K, list: Livery[K] & object): Livery {
  const { [key]: _before, ...rest } = livery;
  return (list.length > 0 ? { ...rest, [key]: list } : rest) as Livery;
}

/** Something of a list by its id. @throws TargetGone with `gone` */
export function listed<T extends { id: string }>(all: readonly T[] | undefined, id: string, gone: string): T {
  const found = all?.find((one) => one.id === id);
  if (!found) throw new TargetGone(gone);
  return found;
}

/** A list with one more in it. @throws InputError with `taken` where it has one of that id */
export function withOne<T extends { id: string }>(all: readonly T[] | undefined, one: T, taken: string): T[] {
  if (all?.some(({ id }) => id === one.id)) throw new InputError(taken);
  return [...(all ?? []), one];
}

/** One of a list by its id, and the others. @throws TargetGone with `gone` */
export function withoutOne<T extends { id: string }>(
  all: readonly T[] | undefined,
  id: string,
  gone: string,
): { found: T; rest: T[] } {
  const found = listed(all, id, gone);
  return { found, rest: (all ?? []).filter((one) => one !== found) };
}

/** The same under an id of its own, where its id is taken. */
export const withFreeId = <T extends { id: string }>(all: readonly T[] | undefined, one: T): T =>
  all?.some(({ id }) => id === one.id) ? { ...one, id: crypto.randomUUID() } : one;

export const PLATE_GONE = 'The plate that this change is for is no longer there.';
export const nameOfPlate = (livery: Livery, plate: string): string =>
  livery.plates?.find(({ id }) => id === plate)?.name ?? 'a plate';

/** The strokes of a layer's picture or of its mask. @throws TargetGone */
export function strokesOn(layer: Layer, on: 'layer' | 'mask'): readonly Stroke[] {
  const strokes = on === 'mask' ? layer.mask?.strokes : layer.kind === 'brush' ? layer.strokes : undefined;
  if (!strokes) throw new TargetGone(`"${layer.name}" has nothing that can be painted on.`);
  return strokes;
}

export function withStrokes(livery: Livery, at: LayerPlace, on: 'layer' | 'mask', strokes: Stroke[]): Livery {
  const { layer } = at;
  const next = on === 'mask' ? { ...layer, mask: layer.mask && { ...layer.mask, strokes } } : { ...layer, strokes };
  return withLayer(livery, at, next as Layer);
}

/** The values that an edit of these keys replaces. */
export const valuesBefore = <T extends object>(before: T, set: Partial<T>): Partial<T> =>
  Object.fromEntries(Object.keys(set).map((key) => [key, before[key as keyof T]])) as Partial<T>;

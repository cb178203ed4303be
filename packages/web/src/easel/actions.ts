/** What painters do to layers, each as one step with a name. */
import { Layer, type Phase } from '@wet-lacquer/core/livery/layer.ts';
import { newLayerId } from '@wet-lacquer/core/livery/ids.ts';
import { findLayer, layersOf } from '@wet-lacquer/core/livery/livery.ts';
import type { LayerId, Sha256 } from '@wet-lacquer/core/livery/ids.ts';
import type { SingleEdit } from '@wet-lacquer/core/livery/edit.ts';
import { get } from '../lib/api.ts';
import type { FontCard } from '../lib/types.ts';
import { indexFor } from './buildup/makers.ts';
import type { EaselDocument } from './document.ts';
import { piecesOf } from './flat/pieces.ts';
import { choose, say, useSession } from './session.ts';

/** Adds a layer where new ones of its phase go, and chooses it. */
export async function addLayer(doc: EaselDocument, layer: Layer, phase: Phase): Promise<void> {
  const { sheet, map, chosen } = useSession.getState();
  const pins = layer.kind === 'lettering' ? await pinOf(doc, layer.font) : [];
  const { livery, template } = doc.use.getState();
  const add = (to: string, made: Layer): SingleEdit => ({
    do: 'add-layer',
    sheet: to,
    map,
    layer: made,
    index: indexFor(layersOf(livery, to, map), phase, to === sheet ? chosen : null),
  });
  const pieces = piecesOf(template, sheet, map === 'colour' ? useSession.getState().run : null);
  // On one surface over several sheets, the layer is put on each of them, and they are one from then on.
  const adds = pieces.map((piece) => {
    if (pieces.length === 1) return add(sheet, layer);
    const own = piece.sheet.key === sheet ? layer : movedCopy(layer, -piece.left, -piece.top);
    return add(piece.sheet.key, { ...own, across: layer.id });
  });
  const edits = [...pins, ...adds];
  doc.commit(edits.length > 1 ? { do: 'together', edits } : edits[0], `Add ${layer.name}`);
  choose(layer.id);
  say(`${layer.name} added`);
}

/** The same layer on another sheet, so many texels away, with no parts: those belong to a sheet. */
function movedCopy(layer: Layer, dx: number, dy: number): Layer {
  const copy = { ...layer, id: newLayerId(), parts: [] };
  if ('x' in copy) return { ...copy, x: copy.x + dx, y: copy.y + dy };
  if ('left' in copy) return { ...copy, left: copy.left + dx, top: copy.top + dy };
  return copy;
}

/** The edit that pins a font which the livery does not use yet. */
async function pinOf(doc: EaselDocument, font: string): Promise<SingleEdit[]> {
  if (doc.use.getState().livery.pins.fonts[font]) return [];
  const fonts = await get<FontCard[]>('/fonts');
  const hash = fonts.find((f) => f.key === font)?.hash;
  return hash ? [{ do: 'pin-font', font, hash: hash as Sha256 }] : [];
}

export async function setFont(doc: EaselDocument, id: string, font: string): Promise<void> {
  const edits: SingleEdit[] = [...(await pinOf(doc, font)), { do: 'set-layer', layer: id as LayerId, set: { font } }];
  doc.commit({ do: 'together', edits }, 'Change font');
}

export function setLayer(doc: EaselDocument, id: string, set: Record<string, unknown>, label: string): void {
  doc.commit({ do: 'set-layer', layer: id as LayerId, set: set as never }, label);
}

export function removeLayer(doc: EaselDocument, id: string): void {
  const place = findLayer(doc.use.getState().livery, id as LayerId);
  if (!place) return;
  if (place.layer.locked) return say(`${place.layer.name} is locked`);
  doc.commit({ do: 'remove-layer', layer: place.layer.id }, `Delete ${place.layer.name}`);
  const left = layersOf(doc.use.getState().livery, place.sheet, place.map);
  choose(left[Math.max(0, place.index - 1)]?.id ?? null);
  say(`${place.layer.name} deleted`);
}

export function duplicateLayer(doc: EaselDocument, id: string): void {
  const place = findLayer(doc.use.getState().livery, id as LayerId);
  if (!place) return;
  const offset = 'x' in place.layer ? { x: place.layer.x + 24, y: place.layer.y + 24 } : {};
  const copy = Layer.parse({
    ...place.layer,
    ...offset,
    id: newLayerId(),
    name: `${place.layer.name.slice(0, 74)} copy`,
    locked: false,
  });
  doc.commit(
    { do: 'add-layer', sheet: place.sheet, map: place.map, layer: copy, index: place.index + 1 },
    `Duplicate ${place.layer.name}`,
  );
  choose(copy.id);
  say(`${copy.name} added`);
}

/** Moves a layer to another place in the build-up of its sheet. */
export function moveLayer(doc: EaselDocument, id: string, index: number): void {
  const livery = doc.use.getState().livery;
  const place = findLayer(livery, id as LayerId);
  if (!place) return;
  const count = layersOf(livery, place.sheet, place.map).length;
  const to = Math.max(0, Math.min(count - 1, index));
  if (to === place.index) return;
  doc.commit(
    { do: 'move-layer', layer: place.layer.id, sheet: place.sheet, map: place.map, index: to },
    `Move ${place.layer.name}`,
  );
  say(`${place.layer.name} is now ${to + 1} of ${count}`);
}

export function toggle(doc: EaselDocument, id: string, what: 'hidden' | 'locked'): void {
  const layer = findLayer(doc.use.getState().livery, id as LayerId)?.layer;
  if (!layer) return;
  const verb = what === 'hidden' ? (layer.hidden ? 'Show' : 'Hide') : layer.locked ? 'Unlock' : 'Lock';
  setLayer(doc, id, { [what]: !layer[what] }, `${verb} ${layer.name}`);
  say(`${verb} ${layer.name}`);
}

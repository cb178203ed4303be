/** What painters do to layers, each as one step with a name. */
import { heldIn } from '@wet-lacquer/core/held.ts';
import { MAIN_MAP, mapsOf, type Template } from '@wet-lacquer/core/livery/template.ts';
import { dataOf, Layer, type LayerOf, type Phase } from '@wet-lacquer/core/livery/layer.ts';
import { newLayerId } from '@wet-lacquer/core/livery/ids.ts';
import { findLayer, layersOf, type LayerPlace } from '@wet-lacquer/core/livery/livery.ts';
import { siblingsOf } from '@wet-lacquer/core/livery/across.ts';
import { movedBy } from '@wet-lacquer/core/livery/arrange.ts';
import { withInside } from '@wet-lacquer/core/livery/tree.ts';
import type { LayerId, Sha256 } from '@wet-lacquer/core/livery/ids.ts';
import type { SingleEdit } from '@wet-lacquer/core/livery/edit.ts';
import type { FontCard } from '@wet-lacquer/sync/answers.ts';
import { get } from '../lib/api.ts';
import { indexFor } from './buildup/makers.ts';
import type { EaselDocument } from './document.ts';
import { piecesOf, type Piece } from './flat/pieces.ts';
import { choose, announce, useSession } from './session.ts';

/** Makes several changes as one step. @param edits at least one */
export const commitAll = (doc: EaselDocument, edits: SingleEdit[], label: string): void =>
  doc.commit(edits.length > 1 ? { do: 'together', edits } : edits[0], label);

/** Adds a layer where new ones of its phase go, and chooses it. */
export async function addLayer(doc: EaselDocument, layer: Layer, phase: Phase): Promise<void> {
  const { sheet, map, chosen } = useSession.getState();
  const pins = layer.kind === 'lettering' ? await pinOf(doc, layer.font) : [];
  const { livery, template } = doc.use.getState();
  const add = (to: string, made: Layer): AddLayer => ({
    do: 'add-layer',
    sheet: to,
    map,
    layer: made,
    index: indexFor(layersOf(livery, to, map), phase, to === sheet ? chosen : null),
  });
  const pieces = piecesOf(template, sheet, map === MAIN_MAP ? useSession.getState().run : null);
  // On one surface over several sheets, the layer is put on each of them, and they are one from then on.
  const adds = isOnModel(layer)
    ? onEverySheet(doc, add(sheet, layer))
    : pieces.map((piece) => {
        if (pieces.length === 1) return add(sheet, layer);
        const own = piece.sheet.key === sheet ? layer : movedCopy(layer, -piece.left, -piece.top);
        return add(piece.sheet.key, { ...own, across: layer.id });
      });
  const edits = [...pins, ...adds];
  commitAll(doc, edits, `Add ${layer.name}`);
  choose(layer.id);
  announce(`${layer.name} added`);
}

type AddLayer = Extract<SingleEdit, { do: 'add-layer' }>;

const isOnModel = (layer: Layer): boolean => layer.on !== undefined || dataOf(layer).onModel === true;

/** Puts a layer that lies on the model on every sheet of it, as one; where it is told to go it keeps what is of that sheet. */
export function onEverySheet(doc: EaselDocument, edit: AddLayer): AddLayer[] {
  const { livery, template } = doc.use.getState();
  const { sheet, map, layer } = edit;
  const sheets = isOnModel(layer) ? sheetsOnModel(template, sheet, map) : [];
  if (sheets.length < 2) return [edit];
  const { group: _group, clipped: _clipped, mask: _mask, ...free } = layer;
  return sheets.map(({ sheet: { key } }): AddLayer => {
    if (key === sheet) return { ...edit, layer: { ...layer, across: layer.id } };
    const copy = { ...free, id: newLayerId(), parts: [], across: layer.id };
    return { ...edit, sheet: key, layer: copy, index: indexFor(layersOf(livery, key, map), layer.phase, null) };
  });
}

/** The sheets over which something lies that is defined on the model: those of its parts that have the map, and the one at hand. */
export const sheetsOnModel = (template: Template, own: string, map: string): Piece[] =>
  template.sheets
    .filter(
      (sheet) =>
        sheet.key === own ||
        (template.parts.some((part) => part.sheet === sheet.key) && mapsOf(sheet).some(({ key }) => key === map)),
    )
    .map((sheet) => ({ sheet, left: 0, top: 0 }));

/** The same layer on another sheet, so many texels away, with no parts: those belong to a sheet. */
const movedCopy = (layer: Layer, dx: number, dy: number): Layer =>
  movedBy({ ...layer, id: newLayerId(), parts: [] }, dx, dy);

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
  if (place.layer.locked) return announce(`${place.layer.name} is locked`);
  // A group goes with all that it holds, groups in it last.
  const gone = withInside(layersOf(doc.use.getState().livery, place.sheet, place.map), place.layer);
  const edits = gone.map((one): SingleEdit => ({ do: 'remove-layer', layer: one.id }));
  commitAll(doc, edits, `Delete ${place.layer.name}`);
  const left = layersOf(doc.use.getState().livery, place.sheet, place.map);
  choose(left[Math.max(0, place.index - 1)]?.id ?? null);
  announce(`${place.layer.name} deleted`);
}

/** A group with everything in it, under new names for all of them. */
function duplicateGroup(doc: EaselDocument, { sheet, map, layer }: LayerPlace): void {
  const layers = layersOf(doc.use.getState().livery, sheet, map);
  const all = withInside(layers, layer);
  const ids = new Map(all.map(({ id }) => [id, newLayerId()]));
  const index = Math.max(...all.map((one) => layers.indexOf(one))) + 1;
  const edits = all.map((one, n): SingleEdit => {
    const group = one.group && (ids.get(one.group) ?? one.group);
    const name = one === layer ? `${one.name.slice(0, 74)} copy` : one.name;
    const copy = { ...one, id: heldIn(ids, one.id), name, locked: false, ...(group && { group }) };
    return { do: 'add-layer', sheet, map, layer: copy, index: index + n };
  });
  doc.commit({ do: 'together', edits }, `Duplicate ${layer.name}`);
  choose(heldIn(ids, layer.id));
  announce(`${layer.name} copy added`);
}

export function duplicateLayer(doc: EaselDocument, id: string): void {
  const place = findLayer(doc.use.getState().livery, id as LayerId);
  if (!place) return;
  if (place.layer.kind === 'group') return duplicateGroup(doc, place);
  const { livery } = doc.use.getState();
  // A picture that lies texel for texel stays where it fits.
  const by = place.layer.kind === 'picture' ? 0 : 24;
  const own = newLayerId();
  const name = `${place.layer.name.slice(0, 74)} copy`;
  // What runs over several sheets is copied on each of them: the copies are one layer of their own.
  const runs = [place.layer, ...siblingsOf(livery, place.layer.id)];
  const edits = runs.flatMap((layer): SingleEdit[] => {
    const at = findLayer(livery, layer.id);
    if (!at) return [];
    const copy = Layer.parse({
      ...movedBy(layer, by, by),
      id: layer === place.layer ? own : newLayerId(),
      name,
      locked: false,
      ...(runs.length > 1 && { across: own }),
    });
    return [{ do: 'add-layer', sheet: at.sheet, map: at.map, layer: copy, index: at.index + 1 }];
  });
  commitAll(doc, edits, `Duplicate ${place.layer.name}`);
  choose(own);
  announce(`${name} added`);
}

/** Puts layers into a new group, where the last of them was. */
export function groupLayers(doc: EaselDocument, ids: readonly string[]): void {
  const { sheet, map } = useSession.getState();
  const layers = layersOf(doc.use.getState().livery, sheet, map);
  const members = layers.filter(({ id }) => ids.includes(id));
  if (members.length === 0) return;
  const names = new Set(layers.map(({ name }) => name));
  let name = 'Group';
  for (let n = 2; names.has(name); n++) name = `Group ${n}`;
  const last = members[members.length - 1];
  const group = Layer.parse({
    kind: 'group',
    id: newLayerId(),
    name,
    phase: last.phase,
    hidden: false,
    locked: false,
    opacity: 100,
    blend: 'normal',
    parts: [],
    through: false,
    ...(last.group !== undefined && { group: last.group }),
  });
  doc.commit(
    {
      do: 'together',
      edits: [
        { do: 'add-layer', sheet, map, layer: group, index: layers.indexOf(last) + 1 },
        ...members.map(({ id }): SingleEdit => ({ do: 'set-layer', layer: id, set: { group: group.id } })),
      ],
    },
    `Group ${members.length === 1 ? members[0].name : `${members.length} layers`}`,
  );
  choose(group.id);
  announce(`${name} holds ${members.length} ${members.length === 1 ? 'layer' : 'layers'}`);
}

/** Puts a mark in the place of a picture that lies texel for texel: it can be turned, scaled and warped. */
export function placeFreely(doc: EaselDocument, layer: LayerOf<'picture'>): void {
  const place = findLayer(doc.use.getState().livery, layer.id);
  if (!place) return;
  const { left, top, kind: _kind, ...rest } = layer;
  const { width, height } = layer;
  const mark = Layer.parse({
    ...rest,
    kind: 'decal',
    id: newLayerId(),
    source: 'pixels',
    ratio: width / height,
    keepRatio: true,
    x: left + width / 2,
    y: top + height / 2,
    turn: 0,
    mirrored: false,
    recolour: [],
  });
  const edits: SingleEdit[] = [
    { do: 'add-layer', sheet: place.sheet, map: place.map, layer: mark, index: place.index },
    { do: 'remove-layer', layer: layer.id },
  ];
  commitAll(doc, edits, `Place ${layer.name} freely`);
  choose(mark.id);
  announce(`${layer.name} can be turned, scaled and warped now`);
}

/** Takes a group away and leaves its layers where it was. */
export function ungroup(doc: EaselDocument, id: string): void {
  const place = findLayer(doc.use.getState().livery, id as LayerId);
  if (!place || place.layer.kind !== 'group') return;
  const { layer } = place;
  const members = layersOf(doc.use.getState().livery, place.sheet, place.map).filter((one) => one.group === layer.id);
  doc.commit(
    {
      do: 'together',
      edits: [
        ...members.map((one): SingleEdit => ({ do: 'set-layer', layer: one.id, set: { group: layer.group ?? null } })),
        { do: 'remove-layer', layer: layer.id },
      ],
    },
    `Take ${layer.name} apart`,
  );
  choose(members.at(-1)?.id ?? null);
  announce(`${layer.name} taken apart`);
}

/**
 * Moves a layer to another place in the build-up of its sheet.
 * @param group the group that it then belongs to; null: none; left out: as before
 */
export function moveLayer(doc: EaselDocument, id: string, index: number, group?: LayerId | null): void {
  const livery = doc.use.getState().livery;
  const place = findLayer(livery, id as LayerId);
  if (!place) return;
  const layers = layersOf(livery, place.sheet, place.map);
  const to = Math.max(0, Math.min(layers.length - 1, index));
  const regroups = group !== undefined && (group ?? undefined) !== place.layer.group;
  if (to === place.index && !regroups) return;
  const edits: SingleEdit[] = [
    { do: 'move-layer', layer: place.layer.id, sheet: place.sheet, map: place.map, index: to },
    ...(regroups ? [{ do: 'set-layer' as const, layer: place.layer.id, set: { group } }] : []),
  ];
  commitAll(doc, edits, `Move ${place.layer.name}`);
  announce(`${place.layer.name} is now ${to + 1} of ${layers.length}`);
}

export function toggle(doc: EaselDocument, id: string, what: 'hidden' | 'locked'): void {
  const layer = findLayer(doc.use.getState().livery, id as LayerId)?.layer;
  if (!layer) return;
  const verb = what === 'hidden' ? (layer.hidden ? 'Show' : 'Hide') : layer.locked ? 'Unlock' : 'Lock';
  setLayer(doc, id, { [what]: !layer[what] }, `${verb} ${layer.name}`);
  announce(`${verb} ${layer.name}`);
}

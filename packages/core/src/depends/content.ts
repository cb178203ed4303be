/**
 * What a picture depends on: the one source of the names of cached tiles and of the signatures of deliveries. Two pictures whose content is
 * told in the same words are the same picture.
 */
import type { Region } from '../layers/kind.ts';
import { derivesOn, nodesOf } from '../finish/derived.ts';
import { isUnseen, paintsOf, type Layer } from '../livery/layer.ts';
import { colourOf, fillIn, layersOf, type Livery } from '../livery/livery.ts';
import { boxesOf } from '../livery/boxes.ts';
import type { Stroke } from '../livery/paint.ts';
import { MAIN_MAP, type Template } from '../livery/template.ts';
import { findNode, treeOf, type Glow, type LayerNode } from '../livery/tree.ts';

/** JSON whose text does not depend on the order in which a database gives keys back. */
export const sortedJson = (value: unknown): string =>
  JSON.stringify(value, (_key, part: unknown) =>
    part && typeof part === 'object' && !Array.isArray(part)
      ? Object.fromEntries(Object.entries(part).sort(([a], [b]) => (a < b ? -1 : 1)))
      : part,
  );

/** How what is told becomes a name: a number, a text. */
export interface Namer<T> {
  /** A layer by its own settings, colours and texts; without strokes and without what it refers to. */
  own(layer: Layer): T;
  /** A name, and something more. */
  chain(name: T, more: T | string): T;
}

/** Which part of a picture is looked at, and what of the livery's can be seen there. */
export interface Sight {
  livery: Livery;
  layers: readonly Layer[];
  /** What a layer looks at for a region; see scene.ts. */
  seenBy(layer: Layer, region: Region | null): Region | null;
  /** Whether a node can change any texel of a region. */
  touches(node: LayerNode, region: Region | null): boolean;
  /** Whether a stroke reaches a region. */
  reaches(stroke: Stroke, region: Region | null): boolean;
  /** What can be seen of the sheet's other map. */
  otherMap(map: string): Sight;
  /** What can be seen of another sheet's colours. */
  otherSheet(sheet: string): Sight;
}

/** Layers whose masks are being named: masks can go round in a circle. */
type Naming = ReadonlySet<string>;

/** All that a node's look over a region depends on; `region` null: over the whole map. */
export function contentOf<T>(
  node: LayerNode,
  region: Region | null,
  sight: Sight,
  namer: Namer<T>,
  naming: Naming = new Set(),
): T {
  const { layer } = node;
  let name = namer.own(layer);
  if (naming.has(layer.id)) return name;
  const near = sight.seenBy(layer, region);
  if (layer.kind === 'brush') name = strokesOf(name, layer.strokes, near, sight, namer);
  if (layer.mask && !layer.mask.off) {
    // A mask that moved or is soft looks elsewhere too: all its strokes count.
    const all = layer.mask.feather > 0 || layer.mask.linked !== null;
    name = strokesOf(namer.chain(name, 'mask'), layer.mask.strokes, all ? null : near, sight, namer);
    const { from } = layer.mask;
    // A source counts as it would look if it were shown.
    const other = from.kind === 'layer' ? findNode(treeOf(sight.layers), from.layer) : null;
    if (other)
      name = namer.chain(name, contentOf(other, all ? null : near, sight, namer, new Set([...naming, layer.id])));
  }
  if (node.wears) name = namer.chain(name, `wears ${String(node.wears.texel ?? 'nothing')} ${node.wears.hard}`);
  const light = node.wears?.light;
  if (light) {
    name = namer.chain(
      name,
      `lit ${light.share} ${light.flicker ? `${light.flicker.dark} ${light.flicker.seed}` : ''}`,
    );
    // Its pieces are told by the whole of the sheet.
    for (const one of light.seen) name = namer.chain(name, contentOf(one, null, sight, namer));
  }
  if (node.dims) name = namer.chain(name, `dims ${node.dims.by.join()} ${node.dims.colour}`);
  if (node.glow) name = glowContent(node.glow, name, sight, namer);
  if (node.base) name = namer.chain(name, contentOf({ ...node.base, clipped: [] }, near, sight, namer, naming));
  const within = node.of === undefined ? sight : sight.otherMap(node.of);
  for (const child of node.inside)
    if (within.touches(child, near)) name = namer.chain(name, contentOf(child, near, within, namer, naming));
  for (const child of node.clipped)
    if (sight.touches(child, region))
      name = namer.chain(namer.chain(name, 'clipped'), contentOf(child, region, sight, namer, naming));
  return name;
}

/** A shine comes from wherever on the model it is lit. */
function glowContent<T>({ on, ...glow }: Glow, base: T, sight: Sight, namer: Namer<T>): T {
  let name = namer.chain(base, sortedJson(glow));
  for (const { sheet, nodes, colours } of on) {
    const there = sight.otherSheet(sheet);
    name = namer.chain(name, sheet);
    for (const node of [...nodes, ...colours]) name = namer.chain(name, contentOf(node, null, there, namer));
  }
  return name;
}

/** Strokes in their order, as far as they reach a region. */
export function strokesOf<T>(
  base: T,
  strokes: readonly Stroke[],
  region: Region | null,
  sight: Pick<Sight, 'livery' | 'reaches'>,
  namer: Pick<Namer<T>, 'chain'>,
): T {
  let name = base;
  for (const stroke of strokes)
    if (sight.reaches(stroke, region)) name = namer.chain(name, strokeText(stroke, sight.livery));
  return name;
}

export const strokeText = (stroke: Stroke, livery: Livery): string =>
  `${stroke.blob} ${stroke.how} ${stroke.opacity} ${stroke.paint ? colourOf(livery, stroke.paint).join() : ''}`;

/** What of the livery reaches a layer from outside it: the colours that its paints stand for, the text and font of lettering. */
export function fromOutside(layer: Layer, livery: Livery): string {
  const day = { ...layer, lit: undefined };
  const plain = day.kind === 'brush' ? paintsOf({ ...day, strokes: [] }) : paintsOf(day);
  const colours = plain.map((paint) => colourOf(livery, paint).join());
  const text = layer.kind === 'lettering' ? fillIn(layer.text, livery.particulars) + livery.pins.fonts[layer.font] : '';
  return `${colours.join(';')}|${text}`;
}

/** A layer's own settings as text. Who holds it, what it is called, its finish and whether it is hidden say nothing of its colours. */
export function settingsText(layer: Layer): string {
  const {
    id: _id,
    name: _name,
    phase: _phase,
    locked: _locked,
    group: _group,
    hidden: _hidden,
    across: _across,
    oneOf: _oneOf,
    // What follows from it is told by what its layers wear there.
    finish: _finish,
    finishOnly: _finishOnly,
    lit: _lit,
    ...looks
  } = layer;
  return sortedJson({
    ...looks,
    ...('strokes' in looks && { strokes: [] }),
    ...(looks.mask && { mask: maskLooks(looks.mask) }),
  });
}

/** A mask without its strokes and without the id of its source: both are told by what they are. */
function maskLooks(mask: NonNullable<Layer['mask']>): unknown {
  if (mask.off) return { off: true };
  const { strokes: _strokes, from, ...rest } = mask;
  return { ...rest, from: from.kind === 'layer' ? { ...from, layer: null } : from };
}

/** Everything over the whole of a map. */
const WHOLE: Pick<Sight, 'seenBy' | 'touches' | 'reaches'> = {
  seenBy: () => null,
  touches: ({ layer, inside }) =>
    !isUnseen(layer) && (layer.kind !== 'group' || inside.some((node) => !isUnseen(node.layer))),
  reaches: () => true,
};

/** What of a livery can be seen on the whole of a map. */
const wholeOf = (livery: Livery, sheet: string, map: string): Sight => ({
  livery,
  layers: layersOf(livery, sheet, map),
  ...WHOLE,
  otherMap: (other) => wholeOf(livery, sheet, other),
  otherSheet: (other) => wholeOf(livery, other, MAIN_MAP),
});

const inText = (livery: Livery): Namer<string> => ({
  own: (layer) => settingsText(layer) + fromOutside(layer, livery),
  chain: (name, more) => `${name}>(${more})`,
});

/** All that nodes on a sheet's colours look like, as text. */
export function nodesContent(livery: Livery, sheet: string, nodes: readonly LayerNode[]): string {
  const sight = wholeOf(livery, sheet, MAIN_MAP);
  const shown = nodes.filter((node) => sight.touches(node, null));
  return JSON.stringify([
    livery.pins.template,
    sheet,
    ...shown.map((node) => contentOf(node, null, sight, inText(livery))),
  ]);
}

/** All that the picture of a map depends on, as text: equal texts, equal texels. */
export function mapContent(livery: Livery, template: Template, sheet: string, map: string): string {
  const sight = wholeOf(livery, sheet, map);
  const namer = inText(livery);
  const nodes = nodesOf(livery, sheet, map, derivesOn(template, sheet, map));
  const shown = nodes.filter((node) => sight.touches(node, null));
  const boxes = map === MAIN_MAP ? boxesOf(livery, template, sheet).map((box) => box.hex) : [];
  return JSON.stringify([
    livery.pins.template,
    sheet,
    map,
    shown.map((node) => contentOf(node, null, sight, namer)),
    boxes,
  ]);
}

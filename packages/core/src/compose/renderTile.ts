/** The picture of a map: layers, groups, masks, clipping and filters on 16-bit premultiplied RGBA. */
import { applyFilters, looksAtOne } from '../filters/index.ts';
import { drawLayer, isDrawn, uniformIn } from '../layers/index.ts';
import type { Region } from '../layers/kind.ts';
import { stampBoxes } from '../livery/boxes.ts';
import type { Layer } from '../livery/layer.ts';
import type { Livery } from '../livery/livery.ts';
import { MAIN_MAP } from '../livery/template.ts';
import { normaliseAt } from '../paint/clone.ts';
import { findNode, treeOf, type LayerNode, type Light, type Wears } from '../livery/tree.ts';
import { copied, newTile, scoped, zeroedTile, taken } from '../raster/arena.ts';
import { blendOver, fadeAll, fadeEach, overAll, type Texel } from '../raster/blend.ts';
import { mul16 } from '../raster/mul16.ts';
import { ONE, toStraight8 } from '../raster/tile16.ts';
import { maskShares } from './mask.ts';
import { drawGlow } from './glow.ts';
import { brightness, outlineOf } from './outline.ts';
import { dim, harden, lightBy, wear, wornShares, wornTexel } from './worn.ts';
import { expanded, keepsTo, marginIn, otherMap, sceneOf, touches, type Scene, type Sources } from './scene.ts';

export { envOf, sceneOf, touches, type Scene, type Sources } from './scene.ts';

/** Where a cache may stand in for drawing. */
export interface Hooks {
  /** Puts what a group holds on `out`; `empty`: nothing is there yet. */
  compose(group: LayerNode, region: Region, scene: Scene, out: Uint16Array, empty: boolean): void;
  /** Draws a layer's own picture into zeroed `out`. @returns false: it is to be drawn as usual */
  draw(layer: Layer, region: Region, scene: Scene, out: Uint16Array): boolean;
}

const isPlain = (layer: Layer) => layer.blend === 'normal' && !layer.channels;

/** Whether a node has a picture that is put on what is below; the others change what is below. */
export const hasPicture = ({ layer, clipped }: LayerNode): boolean =>
  layer.kind !== 'adjust' && !(layer.kind === 'group' && layer.through && clipped.length === 0 && !layer.filters);

/** Whether a node is put on by plain source-over, so that what is over it can be put on it first. */
export const isSourceOver = (node: LayerNode): boolean => isPlain(node.layer) && hasPicture(node);

/**
 * A node's picture before blending: drawn, filtered, with what is clipped to it, its parts, mask and opacity. In the arena.
 */
export function drawNode(node: LayerNode, region: Region, scene: Scene, hooks?: Hooks): Uint16Array {
  const { layer } = node;
  if (node.wears) return drawWorn(node, node.wears, region, scene, hooks);
  const out = zeroedTile(region.width * region.height * 4);
  filtered(node, region, scene, out, hooks);
  if (node.dims) dim(out, node.dims);
  for (const over of node.clipped) {
    if (!touches(over, region, scene)) continue;
    if (over.layer.kind === 'adjust') adjust(over.layer, out, region, scene);
    else scoped(() => blendOver(out, drawNode(over, region, scene), over.layer.blend, true));
  }
  limit(layer, out, region, scene);
  return out;
}

/** What a layer draws or a group holds with its own filters, into zeroed `out`. */
function filtered(node: LayerNode, region: Region, scene: Scene, out: Uint16Array, hooks?: Hooks): void {
  const { layer } = node;
  scoped(() => {
    const margin = marginIn(layer, region);
    if (margin === 0) {
      content(node, region, scene, out, hooks);
      filter(layer, out, region, scene);
      return;
    }
    const wide = expanded(region, margin);
    const large = zeroedTile(wide.width * wide.height * 4);
    content(node, wide, scene, large);
    filter(layer, large, wide, scene);
    for (let y = 0; y < region.height; y++) {
      const from = ((y + margin) * wide.width + margin) * 4;
      out.set(large.subarray(from, from + region.width * 4), y * region.width * 4);
    }
  });
}

/**
 * A node as its coverage in one value. What is clipped to it lies on its coverage. Hard: what is there at half or more, when its mask,
 * parts and opacity are counted, is there whole.
 */
function drawWorn(
  node: LayerNode,
  { texel, hard, light }: Wears,
  region: Region,
  scene: Scene,
  hooks?: Hooks,
): Uint16Array {
  const { layer, base } = node;
  const out = zeroedTile(region.width * region.height * 4);
  filtered(node, region, scene, out, hooks);
  scoped(() => {
    // Of a group whose coverage was softened the values are those from before.
    let values = hard && layer.kind === 'group' && layer.filters ? zeroedTile(out.length) : null;
    if (values) content(node, region, scene, values);
    if (layer.kind !== 'group') wear(out, texel);
    if (light && layer.kind !== 'group') shine(out, light, region, scene);
    const clipped = node.clipped.filter((over) => touches(over, region, scene));
    if (clipped.length > 0 && base && (layer.kind === 'group' || !texel)) {
      // What it is clipped to is not all there: it lies on the coverage that the base has in its colours.
      const above = zeroedTile(out.length);
      for (const over of clipped) scoped(() => blendOver(above, drawNode(over, region, scene), 'normal'));
      if (hard) blendOver((values ??= copied(out)), above, 'normal');
      fadeEach(above, alphaOf(base, region, scene));
      if (hard) for (let i = 3; i < out.length; i += 4) out[i] = Math.max(out[i], above[i]);
      else blendOver(out, above, 'normal');
    } else
      for (const over of clipped)
        scoped(() => {
          const drawn = drawNode(over, region, scene);
          blendOver(out, drawn, 'normal', true);
          if (values) blendOver(values, drawn, 'normal', true);
        });
    limit(layer, out, region, scene);
    if (hard) harden(out, values);
  });
  return out;
}

/** What is lit, as bright as it is: of its pieces some are dark. */
function shine(out: Uint16Array, { share, flicker, seen }: Light, region: Region, scene: Scene): void {
  const each = flicker ? brightness(outlineOf(seen, scene, composeNodes), flicker, region) : null;
  lightBy(out, share, each);
}

/** The coverage of what a layer draws or a group holds, before its parts, mask and opacity: 16 bits each. In the arena. */
function alphaOf(node: LayerNode, region: Region, scene: Scene): Uint16Array {
  const out = newTile(region.width * region.height);
  scoped(() => {
    const drawn = zeroedTile(region.width * region.height * 4);
    filtered(node, region, scene, drawn);
    for (let i = 0; i < out.length; i++) out[i] = drawn[i * 4 + 3];
  });
  return out;
}

function filter(layer: Layer, texels: Uint16Array, region: Region, scene: Scene): void {
  if (layer.filters)
    applyFilters(layer.filters, texels, region, {
      colour: scene.env.colour,
      origin: 'x' in layer ? { x: Math.round(layer.x), y: Math.round(layer.y) } : { x: 0, y: 0 },
    });
}

/** What a layer draws or a group holds, into zeroed `out`. */
function content(node: LayerNode, region: Region, at: Scene, out: Uint16Array, hooks?: Hooks): void {
  const { layer, inside } = node;
  const scene = node.of === undefined ? at : otherMap(at, node.of);
  if (node.glow) drawGlow(node.glow, region, scene, composeNodes, out);
  else if (layer.kind === 'group') {
    if (hooks) hooks.compose(node, region, scene, out, true);
    else composeNodes(inside, region, scene, out);
    if (node.shares) withShares(node.shares, region, scene, out);
  } else if (isDrawn(layer) && !hooks?.draw(layer, region, scene, out)) drawLayer(layer, region, scene.env, out);
}

/** Coverage as bright as the same nodes are in white and black: light, and none where it is dark. */
function withShares(nodes: readonly LayerNode[], region: Region, scene: Scene, out: Uint16Array): void {
  scoped(() => {
    const lit = zeroedTile(out.length);
    composeNodes(nodes, region, scene, lit);
    for (let i = 0; i < out.length; i += 4) {
      const a = lit[i];
      for (let c = i; c < i + 3; c++) out[c] = Math.min(out[c], a);
      out[i + 3] = a;
    }
  });
}

/** Parts, mask and opacity. */
function limit(layer: Layer, out: Uint16Array, region: Region, scene: Scene): void {
  if (layer.parts.length > 0) keepsTo(layer.parts, region, scene, (from, to) => out.fill(0, from * 4, to * 4), true);
  const { mask } = layer;
  if (mask && !mask.off) scoped(() => fadeEach(out, maskShares(layer, mask, region, scene, coverage(scene))));
  fadeAll(out, Math.round(layer.opacity * 655.35));
}

/** Shares of 65535 with which a layer that has no picture of its own acts. In the arena. */
function sharesOf(layer: Layer, region: Region, scene: Scene): Uint16Array {
  const { mask } = layer;
  const shares =
    mask && !mask.off
      ? maskShares(layer, mask, region, scene, coverage(scene))
      : newTile(region.width * region.height).fill(ONE);
  if (layer.parts.length > 0) keepsTo(layer.parts, region, scene, (from, to) => shares.fill(0, from, to), true);
  const share = Math.round(layer.opacity * 655.35);
  if (share < ONE) for (let i = 0; i < shares.length; i++) shares[i] = mul16(shares[i], share);
  return shares;
}

/** Layers whose coverage is being asked for: a mask that comes back to its own layer shows everything. */
const asking = new Set<string>();
const coverage = (scene: Scene) => (layer: Layer, region: Region) => {
  const out = zeroedTile(region.width * region.height);
  if (asking.has(layer.id)) return out.fill(ONE);
  asking.add(layer.id);
  try {
    scoped(() => {
      const node = findNode(treeOf(scene.layers), layer.id)!;
      const drawn = drawNode({ ...node, layer: { ...layer, hidden: false } }, region, scene);
      for (let i = 0; i < out.length; i++) out[i] = drawn[i * 4 + 3];
    });
  } finally {
    asking.delete(layer.id);
  }
  return out;
};

/** On a map of directions: where something was put on only partly, their mixture is brought back to length one. */
function normaliseSoft(out: Uint16Array, own: Uint16Array): void {
  for (let i = 3; i < own.length; i += 4) if (own[i] > 0 && own[i] < ONE) normaliseAt(out, i - 3);
}

/** Mixes what was there with what became of it: `out` holds the latter. */
function mixBack(out: Uint16Array, before: Uint16Array, shares: Uint16Array): void {
  for (let i = 0, o = 0; o < out.length; i++) {
    const share = shares[i];
    if (share === ONE) {
      o += 4;
      continue;
    }
    const rest = ONE - share;
    for (let c = 0; c < 4; c++, o++) out[o] = Math.min(ONE, mul16(out[o], share) + mul16(before[o], rest));
  }
}

/** An adjustment: its filters on what is there, but for those that would have to look beyond the region. */
function adjust(layer: Layer, out: Uint16Array, region: Region, scene: Scene): void {
  scoped(() => {
    const before = copied(out);
    filter({ ...layer, filters: layer.filters?.filter(looksAtOne) }, out, region, scene);
    if (layer.channels) keepChannels(layer.channels, out, before);
    mixBack(out, before, sharesOf(layer, region, scene));
  });
}

/** Puts the channels back that a layer must not change; alpha stays, or takes the grey of what was put over it. */
function keepChannels(channels: NonNullable<Layer['channels']>, out: Uint16Array, before: Uint16Array): void {
  const [red, green, blue] = (['red', 'green', 'blue'] as const).map((name) => channels.includes(name));
  for (let i = 0; i < out.length; i += 4) {
    const a = out[i + 3];
    const was = before[i + 3];
    const back = (c: number) => (was === 0 ? 0 : Math.min(a, Math.round((before[c] / was) * a)));
    if (!red) out[i] = back(i);
    if (!green) out[i + 1] = back(i + 1);
    if (!blue) out[i + 2] = back(i + 2);
  }
}

/** Alpha as a value of its own: it moves to the grey of `drawn` by that one's coverage; colour stays. */
function writeAlpha(out: Uint16Array, drawn: Uint16Array): void {
  for (let i = 0; i < out.length; i += 4) {
    const share = drawn[i + 3];
    if (share === 0) continue;
    const was = out[i + 3];
    const grey = Math.round((drawn[i] + drawn[i + 1] + drawn[i + 2]) / 3);
    const a = Math.min(ONE, grey + mul16(was, ONE - share));
    for (let c = i; c < i + 3; c++) out[c] = was === 0 ? 0 : Math.min(a, Math.round((out[c] / was) * a));
    out[i + 3] = a;
  }
}

/** The one texel that a node puts on the whole of a region by source-over; null when it is not as simple as that. */
export function uniformOf({ layer, clipped, wears, glow }: LayerNode, region: Region, scene: Scene): Texel | null {
  if (
    !isDrawn(layer) ||
    glow ||
    wears?.texel === 'own' ||
    wears?.light ||
    !isPlain(layer) ||
    clipped.length > 0 ||
    layer.filters ||
    scene.sources.holds(scene.sheet, scene.map) === 'normal'
  )
    return null;
  if (layer.parts.length > 0 || (layer.mask && !layer.mask.off)) return null;
  const texel = uniformIn(layer, region, scene.env);
  if (!texel) return null;
  const share = Math.round(layer.opacity * 655.35);
  if (wears) return wornTexel(wears, mul16(texel[3], share));
  return [mul16(texel[0], share), mul16(texel[1], share), mul16(texel[2], share), mul16(texel[3], share)];
}

/**
 * Puts one node on what `out` holds.
 * @param drawn the node's picture, if it is there already; see drawNode
 */
export function putNode(
  node: LayerNode,
  region: Region,
  scene: Scene,
  out: Uint16Array,
  hooks?: Hooks,
  drawn?: Uint16Array,
): void {
  const { layer } = node;
  if (layer.kind === 'adjust') return adjust(layer, out, region, scene);
  const even = uniformOf(node, region, scene);
  if (even) return overAll(out, even);
  if (!hasPicture(node)) {
    scoped(() => {
      const whole = layer.opacity === 100 && layer.parts.length === 0 && (!layer.mask || layer.mask.off);
      const before = whole ? null : copied(out);
      if (hooks) hooks.compose(node, region, scene, out, false);
      else composeNodes(node.inside, region, scene, out);
      if (before) mixBack(out, before, wornShares(sharesOf(layer, region, scene), node.wears));
    });
    return;
  }
  scoped(() => {
    const own = drawn ?? drawNode(node, region, scene, hooks);
    const { channels } = layer;
    if (!channels) {
      blendOver(out, own, layer.blend);
      if (scene.sources.holds(scene.sheet, scene.map) === 'normal') normaliseSoft(out, own);
      return;
    }
    const before = copied(out);
    if (channels.some((name) => name !== 'alpha')) {
      blendOver(out, own, layer.blend, true);
      keepChannels(channels, out, before);
    }
    if (channels.includes('alpha')) writeAlpha(out, own);
  });
}

/** Puts nodes on what `out` holds, first on first. */
export function composeNodes(nodes: readonly LayerNode[], region: Region, scene: Scene, out: Uint16Array): void {
  for (const node of nodes) if (touches(node, region, scene)) putNode(node, region, scene, out);
}

/**
 * The composite of one map of one sheet over a region.
 * @returns 16-bit premultiplied RGBA, `region.width * region.height * 4` values; round it with toStraight8
 */
export function renderRegion(
  livery: Livery,
  sheet: string,
  map: string,
  region: Region,
  sources: Sources,
): Uint16Array {
  return scoped(() => inArena(livery, sheet, map, region, sources).slice());
}

function inArena(livery: Livery, sheet: string, map: string, region: Region, sources: Sources): Uint16Array {
  const scene = sceneOf(livery, sheet, map, sources);
  const out = zeroedTile(region.width * region.height * 4);
  composeNodes(scene.nodes, region, scene, out);
  return out;
}

/** The texels of a region as they are shown and delivered. */
export function renderFinished(
  livery: Livery,
  sheet: string,
  map: string,
  region: Region,
  sources: Sources,
): Uint8Array {
  return scoped(() => finished(inArena(livery, sheet, map, region, sources), sheet, map, region, sources));
}

/**
 * The texels of a region as they are shown and delivered: straight RGBA8, rounded once, with the sheet's parameter boxes in their pixels.
 * @param picture what renderRegion or the tile cache gave for it
 */
export function finished(
  picture: Uint16Array,
  sheet: string,
  map: string,
  region: Region,
  sources: Sources,
): Uint8Array {
  const { width, height, x, y, step } = region;
  // What is kept lies outside the kernels' memory.
  const out = scoped(() => toStraight8(taken(picture), width, height, x / step, y / step));
  if (map === MAIN_MAP) stampBoxes(out, region, sources.boxes(sheet));
  return out;
}

/**
 * One layer's own picture over a region, hidden or not: 16-bit premultiplied RGBA. Null when it does not reach there.
 * @param how `as it is`; `full`: at full opacity; `bare`: without mask and parts as well
 */
export function drawAlone(
  scene: Scene,
  id: string,
  region: Region,
  how: 'as it is' | 'full' | 'bare',
): Uint16Array | null {
  const found = findNode(treeOf(scene.layers), id);
  if (!found) return null;
  const { opacity } = found.layer;
  const layer = {
    ...found.layer,
    hidden: false,
    finishOnly: undefined,
    opacity: how === 'as it is' ? opacity : 100,
    ...(how === 'bare' && { parts: [], mask: undefined }),
  };
  const node = { ...found, layer };
  return touches(node, region, scene) ? scoped(() => drawNode(node, region, scene).slice()) : null;
}

/** What a layer's mask lets through over a region, shares of 65535; null when it has none. */
export function maskAlone(scene: Scene, id: string, region: Region): Uint16Array | null {
  const layer = scene.layers.find((one) => one.id === id);
  if (!layer?.mask) return null;
  return scoped(() => maskShares(layer, layer.mask!, region, scene, coverage(scene)).slice());
}

/** The topmost layer that shows at a texel: alpha of at least a twentieth. A layer in a group is named itself. */
export function layerAt(
  livery: Livery,
  sheet: string,
  map: string,
  x: number,
  y: number,
  sources: Sources,
): Layer | null {
  const scene = sceneOf(livery, sheet, map, sources);
  const region: Region = { x: Math.floor(x), y: Math.floor(y), width: 1, height: 1, step: 1 };
  const topmost = (nodes: readonly LayerNode[]): Layer | null => {
    for (const node of nodes.toReversed()) {
      if (node.layer.kind === 'adjust' || !touches(node, region, scene)) continue;
      if (!scoped(() => drawNode(node, region, scene)[3] > 3276)) continue;
      return topmost(node.clipped) ?? topmost(node.inside) ?? node.layer;
    }
    return null;
  };
  return topmost(treeOf(scene.layers));
}

/** A layered file's art as layers that lie texel for texel on a sheet, and its guides as pictures. */
import type { BlendMode } from '../livery/layer.ts';
import { cropImage, newImage, type Image8 } from '../raster/image.ts';
import { isChoice } from './alternatives.ts';
import { compositeNodes } from './composite.ts';
import { toStraight8 } from '../raster/tile16.ts';
import type { LayeredNode } from './layered.ts';

export interface FlatLayer {
  readonly name: string;
  /** What the file calls it by; see LayeredLayer. */
  readonly id: string | null;
  readonly image: Image8;
  readonly left: number;
  readonly top: number;
  readonly hidden: boolean;
  /** 0..1. */
  readonly opacity: number;
  readonly blend: BlendMode;
  /** Several layers of the file that had to become one. */
  readonly merged: boolean;
  /** The group of alternatives that it is in, and which of them it belongs to. */
  readonly oneOf?: { readonly of: string; readonly is: string };
}

/**
 * Layers, first on first, that look together as the chosen nodes do. A group that only holds its layers together is opened; one that is
 * mixed, faded or masked as a whole, and layers clipped to one another, become one picture. Masks become alpha.
 * @param wanted which layers are meant; groups follow their layers
 */
export function layersOf(
  nodes: readonly LayeredNode[],
  size: { width: number; height: number },
  wanted: (node: LayeredNode) => boolean,
): FlatLayer[] {
  const out: FlatLayer[] = [];
  for (let i = 0; i < nodes.length; i++) {
    const base = nodes[i];
    const stack = [base];
    while (i + 1 < nodes.length && nodes[i + 1].clipped) stack.push(nodes[++i]);
    const plain =
      base.kind === 'group' &&
      stack.length === 1 &&
      base.opacity === 1 &&
      !base.mask &&
      (base.passThrough || (base.blend === 'normal' && allNormal(base.nodes)));
    if (base.kind === 'group' && plain) {
      const inside = isChoice(base)
        ? base.nodes.flatMap((node, k) => {
            const oneOf = { of: base.name || 'Choice', is: node.name || `Option ${k + 1}` };
            // A group inside that is hidden hides its layers; the choice shows them again.
            return layersOf([node], size, wanted).map((layer) => ({ ...layer, oneOf }));
          })
        : layersOf(base.nodes, size, wanted);
      out.push(...(base.hidden ? inside.map((layer) => ({ ...layer, hidden: true })) : inside));
      continue;
    }
    const kept = stack.map((node) => only(node, wanted)).filter((node) => node !== null);
    if (kept.length === 0) continue;
    // Drawn alone and at full strength; how it mixes with what is below is the layer's own setting.
    const [first, ...over] = kept;
    const picture = pictureOf([{ ...first, hidden: false, opacity: 1, blend: 'normal' }, ...over], size);
    if (!picture) continue;
    out.push({
      ...picture,
      name: base.name || 'Layer',
      id: base.id,
      hidden: base.hidden,
      opacity: base.opacity,
      blend: base.blend,
      merged: kept.length > 1 || base.kind === 'group',
    });
  }
  return out;
}

const allNormal = (nodes: readonly LayeredNode[]): boolean =>
  nodes.every((node) => node.blend === 'normal' && (node.kind === 'layer' || allNormal(node.nodes)));

/** The node with only the wanted layers in it; null when none is. */
function only(node: LayeredNode, wanted: (node: LayeredNode) => boolean): LayeredNode | null {
  if (node.kind === 'layer') return wanted(node) ? node : null;
  const nodes = node.nodes.map((child) => only(child, wanted)).filter((child) => child !== null);
  return nodes.length > 0 ? { ...node, nodes } : null;
}

/** The nodes composited, cut to what is not clear; null when nothing is left. */
function pictureOf(nodes: readonly LayeredNode[], size: { width: number; height: number }) {
  const box = boxOf(nodes);
  const left = Math.max(0, box.left);
  const top = Math.max(0, box.top);
  const width = Math.min(size.width, box.right) - left;
  const height = Math.min(size.height, box.bottom) - top;
  if (width <= 0 || height <= 0) return null;
  const [node] = nodes;
  // A layer without a mask is its own picture; going through premultiplied values would lose colour under clear texels.
  if (nodes.length === 1 && node.kind === 'layer' && !node.mask && node.image)
    return { image: cropImage(node.image, left - node.x, top - node.y, width, height), left, top };
  const image = newImage(width, height);
  const rows = 64;
  for (let y = 0; y < height; y += rows) {
    const count = Math.min(rows, height - y);
    const out = new Uint16Array(width * count * 4);
    compositeNodes(nodes, { x: left, y: top + y, width, height: count }, out);
    image.data.set(toStraight8(out, width, count, left, top + y), y * width * 4);
  }
  return { image, left, top };
}

function boxOf(nodes: readonly LayeredNode[]) {
  const box = { left: Infinity, top: Infinity, right: -Infinity, bottom: -Infinity };
  const grow = (node: LayeredNode): void => {
    if (node.kind === 'group') return node.nodes.forEach(grow);
    if (!node.image) return;
    box.left = Math.min(box.left, node.x);
    box.top = Math.min(box.top, node.y);
    box.right = Math.max(box.right, node.x + node.image.width);
    box.bottom = Math.max(box.bottom, node.y + node.image.height);
  };
  nodes.forEach(grow);
  return box;
}

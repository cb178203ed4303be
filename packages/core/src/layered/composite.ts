/**
 * The picture that a layered file makes. Groups and clipping follow W3C Compositing and Blending Level 1 (isolated groups, source-atop)
 * and the knockout-free transparency groups of ISO 32000-1, 11.4, on the renderer's own 16-bit premultiplied intermediate.
 */
import { blendOver } from '../raster/blend.ts';
import { newImage, TILE, type Image8 } from '../raster/image.ts';
import { mul16 } from '../raster/mul16.ts';
import { ONE, toStraight8 } from '../raster/tile16.ts';
import type { LayeredFile, LayeredLayer, LayeredMask, LayeredNode } from './layered.ts';

interface Rect {
  x: number;
  y: number;
  width: number;
  height: number;
}

/**
 * Composites the whole canvas tile by tile, straight RGBA8.
 * @param each called after each row of tiles with the share that is done, 0..1; an error that it throws ends the work
 */
export function compositeLayered(
  file: Pick<LayeredFile, 'width' | 'height' | 'nodes'>,
  each?: (done: number) => void,
): Image8 {
  const image = newImage(file.width, file.height);
  compositeInto(image, file.nodes, { index: 0, of: 1 }, each);
  return image;
}

/** Composites every `of`-th row of tiles from the `index`-th on into an image of the canvas's size: threads share the work. */
export function compositeInto(
  image: Image8,
  nodes: readonly LayeredNode[],
  { index, of }: { index: number; of: number },
  each?: (done: number) => void,
): void {
  const file = { width: image.width, height: image.height, nodes };
  for (let y = index * TILE; y < file.height; y += TILE * of) {
    for (let x = 0; x < file.width; x += TILE) {
      const rect = { x, y, width: Math.min(TILE, file.width - x), height: Math.min(TILE, file.height - y) };
      const out = new Uint16Array(rect.width * rect.height * 4);
      compositeNodes(file.nodes, rect, out);
      const tile = toStraight8(out, rect.width, rect.height, x, y);
      for (let row = 0; row < rect.height; row++)
        image.data.set(
          tile.subarray(row * rect.width * 4, (row + 1) * rect.width * 4),
          ((y + row) * file.width + x) * 4,
        );
    }
    each?.(Math.min(1, (y + TILE) / file.height));
  }
}

/** Composites nodes, first on first, over what `out` holds. */
export function compositeNodes(nodes: readonly LayeredNode[], rect: Rect, out: Uint16Array): void {
  for (let i = 0; i < nodes.length; i++) {
    const base = nodes[i];
    let clippedTo = i;
    while (clippedTo + 1 < nodes.length && nodes[clippedTo + 1].clipped) clippedTo++;
    const clipped = nodes.slice(i + 1, clippedTo + 1).filter((node) => !node.hidden);
    i = clippedTo;
    if (base.hidden || base.opacity === 0) continue;
    if (base.kind === 'group' && base.passThrough && clipped.length === 0) {
      passThrough(base, rect, out);
      continue;
    }
    if (base.kind === 'layer' && clipped.length === 0 && base.blend === 'normal' && !masked(base)) {
      pixelsOver(base, rect, out);
      continue;
    }
    const own = contentOf(base, rect);
    if (!own) continue;
    for (const node of clipped) {
      const over = contentOf(node, rect);
      if (over) blendOver(own, faded(over, node, rect), node.blend, true);
    }
    blendOver(out, faded(own, base, rect), base.blend);
  }
}

/** What a node paints before its own opacity and mask; null when it does not reach the rectangle. */
function contentOf(node: LayeredNode, rect: Rect): Uint16Array | null {
  if (node.kind === 'layer') return pixelsOf(node, rect);
  const out = new Uint16Array(rect.width * rect.height * 4);
  compositeNodes(node.nodes, rect, out);
  return out;
}

/** A pass-through group: its layers go straight on to what is below; opacity and mask mix the outcome with what was there. */
function passThrough(group: Extract<LayeredNode, { kind: 'group' }>, rect: Rect, out: Uint16Array): void {
  const share = shareOf(group, rect);
  if (!share) {
    compositeNodes(group.nodes, rect, out);
    return;
  }
  const before = out.slice();
  compositeNodes(group.nodes, rect, out);
  for (let i = 0; i < out.length; i++) {
    const s = share[i >> 2];
    out[i] = Math.floor((out[i] * s + before[i] * (ONE - s) + 32767) / ONE);
  }
}

/** Premultiplied 16-bit value of an 8-bit colour times an 8-bit alpha, by their product. */
const PREMULTIPLIED = Uint16Array.from({ length: 255 * 255 + 1 }, (_, p) => ((p * 257 + 127) / 255) | 0);

/** Where a layer's picture and the rectangle meet; null: nowhere. */
function meet({ image, x, y }: LayeredLayer, rect: Rect) {
  if (!image) return null;
  const left = Math.max(rect.x, x);
  const right = Math.min(rect.x + rect.width, x + image.width);
  const top = Math.max(rect.y, y);
  const bottom = Math.min(rect.y + rect.height, y + image.height);
  return left >= right || top >= bottom ? null : { image, left, right, top, bottom };
}

/** A layer's pixels within the rectangle, 16-bit premultiplied; null when it has none there. */
function pixelsOf(layer: LayeredLayer, rect: Rect): Uint16Array | null {
  const at = meet(layer, rect);
  if (!at) return null;
  const { data, width } = at.image;
  const out = new Uint16Array(rect.width * rect.height * 4);
  for (let row = at.top; row < at.bottom; row++) {
    let from = ((row - layer.y) * width + at.left - layer.x) * 4;
    let to = ((row - rect.y) * rect.width + at.left - rect.x) * 4;
    for (let column = at.left; column < at.right; column++, from += 4, to += 4) {
      const a = data[from + 3];
      out[to] = PREMULTIPLIED[data[from] * a];
      out[to + 1] = PREMULTIPLIED[data[from + 1] * a];
      out[to + 2] = PREMULTIPLIED[data[from + 2] * a];
      out[to + 3] = a * 257;
    }
  }
  return out;
}

/** The most frequent case in one go: an unmasked layer in mode normal straight over what is there; the same to the bit as step by step. */
function pixelsOver(layer: LayeredLayer, rect: Rect, out: Uint16Array): void {
  const at = meet(layer, rect);
  if (!at) return;
  const { data, width } = at.image;
  const share = Math.round(layer.opacity * ONE);
  for (let row = at.top; row < at.bottom; row++) {
    let from = ((row - layer.y) * width + at.left - layer.x) * 4;
    let to = ((row - rect.y) * rect.width + at.left - rect.x) * 4;
    for (let column = at.left; column < at.right; column++, from += 4, to += 4) {
      const a8 = data[from + 3];
      if (a8 === 0) continue;
      let r = PREMULTIPLIED[data[from] * a8];
      let g = PREMULTIPLIED[data[from + 1] * a8];
      let b = PREMULTIPLIED[data[from + 2] * a8];
      let a = a8 * 257;
      if (share < ONE) {
        r = mul16(r, share);
        g = mul16(g, share);
        b = mul16(b, share);
        a = mul16(a, share);
      }
      const rest = ONE - a;
      if (rest > 0) {
        r += mul16(out[to], rest);
        g += mul16(out[to + 1], rest);
        b += mul16(out[to + 2], rest);
        a += mul16(out[to + 3], rest);
      }
      out[to] = r;
      out[to + 1] = g;
      out[to + 2] = b;
      out[to + 3] = a;
    }
  }
}

const masked = ({ mask }: Pick<LayeredNode, 'mask'>) => mask !== null && !mask.disabled && mask.density > 0;

/** Opacity times mask for each texel, 0..65535; null when both are whole. */
function shareOf({ opacity, mask }: Pick<LayeredNode, 'opacity' | 'mask'>, rect: Rect): Uint16Array | null {
  const used = masked({ mask }) ? mask : null;
  if (opacity >= 1 && !used) return null;
  const out = new Uint16Array(rect.width * rect.height).fill(Math.round(opacity * ONE));
  if (used) {
    for (let y = 0, i = 0; y < rect.height; y++) {
      for (let x = 0; x < rect.width; x++, i++) {
        const value = 255 - (255 - maskAt(used, rect.x + x, rect.y + y)) * used.density;
        out[i] = Math.round((out[i] * value) / 255);
      }
    }
  }
  return out;
}

function maskAt(mask: LayeredMask, x: number, y: number): number {
  const column = x - mask.x;
  const row = y - mask.y;
  return column < 0 || row < 0 || column >= mask.width || row >= mask.height
    ? mask.outside
    : mask.data[row * mask.width + column];
}

function faded(pixels: Uint16Array, node: LayeredNode, rect: Rect): Uint16Array {
  if (!masked(node)) {
    const s = Math.round(node.opacity * ONE);
    if (s < ONE) for (let i = 0; i < pixels.length; i++) pixels[i] = mul16(pixels[i], s);
    return pixels;
  }
  const share = shareOf(node, rect)!;
  for (let i = 0; i < pixels.length; i++) pixels[i] = mul16(pixels[i], share[i >> 2]);
  return pixels;
}

/**
 * Over a file of the game's own: which texels somebody painted, and a picture that has the file's own four values everywhere else. A texel
 * counts as painted when it shows something else than the original alone would.
 */
import { renderFinished, touches, type Sources } from '../compose/renderTile.ts';
import { marginIn, sceneOf } from '../compose/scene.ts';
import type { Region } from '../layers/kind.ts';
import type { Sha256 } from '../livery/ids.ts';
import type { Layer } from '../livery/layer.ts';
import { layersOf, withLayers, type Livery } from '../livery/livery.ts';
import { originalLayer } from '../livery/originalLayer.ts';
import { carriesAlpha, type SpecFile } from '../livery/spec.ts';
import { TILE, wordsOf, type Image8 } from '../raster/image.ts';
import type { Changed } from '../texture/over/changed.ts';
import { stampBoxes } from '../livery/boxes.ts';
import { MAIN_MAP, type ParameterBox } from '../livery/template.ts';
import { eachGutterTexel, type Islands } from '../texture/padding.ts';
import { flattenAt, straightenAt } from './preparedSheet.ts';

/** Where and what is looked at. */
export interface OverPlace {
  livery: Livery;
  sheet: string;
  map: string;
  size: { width: number; height: number };
  /** Stored pixels of the original, as the layer that shows it has them. */
  pixels: Sha256;
}

/** Whether a layer is the original as it came: all of it, in its place, changed by nothing. */
export const isPristine = (layer: Layer, { pixels, size }: Pick<OverPlace, 'pixels' | 'size'>): boolean =>
  layer.kind === 'picture' &&
  layer.blob === pixels &&
  layer.left === 0 &&
  layer.top === 0 &&
  layer.width === size.width &&
  layer.height === size.height &&
  layer.opacity === 100 &&
  layer.blend === 'normal' &&
  layer.parts.length === 0 &&
  !layer.channels &&
  !layer.filters?.length &&
  !layer.group &&
  !layer.clipped &&
  (!layer.mask || !!layer.mask.off);

/** Whether a tile of a map can be told from that tile of the original alone: no layer looks beyond it. */
export const looksBeyond = (livery: Livery, sheet: string, map: string): boolean =>
  layersOf(livery, sheet, map).some(
    (layer) =>
      marginIn(layer, { x: 0, y: 0, width: TILE, height: TILE, step: 1 }) > 0 ||
      (layer.mask && (layer.mask.feather > 0 || layer.mask.linked !== null)),
  );

/** Whether a region of a map shows the original and nothing else. */
export function isUntouched(
  { livery, sheet, map, size, pixels }: OverPlace,
  region: Region,
  sources: Sources,
): boolean {
  const scene = sceneOf(livery, sheet, map, sources);
  const nodes = scene.nodes.filter((node) => touches(node, region, scene));
  const alone = nodes.length === 1 && nodes[0].clipped.length === 0 && isPristine(nodes[0].layer, { pixels, size });
  const boxed = map === MAIN_MAP && sources.boxes(sheet).length > 0;
  return alone && !boxed;
}

/**
 * Draws a region, and puts the original's values where nothing else shows.
 * @param original rows `region.y` to its end of the original, straight RGBA8 of the sheet's width: what the file itself holds
 * @param into,changed of the whole sheet; the region's texels are set
 */
export function putOverRegion(
  { livery, sheet, map, size, pixels }: OverPlace,
  region: Region,
  sources: Sources,
  original: Image8,
  into: Uint8Array,
  changed: Uint8Array,
): void {
  const bare = withLayers(livery, sheet, map, [originalLayer(pixels, size)]);
  const shown = wordsOf(renderFinished(livery, sheet, map, region, sources));
  // The original alone: no boxes, and nothing that follows from finishes.
  const alone = { ...sources, boxes: () => [], derives: () => null };
  const plain = wordsOf(renderFinished(bare, sheet, map, region, alone));
  const own = wordsOf(original.data);
  const out = wordsOf(into);
  for (let line = 0; line < region.height; line++) {
    const at = (region.y + line) * size.width + region.x;
    for (let x = 0, i = line * region.width; x < region.width; x++, i++) {
      const painted = shown[i] !== plain[i];
      out[at + x] = painted ? shown[i] : own[line * size.width + region.x + x];
      if (painted) changed[at + x] = 1;
    }
  }
}

/**
 * Brings what was painted to what the file may hold, in place: normals of length one, edges carried on where the spec asks for it, no
 * alpha where the file has none. Texels that nobody painted are left alone, but for edges.
 * @param islands of the sheet; null: it has none, or its edges are not carried on
 */
export function finishPainted(
  image: Image8,
  changed: Changed,
  spec: SpecFile,
  islands: Islands | null,
  ground: string,
  boxes: readonly ParameterBox[] = [],
): void {
  if (spec.colourSpace === 'normal') straightenAt(image.data, changed.data);
  if (islands) padPainted(image, changed, islands, spec.padding);
  if (!carriesAlpha(spec)) flattenAt(image, ground, changed.data);
  if (spec.map !== MAIN_MAP || boxes.length === 0) return;
  // A setting's four values go as they are, also where the rest is delivered opaque.
  const { width, height } = image;
  const set = { ...image, data: image.data.slice() };
  stampBoxes(set.data, { x: 0, y: 0, width, height, step: 1 }, boxes);
  for (let i = 0; i < changed.data.length; i++)
    if (changed.data[i]) image.data.set(set.data.subarray(i * 4, i * 4 + 4), i * 4);
}

/** Fills texels outside every island that lie beside painted ones: colour, never alpha. They count as changed then. */
function padPainted(image: Image8, changed: Changed, islands: Islands, distance: number): void {
  const filled: number[] = [];
  eachGutterTexel(islands, distance, (i, from) => {
    if (changed.data[i] || !changed.data[from]) return;
    image.data.copyWithin(i * 4, from * 4, from * 4 + 3);
    filled.push(i);
  });
  for (const i of filled) changed.data[i] = 1;
}

/** A mask turned as the picture is. */
export function turnedChanged(
  { width, height, data }: Changed,
  flip: boolean,
  mirror: 'none' | 'across' | 'down',
): Changed {
  const down = flip !== (mirror === 'down');
  if (!down && mirror !== 'across') return { width, height, data };
  const out = new Uint8Array(data.length);
  for (let y = 0; y < height; y++) {
    const row = data.subarray(y * width, (y + 1) * width);
    const at = (down ? height - 1 - y : y) * width;
    if (mirror !== 'across') out.set(row, at);
    else for (let x = 0; x < width; x++) out[at + width - 1 - x] = row[x];
  }
  return { width, height, data: out };
}

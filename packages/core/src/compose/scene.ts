/** Everything that one map of one sheet is drawn from. */
import { isDrawn, reaches } from '../layers/index.ts';
import { derivedNodes, nodesOf } from '../finish/derived.ts';
import type { Derives } from '../finish/derives.ts';
import type { Box, LayerEnv, Region } from '../layers/kind.ts';
import { looksAtOne, marginOf } from '../filters/index.ts';
import { isUnseen, type Layer } from '../livery/layer.ts';
import { colourOf, layersOf, type Livery } from '../livery/livery.ts';
import type { FieldKey } from '../livery/fields.ts';
import { MAIN_MAP, type MapHolds, type ParameterBox } from '../livery/template.ts';
import type { LayerNode } from '../livery/tree.ts';
import type { SheetSurface } from '../surface/surface.ts';

/** Everything outside the document that drawing needs, decoded beforehand. */
export interface Sources extends Pick<LayerEnv, 'picture' | 'image' | 'font' | 'stroke'> {
  /** @param step texels to a sample; left out: 1 */
  surface(sheet: string, step?: number): SheetSurface;
  /** What is known of the model at the samples of a sheet: the corners' values, and the surface whose corners they are. */
  field(name: FieldKey, sheet: string, step: number): { surface: SheetSurface; corners: Float32Array };
  /** Box of some parts with their gutter, and of cells; see boxOfPlaces. */
  placesBox(sheet: string, parts: readonly string[]): Box;
  /** What a map holds: directions are kept at length one. */
  holds(sheet: string, map: string): MapHolds;
  /** What of a map follows from the finishes of the sheet's layers; null: nothing. */
  derives(sheet: string, map: string): Derives | null;
  /** Parameter boxes of a sheet's colour map, with the livery's colours. */
  boxes(sheet: string): readonly ParameterBox[];
}

export interface Scene {
  livery: Livery;
  sheet: string;
  map: string;
  /** What is on the map by hand. */
  layers: readonly Layer[];
  /** What is derived on it; the same list as long as it is the same. */
  derived: readonly LayerNode[];
  /** All that it is composed of. */
  nodes: readonly LayerNode[];
  env: LayerEnv;
  sources: Sources;
}

export function envOf(livery: Livery, sources: Sources, sheet: string): LayerEnv {
  return {
    colour: (paint) => colourOf(livery, paint),
    particulars: livery.particulars,
    picture: sources.picture,
    image: sources.image,
    font: sources.font,
    stroke: sources.stroke,
    surface: (step) => sources.surface(sheet, step),
    field: (name, step) => sources.field(name, sheet, step),
  };
}

export function sceneOf(livery: Livery, sheet: string, map: string, sources: Sources): Scene {
  const derives = sources.derives(sheet, map);
  return {
    ...{ livery, sheet, map, layers: layersOf(livery, sheet, map), env: envOf(livery, sources, sheet), sources },
    derived: derivedNodes(livery, sheet, map, derives),
    nodes: nodesOf(livery, sheet, map, derives),
  };
}

/** A region with so many samples more on each side. */
export const expanded = (region: Region, margin: number): Region => ({
  x: region.x - margin * region.step,
  y: region.y - margin * region.step,
  width: region.width + 2 * margin,
  height: region.height + 2 * margin,
  step: region.step,
});

/** How many samples beyond a region a layer's filters look. */
export const marginIn = ({ filters }: Layer, { step }: Region): number =>
  filters ? Math.ceil(marginOf(filters) / step) : 0;

/** What a layer's filters look at for a region: the region itself when they look at each texel alone. */
export function seenBy(layer: Layer, region: Region): Region {
  const margin = marginIn(layer, region);
  return margin > 0 ? expanded(region, margin) : region;
}

const boxOfRegion = (region: Region): Box => ({
  left: region.x,
  top: region.y,
  right: region.x + region.width * region.step,
  bottom: region.y + region.height * region.step,
});

const meet = (a: Box, b: Box) => a.left < b.right && a.right > b.left && a.top < b.bottom && a.bottom > b.top;

/** Whether a layer, with what it holds, can change any texel of a region. */
export function touches({ layer, inside, shares }: LayerNode, region: Region, scene: Scene): boolean {
  if (isUnseen(layer)) return false;
  if (layer.parts.length > 0 && !meet(scene.sources.placesBox(scene.sheet, layer.parts), boxOfRegion(region)))
    return false;
  const near = seenBy(layer, region);
  // Of what is light and dark only light is put on.
  if (shares) return touchesLit(shares, near, scene);
  if (layer.kind === 'group') return inside.some((node) => touches(node, near, scene));
  if (layer.kind === 'adjust') return (layer.filters ?? []).some(looksAtOne);
  return isDrawn(layer) && reaches(layer, near, scene.env);
}

/** Whether anything of some nodes that is lit can be seen in a region. */
export const touchesLit = (nodes: readonly LayerNode[], region: Region, scene: Scene): boolean =>
  nodes.some(
    (node) =>
      touches(node, region, scene) &&
      (node.wears?.lit || touchesLit(node.inside, region, scene) || touchesLit(node.clipped, region, scene)),
  );

/** Calls for each run of samples of a region, from one to before another, that lies on some parts or cells, or, with `outside`, on none of them. */
export function keepsTo(
  places: readonly string[],
  region: Region,
  { sources, sheet }: Scene,
  each: (from: number, to: number) => void,
  outside = false,
): void {
  const surface = sources.surface(sheet);
  const kept = new Uint8Array(surface.parts.length + 1);
  surface.parts.forEach((part, i) => (kept[i + 1] = places.includes(part.key) ? 1 : 0));
  const cells = surface.cells.filter(({ key }) => places.includes(key));
  const half = region.step >> 1;
  const clamp = (v: number, size: number) => (v < 0 ? 0 : v >= size ? size - 1 : v);
  const { width } = region;
  const xs = new Int32Array(width);
  for (let x = 0; x < width; x++) xs[x] = clamp(region.x + x * region.step + half, surface.width);
  const inside = new Uint8Array(width);
  const wanted = outside ? 0 : 1;
  for (let y = 0; y < region.height; y++) {
    const sy = clamp(region.y + y * region.step + half, surface.height);
    surface.ownedAlong(sy, xs, kept, inside);
    for (const { left, top, right, bottom } of cells)
      if (sy >= top && sy < bottom) for (let x = 0; x < width; x++) if (xs[x] >= left && xs[x] < right) inside[x] = 1;
    const row = y * width;
    for (let x = 0; x < width;) {
      const from = inside.indexOf(wanted, x);
      if (from < 0) break;
      const end = inside.indexOf(1 - wanted, from);
      x = end < 0 ? width : end;
      each(row + from, row + x);
    }
  }
}

/** The same sheet's other map; the same scene every time. */
export function otherMap(scene: Scene, map: string): Scene {
  const known = others.get(scene);
  if (known?.map === map) return known;
  const made = sceneOf(scene.livery, scene.sheet, map, scene.sources);
  others.set(scene, made);
  return made;
}
const others = new WeakMap<Scene, Scene>();

/** The colours of another sheet; the same scene every time. */
export function otherSheet(scene: Scene, sheet: string): Scene {
  const known = sheets.get(scene) ?? new Map<string, Scene>();
  sheets.set(scene, known);
  const made = known.get(sheet) ?? sceneOf(scene.livery, sheet, MAIN_MAP, scene.sources);
  known.set(sheet, made);
  return made;
}
const sheets = new WeakMap<Scene, Map<string, Scene>>();

import { isDrawn, boundsOf } from '../../layers/index.ts';
import { drawAlone, envOf, renderRegion, sceneOf } from '../../compose/renderTile.ts';
import type { Region } from '../../layers/kind.ts';
import type { Layer } from '../../livery/layer.ts';
import { isFirstOfRun } from '../../livery/across.ts';
import { layersOf, type Livery } from '../../livery/livery.ts';
import { sheetNamed, type Template } from '../../livery/template.ts';
import { islandsOf, type Island } from '../../surface/islands.ts';
import { paintedOf } from '../../projectors/projection.ts';
import { stanceOf } from '../../projectors/place.ts';
import { nearestOn } from '../../surface/cutLine.ts';
import { faceNormal } from '../../surface/edges.ts';
import { grainAt, grainUnder, type MarkSpot } from '../../surface/grain.ts';
import { unit } from '../../surface/vectors.ts';
import type { CheckInput } from '../finding.ts';

/** Checks look at sheets in steps of this many texels. */
const STEP = 4;

/** A template's islands, worked out once. */
const islands = new WeakMap<Template, Island[]>();

export function islandsFor(template: Template): Island[] {
  const known = islands.get(template) ?? islandsOf(template);
  islands.set(template, known);
  return known;
}

/** The samples of a sheet that checks look at: all of it, or where one layer can be. */
export function regionOf(input: CheckInput, sheetKey: string, layer?: Layer, step = STEP): Region {
  const sheet = sheetNamed(input.template, sheetKey);
  const box = layer && isDrawn(layer) ? boundsOf(layer, envOf(input.livery, input.sources, sheetKey)) : null;
  const low = (at: number) => Math.max(0, Math.floor(at / step));
  const [left, top] = box ? [low(box.left), low(box.top)] : [0, 0];
  const high = (at: number, side: number) => Math.ceil(Math.min(at, side) / step);
  const right = high(box?.right ?? sheet.width, sheet.width);
  const bottom = high(box?.bottom ?? sheet.height, sheet.height);
  const [width, height] = [Math.max(0, right - left), Math.max(0, bottom - top)];
  return { x: left * step, y: top * step, width, height, step };
}

/** Whether a texel's middle lies on an island, or within the picture of a plate. */
function insideOf({ livery, template, sources }: CheckInput, sheetKey: string): (x: number, y: number) => boolean {
  if (sheetNamed(template, sheetKey).plates) {
    const pictures = (livery.plates ?? []).filter(({ sheet }) => sheet === sheetKey);
    return (x, y) =>
      pictures.some(({ left, top, width, height }) => x >= left && x < left + width && y >= top && y < top + height);
  }
  const surface = sources.surface(sheetKey);
  return (x, y) => surface.insideAt(Math.min(surface.width - 1, x), Math.min(surface.height - 1, y));
}

/** Visits the samples that lie on an island, or off all of them. */
function eachSample(
  input: CheckInput,
  sheetKey: string,
  region: Region,
  visit: (i: number, inside: boolean) => void,
): void {
  const inside = insideOf(input, sheetKey);
  const { step } = region;
  for (let y = 0, i = 0; y < region.height; y++)
    for (let x = 0; x < region.width; x++, i++)
      visit(i, inside(region.x + (x + 0.5) * step, region.y + (y + 0.5) * step));
}

/** Shares that are known already: several checks and files ask for one sheet. */
const shares = new WeakMap<CheckInput, Map<string, number>>();

/** Share of the islands' area that the art leaves more or less open, 0..1. */
export function openShare(input: CheckInput, sheetKey: string, map: string): number {
  const known = shares.get(input) ?? new Map<string, number>();
  shares.set(input, known);
  const key = `${sheetKey}/${map}`;
  const share = known.get(key) ?? measureOpen(input, sheetKey, map);
  known.set(key, share);
  return share;
}

function measureOpen(input: CheckInput, sheetKey: string, map: string): number {
  const region = regionOf(input, sheetKey, undefined, 2 * STEP);
  const picture = renderRegion(input.livery, sheetKey, map, region, input.sources);
  let [open, all] = [0, 0];
  eachSample(input, sheetKey, region, (i, inside) => {
    if (!inside) return;
    all++;
    if (picture[i * 4 + 3] < 65000) open++;
  });
  return all > 0 ? open / all : 0;
}

/** A layer of the colour map alone; null when it is hidden or does not reach the region. */
function aloneAt(input: CheckInput, sheetKey: string, layer: Layer, region: Region): Uint16Array | null {
  if (layer.hidden) return null;
  return drawAlone(sceneOf(input.livery, sheetKey, 'colour', input.sources), layer.id, region, 'as it is');
}

/** Where a layer paints: the middle of each sample in texels, its place in the region, and its alpha (0..1). */
export function samplesOf(input: CheckInput, sheetKey: string, layer: Layer, step = STEP) {
  const region = regionOf(input, sheetKey, layer, step);
  const picture = aloneAt(input, sheetKey, layer, region);
  if (!picture) return [];
  const out: { x: number; y: number; index: number; alpha: number }[] = [];
  const sheet = sheetNamed(input.template, sheetKey);
  for (let y = 0, index = 0; y < region.height; y++) {
    for (let x = 0; x < region.width; x++, index++) {
      const alpha = picture[index * 4 + 3] / 65535;
      if (alpha < 0.05) continue;
      const middle = (at: number, side: number) => Math.min(side - 1, at * step + step / 2);
      const [mx, my] = [middle(region.x / step + x, sheet.width), middle(region.y / step + y, sheet.height)];
      out.push({ x: mx, y: my, index, alpha });
    }
  }
  return out;
}

/** Places along a mark's longer side that are looked at where it lies, about. */
const LOOKS = 48;

/** The samples that say where a mark lies: so many along its longer side, however large it is. */
export function fewSamplesOf(input: CheckInput, sheetKey: string, layer: Layer) {
  const { width, height, step } = regionOf(input, sheetKey, layer);
  const coarse = step * 2 ** Math.max(0, Math.round(Math.log2(Math.max(width, height, 1) / LOOKS)));
  return samplesOf(input, sheetKey, layer, coarse);
}

/** Spots of layers that are known already: several checks ask for those of one. */
const spots = new WeakMap<CheckInput, Map<Layer, MarkSpot[]>>();

/** Where on the model a mark lies: of what lies on the model itself, on all sheets that it reaches. */
export function markSpots(input: CheckInput, sheetKey: string, layer: Layer): MarkSpot[] {
  const known = spots.get(input) ?? new Map<Layer, MarkSpot[]>();
  spots.set(input, known);
  const found = known.get(layer) ?? spotsOf(input, sheetKey, layer);
  known.set(layer, found);
  return found;
}

function spotsOf(input: CheckInput, sheetKey: string, layer: Layer): MarkSpot[] {
  const { template, livery } = input;
  const facing = layer.on?.kind === 'flat' ? unit(layer.on.facing) : null;
  const whole = layer.on && layer.across !== undefined ? template.sheets : [sheetNamed(template, sheetKey)];
  return whole.flatMap((sheet) => {
    const own = layersOf(livery, sheet.key).find((one) => one.id === layer.id || one.across === layer.across);
    const here = sheet.key === sheetKey ? layer : own;
    if (!here || sheet.plates) return [];
    const surface = input.sources.surface(sheet.key);
    return fewSamplesOf(input, sheet.key, here).flatMap(({ x, y, alpha }): MarkSpot[] => {
      const rank = surface.rankUnder(x, y);
      if (rank < 0) return [];
      const triangle = surface.laid.triangle[rank];
      const normal = faceNormal(template.mesh, triangle);
      // Lengths along a surface are true wherever it goes: only a flat plane is aslant.
      return normal ? [{ triangle, normal, weight: alpha, facing: layer.on ? (facing ?? normal) : null }] : [];
    });
  });
}

/** Texels to a unit of a layer's own plane, where it lies: 1 on a sheet. */
export function texelsAUnit(input: CheckInput, sheetKey: string, layer: Layer): number {
  if (!layer.on) return 1;
  const { template } = input;
  const under = grainUnder(template, markSpots(input, sheetKey, layer));
  // What is too small to be met by a sample lies in its middle.
  const found = under ? null : nearestOn(template, paintedOf(template, layer.on.not), stanceOf(layer.on, template).at);
  const grain = under ?? (found && grainAt(template, found.triangle));
  return grain ? layer.on.scale / grain.size : 1;
}

/** Whether a layer is told of here: one that lies on the model is one, however many sheets it reaches. */
export const isToldHere = (livery: Livery, layer: Layer): boolean => !layer.on || isFirstOfRun(livery, layer);

/** Share of a layer's paint that lies on an island, 0..1; null when it paints nothing. */
export function shareOnIslands(input: CheckInput, sheetKey: string, layer: Layer): number | null {
  const region = regionOf(input, sheetKey, layer);
  const picture = aloneAt(input, sheetKey, layer, region);
  if (!picture) return layer.hidden ? null : 0;
  let [on, all] = [0, 0];
  eachSample(input, sheetKey, region, (i, inside) => {
    const alpha = picture[i * 4 + 3];
    all += alpha;
    if (inside) on += alpha;
  });
  return all > 0 ? on / all : null;
}

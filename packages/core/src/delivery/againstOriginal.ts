/** A map against the original that it lies over: how much of it somebody painted, and what became of its alpha. */
import { heldIn } from '../held.ts';
import { renderRegion } from '../compose/renderTile.ts';
import { originalKey } from '../livery/template.ts';
import { isPristine, isUntouched, putOverRegion, type OverPlace } from './overOriginal.ts';
import { layersOf, withLayers } from '../livery/livery.ts';
import { TILE, type Image8 } from '../raster/image.ts';
import { findNode, treeOf } from '../livery/tree.ts';
import type { CheckInput } from './finding.ts';
import type { PlannedSheet } from './plan.ts';

/** Shares of a picture, 0..1: alpha 0, between, and 255. */
export interface AlphaShares {
  clear: number;
  soft: number;
  opaque: number;
}

export interface AgainstOriginal {
  /** Share of the texels, and of the 4 x 4 blocks, that change; 0..1. */
  texels: number;
  blocks: number;
  before: AlphaShares;
  after: AlphaShares;
  /** Share of what was not opaque that is more opaque now, 0..1. */
  filled: number;
  /** Only so many of the tiles that somebody touched were looked at: the shares are drawn from them. */
  of: { looked: number; touched: number };
}

/** Tiles that are looked at, of those that something lies on. */
const MOST_TILES = 48;

const known = new WeakMap<CheckInput, Map<string, AgainstOriginal | null>>();

/** @returns null when the file lies over no original, or that one is not at hand at the sheet's size */
export function againstOriginal(input: CheckInput, file: PlannedSheet): AgainstOriginal | null {
  if (!file.original || file.follower !== null) return null;
  const key = `${file.master.key}/${file.spec.map}`;
  const all = known.get(input) ?? new Map<string, AgainstOriginal | null>();
  known.set(input, all);
  if (!all.has(key)) all.set(key, measure(input, file));
  return heldIn(all, key);
}

function measure({ livery, template, sources }: CheckInput, { master, spec }: PlannedSheet): AgainstOriginal | null {
  const pixels = template.originals?.[originalKey(master.key, spec.map)]?.pixels;
  if (!pixels) return null;
  let original: Image8;
  try {
    original = sources.image(pixels);
  } catch {
    return null;
  }
  const { width, height } = master;
  if (original.width !== width || original.height !== height) return null;
  const place: OverPlace = { livery, sheet: master.key, map: spec.map, size: { width, height }, pixels };
  const before = countAlpha(original.data);
  const tiles: { x: number; y: number }[] = [];
  for (let y = 0; y < height; y += TILE)
    for (let x = 0; x < width; x += TILE) {
      if (!isUntouched(place, regionAt(x, y, width, height), sources)) tiles.push({ x, y });
    }
  // Spread over all that was touched.
  const step = Math.max(1, tiles.length / MOST_TILES);
  const looked = Array.from({ length: Math.min(tiles.length, MOST_TILES) }, (_, i) => tiles[Math.floor(i * step)]);
  const share = looked.length > 0 ? tiles.length / looked.length : 0;
  let [texels, blocks, filled, open] = [0, 0, 0, 0];
  const delta = { clear: 0, soft: 0, opaque: 0 };
  const into = new Uint8Array(looked.length > 0 ? width * height * 4 : 0);
  const changed = new Uint8Array(into.length / 4);
  for (const { x, y } of looked) {
    const region = regionAt(x, y, width, height);
    const rows = original.data.subarray(y * width * 4, (y + region.height) * width * 4);
    putOverRegion(place, region, sources, { width, height: region.height, data: rows }, into, changed);
    const hit = new Set<number>();
    for (let row = y; row < y + region.height; row++)
      for (let column = x; column < x + region.width; column++) {
        const i = row * width + column;
        const was = original.data[i * 4 + 3];
        if (was < 255) open++;
        if (!changed[i]) continue;
        texels++;
        hit.add((row >> 2) * 65536 + (column >> 2));
        const now = into[i * 4 + 3];
        delta[kindOf(was)]--;
        delta[kindOf(now)]++;
        if (was < 255 && now > was + 8) filled++;
      }
    blocks += hit.size;
  }
  const all = width * height;
  const of = (n: number) => Math.max(0, Math.min(1, n / all));
  return {
    texels: of(texels * share),
    blocks: Math.min(1, (blocks * share) / (Math.ceil(width / 4) * Math.ceil(height / 4))),
    before: { clear: of(before.clear), soft: of(before.soft), opaque: of(before.opaque) },
    after: {
      clear: of(before.clear + delta.clear * share),
      soft: of(before.soft + delta.soft * share),
      opaque: of(before.opaque + delta.opaque * share),
    },
    filled:
      before.clear + before.soft > 0 ? Math.min(1, (filled * share) / (before.clear + before.soft)) : open > 0 ? 1 : 0,
    of: { looked: looked.length, touched: tiles.length },
  };
}

const regionAt = (x: number, y: number, width: number, height: number) => ({
  x,
  y,
  width: Math.min(TILE, width - x),
  height: Math.min(TILE, height - y),
  step: 1,
});

const kindOf = (alpha: number): keyof AlphaShares => (alpha === 0 ? 'clear' : alpha === 255 ? 'opaque' : 'soft');

function countAlpha(data: Uint8Array) {
  const out = { clear: 0, soft: 0, opaque: 0 };
  for (let i = 3; i < data.length; i += 4) out[kindOf(data[i])]++;
  return out;
}

/** The layers of a map that lie where its original is clear, those that fill most of it first. */
export function fillers({ livery, template, sources }: CheckInput, { master, spec }: PlannedSheet) {
  const pixels = template.originals?.[originalKey(master.key, spec.map)]?.pixels;
  const layers = layersOf(livery, master.key, spec.map);
  if (!pixels) return [];
  const original = sources.image(pixels);
  const step = 8;
  const region = { x: 0, y: 0, width: Math.ceil(master.width / step), height: Math.ceil(master.height / step), step };
  const place = { pixels, size: { width: master.width, height: master.height } };
  const top = treeOf(layers).filter(({ layer }) => !layer.hidden && !isPristine(layer, place));
  return top
    .map(({ layer }) => {
      // What the map's alpha would be with the original and this layer alone.
      const kept = layers.filter((one) => isPristine(one, place) || findNode([nodeOf(layers, layer.id)], one.id));
      const only = withLayers(livery, master.key, spec.map, kept);
      const drawn = renderRegion(only, master.key, spec.map, region, sources);
      let fills = 0;
      for (let y = 0, i = 3; y < region.height; y++)
        for (let x = 0; x < region.width; x++, i += 4) {
          const at =
            Math.min(master.height - 1, y * step + 4) * master.width + Math.min(master.width - 1, x * step + 4);
          const was = original.data[at * 4 + 3];
          if (was < 250 && drawn[i] / 257 > was + 40) fills++;
        }
      return { layer, fills };
    })
    .filter(({ fills }) => fills > 0)
    .sort((a, b) => b.fills - a.fills)
    .map(({ layer }) => layer);
}

const nodeOf = (layers: ReturnType<typeof layersOf>, id: string) => findNode(treeOf(layers), id)!;

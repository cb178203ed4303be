/** A sheet of a livery as a layered file for another editor, and what came back from there. */
import { drawAlone, sceneOf, type Sources } from '../compose/renderTile.ts';
import type { LayerId } from '../livery/ids.ts';
import type { Livery } from '../livery/livery.ts';
import { groupsAround } from '../livery/tree.ts';
import { isDrawn } from '../layers/index.ts';
import { cropImage, newImage, TILE } from '../raster/image.ts';
import { toStraight8 } from '../raster/tile16.ts';
import type { LayeredFile } from './layered.ts';
import { layersOf, type FlatLayer } from './layersOf.ts';
import { cutTo } from '../livery/words.ts';

export interface DrawnLayer extends Omit<FlatLayer, 'merged' | 'id'> {
  readonly layer: LayerId;
  /** What the file calls it by, so that it is found again. */
  readonly number: number;
}

/** A positive 31-bit number that stands for a layer in files whose ids are numbers (FNV-1a). */
export function numberOf(id: string): number {
  let h = 0x811c9dc5;
  for (let i = 0; i < id.length; i++) h = Math.imul(h ^ id.charCodeAt(i), 0x01000193);
  return (h >>> 1) | 1;
}

/**
 * Every layer of a sheet drawn alone, first on first: its own opacity and mixing are told and not drawn. Groups give theirs to the layers
 * in them; adjustments have no picture and stay behind.
 */
export function drawnLayers(
  livery: Livery,
  sheet: string,
  size: { width: number; height: number },
  sources: Sources,
  each?: (done: number) => void,
): DrawnLayer[] {
  const scene = sceneOf(livery, sheet, 'colour', sources);
  const all = scene.layers.filter(isDrawn);
  return all.map((layer, n) => {
    const whole = newImage(size.width, size.height);
    const box = { left: size.width, top: size.height, right: 0, bottom: 0 };
    const groups = groupsAround(scene.layers, layer);
    for (let y = 0; y < size.height; y += TILE) {
      for (let x = 0; x < size.width; x += TILE) {
        const region = {
          x,
          y,
          width: Math.min(TILE, size.width - x),
          height: Math.min(TILE, size.height - y),
          step: 1,
        };
        const drawn = drawAlone(scene, layer.id, region, 'full');
        if (!drawn) continue;
        const tile = toStraight8(drawn, region.width, region.height, x, y);
        for (let row = 0; row < region.height; row++) {
          for (let column = 0; column < region.width; column++) {
            if (tile[(row * region.width + column) * 4 + 3] === 0) continue;
            box.left = Math.min(box.left, x + column);
            box.right = Math.max(box.right, x + column + 1);
            box.top = Math.min(box.top, y + row);
            box.bottom = Math.max(box.bottom, y + row + 1);
          }
          const from = row * region.width * 4;
          whole.data.set(tile.subarray(from, from + region.width * 4), ((y + row) * size.width + x) * 4);
        }
      }
    }
    each?.((n + 1) / all.length);
    const { name, blend, id } = layer;
    const hidden = layer.hidden || groups.some((group) => group.hidden);
    const opacity = groups.reduce((share, group) => (share * group.opacity) / 100, layer.opacity);
    const empty = box.right <= box.left;
    return {
      layer: id,
      number: numberOf(id),
      name,
      hidden,
      opacity: opacity / 100,
      blend,
      left: empty ? 0 : box.left,
      top: empty ? 0 : box.top,
      image: empty ? newImage(1, 1) : cropImage(whole, box.left, box.top, box.right - box.left, box.bottom - box.top),
    };
  });
}

/** What another editor did to a sheet. */
export interface Returned {
  /** Layers whose pixels are as we drew them: they stay what they are. */
  readonly same: number;
  /** Name, opacity, mixing or visibility that changed there. */
  readonly settings: readonly {
    layer: LayerId;
    set: Partial<Pick<FlatLayer, 'name' | 'hidden' | 'blend'>> & { opacity?: number };
  }[];
  /** Layers that were painted on there: they become pixels. */
  readonly repainted: readonly { layer: LayerId; flat: FlatLayer }[];
  /** Layers that are new, each with the one of ours directly below it; null: it lies lowest. */
  readonly added: readonly { flat: FlatLayer; above: LayerId | null }[];
  /** Layers that the file no longer has: they are kept here. */
  readonly gone: readonly string[];
}

/** Matches what came back with what was sent: by the number in the file, else by a name that only one of each has. */
export function matchBack(drawn: readonly DrawnLayer[], file: LayeredFile): Returned {
  const back = layersOf(file.nodes, file, () => true);
  const open = new Set(drawn);
  const found = new Map<FlatLayer, DrawnLayer>();
  const take = (flat: FlatLayer, mine: DrawnLayer | undefined) => {
    if (!mine || !open.delete(mine)) return;
    found.set(flat, mine);
  };
  for (const flat of back)
    take(
      flat,
      drawn.find((mine) => flat.id === String(mine.number)),
    );
  for (const flat of back) {
    if (found.has(flat)) continue;
    const mine = [...open].filter((d) => d.name === flat.name);
    if (mine.length === 1 && back.filter((other) => !found.has(other) && other.name === flat.name).length === 1)
      take(flat, mine[0]);
  }
  const settings: Returned['settings'][number][] = [];
  const repainted: Returned['repainted'][number][] = [];
  const added: Returned['added'][number][] = [];
  let same = 0;
  let below: LayerId | null = null;
  for (const flat of back) {
    const mine = found.get(flat);
    if (!mine) {
      added.push({ flat, above: below });
      continue;
    }
    below = mine.layer;
    if (!looksAlike(mine, flat)) {
      repainted.push({ layer: mine.layer, flat });
      continue;
    }
    same++;
    const set: Returned['settings'][number]['set'] = {
      ...(flat.name && flat.name !== mine.name ? { name: cutTo(flat.name, 80) } : {}),
      ...(flat.hidden === mine.hidden ? {} : { hidden: flat.hidden }),
      ...(flat.blend === mine.blend ? {} : { blend: flat.blend }),
      // Files keep opacity in 255 steps.
      ...(Math.abs(flat.opacity - mine.opacity) < 0.003 ? {} : { opacity: Math.round(flat.opacity * 1000) / 10 }),
    };
    if (Object.keys(set).length > 0) settings.push({ layer: mine.layer, set });
  }
  return { same, settings, repainted, added, gone: [...open].map((mine) => mine.name) };
}

/** Premultiplied values differ by two of 255 at most, each clear where the other does not reach. */
function looksAlike(
  a: Pick<FlatLayer, 'image' | 'left' | 'top'>,
  b: Pick<FlatLayer, 'image' | 'left' | 'top'>,
): boolean {
  const left = Math.min(a.left, b.left);
  const top = Math.min(a.top, b.top);
  const right = Math.max(a.left + a.image.width, b.left + b.image.width);
  const bottom = Math.max(a.top + a.image.height, b.top + b.image.height);
  const offset = ({ image, left: l, top: t }: typeof a, x: number, y: number) =>
    x < l || y < t || x >= l + image.width || y >= t + image.height ? -1 : ((y - t) * image.width + x - l) * 4;
  for (let y = top; y < bottom; y++) {
    for (let x = left; x < right; x++) {
      const [i, j] = [offset(a, x, y), offset(b, x, y)];
      const [p, q] = [i < 0 ? 0 : a.image.data[i + 3], j < 0 ? 0 : b.image.data[j + 3]];
      if (p === 0 && q === 0) continue;
      if (Math.abs(p - q) > 2) return false;
      for (let c = 0; c < 3; c++) {
        const v = i < 0 ? 0 : a.image.data[i + c] * p;
        const w = j < 0 ? 0 : b.image.data[j + c] * q;
        if (Math.abs(v - w) > 510) return false;
      }
    }
  }
  return true;
}

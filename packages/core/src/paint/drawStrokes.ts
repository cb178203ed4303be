import type { Stroke } from '../livery/paint.ts';
import { TILE } from '../raster/image.ts';
import { TILE_COLUMNS, type StrokePatches } from './strokes.ts';

/** The part of a sheet to draw, as in layers/kind.ts. */
interface Region {
  x: number;
  y: number;
  width: number;
  height: number;
  step: number;
}

/**
 * Values of a stored stroke over a region: coverage, or four channels; samples of coarse regions average the texels that they stand for.
 * @param out zeroed, `region.width * region.height * channels` values
 * @returns whether the stroke reaches the region
 */
export function spreadPatches(
  { channels, patches }: StrokePatches,
  tiles: readonly number[],
  region: Region,
  out: Uint16Array,
): boolean {
  const { step, width, height } = region;
  let reached = false;
  const sums = step > 1 ? new Float64Array(width * height * channels) : null;
  tiles.forEach((number, k) => {
    const patch = patches[k];
    const left = (number % TILE_COLUMNS) * TILE + patch.left;
    const top = Math.floor(number / TILE_COLUMNS) * TILE + patch.top;
    const x0 = Math.max(left, region.x);
    const x1 = Math.min(left + patch.width, region.x + width * step);
    const y0 = Math.max(top, region.y);
    const y1 = Math.min(top + patch.height, region.y + height * step);
    if (x0 >= x1 || y0 >= y1) return;
    reached = true;
    for (let y = y0; y < y1; y++) {
      const from = ((y - top) * patch.width + x0 - left) * channels;
      const count = (x1 - x0) * channels;
      if (!sums) {
        out.set(patch.values.subarray(from, from + count), ((y - region.y) * width + x0 - region.x) * channels);
        continue;
      }
      const row = Math.floor((y - region.y) / step) * width;
      for (let x = x0, i = from; x < x1; x++) {
        const o = (row + Math.floor((x - region.x) / step)) * channels;
        for (let c = 0; c < channels; c++, i++) sums[o + c] += patch.values[i];
      }
    }
  });
  if (sums && reached) for (let i = 0; i < sums.length; i++) out[i] = (sums[i] / (step * step) + 0.5) | 0;
  return reached;
}

/** Whether any of the tiles lies in a region. */
export function tilesReach(tiles: readonly number[], region: Region): boolean {
  const x0 = Math.floor(region.x / TILE);
  const x1 = Math.ceil((region.x + region.width * region.step) / TILE);
  const y0 = Math.floor(region.y / TILE);
  const y1 = Math.ceil((region.y + region.height * region.step) / TILE);
  return tiles.some((number) => {
    const tx = number % TILE_COLUMNS;
    const ty = (number - tx) / TILE_COLUMNS;
    return tx >= x0 && tx < x1 && ty >= y0 && ty < y1;
  });
}

/** The texels of a stroke's tiles, as a box. */
export function boxOfTiles(strokes: readonly Pick<Stroke, 'tiles'>[]) {
  let [left, top, right, bottom] = [Infinity, Infinity, -Infinity, -Infinity];
  for (const { tiles } of strokes) {
    for (const number of tiles) {
      const x = (number % TILE_COLUMNS) * TILE;
      const y = Math.floor(number / TILE_COLUMNS) * TILE;
      left = Math.min(left, x);
      right = Math.max(right, x + TILE);
      top = Math.min(top, y);
      bottom = Math.max(bottom, y + TILE);
    }
  }
  return right > left ? { left, top, right, bottom } : { left: 0, top: 0, right: 0, bottom: 0 };
}

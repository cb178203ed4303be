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

/** Part of a region, and where it begins there in samples. */
export interface Part extends Region {
  left: number;
  top: number;
}

/** The part of a region that a stored stroke reaches; null when it does not. */
export function partReached({ patches }: StrokePatches, tiles: readonly number[], region: Region): Part | null {
  const { step, width, height } = region;
  let [left, top, right, bottom] = [width, height, 0, 0];
  tiles.forEach((number, k) => {
    const patch = patches[k];
    const x = (number % TILE_COLUMNS) * TILE + patch.left - region.x;
    const y = Math.floor(number / TILE_COLUMNS) * TILE + patch.top - region.y;
    const x0 = Math.max(0, Math.floor(x / step));
    const y0 = Math.max(0, Math.floor(y / step));
    const x1 = Math.min(width, Math.ceil((x + patch.width) / step));
    const y1 = Math.min(height, Math.ceil((y + patch.height) / step));
    if (x0 >= x1 || y0 >= y1) return;
    left = Math.min(left, x0);
    top = Math.min(top, y0);
    right = Math.max(right, x1);
    bottom = Math.max(bottom, y1);
  });
  if (left >= right) return null;
  const at = { x: region.x + left * step, y: region.y + top * step };
  return { left, top, ...at, width: right - left, height: bottom - top, step };
}

/**
 * Values of a stored stroke over a region: coverage, or four channels; samples of coarse regions average the texels that they stand for.
 * @param out zeroed, `region.width * region.height * channels` values
 */
export function spreadPatches(
  { channels, patches }: StrokePatches,
  tiles: readonly number[],
  region: Region,
  out: Uint16Array,
): void {
  const { step, width, height } = region;
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
    for (let y = y0; y < y1; y++) {
      const from = ((y - top) * patch.width + x0 - left) * channels;
      const row = patch.values.subarray(from, from + (x1 - x0) * channels);
      if (!sums) out.set(row, ((y - region.y) * width + x0 - region.x) * channels);
      else addUp(row, channels, x0 - region.x, step, sums, Math.floor((y - region.y) / step) * width * channels);
    }
  });
  if (sums) for (let i = 0; i < sums.length; i++) out[i] = (sums[i] / (step * step) + 0.5) | 0;
}

/**
 * Adds a row of values to the samples that stand for them.
 * @param x where the row begins, texels from the first sample; @param first the first sample of the row in `sums`
 */
function addUp(values: Uint16Array, channels: 1 | 4, x: number, step: number, sums: Float64Array, first: number): void {
  const column = Math.floor(x / step);
  let o = first + column * channels;
  // Runs of values that go to one sample; the first may be cut off.
  for (let i = 0, to = ((column + 1) * step - x) * channels; i < values.length; to += step * channels, o += channels) {
    const end = Math.min(to, values.length);
    if (channels === 1) {
      let sum = 0;
      for (; i < end; i++) sum += values[i];
      sums[o] += sum;
    } else for (; i < end; i++) sums[o + (i & 3)] += values[i];
  }
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

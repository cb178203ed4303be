/** Which way up a texture is stored: art lies on the islands of its model, and little happens beside them. */
import type { Subject } from '../livery/template.ts';
import type { Island } from './islands.ts';
import { sheetCover } from './layout.ts';
import type { Image8 } from '../raster/image.ts';

/** Cells along each side of the figures here. */
export const WAY_CELLS = 32;

/** How much happens in each of WAY_CELLS x WAY_CELLS cells: mean step of luma (0..255) between neighbouring texels, rows from the top. */
export function detailOf({ width, height, data }: Image8): number[] {
  const sums = new Float64Array(WAY_CELLS * WAY_CELLS);
  const counts = new Float64Array(WAY_CELLS * WAY_CELLS);
  const step = Math.max(1, Math.floor(Math.max(width, height) / 512));
  const luma = (x: number, y: number) => {
    const i = (y * width + x) * 4;
    return ((0.2126 * data[i] + 0.7152 * data[i + 1] + 0.0722 * data[i + 2]) * data[i + 3]) / 255;
  };
  for (let y = 0; y + 1 < height; y += step) {
    for (let x = 0; x + 1 < width; x += step) {
      const here = luma(x, y);
      const change = Math.abs(luma(x + 1, y) - here) + Math.abs(luma(x, y + 1) - here);
      const cell = Math.floor((y * WAY_CELLS) / height) * WAY_CELLS + Math.floor((x * WAY_CELLS) / width);
      sums[cell] += change;
      counts[cell]++;
    }
  }
  return [...sums].map((sum, i) => Math.round((sum / Math.max(1, counts[i])) * 10) / 10);
}

/** For each cell of a sheet whether an island covers its middle, rows from the top. */
export const coverOf = (subject: Subject, islands: readonly Island[], sheet: string): boolean[] =>
  Array.from(sheetCover(subject, islands, sheet, WAY_CELLS).island, (number) => number > 0);

/** The art beside the islands must be so many times livelier one way than the other. */
const CLEARLY = 2;
/** A layout that looks alike upside down tells nothing: this share of the cells has to differ. */
const LOPSIDED = 0.06;
/** Steps of luma that lossy storage makes anywhere. */
const NOISE = 0.3;

/**
 * @param detail see detailOf @param cover for each cell whether an island covers its middle, rows from the top
 * @returns null when it cannot be told: the layout is alike both ways, or the art fills everything
 */
export function wayUp(detail: readonly number[], cover: readonly boolean[]): 'upright' | 'upside-down' | null {
  const flipped = (i: number) => (WAY_CELLS - 1 - Math.floor(i / WAY_CELLS)) * WAY_CELLS + (i % WAY_CELLS);
  let [differ, up, upCount, down, downCount] = [0, 0, 0, 0, 0];
  detail.forEach((value, i) => {
    const [here, there] = [cover[i], cover[flipped(i)]];
    if (here !== there) differ++;
    if (!here) [up, upCount] = [up + value, upCount + 1];
    if (!there) [down, downCount] = [down + value, downCount + 1];
  });
  if (differ < detail.length * LOPSIDED || upCount === 0) return null;
  const ratio = (up / upCount + NOISE) / (down / downCount + NOISE);
  return ratio > CLEARLY ? 'upside-down' : ratio < 1 / CLEARLY ? 'upright' : null;
}

import type { Livery } from '../livery/livery.ts';
import { newImage, TILE, type Image8 } from '../raster/image.ts';
import { toStraight8 } from '../raster/tile16.ts';
import { renderRegion, type Sources } from './renderTile.ts';

/** A whole map of a sheet at native size as straight RGBA8, row 0 at the top; tile by tile, so that memory stays near the result. */
export function renderSheet(
  livery: Livery,
  sheet: string,
  map: string,
  size: { width: number; height: number },
  sources: Sources,
): Image8 {
  const image = newImage(size.width, size.height);
  for (let y = 0; y < size.height; y += TILE) {
    for (let x = 0; x < size.width; x += TILE) {
      const width = Math.min(TILE, size.width - x);
      const height = Math.min(TILE, size.height - y);
      const tile = toStraight8(
        renderRegion(livery, sheet, map, { x, y, width, height, step: 1 }, sources),
        width,
        height,
        x,
        y,
      );
      for (let row = 0; row < height; row++) {
        image.data.set(tile.subarray(row * width * 4, (row + 1) * width * 4), ((y + row) * size.width + x) * 4);
      }
    }
  }
  return image;
}

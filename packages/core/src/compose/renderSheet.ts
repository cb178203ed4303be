import type { Livery } from '../livery/livery.ts';
import { newImage, TILE, type Image8 } from '../raster/image.ts';
import { renderFinished, type Sources } from './renderTile.ts';

interface Size {
  width: number;
  height: number;
}

/** A whole map of a sheet at native size as straight RGBA8, row 0 at the top. */
export function renderSheet(livery: Livery, sheet: string, map: string, size: Size, sources: Sources): Image8 {
  return renderRows(livery, sheet, map, size, sources, 0, Math.ceil(size.height / TILE));
}

/** Rows of tiles `from` to `to` (exclusive) of a map; tile by tile, so that memory stays near the result. */
export function renderRows(
  livery: Livery,
  sheet: string,
  map: string,
  size: Size,
  sources: Sources,
  from: number,
  to: number,
): Image8 {
  const top = from * TILE;
  const bottom = Math.min(size.height, to * TILE);
  const image = newImage(size.width, bottom - top);
  for (let y = top; y < bottom; y += TILE) {
    for (let x = 0; x < size.width; x += TILE) {
      const width = Math.min(TILE, size.width - x);
      const height = Math.min(TILE, size.height - y);
      const region = { x, y, width, height, step: 1 };
      const tile = renderFinished(livery, sheet, map, region, sources);
      for (let row = 0; row < height; row++) {
        image.data.set(tile.subarray(row * width * 4, (row + 1) * width * 4), ((y - top + row) * size.width + x) * 4);
      }
    }
  }
  return image;
}

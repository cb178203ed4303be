import { wordsOf, type Image8 } from '../raster/image.ts';
import { nearestInside } from '../raster/nearest.ts';

/** What padding needs of a sheet's surface; see surface/surface.ts. */
export interface Islands {
  readonly width: number;
  readonly height: number;
  /** Bytes of a window: 1 where a texel belongs to an island. */
  insideIn(window: { left: number; top: number; right: number; bottom: number }): Uint8Array;
}

/** Rows that are looked at together. */
const BAND = 256;

/** Visits each texel outside every island that has one inside within `distance` texels, and the nearest of those. Indices of the whole sheet. */
export function eachGutterTexel(
  islands: Islands,
  distance: number,
  visit: (texel: number, nearest: number) => void,
): void {
  const { width, height } = islands;
  for (let y0 = 0; y0 < height; y0 += BAND) {
    const y1 = Math.min(height, y0 + BAND);
    const [top, bottom] = [Math.max(0, y0 - distance), Math.min(height, y1 + distance)];
    const inside = islands.insideIn({ left: 0, top, right: width, bottom });
    if (!inside.includes(0) || !inside.includes(1)) continue;
    const nearest = nearestInside(inside, width, bottom - top, distance);
    const offset = top * width;
    for (let y = y0; y < y1; y++)
      for (let x = 0, i = (y - top) * width; x < width; x++, i++) {
        const from = nearest[i];
        if (inside[i] || from < 0) continue;
        const row = (from / width) | 0;
        const [dx, dy] = [x - (from - row * width), y - top - row];
        if (dx * dx + dy * dy <= distance * distance) visit(i + offset, from + offset);
      }
  }
}

/**
 * Fills texels outside every island with the colour and alpha of the nearest texel inside one, up to `distance` texels away, so that
 * filtering and mips do not draw the ground into the edges. Changes the image in place; a sheet without islands stays as it is.
 */
export function padEdges(image: Image8, islands: Islands, distance: number): void {
  if (distance <= 0) return;
  const texels = wordsOf(image.data);
  eachGutterTexel(islands, distance, (i, from) => (texels[i] = texels[from]));
}

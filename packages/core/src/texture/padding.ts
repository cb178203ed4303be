import { wordsOf, type Image8 } from '../raster/image.ts';

/** What padding needs of a sheet's surface; see surface/surface.ts. */
interface Islands {
  readonly width: number;
  readonly inside: Uint8Array;
  readonly nearest: Int32Array;
}

/**
 * Fills texels outside every island with the colour and alpha of the nearest texel inside one, up to `distance` texels away, so that
 * filtering and mips do not draw the ground into the edges. Changes the image in place; a sheet without islands stays as it is.
 */
export function padEdges(image: Image8, islands: Islands, distance: number): void {
  const texels = wordsOf(image.data);
  const { width, inside, nearest } = islands;
  for (let i = 0; i < texels.length; i++) {
    const from = nearest[i];
    if (inside[i] || from < 0) continue;
    const dx = (i % width) - (from % width);
    const dy = Math.floor(i / width) - Math.floor(from / width);
    if (dx * dx + dy * dy <= distance * distance) texels[i] = texels[from];
  }
}

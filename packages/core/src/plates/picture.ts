/** Pictures of plates: cut out of their sheet, with colour under what is clear. */
import { nearestInside } from '../raster/nearest.ts';
import { wordsOf, type Image8 } from '../raster/image.ts';

/** A piece of a picture. @param image RGBA8 @param box in whole texels, within it */
export function pieceOf(
  { width, data }: Image8,
  box: { left: number; top: number; width: number; height: number },
): Image8 {
  const out = new Uint8Array(box.width * box.height * 4);
  for (let y = 0; y < box.height; y++) {
    const from = ((box.top + y) * width + box.left) * 4;
    out.set(data.subarray(from, from + box.width * 4), y * box.width * 4);
  }
  return { width: box.width, height: box.height, data: out };
}

/** How far colour is carried into what is clear, texels: past this no mip level that anybody sees asks. */
const BLEED = 64;

/**
 * Gives clear texels the colour of the nearest that is not, their alpha left at 0: a filter that looks between them finds no other colour.
 * Changes the image in place.
 */
export function bleedColour(image: Image8): void {
  const { width, height, data } = image;
  const inside = new Uint8Array(width * height);
  for (let i = 0; i < inside.length; i++) inside[i] = data[i * 4 + 3] > 0 ? 1 : 0;
  if (!inside.includes(0) || !inside.includes(1)) return;
  const nearest = nearestInside(inside, width, height, BLEED);
  const texels = wordsOf(data);
  const alpha = wordsOf(Uint8Array.of(0, 0, 0, 255))[0];
  for (let i = 0; i < inside.length; i++) if (!inside[i] && nearest[i] >= 0) texels[i] = texels[nearest[i]] & ~alpha;
}

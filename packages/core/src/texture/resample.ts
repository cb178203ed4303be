/** A picture at another size: averages of the texels beneath when it becomes smaller, cubic between them when it grows. */
import { newImage, type Image8 } from '../raster/image.ts';
import { filterBand, mipChain, type FilterOptions } from './mips.ts';

/**
 * `srgb` averages colour in linear light, `linear` values as they stand, `nearest` takes over single texels (pixel art); `ids` does so too,
 * and where it becomes smaller by halves takes the most frequent, as mip levels do.
 */
export type ResampleKind = 'srgb' | 'linear' | 'nearest' | 'ids';

/** How sizes are changed: as mip levels are made, in one step. Alpha weighs colour, so that clear texels do not bleed. */
export const resampling = (kind: 'srgb' | 'linear'): FilterOptions => ({ kind, filter: 'fit', alpha: 'coverage' });

/**
 * Straight RGBA8 in, straight RGBA8 out. Smaller: exact box average. Larger: Catmull and Rom, "A class of local interpolating splines",
 * 1974, which goes through the texels.
 */
export function resample(image: Image8, width: number, height: number, kind: ResampleKind): Image8 {
  if (image.width === width && image.height === height) return image;
  if (kind === 'ids' && image.width >= 2 * width && image.height >= 2 * height)
    return resample(mipChain(image, { kind: 'ids', filter: 'box', count: 2 })[1], width, height, kind);
  const out = newImage(width, height);
  if (kind !== 'nearest' && kind !== 'ids') filterBand(image, resampling(kind), 1, [image, out], 0, 1);
  else
    for (let y = 0, o = 0; y < height; y++) {
      const row = Math.floor(((y + 0.5) * image.height) / height) * image.width;
      for (let x = 0; x < width; x++, o += 4) {
        const from = (row + Math.floor(((x + 0.5) * image.width) / width)) * 4;
        out.data.set(image.data.subarray(from, from + 4), o);
      }
    }
  return out;
}

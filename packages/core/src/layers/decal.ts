import type { LayerOf } from '../livery/layer.ts';
import { samplePicture } from '../raster/picture.ts';
import { turnOf } from '../raster/turn.ts';
import type { Kind } from './kind.ts';
import { boxAround } from './place.ts';

/** Longest side, in pixels, at which a drawing is rasterised for a placement: the power of two from 64 to 4096 that is not below it. */
export function rasterSide(layer: Pick<LayerOf<'decal'>, 'width' | 'height'>): number {
  let side = 64;
  while (side < Math.max(layer.width, layer.height) && side < 4096) side *= 2;
  return side;
}

/** A picture placed by its middle, turned, and mirrored if asked. */
export const decal: Kind<LayerOf<'decal'>> = {
  bounds: (layer) => boxAround(layer, 1),
  draw(layer, region, env, out) {
    const picture = env.picture(layer);
    const { cos, sin } = turnOf(layer.turn);
    const { step } = region;
    const texelsAcross = (picture.levels[0].width * step) / layer.width;
    const texelsDown = (picture.levels[0].height * step) / layer.height;
    let level = 0;
    for (let r = Math.max(texelsAcross, texelsDown); r >= 2 && level < picture.levels.length - 1; r /= 2) level++;
    const box = boxAround(layer, step);
    const x0 = Math.max(0, Math.floor((box.left - region.x) / step));
    const x1 = Math.min(region.width, Math.ceil((box.right - region.x) / step));
    const y0 = Math.max(0, Math.floor((box.top - region.y) / step));
    const y1 = Math.min(region.height, Math.ceil((box.bottom - region.y) / step));
    const sum = new Float64Array(4);
    for (let y = y0; y < y1; y++) {
      for (let x = x0; x < x1; x++) {
        sum.fill(0);
        // Four samples a texel: the level in use is up to twice as fine as the texels.
        for (let k = 0; k < 4; k++) {
          const px = region.x + (x + (k & 1 ? 0.75 : 0.25)) * step - layer.x;
          const py = region.y + (y + (k & 2 ? 0.75 : 0.25)) * step - layer.y;
          const along = (px * cos + py * sin) / layer.width;
          const v = (py * cos - px * sin) / layer.height + 0.5;
          samplePicture(picture, level, (layer.mirrored ? -along : along) + 0.5, v, sum);
        }
        if (sum[3] < 2) continue;
        const o = (y * region.width + x) * 4;
        for (let c = 0; c < 4; c++) out[o + c] = (sum[c] / 4 + 0.5) | 0;
      }
    }
  },
};

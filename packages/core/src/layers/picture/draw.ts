import type { LayerOf } from '../../livery/layer.ts';
import type { Image8 } from '../../raster/image.ts';
import type { Kind, Region } from '../kind.ts';

/** Stored pixels, one to a texel; drafts average all texels that a sample stands for. */
export const picture: Kind<LayerOf<'picture'>> = {
  bounds: ({ left, top, width, height }) => ({ left, top, right: left + width, bottom: top + height }),
  draw({ blob, left, top }, region, env, out) {
    const image = env.image(blob);
    if (region.step === 1) drawWhole(image, region.x - left, region.y - top, region, out);
    else drawDraft(image, left, top, region, out);
  },
};

/** As it is. @param left of the region on the picture @param top likewise */
function drawWhole(
  { width, height, data }: Image8,
  left: number,
  top: number,
  region: Pick<Region, 'width' | 'height'>,
  out: Uint16Array,
): void {
  const [x0, x1] = [Math.max(0, -left), Math.min(region.width, width - left)];
  const [y0, y1] = [Math.max(0, -top), Math.min(region.height, height - top)];
  for (let y = y0; y < y1; y++) {
    let o = (y * region.width + x0) * 4;
    const begin = ((y + top) * width + left + x0) * 4;
    const end = begin + (x1 - x0) * 4;
    for (let i = begin; i < end; i += 4, o += 4) {
      const alpha = data[i + 3];
      if (alpha === 255) {
        out[o] = data[i] * 257;
        out[o + 1] = data[i + 1] * 257;
        out[o + 2] = data[i + 2] * 257;
        out[o + 3] = 65535;
      } else if (alpha > 0) {
        const share = alpha * 257;
        out[o] = ((data[i] * share) / 255 + 0.5) | 0;
        out[o + 1] = ((data[i + 1] * share) / 255 + 0.5) | 0;
        out[o + 2] = ((data[i + 2] * share) / 255 + 0.5) | 0;
        out[o + 3] = share;
      }
    }
  }
}

function drawDraft({ width, height, data }: Image8, left: number, top: number, region: Region, out: Uint16Array): void {
  const { step } = region;
  const texels = step * step;
  for (let y = 0; y < region.height; y++) {
    const y0 = Math.max(0, region.y + y * step - top);
    const y1 = Math.min(height, region.y + (y + 1) * step - top);
    if (y0 >= y1) continue;
    for (let x = 0; x < region.width; x++) {
      const x0 = Math.max(0, region.x + x * step - left);
      const x1 = Math.min(width, region.x + (x + 1) * step - left);
      if (x0 >= x1) continue;
      let r = 0;
      let g = 0;
      let b = 0;
      let a = 0;
      for (let row = y0; row < y1; row++) {
        for (let i = (row * width + x0) * 4, end = (row * width + x1) * 4; i < end; i += 4) {
          const alpha = data[i + 3];
          r += data[i] * alpha;
          g += data[i + 1] * alpha;
          b += data[i + 2] * alpha;
          a += alpha;
        }
      }
      if (a === 0) continue;
      const o = (y * region.width + x) * 4;
      out[o] = ((r * 257) / (255 * texels) + 0.5) | 0;
      out[o + 1] = ((g * 257) / (255 * texels) + 0.5) | 0;
      out[o + 2] = ((b * 257) / (255 * texels) + 0.5) | 0;
      out[o + 3] = ((a * 257) / texels + 0.5) | 0;
    }
  }
}

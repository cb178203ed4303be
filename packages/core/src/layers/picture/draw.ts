import type { LayerOf } from '../../livery/layer.ts';
import type { Kind } from '../kind.ts';

/** Stored pixels, one to a texel; drafts average all texels that a sample stands for. */
export const picture: Kind<LayerOf<'picture'>> = {
  bounds: ({ left, top, width, height }) => ({ left, top, right: left + width, bottom: top + height }),
  draw({ blob, left, top }, region, env, out) {
    const { width, height, data } = env.image(blob);
    const { step } = region;
    for (let y = 0; y < region.height; y++) {
      const y0 = Math.max(0, region.y + y * step - top);
      const y1 = Math.min(height, region.y + (y + 1) * step - top);
      if (y0 >= y1) continue;
      for (let x = 0; x < region.width; x++) {
        const x0 = Math.max(0, region.x + x * step - left);
        const x1 = Math.min(width, region.x + (x + 1) * step - left);
        if (x0 >= x1) continue;
        const o = (y * region.width + x) * 4;
        let [r, g, b, a] = [0, 0, 0, 0];
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
        const texels = step * step;
        out[o] = ((r * 257) / (255 * texels) + 0.5) | 0;
        out[o + 1] = ((g * 257) / (255 * texels) + 0.5) | 0;
        out[o + 2] = ((b * 257) / (255 * texels) + 0.5) | 0;
        out[o + 3] = ((a * 257) / texels + 0.5) | 0;
      }
    }
  },
};

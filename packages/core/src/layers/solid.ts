import type { LayerOf } from '../livery/layer.ts';
import type { Kind } from './kind.ts';

/** One colour over the whole sheet, or over the parts that the layer keeps to. */
export const solid: Kind<LayerOf<'solid'>> = {
  bounds: () => null,
  draw(layer, _region, env, out) {
    const [r, g, b] = env.colour(layer.paint);
    for (let i = 0; i < out.length; i += 4) {
      out[i] = r * 257;
      out[i + 1] = g * 257;
      out[i + 2] = b * 257;
      out[i + 3] = 65535;
    }
  },
};

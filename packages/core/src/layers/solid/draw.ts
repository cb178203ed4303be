import type { LayerOf } from '../../livery/layer.ts';
import { fill } from '../../raster/blend.ts';
import { opaque, type Kind } from '../kind.ts';

/** One colour over the whole sheet, or over the parts that the layer keeps to. */
export const solid: Kind<LayerOf<'solid'>> = {
  bounds: () => null,
  uniform: (layer, _region, env) => opaque(env.colour(layer.paint)),
  draw(layer, _region, env, out) {
    fill(out, opaque(env.colour(layer.paint)));
  },
};

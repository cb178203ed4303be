import type { LayerOf } from '../livery/layer.ts';
import { fill } from '../raster/blend.ts';
import type { Kind } from './kind.ts';

/** One colour over the whole sheet, or over the parts that the layer keeps to. */
export const solid: Kind<LayerOf<'solid'>> = {
  bounds: () => null,
  draw(layer, _region, env, out) {
    fill(out, env.colour(layer.paint));
  },
};

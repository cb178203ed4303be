import type { LayerOf } from '../livery/layer.ts';
import { drawBands } from './band.ts';
import type { Kind } from './kind.ts';

/** A straight stripe across the sheet: `angle` 0 runs to the right. */
export const stripe: Kind<LayerOf<'stripe'>> = {
  bounds: () => null,
  draw(layer, region, env, out) {
    drawBands(
      { ...layer, first: -layer.width / 2, pitch: layer.width, count: 1, colours: [env.colour(layer.paint)] },
      region,
      out,
    );
  },
};

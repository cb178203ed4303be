import type { LayerOf } from '../livery/layer.ts';
import { eachInBands } from './band.ts';
import { putOver, type Kind } from './kind.ts';

/** A straight stripe across the sheet: `angle` 0 runs to the right. */
export const stripe: Kind<LayerOf<'stripe'>> = {
  bounds: () => null,
  draw(layer, region, env, out) {
    const colour = env.colour(layer.paint);
    const half = layer.width / 2;
    const reach = half + layer.softness + region.step * 2;
    eachInBands(layer, region, (i, distance, band) => {
      if (distance > reach || distance < -reach) return;
      putOver(out, i, colour, band(-half, half));
    });
  },
};

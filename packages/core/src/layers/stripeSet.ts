import type { LayerOf } from '../livery/layer.ts';
import { drawBands } from './band.ts';
import type { Kind } from './kind.ts';

/** Parallel stripes, centred as a set on (x, y). */
export const stripeSet: Kind<LayerOf<'stripe-set'>> = {
  bounds: () => null,
  draw(layer, region, env, out) {
    const pitch = layer.width + layer.gap;
    const first = -(layer.count * pitch - layer.gap) / 2;
    drawBands({ ...layer, first, pitch, colours: layer.paints.map(env.colour) }, region, out);
  },
};

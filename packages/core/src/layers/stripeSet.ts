import type { LayerOf } from '../livery/layer.ts';
import { bandsReach, drawBands } from './band.ts';
import type { Kind } from './kind.ts';

const places = (layer: LayerOf<'stripe-set'>) => {
  const pitch = layer.width + layer.gap;
  return { ...layer, pitch, first: -(layer.count * pitch - layer.gap) / 2 };
};

/** Parallel stripes, centred as a set on (x, y). */
export const stripeSet: Kind<LayerOf<'stripe-set'>> = {
  bounds: () => null,
  reaches: (layer, region) => bandsReach(places(layer), region),
  draw(layer, region, env, out) {
    drawBands({ ...places(layer), colours: layer.paints.map(env.colour) }, region, out);
  },
};

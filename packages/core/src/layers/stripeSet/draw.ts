import type { LayerOf } from '../../livery/layer.ts';
import { bandOver, bandsReach, drawBands } from '../band.ts';
import type { Kind, LayerEnv } from '../kind.ts';

const places = (layer: LayerOf<'stripe-set'>) => {
  const pitch = layer.width + layer.gap;
  return { ...layer, pitch, first: -(layer.count * pitch - layer.gap) / 2 };
};

const bandsOf = (layer: LayerOf<'stripe-set'>, env: LayerEnv) => ({
  ...places(layer),
  colours: layer.paints.map(env.colour),
});

/** Parallel stripes, centred as a set on (x, y). */
export const stripeSet: Kind<LayerOf<'stripe-set'>> = {
  bounds: () => null,
  reaches: (layer, region) => bandsReach(places(layer), region),
  uniform: (layer, region, env) => bandOver(bandsOf(layer, env), region),
  draw(layer, region, env, out) {
    drawBands(bandsOf(layer, env), region, out);
  },
};

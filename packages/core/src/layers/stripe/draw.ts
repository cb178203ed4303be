import type { LayerOf } from '../../livery/layer.ts';
import { bandOver, bandsReach, drawBands } from '../band.ts';
import type { Kind, LayerEnv } from '../kind.ts';

const places = (layer: LayerOf<'stripe'>) => ({ ...layer, first: -layer.width / 2, pitch: layer.width, count: 1 });

const bandsOf = (layer: LayerOf<'stripe'>, env: LayerEnv) => ({ ...places(layer), colours: [env.colour(layer.paint)] });

/** A straight stripe across the sheet: `angle` 0 runs to the right. */
export const stripe: Kind<LayerOf<'stripe'>> = {
  bounds: () => null,
  reaches: (layer, region) => bandsReach(places(layer), region),
  uniform: (layer, region, env) => bandOver(bandsOf(layer, env), region),
  draw(layer, region, env, out) {
    drawBands(bandsOf(layer, env), region, out);
  },
};

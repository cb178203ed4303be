import type { LayerOf } from '../livery/layer.ts';
import { bandsReach, drawBands } from './band.ts';
import type { Kind } from './kind.ts';

const places = (layer: LayerOf<'stripe'>) => ({ ...layer, first: -layer.width / 2, pitch: layer.width, count: 1 });

/** A straight stripe across the sheet: `angle` 0 runs to the right. */
export const stripe: Kind<LayerOf<'stripe'>> = {
  bounds: () => null,
  reaches: (layer, region) => bandsReach(places(layer), region),
  draw(layer, region, env, out) {
    drawBands({ ...places(layer), colours: [env.colour(layer.paint)] }, region, out);
  },
};

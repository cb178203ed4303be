import type { LayerOf } from '../livery/layer.ts';
import { eachInBands } from './band.ts';
import { putOver, type Kind } from './kind.ts';

/** Parallel stripes, centred as a set on (x, y). */
export const stripeSet: Kind<LayerOf<'stripe-set'>> = {
  bounds: () => null,
  draw(layer, region, env, out) {
    const colours = layer.paints.map(env.colour);
    const pitch = layer.width + layer.gap;
    const first = -(layer.count * pitch - layer.gap) / 2;
    const reach = layer.softness + region.step * 2;
    eachInBands(layer, region, (i, distance, band) => {
      const from = Math.max(0, Math.floor((distance - first - layer.width - reach) / pitch));
      const to = Math.min(layer.count - 1, Math.floor((distance - first + reach) / pitch));
      for (let k = from; k <= to; k++) {
        const start = first + k * pitch;
        putOver(out, i, colours[k % colours.length], band(start, start + layer.width));
      }
    });
  },
};

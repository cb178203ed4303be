import type { LayerOf } from '../../livery/layer.ts';
import { fillIn } from '../../livery/livery.ts';
import { fillCoverage, strokeCoverage } from '../../shapes/coverage.ts';
import { inWindow, putWindow, windowOf } from '../coverageTo.ts';
import type { Kind, LayerEnv } from '../kind.ts';
import { boxAround, contoursIn, type Placed } from '../place.ts';

/** The box of the capitals as placed: advance width by capital height. */
export function letteringBox(layer: LayerOf<'lettering'>, env: Pick<LayerEnv, 'font' | 'particulars'>): Placed {
  const { width } = lineOf(layer, env);
  return { x: layer.x, y: layer.y, width: width * layer.size, height: layer.size, turn: layer.turn };
}

/** A line of lettering placed by the middle of its capitals. */
export const lettering: Kind<LayerOf<'lettering'>> = {
  // Descenders, accents and slant reach past the capitals' box by less than its height.
  bounds: (layer, env) => boxAround(letteringBox(layer, env), layer.size + (layer.outline?.width ?? 0) + 2),
  draw(layer, region, env, out) {
    const { contours, width } = lineOf(layer, env);
    const centred = contours.map((contour) => contour.map((value, i) => (i % 2 ? value + 0.5 : value - width / 2)));
    const shapes = contoursIn(region, layer, centred, layer.size, layer.mirrored);
    const window = windowOf(shapes, region, (layer.outline?.width ?? 0) / region.step + 2);
    if (!window) return;
    const local = inWindow(shapes, window);
    const [w, h] = [window.right - window.left, window.bottom - window.top];
    const put = (coverage: Float64Array, colour: ReturnType<LayerEnv['colour']>) =>
      putWindow(out, region, window, coverage, colour);
    const fill = fillCoverage(local, w, h);
    if (layer.outline && layer.outline.width > 0) {
      const rim = strokeCoverage(local, layer.outline.width / region.step, w, h);
      for (let i = 0; i < rim.length; i++) rim[i] = rim[i] > fill[i] ? rim[i] : fill[i];
      put(rim, env.colour(layer.outline.paint));
    }
    put(fill, env.colour(layer.paint));
  },
};

function lineOf(layer: LayerOf<'lettering'>, env: Pick<LayerEnv, 'font' | 'particulars'>) {
  return env.font(layer.font).outline(fillIn(layer.text, env.particulars), layer.spacing, layer.slant);
}

import type { LayerOf } from '../livery/layer.ts';
import { turnOf } from '../raster/turn.ts';
import type { Kind } from './kind.ts';

const STEPS = 4096;

/** A fade along a line or from a centre, through any number of stops, mixed in the sheet's own encoding. */
export const fade: Kind<LayerOf<'fade'>> = {
  bounds: () => null,
  draw(layer, region, env, out) {
    const ramp = rampOf(layer, env.colour);
    const { cos, sin } = turnOf(layer.angle);
    const scale = STEPS / layer.length;
    for (let y = 0, o = 0; y < region.height; y++) {
      const py = region.y + (y + 0.5) * region.step - layer.y;
      for (let x = 0; x < region.width; x++, o += 4) {
        const px = region.x + (x + 0.5) * region.step - layer.x;
        const along = layer.shape === 'linear' ? px * cos + py * sin : Math.sqrt(px * px + py * py);
        const at = along * scale;
        const clamped = at <= 0 ? 0 : at >= STEPS ? STEPS : at;
        const low = clamped | 0;
        const part = clamped - low;
        for (let c = 0, i = low * 4; c < 4; c++, i++) out[o + c] = (ramp[i] + (ramp[i + 4] - ramp[i]) * part + 0.5) | 0;
      }
    }
  },
};

/** Premultiplied 16-bit RGBA along the fade, STEPS + 2 entries. */
function rampOf(
  layer: LayerOf<'fade'>,
  colour: (paint: LayerOf<'fade'>['stops'][number]['paint']) => readonly number[],
): Float64Array {
  const stops = layer.stops
    .toSorted((a, b) => a.at - b.at)
    .map((s) => ({ at: s.at, rgb: colour(s.paint), alpha: s.opacity / 100 }));
  const ramp = new Float64Array((STEPS + 2) * 4);
  for (let i = 0; i <= STEPS + 1; i++) {
    const at = Math.min(1, i / STEPS);
    let k = stops.findIndex((stop) => stop.at >= at);
    if (k < 0) k = stops.length - 1;
    const to = stops[k];
    const from = k > 0 && to.at > at ? stops[k - 1] : to;
    const part = to.at > from.at ? (at - from.at) / (to.at - from.at) : 0;
    const alpha = from.alpha + (to.alpha - from.alpha) * part;
    for (let c = 0; c < 3; c++) {
      // Straight colours are mixed, then premultiplied: a stop of no opacity still lends its hue.
      ramp[i * 4 + c] = (from.rgb[c] + (to.rgb[c] - from.rgb[c]) * part) * 257 * alpha;
    }
    ramp[i * 4 + 3] = alpha * 65535;
  }
  return ramp;
}

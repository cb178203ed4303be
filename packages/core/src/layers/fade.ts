import type { LayerOf } from '../livery/layer.ts';
import { inArena, kernelOf, RAMP } from '../raster/arena.ts';
import { turnOf } from '../raster/turn.ts';
import type { Texel } from '../raster/blend.ts';
import { HAIR, spanOf, type Kind, type LayerEnv, type Region } from './kind.ts';

/** Entries of a fade: so many that two of them differ by at most four of 65535, which no eight bits show. */
const STEPS = 16384;

const texelOf = (ramp: Uint16Array, entry: number): Texel => [
  ramp[entry * 4],
  ramp[entry * 4 + 1],
  ramp[entry * 4 + 2],
  ramp[entry * 4 + 3],
];

/** The least and the most of how far a region's samples lie from where the fade begins, texels. */
function rangeOf(layer: LayerOf<'fade'>, region: Region): [number, number] {
  if (layer.shape === 'linear') {
    const { cos, sin } = turnOf(layer.angle);
    return spanOf(region, layer.x, layer.y, cos, sin);
  }
  const [left, right] = spanOf(region, layer.x, layer.y, 1, 0);
  const [top, bottom] = spanOf(region, layer.x, layer.y, 0, 1);
  return [Math.hypot(Math.max(left, -right, 0), Math.max(top, -bottom, 0)), Infinity];
}

/** The end of the fade that a whole region lies at or beyond. */
function endOver(layer: LayerOf<'fade'>, region: Region, env: LayerEnv): Texel | null {
  const [least, most] = rangeOf(layer, region);
  if (most < -HAIR) return texelOf(rampOf(layer, env.colour), 0);
  return least > layer.length + HAIR ? texelOf(rampOf(layer, env.colour), STEPS) : null;
}

/** A fade along a line or from a centre, through any number of stops, mixed in the sheet's own encoding. */
export const fade: Kind<LayerOf<'fade'>> = {
  bounds: () => null,
  uniform: endOver,
  draw(layer, region, env, out) {
    const ramp = rampOf(layer, env.colour);
    const { cos, sin } = turnOf(layer.angle);
    const scale = STEPS / layer.length;
    const px = region.x + 0.5 * region.step - layer.x;
    const arena = inArena(out);
    if (arena) useRamp(ramp);
    for (let y = 0; y < region.height; y++) {
      const py = region.y + (y + 0.5) * region.step - layer.y;
      const row = y * region.width * 4;
      const at = out.byteOffset + row * 2;
      if (layer.shape === 'linear') {
        const from = (px * cos + py * sin) * scale + 0.5;
        const slope = region.step * cos * scale;
        if (arena) kernelOf().rampRow(at, region.width, RAMP, STEPS, from, slope);
        else for (let x = 0; x < region.width; x++) rampTo(out, row + x * 4, ramp, from + x * slope);
      } else if (arena) kernelOf().radialRow(at, region.width, RAMP, STEPS, px, region.step, py * py, scale);
      else {
        for (let x = 0; x < region.width; x++) {
          const dx = px + x * region.step;
          rampTo(out, row + x * 4, ramp, Math.sqrt(dx * dx + py * py) * scale + 0.5);
        }
      }
    }
  },
};

let inUse: Uint16Array | null = null;

/** Puts a ramp where the kernels find it. */
function useRamp(ramp: Uint16Array): void {
  if (inUse !== ramp) new Uint16Array(kernelOf().memory.buffer, RAMP, ramp.length).set(ramp);
  inUse = ramp;
}

/** What kernels/compose.ts does. */
function rampTo(out: Uint16Array, o: number, ramp: Uint16Array, at: number): void {
  const entry = (Math.min(Math.max(at, 0), STEPS) | 0) * 4;
  for (let c = 0; c < 4; c++) out[o + c] = ramp[entry + c];
}

type Colour = (paint: LayerOf<'fade'>['stops'][number]['paint']) => readonly number[];
const ramps = new WeakMap<LayerOf<'fade'>['stops'], { of: string; ramp: Uint16Array }>();

/** Premultiplied 16-bit RGBA along the fade, STEPS + 1 entries. */
function rampOf({ stops }: LayerOf<'fade'>, colour: Colour): Uint16Array {
  const of = stops.map((stop) => colour(stop.paint).join()).join(';');
  const known = ramps.get(stops);
  if (known?.of === of) return known.ramp;
  const ramp = makeRamp(stops, colour);
  ramps.set(stops, { of, ramp });
  return ramp;
}

function makeRamp(given: LayerOf<'fade'>['stops'], colour: Colour): Uint16Array {
  const stops = given
    .toSorted((a, b) => a.at - b.at)
    .map((s) => ({ at: s.at, rgb: colour(s.paint), alpha: s.opacity / 100 }));
  const ramp = new Uint16Array((STEPS + 1) * 4);
  for (let i = 0; i <= STEPS; i++) {
    const at = Math.min(1, i / STEPS);
    let k = stops.findIndex((stop) => stop.at >= at);
    if (k < 0) k = stops.length - 1;
    const to = stops[k];
    const from = k > 0 && to.at > at ? stops[k - 1] : to;
    const part = to.at > from.at ? (at - from.at) / (to.at - from.at) : 0;
    const alpha = from.alpha + (to.alpha - from.alpha) * part;
    for (let c = 0; c < 3; c++) {
      // Straight colours are mixed, then premultiplied: a stop of no opacity still lends its hue.
      ramp[i * 4 + c] = Math.round((from.rgb[c] + (to.rgb[c] - from.rgb[c]) * part) * 257 * alpha);
    }
    ramp[i * 4 + 3] = Math.round(alpha * 65535);
  }
  return ramp;
}

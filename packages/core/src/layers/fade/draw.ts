import { heldIn } from '../../held.ts';
import type { LayerOf } from '../../livery/layer.ts';
import { inArena, kernelOf, RAMP, RAMP_BYTES, RAMPS } from '../../raster/arena.ts';
import { turnOf } from '../../raster/turn.ts';
import { fillRun, type Texel } from '../../raster/blend.ts';
import { HAIR, spanOf, type Kind, type LayerEnv, type Region } from '../kind.ts';

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
    const arena = inArena(out);
    const at = arena ? placeOf(ramp) : 0;
    if (layer.shape === 'linear') return drawLinear(layer, region, ramp, at, out);
    const scale = STEPS / layer.length;
    const px = region.x + 0.5 * region.step - layer.x;
    for (let y = 0; y < region.height; y++) {
      const py = region.y + (y + 0.5) * region.step - layer.y;
      const row = y * region.width * 4;
      const to = out.byteOffset + row * 2;
      if (arena) kernelOf().radialRow(to, region.width, at, STEPS, px, region.step, py * py, scale);
      else {
        for (let x = 0; x < region.width; x++) {
          const dx = px + x * region.step;
          const entry = Math.sqrt(dx * dx + py * py) * scale + 0.5;
          put(out, row + x * 4, ramp, Math.min(Math.max(entry, 0), STEPS) | 0);
        }
      }
    }
  },
};

/** Entries in fixed point: so many parts of one. */
const PARTS = 65536;

/**
 * Along a line, in whole numbers: how far a sample lies along is counted in parts of an entry for each half texel from the sheet's own
 * corner, so that it comes out the same whatever region it is drawn with.
 */
function drawLinear(layer: LayerOf<'fade'>, region: Region, ramp: Uint16Array, at: number, out: Uint16Array): void {
  const { cos, sin } = turnOf(layer.angle);
  const scale = (STEPS / layer.length) * PARTS;
  const aHalf = Math.round((cos * scale) / 2);
  const slope = aHalf * 2 * region.step;
  const [first, last] = [texelOf(ramp, 0), texelOf(ramp, STEPS)];
  const top = STEPS * PARTS;
  const { width } = region;
  const within = (x: number) => Math.min(width, Math.max(0, x));
  for (let y = 0; y < region.height; y++) {
    const down = region.y + (y + 0.5) * region.step - layer.y;
    const from = Math.round((down * sin - layer.x * cos) * scale + PARTS / 2) + aHalf * (2 * region.x + region.step);
    const row = y * width;
    if (slope === 0) {
      const entry = Math.floor(Math.min(Math.max(from, 0), top) / PARTS);
      fillRun(out, texelOf(ramp, entry), row, row + width);
      continue;
    }
    // Where the row comes into the fade and where it goes out of it.
    const [in_, out_] =
      slope > 0
        ? [within(Math.ceil(-from / slope)), within(Math.ceil((top - from) / slope))]
        : [within(Math.floor((top - from) / slope) + 1), within(Math.floor(-from / slope) + 1)];
    if (in_ > 0) fillRun(out, slope > 0 ? first : last, row, row + in_);
    if (out_ < width) fillRun(out, slope > 0 ? last : first, row + out_, row + width);
    if (out_ <= in_) continue;
    const begins = from + in_ * slope;
    // A slope that passes the whole fade within a texel has one of them in it.
    if (at > 0)
      kernelOf().rampRow(out.byteOffset + (row + in_) * 8, out_ - in_, at, begins, out_ - in_ > 1 ? slope : 0);
    else for (let x = in_; x < out_; x++) put(out, (row + x) * 4, ramp, Math.floor((from + x * slope) / PARTS));
  }
}

/** Ramps that lie where the kernels find them, least lately used first. */
const placed = new Map<Uint16Array, number>();

/** Where a ramp lies for the kernels. */
function placeOf(ramp: Uint16Array): number {
  let at = placed.get(ramp);
  if (at === undefined) {
    const [oldest] = placed.keys();
    at = placed.size < RAMPS ? RAMP + placed.size * RAMP_BYTES : heldIn(placed, oldest);
    if (placed.size >= RAMPS) placed.delete(oldest);
    new Uint16Array(kernelOf().memory.buffer, at, ramp.length).set(ramp);
  } else placed.delete(ramp);
  placed.set(ramp, at);
  return at;
}

function put(out: Uint16Array, o: number, ramp: Uint16Array, entry: number): void {
  for (let c = 0; c < 4; c++) out[o + c] = ramp[entry * 4 + c];
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
    .map(({ at, paint, opacity }) => {
      const [r, g, b] = colour(paint);
      return { at, r, g, b, alpha: opacity / 100 };
    });
  const ramp = new Uint16Array((STEPS + 1) * 4);
  let [from, to] = [stops[0], stops[0]];
  for (let i = 0, k = 0; i <= STEPS; i++) {
    const at = i / STEPS;
    while (k < stops.length - 1 && to.at < at) {
      from = to;
      to = stops[++k];
    }
    const between = k > 0 && to.at > at;
    const part = between ? (at - from.at) / (to.at - from.at) : 0;
    const { r, g, b, alpha } = between ? from : to;
    const share = alpha + (to.alpha - alpha) * part;
    const o = i * 4;
    // Straight colours are mixed, then premultiplied: a stop of no opacity still lends its hue.
    ramp[o] = Math.round((r + (to.r - r) * part) * 257 * share);
    ramp[o + 1] = Math.round((g + (to.g - g) * part) * 257 * share);
    ramp[o + 2] = Math.round((b + (to.b - b) * part) * 257 * share);
    ramp[o + 3] = Math.round(share * 65535);
  }
  return ramp;
}

import type { LayerOf } from '../../livery/layer.ts';
import { fill } from '../../raster/blend.ts';
import { turnOf } from '../../raster/turn.ts';
import { HAIR, opaque, putOver, spanOf, type Kind, type Region } from '../kind.ts';

/** Radius of a dot over the pitch at which neighbours, a square grid apart, just leave no gap. */
const CLOSED = 0.7072;

/** The least and the most of how far along the line a region's samples lie. */
function alongOf(layer: LayerOf<'halftone'>, region: Region): [number, number] {
  const { cos, sin } = turnOf(layer.angle);
  return spanOf(region, layer.x, layer.y, cos, sin);
}

/** Round dots in a square grid along a line: as wide as closes the surface where it begins, nothing where it ends. */
export const halftone: Kind<LayerOf<'halftone'>> = {
  bounds: () => null,
  reaches: (layer, region) => alongOf(layer, region)[0] < layer.length + layer.pitch + HAIR,
  uniform: (layer, region, env) =>
    alongOf(layer, region)[1] <= -layer.pitch - HAIR ? opaque(env.colour(layer.paint)) : null,
  draw(layer, region, env, out) {
    const { cos, sin } = turnOf(layer.angle);
    const colour = env.colour(layer.paint);
    const { pitch, length } = layer;
    const { step, width, height } = region;
    const [alongLow, alongHigh] = alongOf(layer, region);
    if (alongHigh <= -pitch) return fill(out, opaque(colour));
    const [sideLow, sideHigh] = spanOf(region, layer.x, layer.y, -sin, cos);
    /** What shows between the dots at each sample. */
    const open = samples(width * height).fill(1);
    const last = Math.min(Math.ceil(length / pitch), Math.ceil(alongHigh / pitch) + 1);
    for (let column = Math.max(-2, Math.floor(alongLow / pitch) - 1); column <= last; column++) {
      const middle = (column + 0.5) * pitch;
      const left = 1 - middle / length;
      if (left <= 0) break;
      const radius = pitch * CLOSED * (left >= 1 ? 1 : Math.sqrt(left));
      for (let row = Math.floor(sideLow / pitch) - 1; row <= Math.floor(sideHigh / pitch) + 1; row++) {
        const aside = (row + 0.5) * pitch;
        const x = (layer.x + middle * cos - aside * sin - region.x) / step - 0.5;
        const y = (layer.y + middle * sin + aside * cos - region.y) / step - 0.5;
        putDot(open, width, height, x, y, radius / step);
      }
    }
    if (alongLow <= -pitch) closeFront(layer, region, open);
    for (let i = 0; i < open.length; i++) if (open[i] < 1) putOver(out, i, colour, 1 - open[i]);
  },
};

let kept = new Float64Array(0);
/** Room for so many samples; good until it is asked for again. */
function samples(count: number): Float64Array {
  if (kept.length < count) kept = new Float64Array(count);
  return kept.subarray(0, count);
}

/** In front of the line nothing is open. */
function closeFront(layer: LayerOf<'halftone'>, { x: left, y: top, width, height, step }: Region, open: Float64Array) {
  const { cos, sin } = turnOf(layer.angle);
  for (let y = 0, i = 0; y < height; y++) {
    const py = top + (y + 0.5) * step - layer.y;
    for (let x = 0; x < width; x++, i++)
      if ((left + (x + 0.5) * step - layer.x) * cos + py * sin <= -layer.pitch) open[i] = 0;
  }
}

/** Takes a dot out of what is open; its middle and radius in samples. The edge is one sample wide. */
function putDot(open: Float64Array, width: number, height: number, x: number, y: number, radius: number): void {
  const reach = radius + 0.5;
  const bottom = Math.min(height - 1, Math.floor(y + reach));
  for (let row = Math.max(0, Math.ceil(y - reach)); row <= bottom; row++) {
    const dy = row - y;
    const half = Math.sqrt(Math.max(0, reach * reach - dy * dy));
    const to = Math.min(width - 1, Math.floor(x + half));
    // Well within the dot nothing is left open.
    const core = radius - 0.501;
    const deep = core > 0 && core * core > dy * dy ? Math.sqrt(core * core - dy * dy) : -1;
    const [deepFrom, deepTo] = [Math.max(0, Math.ceil(x - deep)), Math.min(width - 1, Math.floor(x + deep))];
    for (let column = Math.max(0, Math.ceil(x - half)); column <= to; column++) {
      if (column === deepFrom && deepFrom <= deepTo) {
        open.fill(0, row * width + deepFrom, row * width + deepTo + 1);
        column = deepTo;
        continue;
      }
      const inside = reach - Math.sqrt((column - x) * (column - x) + dy * dy);
      if (inside > 0) open[row * width + column] *= inside >= 1 ? 0 : 1 - inside;
    }
  }
}

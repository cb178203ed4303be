import type { SrgbRgb } from '../colour/hex.ts';
import { halfPlaneCoverage } from '../shapes/coverage.ts';
import { turnOf } from '../raster/turn.ts';
import { fillRun, type Texel } from '../raster/blend.ts';
import { HAIR, opaque, putOver, spanOf, type Region } from './kind.ts';

/** Where parallel bands lie across the sheet: the first begins `first` texels from the line through (x, y), each next one a pitch further. */
export interface BandPlaces {
  x: number;
  y: number;
  /** Degrees; 0 runs to the right, and distances grow downwards. */
  angle: number;
  softness: number;
  first: number;
  width: number;
  pitch: number;
  count: number;
}

export interface Bands extends BandPlaces {
  colours: readonly SrgbRgb[];
}

/** How far past its edges a band is drawn: half its softness, or a sample for the antialiased edge. */
const reachOf = (softness: number, step: number) => (softness > step ? softness / 2 : step);

/** Whether any band can touch a region. */
export function bandsReach(bands: BandPlaces, region: Region): boolean {
  const { cos, sin } = turnOf(bands.angle);
  const reach = reachOf(bands.softness, region.step);
  const [least, most] = spanOf(region, bands.x, bands.y, -sin, cos);
  const last = bands.first + (bands.count - 1) * bands.pitch + bands.width;
  return most > bands.first - reach - HAIR && least < last + reach + HAIR;
}

/** The paint of a band that a whole region lies in. */
export function bandOver(bands: Bands, region: Region): Texel | null {
  const { cos, sin } = turnOf(bands.angle);
  const reach = reachOf(bands.softness, region.step);
  const [least, most] = spanOf(region, bands.x, bands.y, -sin, cos);
  const k = bands.pitch > 0 ? Math.floor((least - bands.first) / bands.pitch) : 0;
  const begins = bands.first + k * bands.pitch;
  if (k < 0 || k >= bands.count || least < begins + reach + HAIR || most > begins + bands.width - reach - HAIR)
    return null;
  return opaque(bands.colours[k % bands.colours.length]);
}

/** Draws bands: exact area for hard edges, a smooth ramp over `softness` texels for soft ones. */
export function drawBands(bands: Bands, region: Region, out: Uint16Array): void {
  const { cos, sin } = turnOf(bands.angle);
  const { step } = region;
  const { first, pitch, width, softness, colours } = bands;
  const a = cos < 0 ? -cos : cos;
  const b = sin < 0 ? -sin : sin;
  const soft = softness > step;
  const reach = reachOf(softness, step);
  const left = region.x + 0.5 * step - bands.x;
  for (let y = 0; y < region.height; y++) {
    const across = (region.y + (y + 0.5) * step - bands.y) * cos;
    const [low, high] = bandsOnRow(
      across - left * sin,
      across - (left + region.width * step) * sin,
      bands,
      reach + step,
    );
    for (let k = low; k < high; k++) {
      const begins = first + k * pitch;
      const [x0, x1] = stretch(across, sin, left, step, region.width, begins - reach, begins + width + reach);
      if (x0 >= x1) continue;
      const colour = colours[k % colours.length];
      let [from, to] = stretch(across, sin, left, step, region.width, begins + reach, begins + width - reach);
      // Distances grow or fall along a row: what lies between two samples of full paint is of full paint.
      while (from < to && !isFull(across - (left + from * step) * sin - begins, reach, width)) from++;
      while (from < to && !isFull(across - (left + (to - 1) * step) * sin - begins, reach, width)) to--;
      if (from < to) fillRun(out, opaque(colour), y * region.width + from, y * region.width + to);
      for (let x = x0; x < x1; x++) {
        if (x === from && from < to) {
          x = to - 1;
          continue;
        }
        const at = across - (left + x * step) * sin - begins;
        if (at < -reach || at >= width + reach) continue;
        const coverage = soft
          ? ramp(at / softness) - ramp((at - width) / softness)
          : halfPlaneCoverage(at / step, a, b) - halfPlaneCoverage((at - width) / step, a, b);
        putOver(out, y * region.width + x, colour, coverage > 1 - 1e-9 ? 1 : coverage < 1e-9 ? 0 : coverage);
      }
    }
  }
}

/** Which bands the samples of a row can reach; `a` and `b` are how far its ends lie from the line. */
function bandsOnRow(
  a: number,
  b: number,
  { first, width, pitch, count }: Bands,
  reach: number,
): [low: number, high: number] {
  if (pitch <= 0) return [0, count];
  const [least, most] = a < b ? [a, b] : [b, a];
  const low = Math.floor((least - reach - width - first) / pitch);
  const high = Math.ceil((most + reach - first) / pitch) + 1;
  return [low < 0 ? 0 : low, high > count ? count : high];
}

const isFull = (into: number, reach: number, width: number) => into >= reach && into <= width - reach;

/** The samples of a row whose distance from the line can lie between two bounds, one more at each end. */
function stretch(
  across: number,
  sin: number,
  left: number,
  step: number,
  width: number,
  low: number,
  high: number,
): [from: number, to: number] {
  if (sin > -1e-9 && sin < 1e-9) return across < low - 1e-3 || across > high + 1e-3 ? [0, 0] : [0, width];
  const a = ((across - low) / sin - left) / step;
  const b = ((across - high) / sin - left) / step;
  const from = Math.floor(a < b ? a : b) - 1;
  const to = Math.ceil(a < b ? b : a) + 2;
  return [from < 0 ? 0 : from, to > width ? width : to];
}

/** 0 to 1 over -1/2 to 1/2, smooth at both ends. */
export function ramp(t: number): number {
  return t <= -0.5 ? 0 : t >= 0.5 ? 1 : (t + 0.5) * (t + 0.5) * (2 - 2 * t);
}

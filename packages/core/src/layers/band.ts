import type { SrgbRgb } from '../colour/hex.ts';
import { halfPlaneCoverage } from '../shapes/coverage.ts';
import { turnOf } from '../raster/turn.ts';
import { putOver, type Region } from './kind.ts';

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

/** Whether any band can touch a region: the distances of its corners from the line hold those of all its texels. */
export function bandsReach(bands: BandPlaces, region: Region): boolean {
  const { cos, sin } = turnOf(bands.angle);
  const reach = reachOf(bands.softness, region.step);
  let [least, most] = [Infinity, -Infinity];
  for (let k = 0; k < 4; k++) {
    const x = region.x + (k & 1) * region.width * region.step - bands.x;
    const y = region.y + (k >> 1) * region.height * region.step - bands.y;
    const distance = y * cos - x * sin;
    least = Math.min(least, distance);
    most = Math.max(most, distance);
  }
  const last = bands.first + (bands.count - 1) * bands.pitch + bands.width;
  return most > bands.first - reach && least < last + reach;
}

/** Draws bands: exact area for hard edges, a smooth ramp over `softness` texels for soft ones. */
export function drawBands(bands: Bands, region: Region, out: Uint16Array): void {
  const { cos, sin } = turnOf(bands.angle);
  const { step } = region;
  const { first, pitch, width, count, softness, colours } = bands;
  const a = cos < 0 ? -cos : cos;
  const b = sin < 0 ? -sin : sin;
  const soft = softness > step;
  const reach = reachOf(softness, step);
  const left = region.x + 0.5 * step - bands.x;
  for (let y = 0; y < region.height; y++) {
    const across = (region.y + (y + 0.5) * step - bands.y) * cos;
    for (let k = 0; k < count; k++) {
      const begins = first + k * pitch;
      const [x0, x1] = stretch(across, sin, left, step, region.width, begins - reach, begins + width + reach);
      if (x0 >= x1) continue;
      const colour = colours[k % colours.length];
      const [r, g, bl] = [colour[0] * 257, colour[1] * 257, colour[2] * 257];
      for (let x = x0, i = y * region.width + x0; x < x1; x++, i++) {
        const into = across - (left + x * step) * sin - begins;
        if (into >= reach && into <= width - reach) {
          const o = i * 4;
          out[o] = r;
          out[o + 1] = g;
          out[o + 2] = bl;
          out[o + 3] = 65535;
          continue;
        }
        if (into < -reach || into >= width + reach) continue;
        const coverage = soft
          ? ramp(into / softness) - ramp((into - width) / softness)
          : halfPlaneCoverage(into / step, a, b) - halfPlaneCoverage((into - width) / step, a, b);
        putOver(out, i, colour, coverage > 1 - 1e-9 ? 1 : coverage < 1e-9 ? 0 : coverage);
      }
    }
  }
}

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
function ramp(t: number): number {
  return t <= -0.5 ? 0 : t >= 0.5 ? 1 : (t + 0.5) * (t + 0.5) * (2 - 2 * t);
}

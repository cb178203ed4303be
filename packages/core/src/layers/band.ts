import { halfPlaneCoverage } from '../shapes/coverage.ts';
import { turnOf } from '../shapes/turn.ts';
import type { Region } from './kind.ts';

/** A line across the sheet that parallel bands are measured from. */
export interface BandLine {
  x: number;
  y: number;
  angle: number;
  softness: number;
}

/**
 * Visits every sample with its distance from the line (texels, positive to the left of its direction) and a function that gives
 * the coverage of the band between two distances: exact area for hard edges, a smooth ramp of the given width for soft ones.
 */
export function eachInBands(
  line: BandLine,
  region: Region,
  visit: (sample: number, distance: number, band: (from: number, to: number) => number) => void,
): void {
  const { cos, sin } = turnOf(line.angle);
  const { step } = region;
  const a = cos < 0 ? -cos : cos;
  const b = sin < 0 ? -sin : sin;
  let distance = 0;
  const edge =
    line.softness > step
      ? (d: number) => {
          const t = (d + line.softness / 2) / line.softness;
          return t <= 0 ? 0 : t >= 1 ? 1 : t * t * (3 - 2 * t);
        }
      : (d: number) => halfPlaneCoverage(d / step, a, b);
  const band = (from: number, to: number) => {
    const coverage = edge(distance - from) - edge(distance - to);
    return coverage < 1e-9 ? 0 : coverage > 1 - 1e-9 ? 1 : coverage;
  };
  for (let y = 0, i = 0; y < region.height; y++) {
    const py = region.y + (y + 0.5) * step - line.y;
    for (let x = 0; x < region.width; x++, i++) {
      const px = region.x + (x + 0.5) * step - line.x;
      distance = py * cos - px * sin;
      visit(i, distance, band);
    }
  }
}

import type { Contour } from '../shapes/coverage.ts';
import { turnOf } from '../raster/turn.ts';
import type { Box, Region } from './kind.ts';

/** A box that is placed on the sheet by its middle and turned about it. Texels, degrees. */
export interface Placed {
  x: number;
  y: number;
  width: number;
  height: number;
  turn: number;
}

/** The upright box around a placed one, `margin` wider all round. */
export function boxAround(p: Placed, margin: number): Box {
  const { cos, sin } = turnOf(p.turn);
  const w = (Math.abs(cos) * p.width + Math.abs(sin) * p.height) / 2 + margin;
  const h = (Math.abs(sin) * p.width + Math.abs(cos) * p.height) / 2 + margin;
  return { left: p.x - w, top: p.y - h, right: p.x + w, bottom: p.y + h };
}

/** Outlines from a placed thing's own coordinates (middle at 0, 0) into samples of the region. */
export function contoursIn(
  region: Region,
  p: { x: number; y: number; turn: number },
  contours: readonly Contour[],
  scale: number,
  mirrored: boolean,
): Contour[] {
  const { cos, sin } = turnOf(p.turn);
  const k = scale / region.step;
  const x0 = (p.x - region.x) / region.step;
  const y0 = (p.y - region.y) / region.step;
  const flip = mirrored ? -k : k;
  return contours.map((contour) => {
    const out = new Float64Array(contour.length);
    for (let i = 0; i < contour.length; i += 2) {
      const x = contour[i] * flip;
      const y = contour[i + 1] * k;
      out[i] = x0 + x * cos - y * sin;
      out[i + 1] = y0 + x * sin + y * cos;
    }
    return out;
  });
}

import type { SrgbRgb } from '../colour/hex.ts';
import { boxOfOutlines, type Contour } from '../shapes/coverage.ts';
import { putOver, type Box, type Region } from './kind.ts';

/** The samples that outlines can touch, `margin` wider all round; null when none of the region's are. */
export function windowOf(shapes: readonly Contour[], region: Region, margin: number): Box | null {
  const box = boxOfOutlines(shapes);
  const left = Math.max(0, Math.floor(box.left - margin));
  const top = Math.max(0, Math.floor(box.top - margin));
  const right = Math.min(region.width, Math.ceil(box.right + margin));
  const bottom = Math.min(region.height, Math.ceil(box.bottom + margin));
  return left < right && top < bottom ? { left, top, right, bottom } : null;
}

/** Outlines in the samples of a window. */
export const inWindow = (shapes: readonly Contour[], window: Box): Contour[] =>
  shapes.map((shape) => shape.map((value, i) => value - (i % 2 ? window.top : window.left)));

/** Puts a colour through a window's coverage (0..1) on what `out` holds. */
export function putWindow(
  out: Uint16Array,
  region: Region,
  window: Box,
  coverage: Float64Array,
  colour: SrgbRgb,
): void {
  const [w, h] = [window.right - window.left, window.bottom - window.top];
  for (let y = 0, i = 0; y < h; y++) {
    for (let x = 0; x < w; x++, i++)
      putOver(out, (window.top + y) * region.width + window.left + x, colour, coverage[i]);
  }
}

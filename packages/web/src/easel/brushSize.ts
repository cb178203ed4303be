/** How large the brush is where it is pressed. */
import type { Template, TemplateSheet } from '@wet-lacquer/core/livery/template.ts';
import type { Brush } from '@wet-lacquer/core/paint/brush.ts';
import { spotOfTexel, surfaceOf } from '@wet-lacquer/core/surface/locate.ts';
import { useView } from './flat/view.ts';
import type { HandState } from './hand.ts';

/** Diameters that a stroke can have, texels. */
const LEAST = 1;
const MOST = 4000;

type Held = Pick<HandState, 'brush' | 'sizeIn'>;
const ofSize = (brush: Brush, size: number): Brush => ({ ...brush, size: Math.min(MOST, Math.max(LEAST, size)) });

/** At a place of a sheet, texels; null: it is counted in millimetres, and nothing of the model wears that place. */
export function brushOnSheet(
  { brush, sizeIn }: Held,
  template: Template,
  sheet: TemplateSheet,
  at: { x: number; y: number },
): Brush | null {
  // A sheet without a model is as it is told.
  if (sizeIn === 'texels' || template.boards) return brush;
  if (sizeIn === 'screen') return ofSize(brush, brush.size / useView.getState().zoom);
  const spot = spotOfTexel(surfaceOf(template, sheet.key), at.x, at.y);
  return spot && ofSize(brush, brush.size / 1000 / spot.size);
}

/**
 * On the model, in texels of the brush.
 * @param perTexel metres to such a texel @param aPixel metres that a pixel of the screen shows there
 */
export function brushOnModel({ brush, sizeIn }: Held, perTexel: number, aPixel: number): Brush {
  if (sizeIn === 'texels') return brush;
  return ofSize(brush, (sizeIn === 'mm' ? brush.size / 1000 : brush.size * aPixel) / perTexel);
}

/** Paints and rubs out with the pointer over the model. */
import type { PointerEvent } from 'react';
import { sheetNamed } from '@wet-lacquer/core/livery/template.ts';
import { planeBetween } from '@wet-lacquer/core/projectors/place.ts';
import { spotOfTexel, surfaceOf } from '@wet-lacquer/core/surface/locate.ts';
import type { ModelSpot, Stage } from '../../parts/stage.ts';
import { sheetsOnModel } from '../actions.ts';
import type { Easel } from '../context.ts';
import { startStroke } from '../flat/strokes.ts';
import { shownPainter } from '../flat/tilePainter.ts';
import { useHand } from '../hand.ts';
import { setTrouble, useSession } from '../session.ts';
import type { ModelTextures } from './textures.ts';

/**
 * Follows a press on the model until it is let go: the brush is as large as on the sheet that it is pressed on.
 * @param spotOf what is under the pointer
 */
export function paintOnModel(
  down: PointerEvent<HTMLElement>,
  { doc, flat, model }: Easel,
  stage: Stage,
  textures: ModelTextures,
  spotOf: (event: { clientX: number; clientY: number }) => ModelSpot | null,
): void {
  const { template } = doc.use.getState();
  const { sheet, map } = useSession.getState();
  const painter = shownPainter.current;
  const first = spotOf(down);
  if (!painter || !first?.sheet) return;
  const on = sheetNamed(template, first.sheet);
  const perTexel = spotOfTexel(surfaceOf(template, on.key), first.u * on.width, first.v * on.height)?.size;
  if (!perTexel) return;
  setTrouble(null);
  stage.hold(true);
  down.currentTarget.setPointerCapture(down.pointerId);
  const free = () => {
    window.removeEventListener('pointerup', free);
    window.removeEventListener('pointercancel', free);
    stage.hold(false);
  };
  window.addEventListener('pointerup', free);
  window.addEventListener('pointercancel', free);
  startStroke(down, {
    ...{ doc, flat, model, painter, sheet: sheetNamed(template, sheet), onTrouble: setTrouble },
    pieces: sheetsOnModel(template, sheet, map),
    onModel: {
      rules: { perTexel, mirror: useHand.getState().symmetry === 'axis' ? planeBetween(template) : null },
      looking: () => (map === 'colour' ? textures.looking() : []),
      patch: (patches) => textures.patch(patches),
      point(event) {
        const spot = spotOf(event);
        if (!spot?.sheet) return null;
        const [x, y, z] = spot.position.map((v) => v / perTexel);
        return {
          ...{ x, y, z, triangle: spot.triangle },
          pressure: event.pointerType === 'mouse' ? 1 : event.pressure,
          ...{ tiltX: event.tiltX || 0, tiltY: event.tiltY || 0 },
        };
      },
    },
  });
}

/** Paints and rubs out with the pointer over the model. */
import type { PointerEvent } from 'react';
import { hexOfRgb } from '@wet-lacquer/core/colour/hex.ts';
import { sheetNamed, type Template } from '@wet-lacquer/core/livery/template.ts';
import { planeBetween } from '@wet-lacquer/core/projectors/place.ts';
import { spotOfTexel, surfaceOf } from '@wet-lacquer/core/surface/locate.ts';
import type { ModelSpot, Stage } from '../../parts/stage.ts';
import { sheetsOnModel } from '../actions.ts';
import type { Easel } from '../context.ts';
import { startStroke } from '../flat/strokes.ts';
import { shownPainter } from '../flat/tilePainter.ts';
import { brushOnModel } from '../brushSize.ts';
import { NO_WAY, paintWith, useHand } from '../hand.ts';
import { announce, setTrouble, useSession } from '../session.ts';
import { keptOff } from './modelView.ts';
import type { ModelTextures } from './textures.ts';

/** The sheet's texel at a spot of the model, and how many metres it is wide there; null: nothing wears the spot. */
function wornAt(template: Template, { sheet: key, u, v }: ModelSpot) {
  if (key === null) return null;
  const sheet = sheetNamed(template, key);
  const [x, y] = [u * sheet.width, v * sheet.height];
  const perTexel = spotOfTexel(surfaceOf(template, key), x, y)?.size;
  return perTexel ? { sheet, x, y, perTexel } : null;
}

/** Shows on the model how far the brush reaches there. */
export function ringOn(stage: Stage | null, template: Template, spot: ModelSpot | null): void {
  const worn = spot && wornAt(template, spot);
  if (!stage || !spot || !worn) return stage?.ring(null);
  const { size } = brushOnModel(useHand.getState(), worn.perTexel, stage.metresAPixel(spot.position));
  stage.ring(spot, (size / 2) * worn.perTexel);
}

/** A colour from the model, or the place that clone takes from. */
export async function pickOnModel({ doc, flat }: Easel, template: Template, spot: ModelSpot | null): Promise<void> {
  const worn = spot && wornAt(template, spot);
  if (!worn) return;
  const at = { sheet: worn.sheet.key, x: Math.floor(worn.x), y: Math.floor(worn.y) };
  if (useHand.getState().hand === 'clone') {
    useHand.setState({ cloneFrom: at, ...NO_WAY });
    return announce(`Clone takes from ${spot.part}`);
  }
  const { map } = useSession.getState();
  const { rgb } = await flat.ask('colourAt', { ...at, map }).catch(() => ({ rgb: null }));
  if (rgb) paintWith(doc.use.getState().livery, hexOfRgb(rgb));
}

/**
 * Follows a press on the model until it is let go: a brush of texels is as large as on the sheet that it is pressed on.
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
  const worn = first && wornAt(template, first);
  if (!painter || !worn) return;
  const { perTexel } = worn;
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
      rules: {
        perTexel,
        mirror: useHand.getState().symmetry === 'axis' ? planeBetween(template) : null,
        not: keptOff(template),
      },
      brush: brushOnModel(useHand.getState(), perTexel, stage.metresAPixel(first.position)),
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

import { envOf, renderRegion, type Sources } from '../../compose/renderTile.ts';
import { isDrawn, boundsOf } from '../../layers/index.ts';
import { applyEdit, type Edit } from '../../livery/edit.ts';
import type { LayerId } from '../../livery/ids.ts';
import { findLayer, type Livery } from '../../livery/livery.ts';
import { toStraight8 } from '../../raster/tile16.ts';
import { squaredErrors } from '../../texture/compare.ts';
import { decodeImage, encodeImage } from '../../texture/encode.ts';
import { type FormatKey } from '../../texture/formats/index.ts';

export interface Nudge {
  /** Texels to the right and down, -2 to 2. */
  x: number;
  y: number;
  /** Squared error about the mark where it is, and where it would be. */
  before: number;
  after: number;
  edit: Edit;
}

/** The largest side that is looked at: marks beyond it have so many edges that no place suits them all. */
const LARGEST = 2048;

/**
 * Looks for the place of a mark, within two texels of its own, where its edges fit the 4 x 4 block grid best. The sheet about it is drawn and
 * encoded at every whole step. Null when the mark cannot be moved, is too large, or stays best where it is.
 */
export function nudgeToGrid(livery: Livery, id: LayerId, format: FormatKey, sources: Sources): Nudge | null {
  const place = findLayer(livery, id);
  if (!place || !('x' in place.layer)) return null;
  const { layer, sheet, map } = place;
  if (!isDrawn(layer) || layer.on) return null;
  const box = boundsOf(layer, envOf(livery, sources, sheet));
  if (!box) return null;
  // Whole blocks, with room for the steps.
  const [left, top] = [Math.floor((box.left - 4) / 4) * 4, Math.floor((box.top - 4) / 4) * 4];
  const [width, height] = [Math.ceil((box.right + 4 - left) / 4) * 4, Math.ceil((box.bottom + 4 - top) / 4) * 4];
  if (width > LARGEST || height > LARGEST) return null;
  const errorAt = (moved: Livery) => {
    const region = { x: left, y: top, width, height, step: 1 };
    const data = toStraight8(renderRegion(moved, sheet, map, region, sources), width, height, left, top);
    const painted = { width, height, data };
    const back = decodeImage(encodeImage(painted, format, { effort: 'normal' }), format, width, height);
    const [r, g, b] = squaredErrors(painted, back);
    return r + g + b;
  };
  const before = errorAt(livery);
  let best: Nudge | null = null;
  for (let y = -2; y <= 2; y++) {
    for (let x = -2; x <= 2; x++) {
      if (x === 0 && y === 0) continue;
      const edit: Edit = { do: 'set-layer', layer: id, set: { x: layer.x + x, y: layer.y + y } };
      const after = errorAt(applyEdit(livery, edit).livery);
      if (after < (best?.after ?? before)) best = { x, y, before, after, edit };
    }
  }
  return best && best.after < before * 0.98 ? best : null;
}

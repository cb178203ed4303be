/** Layers that run over several sheets: one on each, under a common name, changed together. */
import type { LayerId } from './ids.ts';
import type { Layer } from './layer.ts';
import { findLayer, layersIn, type Livery } from './livery.ts';
import { Mask, newMask, type MaskFrom } from './paint.ts';

/** The other layers of the same run over sheets; of one that is gone, none. */
export function siblingsOf(livery: Livery, id: LayerId): Layer[] {
  const across = findLayer(livery, id)?.layer.across;
  return across === undefined ? [] : layersIn(livery).filter((other) => other.across === across && other.id !== id);
}

/** Whether something said of a run over sheets is said at this layer: at the first of it. */
export const isFirstOfRun = (livery: Livery, { id, across }: Pick<Layer, 'id' | 'across'>): boolean =>
  across === undefined || layersIn(livery).find((other) => other.across === across)?.id === id;

/** Settings that say where on its own sheet a layer lies: the others move by as much. */
const PLACES = ['x', 'y', 'left', 'top'];
/** Settings that are of one sheet, or of what is stored for it. */
const ITS_OWN = ['parts', 'strokes'];

/** What settings of a layer mean for one that runs on with it on another sheet. @returns those that mean something there */
export function onSibling(
  livery: Livery,
  layer: Layer,
  sibling: Layer,
  set: Readonly<Record<string, unknown>>,
): Record<string, unknown> {
  const [before, own] = [layer, sibling] as unknown as Record<string, unknown>[];
  const out: Record<string, unknown> = {};
  for (const [key, value] of Object.entries(set)) {
    if (ITS_OWN.includes(key)) continue;
    if (PLACES.includes(key) && typeof value === 'number')
      out[key] = (own[key] as number) + value - (before[key] as number);
    else if (key === 'group' && typeof value === 'string') {
      const group = counterpart(livery, value as LayerId, sibling);
      if (group) out.group = group;
    } else if (key === 'mask' && value !== null) {
      const mask = Mask.safeParse(value);
      if (mask.success)
        out.mask = {
          ...(sibling.mask ?? newMask({ kind: 'all' })),
          ...maskOnSibling(livery, layer, sibling, mask.data),
        };
    } else out[key] = value;
  }
  return out;
}

/** What settings of a layer's mask mean for the mask of one that runs on with it: what was painted and what lies in tiles stays each sheet's own. */
export function maskOnSibling(
  livery: Livery,
  layer: Layer,
  sibling: Layer,
  { strokes: _strokes, from, linked, ...set }: Partial<Mask>,
): Partial<Mask> {
  const begins = from && fromOnSibling(livery, layer, sibling, from);
  const at = placeOf(sibling);
  return {
    ...set,
    ...(begins && { from: begins }),
    ...(linked === null && { linked }),
    ...(linked && at && { linked: at }),
  };
}

function fromOnSibling(livery: Livery, layer: Layer, sibling: Layer, from: MaskFrom): MaskFrom | null {
  switch (from.kind) {
    // The model is the same whichever sheet is looked at.
    case 'all':
    case 'field':
      return from;
    case 'fade': {
      // The sheets lie to one another as the layer's places on them do.
      const [here, there] = [placeOf(layer), placeOf(sibling)];
      return here && there && { ...from, x: from.x + there.x - here.x, y: from.y + there.y - here.y };
    }
    case 'layer': {
      const other = counterpart(livery, from.layer, sibling);
      return other && { ...from, layer: other };
    }
    // Parts and tiles are of one sheet.
    case 'parts':
    case 'coverage':
      return null;
  }
}

const placeOf = (layer: Layer): { x: number; y: number } | null =>
  'x' in layer ? { x: layer.x, y: layer.y } : 'left' in layer ? { x: layer.left, y: layer.top } : null;

/** The layer on a sibling's own map that runs on with the one that is named. */
function counterpart(livery: Livery, id: LayerId, sibling: Layer): LayerId | null {
  const at = findLayer(livery, sibling.id);
  const found = siblingsOf(livery, id).find((other) => {
    const place = findLayer(livery, other.id);
    return place?.sheet === at?.sheet && place?.map === at?.map;
  });
  return found?.id ?? null;
}

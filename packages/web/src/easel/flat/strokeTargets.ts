/** Which layers take the next stroke. */
import type { Layer } from '@wet-lacquer/core/livery/layer.ts';
import type { LayerId } from '@wet-lacquer/core/livery/ids.ts';
import type { SingleEdit } from '@wet-lacquer/core/livery/edit.ts';
import { findLayer, layersOf } from '@wet-lacquer/core/livery/livery.ts';
import { commitAll } from '../actions.ts';
import { newLayer } from '../buildup/makers.ts';
import type { EaselDocument } from '../document.ts';
import { useHand } from '../hand.ts';
import { choose, announce, useSession } from '../session.ts';
import type { Piece } from './pieces.ts';

export interface Target {
  layer: Layer;
  on: 'layer' | 'mask';
}

/** The layer that takes the next stroke, and whether on its picture or its mask; null: a new one has to be made. */
export function paintTarget(doc: EaselDocument): Target | null {
  const { chosen, sheet, map } = useSession.getState();
  const place = chosen ? findLayer(doc.use.getState().livery, chosen as LayerId) : null;
  if (!place || place.sheet !== sheet || place.map !== map || place.layer.locked || place.layer.hidden) return null;
  if (useHand.getState().onMask && place.layer.mask) return { layer: place.layer, on: 'mask' };
  return place.layer.kind === 'brush' ? { layer: place.layer, on: 'layer' } : null;
}

/** New brushwork for a map whose layers are these. */
function newBrushwork(layers: readonly Layer[]): Layer {
  const names = new Set(layers.map(({ name }) => name));
  let name = 'Brushwork';
  for (let n = 2; names.has(name); n++) name = `Brushwork ${n}`;
  return newLayer('brush', name, 'Retouch', { strokes: [] });
}

/** Puts new brushwork directly above the chosen layer; on a surface on every sheet of it, as one. */
function newTarget(doc: EaselDocument, pieces: readonly Piece[]): Layer {
  const { chosen, sheet, map } = useSession.getState();
  const { livery } = doc.use.getState();
  const layers = layersOf(livery, sheet, map);
  const at = layers.findIndex((layer) => layer.id === chosen);
  const group = layers[at]?.group;
  const made = { ...newBrushwork(layers), ...(group !== undefined && { group }) };
  const { name } = made;
  const across = pieces.length > 1 ? { across: made.id } : {};
  const own: SingleEdit = {
    do: 'add-layer',
    sheet,
    map,
    layer: { ...made, ...across },
    index: at >= 0 ? at + 1 : layers.length,
  };
  const others = pieces.flatMap(({ sheet: { key } }): SingleEdit[] => {
    if (key === sheet) return [];
    const layer = { ...newBrushwork([]), name, ...across };
    return [{ do: 'add-layer', sheet: key, map, layer, index: layersOf(livery, key, map).length }];
  });
  commitAll(doc, [own, ...others], `Add ${name}`);
  choose(made.id);
  announce(
    `${at >= 0 ? `${layers[at].name} cannot take paint${pieces.length > 1 ? ' here' : ''}: ` : ''}${name} was put on above`,
  );
  return own.layer;
}

/** The brushwork on a sheet that is one with that of another sheet; null when it is not there or takes no paint. */
function partOn(doc: EaselDocument, sheet: string, map: string, layer: Layer): Layer | null {
  const layers = layersOf(doc.use.getState().livery, sheet, map);
  const found = layers.find(
    (one) => one.id === layer.id || (layer.across !== undefined && one.across === layer.across),
  );
  return found?.kind === 'brush' && !found.locked && !found.hidden ? found : null;
}

/** What takes the next stroke on each of the sheets that are shown: the chosen layer, or new brushwork above it. */
export function targetsOn(doc: EaselDocument, pieces: readonly Piece[]): Map<string, Target> {
  const { sheet, map } = useSession.getState();
  const chosen = paintTarget(doc);
  if (pieces.length === 1) {
    const target = chosen ?? { layer: newTarget(doc, pieces), on: 'layer' as const };
    return new Map([[sheet, target]]);
  }
  const over = (layer: Layer) =>
    pieces.flatMap(({ sheet: { key } }): [string, Target][] => {
      const part = partOn(doc, key, map, layer);
      return part ? [[key, { layer: part, on: 'layer' }]] : [];
    });
  // A mask is each sheet's own: it takes paint where the layer has one.
  if (chosen?.on === 'mask') {
    const { id, across } = chosen.layer;
    return new Map(
      pieces.flatMap(({ sheet: { key } }): [string, Target][] => {
        const layers = layersOf(doc.use.getState().livery, key, map);
        const part = layers.find((one) => one.id === id || (across !== undefined && one.across === across));
        return part?.mask && !part.locked ? [[key, { layer: part, on: 'mask' }]] : [];
      }),
    );
  }
  const known = chosen ? over(chosen.layer) : [];
  // Brushwork that does not run over the whole surface would leave a gap in the stroke.
  return new Map(known.length === pieces.length ? known : over(newTarget(doc, pieces)));
}

/** Of another map the brushwork that lies on top, or new one, put on with the stroke. */
export function topBrushwork(doc: EaselDocument, sheet: string, map: string, edits: SingleEdit[]): Target {
  const layers = layersOf(doc.use.getState().livery, sheet, map);
  const top = layers.at(-1);
  if (top?.kind === 'brush' && !top.locked && !top.hidden && top.group === undefined)
    return { layer: top, on: 'layer' };
  const layer = newBrushwork(layers);
  edits.push({ do: 'add-layer', sheet, map, layer, index: layers.length });
  return { layer, on: 'layer' };
}

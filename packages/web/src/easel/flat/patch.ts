import type { SingleEdit } from '@wet-lacquer/core/livery/edit.ts';
import type { LayerId } from '@wet-lacquer/core/livery/ids.ts';
import { findLayer } from '@wet-lacquer/core/livery/livery.ts';
import { newMask } from '@wet-lacquer/core/livery/paint.ts';
import type { RenderClient } from '../../workers/renderClient.ts';
import { newLayer } from '../buildup/makers.ts';
import type { EaselDocument } from '../document.ts';
import type { HandState } from '../hand.ts';
import { keepRegion } from '../pixels.ts';
import { choose, announce } from '../session.ts';
import { cutTo } from '@wet-lacquer/core/livery/words.ts';

interface Place {
  sheet: string;
  map: string;
  /** Texels. */
  x: number;
  y: number;
}

/**
 * A replaced colour keeps to the patch at a place, as far as that hangs together, as one step. What changes everything below it gets a mask;
 * of a layer with a picture of its own, which a mask would hide elsewhere, the change becomes a layer above it.
 * @throws when nothing is there
 */
export async function keepToPatch(
  doc: EaselDocument,
  flat: RenderClient,
  { layer: id, filter, tolerance }: NonNullable<HandState['patch']>,
  place: Place,
): Promise<void> {
  const region = await flat.ask('patch', { ...place, tolerance, without: id });
  if (!region) throw new Error('There is nothing to keep to: press on the sheet.');
  const from = { kind: 'coverage' as const, ...(await keepRegion(region)) };
  const found = findLayer(doc.use.getState().livery, id as LayerId);
  const change = found?.layer.filters?.[filter];
  if (!found || !change) return;
  const { layer, sheet, map, index } = found;
  const mask = newMask(from);
  const label = `Keep a change of ${layer.name} to a patch`;
  if (layer.kind !== 'adjust') {
    const { name, phase, group } = layer;
    const above = newLayer('adjust', cutTo(`${name} on one patch`, 80), phase, {
      filters: [change],
      mask,
      ...(group !== undefined && { group }),
    });
    const left = layer.filters!.toSpliced(filter, 1);
    const edits: SingleEdit[] = [
      { do: 'set-layer', layer: layer.id, set: { filters: left.length > 0 ? left : null } as never },
      { do: 'add-layer', sheet, map, layer: above, index: index + 1 },
    ];
    doc.commit({ do: 'together', edits }, label);
    choose(above.id);
  } else if (layer.mask) doc.commit({ do: 'set-mask', layer: layer.id, set: { from } }, label);
  else doc.commit({ do: 'set-layer', layer: layer.id, set: { mask } as never }, label);
  announce('The change keeps to the patch');
}

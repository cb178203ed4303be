/** What painters do to layers that lie on the model. */
import type { SingleEdit } from '@wet-lacquer/core/livery/edit.ts';
import { Layer } from '@wet-lacquer/core/livery/layer.ts';
import { findLayer, layersOf } from '@wet-lacquer/core/livery/livery.ts';
import { canStand, laidOut, stoodUp } from '@wet-lacquer/core/layers/stand.ts';
import { surfaceOf } from '@wet-lacquer/core/surface/locate.ts';
import { markPlace } from '@wet-lacquer/core/surface/markPlace.ts';
import { commitAll, onEverySheet } from './actions.ts';
import { indexFor } from './buildup/makers.ts';
import type { EaselDocument } from './document.ts';
import { announce, choose, useSession } from './session.ts';

/** Puts a layer of a sheet on the model, where it lies: it is one for all sheets from then on. */
export function putOnModel(doc: EaselDocument, id: string): void {
  const { livery, template } = doc.use.getState();
  const place = findLayer(livery, id as Layer['id']);
  if (!place || !canStand(place.layer) || place.layer.on || template.boards) return;
  const { layer, sheet, map, index } = place;
  const surface = surfaceOf(template, sheet);
  const own = 'x' in layer && surface.rankUnder(layer.x, layer.y) >= 0 ? { x: layer.x, y: layer.y } : null;
  const at = own ?? markPlace(template, sheet);
  const stood = at && stoodUp(layer, surface, at);
  if (!stood) return announce(`${layer.name} cannot be put on the model: this sheet has nothing of it`);
  const edits: SingleEdit[] = [
    { do: 'remove-layer', layer: layer.id },
    ...onEverySheet(doc, { do: 'add-layer', sheet, map, layer: Layer.parse(stood), index }),
  ];
  commitAll(doc, edits, `Put ${layer.name} on the model`);
  choose(layer.id);
  announce(`${layer.name} lies on the model: drag it there, or set its place on the right`);
}

/** Takes a layer from the model to the sheet that wears its place. */
export function takeToSheet(doc: EaselDocument, id: string): void {
  const { livery, template } = doc.use.getState();
  const place = findLayer(livery, id as Layer['id']);
  const laid = place && laidOut(place.layer, template);
  if (!place || !laid) return announce('It lies on nothing that has a sheet');
  const layers = layersOf(livery, laid.sheet, place.map);
  const index = laid.sheet === place.sheet ? place.index : indexFor(layers, place.layer.phase, null);
  const edits: SingleEdit[] = [
    { do: 'remove-layer', layer: place.layer.id },
    { do: 'add-layer', sheet: laid.sheet, map: place.map, layer: Layer.parse(laid.layer), index },
  ];
  commitAll(doc, edits, `Take ${place.layer.name} to the sheet`);
  choose(place.layer.id, laid.sheet, useSession.getState().map);
  announce(`${place.layer.name} lies on ${laid.sheet}`);
}

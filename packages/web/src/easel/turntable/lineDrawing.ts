/** A line that is being drawn on the model, place by place. */
import { create } from 'zustand';
import type { LayerId } from '@wet-lacquer/core/livery/ids.ts';
import { findLayer } from '@wet-lacquer/core/livery/livery.ts';
import type { Projector } from '@wet-lacquer/core/livery/projector.ts';
import { place } from '@wet-lacquer/core/projectors/place.ts';
import type { ModelSpot } from '../../parts/stage.ts';
import type { EaselDocument } from '../document.ts';
import { announce } from '../session.ts';

type Place = [number, number, number];

interface LineDrawing {
  /** Whose line it is; null: none is drawn. */
  layer: LayerId | null;
  places: readonly Place[];
  facing: Place;
}

const NONE: LineDrawing = { layer: null, places: [], facing: [0, 0, 1] };
export const useLineDrawing = create<LineDrawing>(() => NONE);

export function beginLine(layer: LayerId): void {
  useLineDrawing.setState({ ...NONE, layer });
  announce(
    'Press on the model from place to place; Enter ends the line, Backspace takes the last place back, Escape leaves it',
  );
}

/** What the layer's projector is with the places so far; null: there are too few, or it lies otherwise by now. */
function drawn(doc: EaselDocument): Projector | null {
  const { layer, places, facing } = useLineDrawing.getState();
  const on = layer && findLayer(doc.use.getState().livery, layer)?.layer.on;
  if (on?.kind !== 'along' || places.length < 2) return null;
  return { ...on, line: { by: 'places', places: [...places], closed: false, facing } };
}

function show(doc: EaselDocument): void {
  const { layer } = useLineDrawing.getState();
  const on = drawn(doc);
  doc.show(layer && on ? { do: 'set-layer', layer, set: { on } } : null);
}

/** Goes on to a place of the model. */
export function lineTo(doc: EaselDocument, { position, normal }: Pick<ModelSpot, 'position' | 'normal'>): void {
  const { places } = useLineDrawing.getState();
  useLineDrawing.setState({
    places: [...places, place(position)].slice(0, 200),
    ...(places.length === 0 && { facing: normal }),
  });
  show(doc);
}

export function takeBack(doc: EaselDocument): void {
  useLineDrawing.setState(({ places }) => ({ places: places.slice(0, -1) }));
  show(doc);
}

/** Ends the line: kept as one step, or left as it was. */
export function endLine(doc: EaselDocument, keep: boolean): void {
  const { layer } = useLineDrawing.getState();
  const on = keep ? drawn(doc) : null;
  useLineDrawing.setState(NONE);
  doc.show(null);
  const found = layer && findLayer(doc.use.getState().livery, layer);
  if (found && on) doc.commit({ do: 'set-layer', layer: found.layer.id, set: { on } }, `Line of ${found.layer.name}`);
}

/** What a press on the paper does when a layer is in hand or nothing is: it moves the chosen layer or the view, or chooses. */
import type { PointerEvent } from 'react';
import { boundsOf } from '@wet-lacquer/core/livery/arrange.ts';
import type { Layer } from '@wet-lacquer/core/livery/layer.ts';
import { layersOf } from '@wet-lacquer/core/livery/livery.ts';
import { setLayer } from '../actions.ts';
import type { EaselDocument } from '../document.ts';
import { frameOf, holds, moved, type Frame, type Point } from './placing.ts';
import { shownGrid, SNAP_PX, snapBox, snapLines, useSnapped } from './snapping.ts';
import { texelAt, toPaper, useView } from './view.ts';

/** A press that moves less than this is a click. */
const CLICK_PX = 4;

export interface Pressed {
  doc: EaselDocument;
  sheet: string;
  map: string;
  /** The chosen layer, where it is on this sheet and shown; null: the press is for the view. */
  layer: Layer | null;
  /** Of lettering at a size of 1. */
  letteringWidth: number | null;
  /** Whether it moves the view, whatever lies under it. */
  pans: boolean;
  onPanning(on: boolean): void;
  /** A press that went nowhere. */
  onClick(at: Point): void;
}

/** Follows a press until it is let go or given up with Escape. */
export function startPress(down: PointerEvent<HTMLElement>, pressed: Pressed): void {
  const { doc, layer, pans, onPanning, onClick } = pressed;
  const element = down.currentTarget;
  const from = texelAt(element, down);
  const started = useView.getState();
  const frame = layer && frameOf(layer, pressed.letteringWidth);
  const held =
    !pans && down.button === 0 && layer && !layer.locked && frame && holds(frame, from) ? { layer, frame } : null;
  const goes = held && goesTo(held, from, pressed);
  let far = false;
  const move = (event: globalThis.PointerEvent) => {
    if (!far && Math.hypot(event.clientX - down.clientX, event.clientY - down.clientY) < CLICK_PX) return;
    far = true;
    if (held && goes)
      doc.show({
        do: 'set-layer',
        layer: held.layer.id,
        set: moved(held.layer, from, goes(texelAt(element, event), event.altKey)),
      });
    else {
      onPanning(true);
      const way = toPaper(started, event.clientX - down.clientX, event.clientY - down.clientY);
      useView.setState({ x: started.x - way.x / started.zoom, y: started.y - way.y / started.zoom });
    }
  };
  const end = () => {
    element.removeEventListener('pointermove', move);
    element.removeEventListener('pointerup', up);
    element.removeEventListener('pointercancel', cancel);
    window.removeEventListener('keydown', giveUp, true);
    onPanning(false);
    useSnapped.setState({ lines: [], way: null });
  };
  const cancel = () => {
    end();
    doc.show(null);
  };
  const giveUp = (event: globalThis.KeyboardEvent) => {
    if (event.key !== 'Escape' || !far) return;
    // It gives up the move, not the choice of the layer.
    event.stopPropagation();
    cancel();
  };
  const up = (event: globalThis.PointerEvent) => {
    const last = far && goes ? goes(texelAt(element, event), event.altKey) : null;
    end();
    if (last && held) setLayer(doc, held.layer.id, moved(held.layer, from, last), `Move ${held.layer.name}`);
    else if (!far && down.button === 0) onClick(from);
  };
  element.addEventListener('pointermove', move);
  element.addEventListener('pointerup', up);
  element.addEventListener('pointercancel', cancel);
  window.addEventListener('keydown', giveUp, true);
}

/** Where a layer goes that was taken at a place: with its sides and its middle on lines that are near, unless it is free. */
function goesTo({ layer, frame }: { layer: Layer; frame: Frame }, from: Point, { doc, sheet, map }: Pressed) {
  const { livery, template } = doc.use.getState();
  const lines = snapLines(template, sheet, layersOf(livery, sheet, map), layer);
  return (to: Point, free: boolean): Point => {
    if (free) {
      useSnapped.setState({ lines: [], way: { from, to } });
      return to;
    }
    const { left, top, right, bottom } = boundsOf(frame);
    const [dx, dy] = [to.x - from.x, to.y - from.y];
    const box = { left: left + dx, top: top + dy, right: right + dx, bottom: bottom + dy };
    const { by, lines: on } = snapBox(box, lines, SNAP_PX / useView.getState().zoom, shownGrid());
    const snapped = { x: to.x + by.x, y: to.y + by.y };
    useSnapped.setState({ lines: on, way: { from, to: snapped } });
    return snapped;
  };
}

import type { PointerEvent } from 'react';
import type { SingleEdit } from '@wet-lacquer/core/livery/edit.ts';
import type { Layer } from '@wet-lacquer/core/livery/layer.ts';
import { layersOf } from '@wet-lacquer/core/livery/livery.ts';
import type { EaselDocument } from '../document.ts';
import type { Point } from './placing.ts';
import { useSession } from '../session.ts';
import { shownGrid, SNAP_PX, snapLines, snapPoint, useSnapped } from './snapping.ts';
import { texelAt, useView } from './view.ts';

/** The settings that a layer gets while a handle is dragged to a place. `snap`: angles in steps; `free`: nothing snaps. */
export type Change = (to: Point, snap: boolean, free: boolean) => Extract<SingleEdit, { do: 'set-layer' }>['set'];

/** What a handle sets of its layer. */
export type Settings = ReturnType<Change>;

/**
 * Follows a press until it is let go: what it changes is shown, and one step at the end. Escape gives up the drag, not the choice of what is
 * dragged.
 * @param change what a place of the pointer changes; null: nothing new
 * @param ended called when it is over, however
 */
export function followPress(
  doc: EaselDocument,
  label: string,
  change: (event: globalThis.PointerEvent) => SingleEdit | null,
  ended: () => void,
): void {
  let last: SingleEdit | null = null;
  const move = (event: globalThis.PointerEvent) => {
    const edit = change(event);
    if (!edit) return;
    last = edit;
    doc.show(edit);
  };
  const end = (keep: boolean) => () => {
    window.removeEventListener('pointermove', move);
    window.removeEventListener('pointerup', up);
    window.removeEventListener('keydown', key, true);
    ended();
    if (keep && last) doc.commit(last, label);
    else doc.show(null);
  };
  const up = end(true);
  const giveUp = end(false);
  const key = (event: KeyboardEvent) => {
    if (event.key !== 'Escape') return;
    event.stopPropagation();
    giveUp();
  };
  window.addEventListener('pointermove', move);
  window.addEventListener('pointerup', up);
  window.addEventListener('keydown', key, true);
}

/** The same for a handle of a layer. @param change what a place of the pointer sets of it; null: nothing new */
export function followHandle(
  doc: EaselDocument,
  layer: Layer,
  label: string,
  change: (event: globalThis.PointerEvent) => Settings | null,
  ended: () => void,
): void {
  const edit = (event: globalThis.PointerEvent): SingleEdit | null => {
    const set = change(event);
    return set && { do: 'set-layer', layer: layer.id, set };
  };
  followPress(doc, `${label} ${layer.name}`, edit, ended);
}

/**
 * Pointer handlers that show a change while a handle is held, and make it one step when it is let go. Places snap to lines that are near
 * unless Alt is held; handles that turn something do not.
 */
export function useDrag(doc: EaselDocument, layer: Layer | null) {
  return (change: Change, label: string, snaps = !label.startsWith('Turn')) => ({
    onPointerDown: (down: PointerEvent<SVGElement>) => {
      if (!layer || down.button !== 0) return;
      down.stopPropagation();
      down.preventDefault();
      const paper = down.currentTarget.ownerSVGElement!;
      const { livery, template } = doc.use.getState();
      const { sheet, map } = useSession.getState();
      const lines = snaps ? snapLines(template, sheet, layersOf(livery, sheet, map), layer) : [];
      const from = texelAt(paper, down);
      const set = (event: globalThis.PointerEvent) => {
        const at = texelAt(paper, event);
        const near = event.altKey ? [] : lines;
        const grid = snaps && !event.altKey ? shownGrid() : 0;
        const { point, lines: held } = snapPoint(at, near, SNAP_PX / useView.getState().zoom, grid);
        useSnapped.setState({ lines: held, way: { from, to: point } });
        return change(point, event.shiftKey, event.altKey);
      };
      followHandle(doc, layer, label.split(' ')[0], set, () => useSnapped.setState({ lines: [], way: null }));
    },
  });
}

import type { PointerEvent } from 'react';
import type { SingleEdit } from '@wet-lacquer/core/livery/edit.ts';
import type { Layer } from '@wet-lacquer/core/livery/layer.ts';
import type { EaselDocument } from '../document.ts';
import type { Point } from './placing.ts';
import { texelAt } from './view.ts';

/** The settings that a layer gets while a handle is dragged to a place. */
export type Change = (to: Point, snap: boolean) => Extract<SingleEdit, { do: 'set-layer' }>['set'];

/** Pointer handlers that show a change while a handle is held, and make it one step when it is let go. Escape gives up. */
export function useDrag(doc: EaselDocument, layer: Layer | null) {
  return (change: Change, label: string) => ({
    onPointerDown: (down: PointerEvent<SVGElement>) => {
      if (!layer || down.button !== 0) return;
      down.stopPropagation();
      down.preventDefault();
      const target = down.currentTarget;
      const paper = target.ownerSVGElement!;
      let last: ReturnType<Change> | null = null;
      const move = (event: globalThis.PointerEvent) => {
        last = change(texelAt(paper, event), event.shiftKey);
        doc.show({ do: 'set-layer', layer: layer.id, set: last });
      };
      const end = (keep: boolean) => () => {
        window.removeEventListener('pointermove', move);
        window.removeEventListener('pointerup', up);
        window.removeEventListener('keydown', key, true);
        if (keep && last)
          doc.commit({ do: 'set-layer', layer: layer.id, set: last }, `${label.split(' ')[0]} ${layer.name}`);
        else doc.show(null);
      };
      const up = end(true);
      const giveUp = end(false);
      const key = (event: KeyboardEvent) => {
        if (event.key !== 'Escape') return;
        // It gives up the drag, not the choice of the layer.
        event.stopPropagation();
        giveUp();
      };
      window.addEventListener('pointermove', move);
      window.addEventListener('pointerup', up);
      window.addEventListener('keydown', key, true);
    },
  });
}

import { useMemo } from 'react';
import { spotOfTexel, surfaceOf } from '@wet-lacquer/core/surface/locate.ts';
import type { NoteCard, NotePlace } from '@wet-lacquer/sync/people.ts';
import type { Stage } from '../../parts/stage.ts';
import { cutTo } from '@wet-lacquer/core/livery/words.ts';
import { useTemplate } from '../context.ts';
import type { Piece } from '../flat/pieces.ts';
import { toScreen, type View } from '../flat/view.ts';
import { useMoved } from '../turntable/handles.tsx';
import { useNotes, useNoting, usePinsShown } from './notes.ts';
import { Pin } from './Pin.tsx';

interface Pinned {
  id: string;
  place: NotePlace;
  note: NoteCard | null;
}

/** Notes that are shown as pins, and the place of the one that is being written. */
function usePinned(): Pinned[] {
  const { notes } = useNotes();
  const { withDone, chosen, place } = useNoting();
  return useMemo(
    () => [
      ...(notes ?? [])
        .filter(({ done, id }) => !done || withDone || id === chosen)
        .map((note) => ({ id: note.id, place: note.place, note })),
      ...(place ? [{ id: 'new', place, note: null }] : []),
    ],
    [notes, withDone, chosen, place],
  );
}

/** How a pin is drawn and read, wherever it is. */
function pinOf({ note }: Pinned, chosen: string | null) {
  if (!note) return { number: null, called: 'A new note' };
  return {
    number: note.number,
    called: `Note ${note.number}${note.done ? ', ticked off' : ''}: ${cutTo(note.text, 80)}`,
    done: note.done !== null,
    chosen: note.id === chosen,
    onPress: () => useNoting.setState({ chosen: note.id }),
  };
}

/** Pins on the sheets that are shown. */
export function SheetPins(props: { pieces: readonly Piece[]; view: View }) {
  return usePinsShown() ? <OnSheets {...props} /> : null;
}

function OnSheets({ pieces, view }: { pieces: readonly Piece[]; view: View }) {
  const pinned = usePinned();
  const chosen = useNoting((s) => s.chosen);
  const upright = `scaleX(${view.mirrored ? -1 : 1}) rotate(${-view.turn}deg)`;
  return pieces.flatMap(({ sheet, left, top }) =>
    pinned
      .filter(({ place }) => place.sheet === sheet.key)
      .map((one) => (
        <Pin
          key={`${sheet.key} ${one.id}`}
          {...pinOf(one, chosen)}
          at={toScreen(view, left + one.place.x, top + one.place.y)}
          upright={upright}
        />
      )),
  );
}

/** Pins on the model, where each place is. */
export function ModelPins({ stage }: { stage: Stage }) {
  return usePinsShown() ? <OnModel stage={stage} /> : null;
}

/** How far off what is seen may be from what is pinned, by the model's radius, before it lies behind that. */
const NEAR = 0.02;

function OnModel({ stage }: { stage: Stage }) {
  const template = useTemplate();
  const pinned = usePinned();
  const chosen = useNoting((s) => s.chosen);
  useMoved(stage);
  const points = useMemo(
    () =>
      new Map(
        pinned.map(({ id, place: { sheet, x, y, point } }) => {
          const known = template.sheets.some(({ key }) => key === sheet);
          return [id, point ?? (known ? spotOfTexel(surfaceOf(template, sheet), x, y)?.position : null) ?? null];
        }),
      ),
    [template, pinned],
  );
  return (
    <div className="note-pins">
      {pinned.map((one) => {
        const point = points.get(one.id);
        const seen = point && stage.seenAt(point);
        if (!seen) return null;
        const at = { x: `${(seen.x + 1) * 50}%`, y: `${(1 - seen.y) * 50}%` };
        return <Pin key={one.id} {...pinOf(one, chosen)} at={at} behind={isBehind(stage, seen, point)} />;
      })}
    </div>
  );
}

/** Whether something of the model lies before a point of it, which is seen at a place of the canvas. */
function isBehind(stage: Stage, { x, y }: { x: number; y: number }, point: readonly [number, number, number]): boolean {
  const before = stage.spotAt(x, y);
  if (!before) return false;
  const apart = Math.hypot(...before.position.map((v, i) => v - point[i]));
  return apart > NEAR * stage.radius;
}

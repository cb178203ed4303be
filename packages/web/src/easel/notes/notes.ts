/** Notes on the livery that is open: what is there, which one is looked at, and the place of one that is being written. */
import { useCallback, useEffect } from 'react';
import useSWR, { mutate as anew } from 'swr';
import { create } from 'zustand';
import type { Template, TemplateSheet } from '@wet-lacquer/core/livery/template.ts';
import type { NoteCard, NotePlace, Notes } from '@wet-lacquer/sync/people.ts';
import { send } from '../../lib/api.ts';
import type { ModelSpot } from '../../parts/stage.ts';
import { useEasel } from '../context.ts';
import type { EaselDocument } from '../document.ts';
import { lookAt } from '../flat/view.ts';
import { person } from '../person.ts';
import { announce, choose, setTrouble, useSession } from '../session.ts';

interface Noting {
  /** The next press on the sheet or the model says where a note is pinned. */
  pinning: boolean;
  /** Where the one that is being written is pinned. */
  place: NotePlace | null;
  /** What is written so far: kept while something else is looked at. */
  text: string;
  /** The one that is looked at. */
  chosen: string | null;
  /** Those that are ticked off are shown as well. */
  withDone: boolean;
}
const NOTHING: Noting = { pinning: false, place: null, text: '', chosen: null, withDone: false };
export const useNoting = create<Noting>(() => NOTHING);
/** Lets go of what belonged to the livery that was open before. */
export const leaveNotes = (): void => useNoting.setState(NOTHING);

/** Says where: texels of a sheet, and a place of the model where it was pressed on. Beside the sheet there is nothing to say. */
export function pinAt(sheet: TemplateSheet | undefined, x: number, y: number, point: NotePlace['point']): void {
  if (!sheet || x < 0 || y < 0 || x >= sheet.width || y >= sheet.height)
    return setTrouble('A note is pinned to a place of a sheet: press on one.');
  useNoting.setState({ pinning: false, place: { sheet: sheet.key, x, y, point }, chosen: null });
  useSession.setState({ column: 'notes' });
}

/** The same for a place of the model; beside it nothing is said. */
export function pinOnModel({ sheets }: Pick<Template, 'sheets'>, spot: ModelSpot | null): void {
  const on = spot && sheets.find(({ key }) => key === spot.sheet);
  if (!on) return;
  // The far edge of a sheet is its last texel.
  const within = (share: number, side: number) => Math.min(side - 0.5, Math.max(0, share * side));
  pinAt(on, within(spot.u, on.width), within(spot.v, on.height), spot.position);
}

const urlOf = (livery: string) => `/liveries/${livery}/notes`;

/** Asks for the notes anew whenever something was said, once for all who show them. */
export function useHearNotes(doc: EaselDocument): void {
  useEffect(
    () =>
      doc.use.subscribe(({ id, notesTold }, before) => {
        if (notesTold !== before.notesTold) void anew(urlOf(id));
      }),
    [doc],
  );
}

/** The notes, as the server has them now. */
export function useNotes() {
  const { doc } = useEasel();
  const url = urlOf(doc.use((s) => s.id));
  const { data, error, mutate } = useSWR<Notes>(url);
  const act = useCallback(
    async (method: 'POST' | 'DELETE', where: string, what?: object): Promise<void> => {
      await send(method, `${url}${where}`, what && { person: person(), ...what });
      await mutate();
    },
    [url, mutate],
  );
  return { notes: data?.notes ?? null, people: data?.people ?? {}, error: error as unknown, act };
}

/** Goes to the place of a note, on the sheet. */
export function goTo({ id, number, place }: NoteCard, sheet: TemplateSheet): void {
  const side = Math.max(64, Math.min(sheet.width, sheet.height) / 3);
  const elsewhere = useSession.getState().sheet !== place.sheet;
  choose(null, place.sheet);
  useSession.setState({ column: 'notes' });
  useNoting.setState({ chosen: id });
  lookAt({ left: place.x - side / 2, top: place.y - side / 2, width: side, height: side }, elsewhere);
  announce(`Note ${number}, on ${sheet.name}`);
}

/** Whether pins are shown: while notes are what is looked at, so that nothing lies over the art otherwise. */
export const usePinsShown = (): boolean => useSession((s) => s.column === 'notes');

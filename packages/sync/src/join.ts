/** How steps join a livery's log: in the order in which they come, each on whatever came before it. The same for server, page and tests. */
import { InputError } from '@wet-lacquer/core/errors.ts';
import { singlesOf } from '@wet-lacquer/core/livery/edit.ts';
import { applyEntry, type Entry, type LoggedEntry } from '@wet-lacquer/core/livery/history.ts';
import type { Livery } from '@wet-lacquer/core/livery/livery.ts';
import { judge, type Known } from './judge.ts';

export interface Head {
  revision: number;
  livery: Livery;
}

/** What a server answers to steps. A refused batch leaves nothing. */
export type PostAnswer =
  /** `entries`: what came after the base, theirs and one's own. `more`: not all of it yet; the rest is to be asked for. */
  | { state: 'saved'; revision: number; entries: LoggedEntry[]; more: boolean }
  /** `revision`: where the log is, so that whoever was refused for what others did can look. */
  | { state: 'refused'; entry: string; why: string; revision?: number };

/** One step that cannot join. */
export class Refused extends Error {
  constructor(
    readonly entry: string,
    why: string,
  ) {
    super(why);
  }
}

/** Changes times layers that one batch may go through: about a second. */
const MOST_WORK = 30_000_000;

/**
 * Puts steps on top of a log. Pure.
 * @param at time stamp of the new entries, ISO 8601
 * @throws Refused with the first that cannot be; then nothing has joined
 */
export function join(
  head: Head,
  steps: readonly Entry[],
  known: Known,
  at: string,
): { head: Head; added: LoggedEntry[] } {
  let { livery, revision } = head;
  let work = 0;
  const added: LoggedEntry[] = [];
  for (const step of steps) {
    try {
      const layers = livery.sheets.reduce((n, sheet) => n + sheet.maps.reduce((m, map) => m + map.layers.length, 0), 1);
      work += singlesOf(step.edit).length * layers;
      if (work > MOST_WORK)
        throw new InputError('This is more at once than can be worked out; make it in several steps.');
      const { livery: next, applied } = applyEntry(livery, step);
      judge(livery, next, known);
      livery = next;
      added.push({ ...applied, revision: ++revision, at });
    } catch (error) {
      if (error instanceof InputError) throw new Refused(step.id, error.message);
      throw error;
    }
  }
  return { head: { livery, revision }, added };
}

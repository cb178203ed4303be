/** The latest states of liveries, so that they need not be worked out again. Nothing rests on them: whoever takes one compares its revision with the row's. */
import type { Head } from '@wet-lacquer/sync/join.ts';
import { holdLatest } from '@wet-lacquer/core/held.ts';
import type { LoggedEntry } from '@wet-lacquer/core/livery/history.ts';

const MOST = 160;
/** Last entries that are held with a state. */
const TAIL = 200;

interface Held extends Head {
  /** The end of the log up to that revision, without a gap; may be empty. */
  tail: LoggedEntry[];
}
const held = new Map<string, Held>();

export const heldHead = (id: string): Head | null => {
  const found = held.get(id);
  return found ? { revision: found.revision, livery: found.livery } : null;
};

/** The entries after a revision, when they are at hand. */
export function heldAfter(id: string, revision: number): LoggedEntry[] | null {
  const found = held.get(id);
  if (!found || found.revision - found.tail.length > revision) return null;
  return found.tail.filter((entry) => entry.revision > revision);
}

export function holdHead(id: string, head: Head, added: readonly LoggedEntry[]): void {
  const before = held.get(id);
  const follows = before && before.revision + added.length === head.revision;
  holdLatest(held, id, { ...head, tail: [...(follows ? before.tail : []), ...added].slice(-TAIL) }, MOST);
}

export const forgetHead = (id: string): void => void held.delete(id);

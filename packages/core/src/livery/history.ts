import { z } from 'zod';
import { Edit, applyEdit } from './edit.ts';
import { EditId } from './ids.ts';
import type { Livery } from './livery.ts';
import { words } from './words.ts';

/** One entry of a livery's log: an edit as somebody made it, or the taking back or doing again of an earlier one. */
export const Entry = z.strictObject({
  id: EditId,
  person: words(64, 1),
  edit: Edit,
  /** The entry that this one takes back or does again. */
  undoes: EditId.nullable(),
  redoes: EditId.nullable(),
  /** What the person would call the step. */
  label: words(120),
});
export type Entry = z.infer<typeof Entry>;

/** An entry as the store keeps it. */
export interface LoggedEntry extends Entry {
  revision: number;
  inverse: Edit;
  at: string;
}

/** An entry that has been applied somewhere, so that its inverse is known. */
export type AppliedEntry = Entry & { inverse: Edit };

/** Applies an entry; see applyEdit for what is thrown. */
export function applyEntry(livery: Livery, entry: Entry): { livery: Livery; applied: AppliedEntry } {
  const { livery: next, inverse } = applyEdit(livery, entry.edit);
  return { livery: next, applied: { ...entry, inverse } };
}

interface Stacks {
  /** Steps that can be taken back, last one last, each with the inverse of its latest application. */
  undo: { id: EditId; inverse: Edit; label: string }[];
  /** Steps that can be done again, next one last. */
  redo: { id: EditId; inverse: Edit; label: string }[];
}

/**
 * What one person can take back and do again, from the whole log. Taking back is the inverse of that person's own last step,
 * applied to the present state: other people's later steps stay.
 */
export function stacksOf(log: readonly AppliedEntry[], person: string): Stacks {
  const stacks: Stacks = { undo: [], redo: [] };
  for (const entry of log) {
    if (entry.person !== person) continue;
    const { undo, redo } = stacks;
    if (entry.undoes) {
      const at = undo.findLastIndex((step) => step.id === entry.undoes);
      if (at >= 0) undo.splice(at, 1);
      redo.push({ id: entry.undoes, inverse: entry.inverse, label: entry.label });
    } else if (entry.redoes) {
      const at = redo.findLastIndex((step) => step.id === entry.redoes);
      if (at >= 0) redo.splice(at, 1);
      undo.push({ id: entry.redoes, inverse: entry.inverse, label: entry.label });
    } else {
      undo.push({ id: entry.id, inverse: entry.inverse, label: entry.label });
      redo.length = 0;
    }
  }
  return stacks;
}

/** Steps that a page has at hand before it asks for earlier ones. */
const AT_HAND = 20;

/**
 * Whether the end of a log says enough of what one person can take back and do again: so many steps to take back, and where the steps
 * to do again begin.
 */
export function saysEnough(end: readonly AppliedEntry[], person: string): boolean {
  const begins = end.some((entry) => entry.person === person && !entry.undoes && !entry.redoes);
  return begins && stacksOf(end, person).undo.length >= AT_HAND;
}

type EntryHead = Pick<Entry, 'id' | 'person'>;

/** The entry that takes back a person's last step, or null when there is none. */
export function undoEntry(log: readonly AppliedEntry[], head: EntryHead): Entry | null {
  const step = stacksOf(log, head.person).undo.at(-1);
  return step ? { ...head, edit: step.inverse, undoes: step.id, redoes: null, label: step.label } : null;
}

/** The entry that does a person's last taken-back step again, or null when there is none. */
export function redoEntry(log: readonly AppliedEntry[], head: EntryHead): Entry | null {
  const step = stacksOf(log, head.person).redo.at(-1);
  return step ? { ...head, edit: step.inverse, undoes: null, redoes: step.id, label: step.label } : null;
}

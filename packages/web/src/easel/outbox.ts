/**
 * Steps that the server has not acknowledged, and steps that it refused, kept in this browser one by one, so that neither a reload nor a
 * crash loses them. Each belongs to the person who made it: nobody else's page sends or shows it.
 */
import { Entry } from '@wet-lacquer/core/livery/history.ts';

const UNSENT = 'outbox';
const ASIDE = 'aside';
const keyOf = (what: string, livery: string, id: string) => `wet-lacquer/${what}/${livery}/${id}`;

/** A step that could not be. */
export interface SetAside {
  id: string;
  label: string;
  why: string;
  /** Null: it was made by another version, and this one cannot read it. It is kept all the same. */
  entry: Entry | null;
  /** As it is stored. */
  raw: unknown;
  /** Where it is kept. */
  at: 'here' | 'server';
}

interface Kept {
  order: number;
  entry: unknown;
  why?: string;
}

/** @returns whether the browser had room for it */
function keep(key: string, kept: Kept): boolean {
  try {
    localStorage.setItem(key, JSON.stringify(kept));
    return true;
  } catch {
    return false;
  }
}

/** What is kept under a word for a livery, oldest first. What is no JSON is kept as the text that it is. */
function all(what: string, livery: string): { id: string; kept: Kept }[] {
  const prefix = keyOf(what, livery, '');
  const keys = Array.from({ length: localStorage.length }, (_, i) => localStorage.key(i)!);
  const found = keys
    .filter((key) => key.startsWith(prefix))
    .flatMap((key) => {
      const [id, text] = [key.slice(prefix.length), localStorage.getItem(key)!];
      try {
        return [{ id, kept: JSON.parse(text) as Kept }];
      } catch {
        return [{ id, kept: { order: 0, entry: text } }];
      }
    });
  return found.sort((a, b) => a.kept.order - b.kept.order);
}

const personOf = (entry: unknown): unknown => (entry as { person?: unknown } | null)?.person;
/** An entry without what is known of it here alone. */
export const asSent = ({ id, person, edit, undoes, redoes, label }: Entry): Entry => ({
  ...{ id, person, edit, undoes, redoes, label },
});

/** @returns whether the browser had room for it; if not, it is in memory and on its way */
export const keepUnsent = (livery: string, entry: Entry, order: number): boolean =>
  keep(keyOf(UNSENT, livery, entry.id), { order, entry: asSent(entry) });

export const forgetSent = (livery: string, id: string): void => localStorage.removeItem(keyOf(UNSENT, livery, id));

/**
 * What a person left from before, in the order in which it was made. What this version cannot read is set aside, where it is shown;
 * nothing is deleted.
 */
export function leftUnsent(livery: string, person: string): Entry[] {
  return all(UNSENT, livery).flatMap(({ id, kept }) => {
    const owner = personOf(kept.entry);
    if (typeof owner === 'string' && owner !== person) return [];
    const parsed = Entry.safeParse(kept.entry);
    if (parsed.success) return [parsed.data];
    const why = 'It was made by another version of Wet Lacquer, which this one cannot read.';
    if (keep(keyOf(ASIDE, livery, id), { ...kept, why })) forgetSent(livery, id);
    return [];
  });
}

/** Sets a step aside: it is sent no more, and stays until somebody decides. */
export function keepAside(livery: string, entry: Entry, why: string): void {
  const kept = { order: Date.now(), entry: asSent(entry) };
  // It leaves its room to itself.
  forgetSent(livery, entry.id);
  if (!keep(keyOf(ASIDE, livery, entry.id), { ...kept, why })) keep(keyOf(UNSENT, livery, entry.id), kept);
}

export const forgetAside = (livery: string, id: string): void => localStorage.removeItem(keyOf(ASIDE, livery, id));

/** Steps of a person that were set aside. */
export const leftAside = (livery: string, person: string): SetAside[] =>
  all(ASIDE, livery)
    .filter(({ kept }) => {
      const owner = personOf(kept.entry);
      return typeof owner !== 'string' || owner === person;
    })
    .map(({ id, kept }) => asideOf(id, kept.entry, kept.why ?? '', 'here'));

export function asideOf(id: string, raw: unknown, why: string, at: SetAside['at']): SetAside {
  const parsed = Entry.safeParse(raw);
  const label = (raw as { label?: unknown } | null)?.label;
  return {
    id,
    raw,
    why,
    at,
    entry: parsed.success ? parsed.data : null,
    label: typeof label === 'string' ? label : 'A step',
  };
}

/** Steps that the server has not acknowledged, kept in this browser one by one, so that neither a reload nor a crash loses them. */
import { Entry } from '@wet-lacquer/core/livery/history.ts';

const prefix = (livery: string) => `wet-lacquer/outbox/${livery}/`;

export function keepUnsent(livery: string, entry: Entry, order: number): void {
  const { id, person, edit, undoes, redoes, label } = entry;
  try {
    localStorage.setItem(
      prefix(livery) + id,
      JSON.stringify({ order, entry: { id, person, edit, undoes, redoes, label } }),
    );
  } catch {
    // The browser's store is full: the step is still in memory and on its way.
  }
}

export function forgetSent(livery: string, id: string): void {
  localStorage.removeItem(prefix(livery) + id);
}

/** What is left from before, in the order in which it was made. */
export function leftUnsent(livery: string): Entry[] {
  const found: { order: number; entry: Entry }[] = [];
  // The keys first: taking one out moves the others.
  const keys = Array.from({ length: localStorage.length }, (_, i) => localStorage.key(i)!);
  for (const key of keys.filter((k) => k.startsWith(prefix(livery)))) {
    try {
      const { order, entry } = JSON.parse(localStorage.getItem(key)!) as { order: number; entry: unknown };
      found.push({ order, entry: Entry.parse(entry) });
    } catch {
      localStorage.removeItem(key);
    }
  }
  return found.sort((a, b) => a.order - b.order).map(({ entry }) => entry);
}

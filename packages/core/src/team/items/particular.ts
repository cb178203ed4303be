import { words } from '../../livery/words.ts';
import type { ItemKind } from './kind.ts';

/** Facts that tell a team's liveries apart: what each has its own of (common practice, no source). */
export const UNIQUE: readonly string[] = ['name', 'key', 'number', 'registration'];

/** A fact that lettering, names and sidecars use. */
export const particular: ItemKind<string> = {
  called: 'Particulars',
  value: words(200),
  found: ({ particulars }) =>
    Object.entries(particulars)
      .filter(([key]) => !UNIQUE.includes(key))
      .map(([key, value]) => ({ name: key, value, places: [key] })),
  read: ({ particulars }, place) => (Object.hasOwn(particulars, place) ? particulars[place] : null),
  write: (_livery, key, value) => [{ do: 'set-particular', key, value }],
  newPlace: (name) => name,
  likeness: (a, b) => (a.name !== b.name ? 0 : a.value === b.value ? 3 : 1),
  words: (value) => (value === '' ? 'empty' : value),
};

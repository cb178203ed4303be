import type { z } from 'zod';
import { sortedJson } from '../../depends/content.ts';
import type { SingleEdit } from '../../livery/edit.ts';
import type { Sha256 } from '../../livery/ids.ts';
import type { Livery } from '../../livery/livery.ts';

/** Something of one livery that a team may share. */
export interface Found<V> {
  name: string;
  value: V;
  /** Where it is in the livery: ids of colours, finishes or layers, names of particulars. */
  places: string[];
}

/** What a change may lean on that is not in the livery. */
export interface Around {
  /** Files of the fonts that there are, by their key. */
  fonts: ReadonlyMap<string, Sha256>;
  /** What the team calls the item. */
  name: string;
}

/** All that there is to know of one kind of thing that liveries of a team share. */
export interface ItemKind<V> {
  /** As a heading over several. */
  called: string;
  value: z.ZodType<V>;
  /** Everything of a livery that could be shared. */
  found(livery: Livery): Found<V>[];
  /** The value at one place; null: there is nothing any more. */
  read(livery: Livery, place: string): V | null;
  /** What gives one place another value. A place that is not there is made, by kinds that can. */
  write(livery: Livery, place: string, value: V, around: Around): SingleEdit[];
  /** A name for the place in a livery that has no such thing yet; null: it cannot be made without somebody who places it. */
  newPlace(name: string): string | null;
  /** How far what two liveries have is one thing: 0, not at all, to 3. */
  likeness(a: Found<V>, b: Found<V>): number;
  /** A value in a few words. */
  words(value: V): string;
}

/** Whether two values are one, whatever the order of their keys. */
export const alike = (a: unknown, b: unknown): boolean => sortedJson(a) === sortedJson(b);

/** Names of things, as people compare them. */
export const sameName = (a: string, b: string): boolean => a.trim().toLowerCase() === b.trim().toLowerCase();

/** Groups by a key, in the order of the first of each. */
export function grouped<T>(all: readonly T[], keyOf: (one: T) => string): T[][] {
  const groups = new Map<string, T[]>();
  for (const one of all) {
    const group = groups.get(keyOf(one));
    if (group) group.push(one);
    else groups.set(keyOf(one), [one]);
  }
  return [...groups.values()];
}

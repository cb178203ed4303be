/** What must tell the liveries of a team apart. */
import { fillIn } from '../livery/livery.ts';
import { UNIQUE } from './items/particular.ts';
import { grouped, sameName } from './items/kind.ts';
import type { TeamLivery } from './propose.ts';

/** Liveries that have the same where each should have its own. */
export interface Clash {
  /** Name of the particular. */
  what: string;
  value: string;
  /** Ids of the liveries. */
  liveries: string[];
}

/** Names, keys and numbers that more than one livery has; empty ones are none. */
export const clashesIn = (liveries: readonly TeamLivery[]): Clash[] =>
  UNIQUE.flatMap((what) => {
    const all = liveries.flatMap(({ id, livery }) => {
      const value = Object.hasOwn(livery.particulars, what)
        ? fillIn(livery.particulars[what], livery.particulars).trim()
        : '';
      return value === '' ? [] : [{ id, value }];
    });
    return grouped(all, ({ value }) => value.toLowerCase())
      .filter((same) => same.length > 1)
      .map((same) => ({ what, value: same[0].value, liveries: same.map(({ id }) => id) }));
  });

/** The first number from 1 that no livery of the team has. */
export function freeNumber(liveries: readonly TeamLivery[]): string {
  const taken = liveries.map(({ livery }) => livery.particulars.number ?? '');
  let number = 1;
  while (taken.some((one) => sameName(one, String(number)))) number++;
  return String(number);
}

/** How each livery of a team stands to what is shared. */
import type { Livery } from '../livery/livery.ts';
import { kindOf } from './items/index.ts';
import { alike } from './items/kind.ts';
import { placesOf, type TeamItem, type TeamMember } from './team.ts';

/**
 * shared: every place has the team's value. differs: some place has another. own: it is to have its own. none: the livery has no such
 * thing, or no longer.
 */
export interface Standing {
  is: 'shared' | 'differs' | 'own' | 'none';
  /** What it has instead of the team's value, each once. */
  values: unknown[];
  /** How many places of it there are. */
  places: number;
}

export function standingOf(item: TeamItem, member: TeamMember, livery: Livery): Standing {
  const kind = kindOf(item.kind);
  const there = placesOf(member, item.id).flatMap((place) => {
    const value = kind.read(livery, place);
    return value === null ? [] : [value];
  });
  const other = there.filter((value) => !alike(value, item.value));
  const values = other.filter((value, n) => other.findIndex((one) => alike(one, value)) === n);
  const own = member.own.includes(item.id);
  const is = there.length === 0 ? 'none' : own ? 'own' : other.length > 0 ? 'differs' : 'shared';
  return { is, values, places: there.length };
}

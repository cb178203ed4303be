/** What a change of the team does to one livery, and how it is taken back. */
import { applyEdit, expandAcross, singlesOf, type SingleEdit } from '../livery/edit.ts';
import type { Livery } from '../livery/livery.ts';
import { kindOf, type ItemKey } from './items/index.ts';
import { alike, type Around } from './items/kind.ts';
import { placesOf, type Team, type TeamMember } from './team.ts';

/** One place of a livery that got another value: while it has that, it can be taken back. */
export interface Given {
  kind: ItemKey;
  place: string;
  value: unknown;
  /** In this order. */
  back: SingleEdit[];
}

export interface Giving {
  /** The livery with it. */
  livery: Livery;
  edits: SingleEdit[];
  given: Given[];
}

function withEdits(giving: Giving, kind: ItemKey, place: string, made: readonly SingleEdit[]): Giving {
  if (made.length === 0) return giving;
  const { livery, inverse } = applyEdit(giving.livery, { do: 'together', edits: [...made] });
  const back = [...singlesOf(inverse)];
  const given = { kind, place, value: kindOf(kind).read(livery, place), back };
  return { livery, edits: [...giving.edits, ...made], given: [...giving.given, given] };
}

/**
 * Brings what is shared to one livery. A place follows when it has what the team had before; one that was changed in its livery stays as it
 * is, unless it is among those that are brought along, and one that is to be the livery's own stays in any case.
 * @param before the team as the livery last heard of it; null: it is new
 * @param brought ids of items that are given to this livery whatever it has, or made in it where there are none
 * @throws InputError when the livery cannot take a change
 */
export function give(
  before: Team | null,
  after: Team,
  member: TeamMember,
  livery: Livery,
  { brought, fonts }: { brought: ReadonlySet<string>; fonts: Around['fonts'] },
): Giving {
  let giving: Giving = { livery, edits: [], given: [] };
  for (const { id, kind, name, value } of after.items) {
    if (member.own.includes(id)) continue;
    const by = kindOf(kind);
    const old = before?.items.find((item) => item.id === id);
    for (const place of placesOf(member, id)) {
      const now = by.read(giving.livery, place);
      if (now !== null && alike(now, value)) continue;
      const follows = now !== null && old !== undefined && alike(now, old.value);
      if (!follows && !brought.has(id)) continue;
      // A mark that runs over several sheets changes on all of them.
      const made = by
        .write(giving.livery, place, value, { fonts, name })
        .flatMap((edit) => singlesOf(expandAcross(giving.livery, edit)));
      giving = withEdits(giving, kind, place, made);
    }
  }
  return giving;
}

/** Takes back what was given to a livery, the last first. @returns also how many places stay, as they were changed since */
export function takeBack(livery: Livery, given: readonly Given[]): Giving & { kept: number } {
  let giving: Giving = { livery, edits: [], given: [] };
  let kept = 0;
  for (const { kind, place, value, back } of given.toReversed()) {
    if (!alike(kindOf(kind).read(giving.livery, place), value)) kept++;
    else giving = withEdits(giving, kind, place, back);
  }
  return { ...giving, kept };
}

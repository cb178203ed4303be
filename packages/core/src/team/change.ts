/** What differs between two states of a team: said in words, and put on top of what somebody else made of it meanwhile. */
import { sortedJson } from '../depends/content.ts';
import { Team } from './team.ts';
import { cutTo } from '../livery/words.ts';

const same = (a: unknown, b: unknown): boolean => sortedJson(a) === sortedJson(b);

/** A change of a team in a few words, within 100 characters; empty when there is none. */
export function wordsOfChange(before: Team, after: Team): string {
  const items = after.items.filter(
    (item) =>
      !same(
        item,
        before.items.find(({ id }) => id === item.id),
      ),
  );
  const gone = before.items.filter(({ id }) => !after.items.some((item) => item.id === id));
  const words = [
    ...items.map(({ name }) => name),
    ...gone.map(({ name }) => `no more ${name}`),
    ...(same(before.members, after.members) ? [] : ['who follows']),
    ...(same(before.versions, after.versions) ? [] : ['versions']),
    ...(before.name === after.name ? [] : ['its name']),
  ];
  const [first, second, ...rest] = words;
  const more = rest.length > 0 ? `, and ${rest.length} more` : '';
  return cutTo([first, second].filter(Boolean).join(', '), 80) + more;
}

/** One list three ways: what I took out or changed is so, what they did to the rest is so too, and what either added is there. */
function merged<T>(old: readonly T[], mine: readonly T[], theirs: readonly T[], idOf: (one: T) => string): T[] {
  const at = (list: readonly T[], id: string) => list.find((one) => idOf(one) === id);
  const kept = theirs.flatMap((their) => {
    const own = at(mine, idOf(their));
    const before = at(old, idOf(their));
    if (!own) return before ? [] : [their];
    return [same(own, before) ? their : own];
  });
  const added = mine.filter((own) => !at(old, idOf(own)) && !at(theirs, idOf(own)));
  return [...kept, ...added];
}

/** What I made of a team, on top of what it has become meanwhile. @returns null when both together are no team */
export function onTop(old: Team, mine: Team, theirs: Team): Team | null {
  const idOf = ({ id }: { id: string }) => id;
  const parsed = Team.safeParse({
    schema: 1,
    name: mine.name === old.name ? theirs.name : mine.name,
    items: merged(old.items, mine.items, theirs.items, idOf),
    members: merged(old.members, mine.members, theirs.members, ({ livery }) => livery),
    versions: merged(old.versions, mine.versions, theirs.versions, idOf),
  });
  return parsed.success ? parsed.data : null;
}

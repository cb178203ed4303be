/** What liveries that become a team have in common. */
import { sortedJson } from '../depends/content.ts';
import type { Livery } from '../livery/livery.ts';
import { ITEM_KEYS, kindOf, type ItemKey } from './items/index.ts';
import type { Found } from './items/kind.ts';
import { MOST_OF_TEAM, placesOf, type Team, type TeamItem } from './team.ts';

export interface TeamLivery {
  /** Its id in the store. */
  id: string;
  livery: Livery;
}

/** One thing of several liveries: what each has of it, by the livery's place in the list. */
type Common = Map<number, Found<unknown>>;

/** Pairs what is most alike, the surest first; each is in one pair at most. @param like 0: not at all */
function paired<A, B>(all: readonly A[], others: readonly B[], like: (a: A, b: B) => number): [A, B][] {
  const pairs = all.flatMap((a) => others.map((b) => ({ a, b, like: like(a, b) }))).filter((pair) => pair.like > 0);
  const taken = new Set<unknown>();
  return pairs
    .toSorted((one, other) => other.like - one.like)
    .flatMap(({ a, b }): [A, B][] => {
      if (taken.has(a) || taken.has(b)) return [];
      taken.add(a).add(b);
      return [[a, b]];
    });
}

/** What several liveries have of one kind, put together: each thing of a livery belongs to one only. */
function commonOf(kind: ItemKey, all: readonly (readonly Found<unknown>[])[]): Common[] {
  const { likeness } = kindOf(kind);
  const commons: Common[] = [];
  for (const [n, found] of all.entries()) {
    const pairs = paired(found, commons, (one, common) => likeness([...common.values()][0], one));
    for (const [one, common] of pairs) common.set(n, one);
    const left = found.filter((one) => !pairs.some(([known]) => known === one));
    commons.push(...left.map((one): Common => new Map([[n, one]])));
  }
  return commons;
}

/** The value that most of them have; of as many, the first. */
function usual(common: Common): Found<unknown> {
  const texts = [...common.values()].map(({ value }) => sortedJson(value));
  const most = texts
    .map((text, n) => ({ n, times: texts.filter((other) => other === text).length }))
    .reduce((a, b) => (b.times > a.times ? b : a));
  return [...common.values()][most.n];
}

/** A team of liveries: everything of which at least two of them have the same is shared, with the value that most have. */
export function proposeTeam(name: string, liveries: readonly TeamLivery[]): Team {
  const team: Team = {
    schema: 1,
    name,
    items: [],
    members: liveries.map(({ id }) => ({ livery: id, places: {}, own: [] })),
    versions: [],
  };
  for (const kind of ITEM_KEYS) {
    const all = liveries.map(({ livery }) => kindOf(kind).found(livery));
    for (const common of commonOf(kind, all)) {
      const value = sortedJson(usual(common).value);
      const same = [...common.values()].filter((one) => sortedJson(one.value) === value).length;
      if (same >= 2 && team.items.length < MOST_OF_TEAM.items) share(team, kind, common);
    }
  }
  return team;
}

/** Adds an item to a team that is being made. */
function share(team: Team, kind: ItemKey, common: Common): void {
  const { name, value } = usual(common);
  const item = { id: crypto.randomUUID(), kind, name: name || kindOf(kind).called, value } as TeamItem;
  team.items.push(item);
  for (const [n, { places }] of common) team.members[n].places[item.id] = places.slice(0, MOST_OF_TEAM.places);
}

/** Everything of one livery that a team does not share yet. */
export function notShared(team: Team, { id, livery }: TeamLivery): { kind: ItemKey; found: Found<unknown> }[] {
  const member = team.members.find((one) => one.livery === id);
  return ITEM_KEYS.flatMap((kind) => {
    const ids = team.items.filter((item) => item.kind === kind).map((item) => item.id);
    const held = new Set(member ? ids.flatMap((item) => placesOf(member, item)) : []);
    return kindOf(kind)
      .found(livery)
      .map((found) => ({ ...found, places: found.places.filter((place) => !held.has(place)) }))
      .filter(({ places }) => places.length > 0)
      .map((found) => ({ kind, found }));
  });
}

/** The team that shares one more thing, as one livery has it; the others join with what is most like it, if anything is. */
export function sharing(
  team: Team,
  kind: ItemKey,
  { name, value, places }: Found<unknown>,
  liveries: readonly TeamLivery[],
  from: string,
): Team {
  const { likeness } = kindOf(kind);
  const item = { id: crypto.randomUUID(), kind, name, value } as TeamItem;
  const members = team.members.map((member) => {
    if (member.livery === from) return { ...member, places: { ...member.places, [item.id]: [...places] } };
    const own = liveries.find(({ id }) => id === member.livery);
    const free = own ? notShared(team, own).filter((one) => one.kind === kind) : [];
    const best = paired([{ name, value, places: [...places] }], free, (one, other) => likeness(one, other.found)).at(0);
    if (!best) return member;
    const [, { found }] = best;
    return { ...member, places: { ...member.places, [item.id]: found.places } };
  });
  return { ...team, items: [...team.items, item], members };
}

/** The team with another livery in it, which shares what it has in common with the others. */
export function withLivery(team: Team, { id, livery }: TeamLivery): Team {
  const places: Record<string, string[]> = {};
  for (const kind of ITEM_KEYS) {
    const { found, likeness } = kindOf(kind);
    const items = team.items.filter((item) => item.kind === kind);
    const pairs = paired(items, found(livery), ({ name, value }, one) => likeness({ name, value, places: [] }, one));
    for (const [item, one] of pairs) places[item.id] = one.places.slice(0, MOST_OF_TEAM.places);
  }
  return { ...team, members: [...team.members, { livery: id, places, own: [] }] };
}

/** A team: liveries of several subjects that share colours, finishes, marks, lettering and facts. What is shared is changed once, for all. */
import { z } from 'zod';
import { Sha256 } from '../livery/ids.ts';
import { words } from '../livery/words.ts';
import { ITEM_KEYS, ITEMS, kindOf, type ItemKey } from './items/index.ts';

/** How much one team can hold. */
export const MOST_OF_TEAM = { members: 24, items: 200, versions: 60, places: 500, placesOfLivery: 2000 } as const;

const ItemId = z.string().min(1).max(64);

/** Something that the team shares, and its value now. */
const itemOf = <K extends ItemKey>(kind: K) =>
  z.strictObject({
    id: ItemId,
    kind: z.literal(kind),
    name:
      kind === 'particular'
        ? z.string().regex(/^[a-z][a-zA-Z]{0,29}$/, 'letters only, a small one first')
        : words(60, 1),
    value: ITEMS[kind].value as (typeof ITEMS)[K]['value'],
  });
export const TeamItem = z.discriminatedUnion('kind', [
  itemOf('colour'),
  itemOf('finish'),
  itemOf('mark'),
  itemOf('lettering'),
  itemOf('particular'),
]);
export type TeamItem = z.infer<typeof TeamItem>;

export const TeamMember = z.strictObject({
  livery: z.uuid(),
  /** Where each item is in this livery, by the item's id. Not named: the livery has no such thing. */
  places: z.record(ItemId, z.array(z.string().min(1).max(64)).min(1).max(MOST_OF_TEAM.places)),
  /** Items that this livery has its own of, on purpose: the team's changes pass it by. */
  own: z.array(ItemId).max(MOST_OF_TEAM.items),
});
export type TeamMember = z.infer<typeof TeamMember>;

/** A season, a change of sponsor: what everything shared was, under a name. */
export const TeamVersion = z.strictObject({
  id: z.string().min(1).max(64),
  name: z.string().trim().pipe(words(80, 1)),
  /** Values by the ids of items, as the items had them. */
  values: z.record(ItemId, z.json()),
});
export type TeamVersion = z.infer<typeof TeamVersion>;

const unlike = (all: readonly string[]): boolean => new Set(all).size === all.length;

export const Team = z
  .strictObject({
    schema: z.literal(1),
    name: z.string().trim().pipe(words(60, 1)),
    items: z.array(TeamItem).max(MOST_OF_TEAM.items),
    members: z.array(TeamMember).min(1).max(MOST_OF_TEAM.members),
    versions: z.array(TeamVersion).max(MOST_OF_TEAM.versions),
  })
  .superRefine(({ items, members, versions }, wrong) => {
    const say = (message: string, ...path: (string | number)[]) => wrong.addIssue({ code: 'custom', message, path });
    if (!unlike(items.map(({ id }) => id))) say('two have one id', 'items');
    if (!unlike(members.map(({ livery }) => livery))) say('one livery is in it twice', 'members');
    if (!unlike(versions.map(({ id }) => id))) say('two have one id', 'versions');
    for (const [n, { places }] of members.entries()) {
      const held = items.flatMap(({ id, kind }) =>
        Object.hasOwn(places, id) ? places[id].map((at) => `${kind} ${at}`) : [],
      );
      if (Object.values(places).reduce((sum, at) => sum + at.length, 0) > MOST_OF_TEAM.placesOfLivery)
        say(`at most ${MOST_OF_TEAM.placesOfLivery} places of a livery are shared`, 'members', n, 'places');
      if (!unlike(held)) say('one place of a livery is shared as two things', 'members', n, 'places');
    }
    for (const [n, { values }] of versions.entries())
      for (const [id, value] of Object.entries(values)) {
        const item = items.find((one) => one.id === id);
        if (item && !kindOf(item.kind).value.safeParse(value).success)
          say(`this is no value of "${item.name}"`, 'versions', n, 'values', id);
      }
  });
export type Team = z.infer<typeof Team>;

/** Where an item is in a member's livery; none: nowhere. */
export const placesOf = ({ places }: TeamMember, item: string): readonly string[] =>
  Object.hasOwn(places, item) ? places[item] : [];

/** The pictures that a team's marks lean on, those of its versions too. */
export function picturesOf({ items, versions }: Team): Sha256[] {
  const marks = items.filter(({ kind }) => kind === 'mark');
  const values = [
    ...marks.map(({ value }) => value),
    ...versions.flatMap(({ values }) => marks.flatMap(({ id }) => (Object.hasOwn(values, id) ? [values[id]] : []))),
  ];
  return [...new Set(values.map((value) => ITEMS.mark.value.parse(value).blob))];
}

/** The team with the values of one of its versions; what is shared only since stays as it is. */
export function inVersion(team: Team, version: TeamVersion): Team {
  const items = team.items.map((item) =>
    Object.hasOwn(version.values, item.id) ? ({ ...item, value: version.values[item.id] } as TeamItem) : item,
  );
  return { ...team, items };
}

/** What is shared now, under a name. */
export const versionOf = ({ items }: Team, name: string): TeamVersion =>
  TeamVersion.parse({
    id: crypto.randomUUID(),
    name,
    values: Object.fromEntries(items.map(({ id, value }) => [id, value])),
  });

/** Items under their kinds, in the order of the kinds; kinds of which there are none are left out. */
export const byKind = (items: readonly TeamItem[]): { kind: ItemKey; items: TeamItem[] }[] =>
  ITEM_KEYS.map((kind) => ({ kind, items: items.filter((item) => item.kind === kind) })).filter(
    (one) => one.items.length > 0,
  );

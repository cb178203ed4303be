/** Teams: what liveries have in common, what a change of it does to each of them, and how that is taken back. */
import { describe, expect, test } from 'vitest';
import { LiveryFinish } from '../livery/finish.ts';
import { ColourId, FinishId, Sha256 } from '../livery/ids.ts';
import { findLayer, Livery, type Livery as LiveryOf } from '../livery/livery.ts';
import { applyEdit } from '../livery/edit.ts';
import { layerOf, smallLivery } from '../testing/scenes.ts';
import fc from '../testing/property.ts';
import { onTop, wordsOfChange } from './change.ts';
import { clashesIn, freeNumber } from './clash.ts';
import { give, takeBack, type Giving } from './give.ts';
import { ITEM_KEYS, kindOf } from './items/index.ts';
import { notShared, proposeTeam, sharing, withLivery, type TeamLivery } from './propose.ts';
import { standingOf } from './standing.ts';
import { inVersion, picturesOf, Team, versionOf, type TeamItem } from './team.ts';

const IDS = [
  '00000000-0000-4000-8000-000000000001',
  '00000000-0000-4000-8000-000000000002',
  '00000000-0000-4000-8000-000000000003',
];
const PICTURE = Sha256.parse('a'.repeat(64));
const OTHER = Sha256.parse('b'.repeat(64));
const FONTS = new Map([['anton', Sha256.parse('c'.repeat(64))]]);
const none = new Set<string>();

/** Ids of one livery are nobody else's. */
function dressed(n: number, over: Partial<LiveryOf> = {}): TeamLivery {
  const id = (what: string) => `${what}-${n}`;
  const decal = layerOf('decal', {
    ...{ id: id('mark'), name: 'Sponsor', blob: PICTURE, source: 'svg', ratio: 2, keepRatio: true },
    ...{ x: 20, y: 20, width: 24, height: 12, turn: 0, mirrored: false, recolour: [] },
  });
  const letters = layerOf('lettering', {
    id: id('letters'),
    name: 'Number',
    text: '{number}',
    font: 'barlow',
    size: 8,
    spacing: 4,
    slant: 0,
    x: 30,
    y: 30,
    turn: 0,
    paint: { hex: '#ffffff' },
    outline: null,
    mirrored: false,
  });
  const plain = smallLivery([decal, letters]);
  const livery: LiveryOf = {
    ...plain,
    particulars: { name: `Craft ${n}`, key: `craft-${n}`, number: String(n + 1), team: 'Tern & Tide', pilot: `P${n}` },
    scheme: [
      { id: ColourId.parse(id('hull')), name: 'Hull', hex: '#204060' },
      { id: ColourId.parse(id('trim')), name: n === 0 ? 'Trim' : 'Stripe', hex: '#d03020' },
      { id: ColourId.parse(id('own')), name: `Only ${n}`, hex: `#00000${n}` },
    ],
    ...over,
  };
  return { id: IDS[n], livery: Livery.parse(livery) };
}

const three = () => [dressed(0), dressed(1), dressed(2)];
const named = (team: Team, name: string): TeamItem => team.items.find((item) => item.name === name)!;
const changed = (team: Team, name: string, value: unknown): Team => ({
  ...team,
  items: team.items.map((item) => (item.name === name ? ({ ...item, value } as TeamItem) : item)),
});
const given = (before: Team | null, after: Team, { id, livery }: TeamLivery, brought = none): Giving =>
  give(
    before,
    after,
    after.members.find((one) => one.livery === id)!,
    livery,
    { brought, fonts: FONTS },
  );

describe('what liveries have in common', () => {
  const team = proposeTeam('Tern & Tide', three());
  test('is what at least two have: by name and value, by value, by picture, by style, by fact', () => {
    expect(Team.parse(team)).toEqual(team);
    const read = team.items.map(({ kind, name }) => `${kind} ${name}`);
    // The trim has another name in two of three, and the same colour; what each has of its own is nobody else's.
    expect(read).toEqual([
      'colour Hull',
      'colour Trim',
      expect.stringMatching(/^finish /),
      'mark Sponsor',
      'lettering Barlow',
      'particular team',
    ]);
    expect(team.members[1].places[named(team, 'Trim').id]).toEqual(['trim-1']);
  });

  test('one thing of a livery is shared as one thing only, however much is alike', () => {
    const scheme = ['a', 'b', 'c'].map((id) => ({ id: ColourId.parse(id), name: 'White', hex: '#ffffff' }));
    const alike = [dressed(0, { scheme }), dressed(1, { scheme: scheme.slice(0, 2) })];
    const found = proposeTeam('x', alike);
    expect(found.items.filter(({ kind }) => kind === 'colour')).toHaveLength(2);
    expect(Team.safeParse(found).success).toBe(true);
  });

  test('the value that most have is the team’s; who has another stands apart', () => {
    const all = three();
    all[0] = dressed(0, { particulars: { ...all[0].livery.particulars, team: 'Old name' } });
    const found = proposeTeam('x', all);
    const item = named(found, 'team');
    expect(item.value).toBe('Tern & Tide');
    expect(all.map(({ livery }, n) => standingOf(item, found.members[n], livery).is)).toEqual([
      'differs',
      'shared',
      'shared',
    ]);
  });

  test('more can be shared later, as one has it; and another livery joins with what is alike', () => {
    const [first, second, third] = three();
    const pair = proposeTeam('x', [first, second]);
    const own = notShared(pair, first).find(({ found }) => found.name === 'Only 0')!;
    const more = sharing(pair, own.kind, own.found, [first, second], first.id);
    expect(more.members.map(({ places }) => places[named(more, 'Only 0').id])).toEqual([['own-0'], undefined]);
    const all = withLivery(more, third);
    expect(all.members[2].places[named(all, 'Hull').id]).toEqual(['hull-2']);
    expect(all.members[2].places[named(all, 'Sponsor').id]).toEqual(['mark-2']);
    expect(Team.safeParse(all).success).toBe(true);
  });
});

describe('a change of the team', () => {
  test('goes to all that follow; who has been changed stays, unless it is brought along; who has its own stays', () => {
    const all = three();
    const team = proposeTeam('x', all);
    const hull = named(team, 'Hull').id;
    const other = dressed(1, {
      scheme: all[1].livery.scheme.map((one) => (one.name === 'Hull' ? { ...one, hex: '#111111' } : one)),
    });
    const next = changed(team, 'Hull', '#ffeedd');
    const own = { ...next, members: next.members.map((one, n) => (n === 2 ? { ...one, own: [hull] } : one)) };
    const hexOf = ({ livery }: Giving) => livery.scheme[0].hex;
    expect(hexOf(given(team, own, all[0]))).toBe('#ffeedd');
    expect(given(team, own, other).edits).toEqual([]);
    expect(hexOf(given(team, own, other, new Set([hull])))).toBe('#ffeedd');
    expect(given(team, own, all[2], new Set([hull])).edits).toEqual([]);
    expect(standingOf(named(own, 'Hull'), own.members[2], all[2].livery).is).toBe('own');
  });

  test('what does not change for the livery is no edit, and the rest of it is the same to the bit', () => {
    const [one] = three();
    const team = proposeTeam('x', three());
    expect(given(team, { ...team, name: 'Renamed' }, one).edits).toEqual([]);
    const { livery, edits } = given(team, changed(team, 'team', 'Tide & Tern'), one);
    expect(edits).toEqual([{ do: 'set-particular', key: 'team', value: 'Tide & Tern' }]);
    expect({ ...livery, particulars: one.livery.particulars }).toEqual(one.livery);
  });

  test('another sponsor stands in the middle of the first one’s place, as large as fits; a picture of the same shape fills it', () => {
    const [one] = three();
    const team = proposeTeam('x', three());
    const mark = (value: object) => {
      const { livery } = given(team, changed(team, 'Sponsor', value), one);
      return findLayer(livery, one.livery.sheets[0].maps[0].layers[0].id)!.layer;
    };
    // 24 by 12 holds a square of 12, and a band of 24 by 6.
    expect(mark({ blob: OTHER, source: 'svg', ratio: 1 })).toMatchObject({
      blob: OTHER,
      x: 20,
      y: 20,
      width: 12,
      height: 12,
    });
    expect(mark({ blob: OTHER, source: 'svg', ratio: 4 })).toMatchObject({ x: 20, y: 20, width: 24, height: 6 });
    expect(mark({ blob: OTHER, source: 'pixels', ratio: 2 })).toMatchObject({
      source: 'pixels',
      width: 24,
      height: 12,
    });
  });

  test('a font that a livery has not used yet comes with its file', () => {
    const [one] = three();
    const team = proposeTeam('x', three());
    const { edits, livery } = given(team, changed(team, 'Barlow', { font: 'anton', spacing: 0, slant: 8 }), one);
    expect(edits[0]).toEqual({ do: 'pin-font', font: 'anton', hash: FONTS.get('anton') });
    expect(livery.sheets[0].maps[0].layers[1]).toMatchObject({ font: 'anton', slant: 8, size: 8, text: '{number}' });
  });

  test('a colour, finish or fact that a livery lacks is made in it; a mark is not: somebody places it', () => {
    const [one] = three();
    const made = new Map<string, unknown>([
      ['colour', '#123456'],
      [
        'finish',
        LiveryFinish.omit({ id: true, name: true }).parse({
          kind: 'matt',
          roughness: 80,
          metal: 0,
          coat: 0,
          coatRoughness: 0,
          sheen: 0,
        }),
      ],
      ['particular', 'brass'],
    ]);
    for (const kind of ITEM_KEYS) {
      const place = kindOf(kind).newPlace('owner');
      expect(place !== null, kind).toBe(made.has(kind));
      if (place === null) continue;
      const item = { id: 'new', kind, name: 'owner', value: made.get(kind) } as TeamItem;
      const team = Team.parse({
        ...proposeTeam('x', [one]),
        items: [item],
        members: [{ livery: one.id, places: { new: [place] }, own: [] }],
      });
      expect(given(team, team, one).edits).toEqual([]);
      const giving = given(team, team, one, new Set(['new']));
      expect(kindOf(kind).read(giving.livery, place), kind).toEqual(made.get(kind));
      expect(takeBack(giving.livery, giving.given).livery).toEqual(one.livery);
    }
  });

  test('a version is all values under a name; what is shared since stays', () => {
    const team = proposeTeam('x', three());
    const spring = versionOf(team, 'Spring');
    const autumn = changed({ ...team, versions: [spring] }, 'Hull', '#aa5500');
    expect(inVersion(autumn, spring).items).toEqual(team.items);
    const more = {
      ...autumn,
      items: [...autumn.items, { id: 'later', kind: 'colour' as const, name: 'Later', value: '#000000' }],
    };
    expect(inVersion(more, spring).items.at(-1)).toMatchObject({ value: '#000000' });
    expect(picturesOf(changed(autumn, 'Sponsor', { blob: OTHER, source: 'svg', ratio: 1 }))).toEqual([OTHER, PICTURE]);
  });
});

describe('taking back', () => {
  const value: Record<string, fc.Arbitrary<unknown>> = {
    colour: fc.constantFrom('#204060', '#ffffff', '#010203'),
    mark: fc.constantFrom({ blob: PICTURE, source: 'svg', ratio: 2 }, { blob: OTHER, source: 'pixels', ratio: 0.37 }),
    lettering: fc.constantFrom({ font: 'barlow', spacing: 4, slant: 0 }, { font: 'anton', spacing: 11, slant: -7 }),
    particular: fc.constantFrom('Tern & Tide', 'Else', ''),
  };
  const start = proposeTeam('x', three());
  const step = fc
    .constantFrom(...start.items.filter(({ kind }) => value[kind]))
    .chain((item) => value[item.kind].map((to) => ({ name: item.name, to })));

  test('gives back what was, to the bit, after any steps; and again what they made', () => {
    fc.assert(
      fc.property(fc.array(step, { maxLength: 8 }), (steps) => {
        for (const one of three()) {
          let { livery } = one;
          let team = start;
          const done: Giving[] = [];
          for (const { name, to } of steps) {
            const next = changed(team, name, to);
            const giving = given(team, next, { ...one, livery });
            // What is posted as one edit is what was worked out step by step.
            if (giving.edits.length > 0)
              expect(applyEdit(livery, { do: 'together', edits: giving.edits }).livery).toEqual(giving.livery);
            done.push(giving);
            ({ livery } = giving);
            team = next;
          }
          const end = livery;
          const back: Giving[] = [];
          for (const giving of done.toReversed()) {
            const turned = takeBack(livery, giving.given);
            expect(turned.kept).toBe(0);
            back.push(turned);
            ({ livery } = turned);
          }
          expect(livery).toEqual(one.livery);
          for (const turned of back.toReversed()) ({ livery } = takeBack(livery, turned.given));
          expect(livery).toEqual(end);
        }
      }),
    );
  });

  test('leaves what somebody changed since, and says how much', () => {
    const [one] = three();
    const { livery, given: places } = given(start, changed(changed(start, 'Hull', '#ffffff'), 'team', 'Else'), one);
    const since = applyEdit(livery, {
      do: 'set-colour',
      colour: ColourId.parse('hull-0'),
      set: { hex: '#777777' },
    }).livery;
    const turned = takeBack(since, places);
    expect(turned.kept).toBe(1);
    expect(turned.livery.scheme[0].hex).toBe('#777777');
    expect(turned.livery.particulars.team).toBe('Tern & Tide');
    // A layer that is gone is no longer anybody's.
    expect(takeBack({ ...since, scheme: [] }, places).kept).toBe(1);
  });
});

describe('what must be each livery’s own', () => {
  test('names, keys, numbers and registrations that two have; empty ones are none', () => {
    const [first, second, third] = three();
    const but = (one: TeamLivery, more: Record<string, string>) => ({
      ...one,
      livery: { ...one.livery, particulars: { ...one.livery.particulars, ...more } },
    });
    expect(clashesIn([first, second, third])).toEqual([]);
    const all = [
      but(first, { registration: '' }),
      but(second, { number: '1', registration: '' }),
      but(third, { name: 'craft {number}', number: '0' }),
    ];
    // Names as they read, whatever the case.
    expect(clashesIn(all)).toEqual([
      { what: 'name', value: 'Craft 0', liveries: [IDS[0], IDS[2]] },
      { what: 'number', value: '1', liveries: [IDS[0], IDS[1]] },
    ]);
    expect(clashesIn([first, but(second, { name: 'CRAFT 0' })])).toMatchObject([{ what: 'name', value: 'Craft 0' }]);
    expect(freeNumber(all)).toBe('2');
  });
});

describe('what is no team', () => {
  const team = proposeTeam('x', three());
  test.each<[string, object]>([
    ['one livery twice', { members: [team.members[0], team.members[0]] }],
    ['nobody in it', { members: [] }],
    ['two items of one id', { items: [team.items[0], team.items[0]] }],
    [
      'a place that is shared as two things',
      {
        items: [team.items[0], { ...team.items[0], id: 'b' }],
        members: [{ ...team.members[0], places: { [team.items[0].id]: ['x'], b: ['x'] } }],
      },
    ],
    ['a colour that is none', { items: [{ ...team.items[0], value: 'red' }] }],
    [
      'a finish with an id of its own',
      { items: [{ id: 'f', kind: 'finish', name: 'F', value: { id: FinishId.parse('nowhere') } }] },
    ],
    [
      'a particular that no language can hold',
      { items: [{ id: 'p', kind: 'particular', name: '__proto__', value: '' }] },
    ],
    [
      'a version with a value of another kind',
      { versions: [{ id: 'v', name: 'V', values: { [team.items[0].id]: 7 } }] },
    ],
    [
      'more places than a livery can have shared',
      {
        items: Array.from({ length: 5 }, (_, n) => ({ ...team.items[0], id: `i${n}` })),
        members: [
          {
            ...team.members[0],
            places: Object.fromEntries(
              Array.from({ length: 5 }, (_, n) => [`i${n}`, Array.from({ length: 500 }, (_p, k) => `${n} ${k}`)]),
            ),
          },
        ],
      },
    ],
    ['a name of nothing', { name: '   ' }],
    ['more than it can hold', { items: Array.from({ length: 201 }, (_, n) => ({ ...team.items[0], id: String(n) })) }],
  ])('%s', (_what, wrong) => {
    expect(Team.safeParse({ ...team, ...wrong }).success).toBe(false);
  });
});

describe('two who change a team at once', () => {
  const team = proposeTeam('x', three());
  test('what each changed, added and took out is there; of one thing that both changed, what came later', () => {
    const mine = changed({ ...team, items: team.items.slice(1) }, 'team', 'Mine');
    const added = { id: 'new', kind: 'colour' as const, name: 'New', value: '#000000' };
    const theirs = changed(
      changed({ ...team, name: 'Theirs', items: [...team.items, added] }, 'Trim', '#999999'),
      'team',
      'Theirs',
    );
    const both = onTop(team, mine, theirs)!;
    expect(both.name).toBe('Theirs');
    expect(both.items.map(({ name }) => name)).toEqual([...team.items.slice(1).map(({ name }) => name), 'New']);
    expect([named(both, 'Trim').value, named(both, 'team').value]).toEqual(['#999999', 'Mine']);
    expect(onTop(team, team, theirs)).toEqual(theirs);
    expect(onTop(team, mine, team)).toEqual(mine);
  });

  test('a change is said in a few words', () => {
    expect(wordsOfChange(team, team)).toBe('');
    expect(wordsOfChange(team, changed(team, 'Hull', '#ffffff'))).toBe('Hull');
    expect(
      wordsOfChange(team, { ...changed(team, 'Hull', '#ffffff'), name: 'y', members: team.members.slice(1) }),
    ).toBe('Hull, who follows, and 1 more');
  });
});

/** Teams through the real server: changed for all or for none, taken back, delivered in one go; and nothing is left of a no. */
import { randomUUID } from 'node:crypto';
import pg from 'pg';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type { Livery } from '@wet-lacquer/core/livery/livery.ts';
import { proposeTeam } from '@wet-lacquer/core/team/propose.ts';
import { versionOf, type Team, type TeamItem } from '@wet-lacquer/core/team/team.ts';
import type { DeliveryCard, OpenTeam, PreflightAnswer, TeamCard, TeamChanged } from '@wet-lacquer/sync/answers.ts';
import { connect } from '../store/db.ts';
import { sweep } from '../store/sweep.ts';
import { startServer, until, type TestServer } from '../testing/server.ts';

let server: TestServer;
const person = 'ann';

interface Opened {
  id: string;
  revision: number;
  livery: Livery;
  log: { label: string; person: string }[];
}
const open = (id: string) => server.get<Opened>(`/liveries/${id}`);

async function ask<T>(
  method: string,
  path: string,
  body?: unknown,
): Promise<{ status: number; body: T & { error?: string } }> {
  const answer = await fetch(`${server.url}/api${path}`, {
    method,
    headers: { 'Content-Type': 'application/json' },
    body: body === undefined ? undefined : JSON.stringify(body),
  });
  const text = await answer.text();
  return { status: answer.status, body: (text ? JSON.parse(text) : null) as T & { error?: string } };
}

/** A team of new liveries for the smallest subject, whose names and keys differ. @param alike all of one name */
async function started(names: string[]): Promise<{ id: string; team: Team; liveries: string[] }> {
  const templates = await server.get<{ key: string; hash: string }[]>('/templates');
  const { hash } = templates.find(({ key }) => key === 'lampkin')!;
  const liveries: string[] = [];
  for (const name of names) {
    const { body } = await ask<{ id: string }>('POST', '/liveries', { template: hash, name, team: 'Tern & Tide' });
    liveries.push(body.id);
  }
  const all = await Promise.all(liveries.map(async (id) => ({ id, livery: (await open(id)).livery })));
  const team = proposeTeam('Tern & Tide', all);
  const { status, body } = await ask<{ id: string }>('POST', '/teams', { team, person });
  expect(status).toBe(201);
  return { id: body.id, team, liveries };
}

const named = (team: Team, name: string): TeamItem => team.items.find((item) => item.name === name)!;
const changed = (team: Team, name: string, value: unknown): Team => ({
  ...team,
  items: team.items.map((item) => (item.name === name ? ({ ...item, value } as TeamItem) : item)),
});
const put = (id: string, base: number, team: Team, more: object = {}) =>
  ask<TeamChanged>('PUT', `/teams/${id}`, { base, team, label: 'Change', person, ...more });

const BASE = {
  ...{ name: 'Layer', phase: 'Base', hidden: false, locked: false, opacity: 100, blend: 'normal', parts: [] },
};

/** Puts a layer onto a livery's first sheet, on top. */
async function dress(livery: string, layer: object): Promise<void> {
  const { livery: state, revision } = await open(livery);
  const edit = { do: 'add-layer', sheet: state.sheets[0].key, map: 'colour', layer: { ...BASE, ...layer }, index: 99 };
  const entry = { id: randomUUID(), person, edit, undoes: null, redoes: null, label: 'dress' };
  expect((await ask('POST', `/liveries/${livery}/entries`, { base: revision, entries: [entry] })).status).toBe(200);
}
const solid = (id: string) => ({ kind: 'solid', id, paint: { hex: '#335577' } });
const decal = (id: string, blob: string) => ({
  ...{ kind: 'decal', id, blob, source: 'svg', ratio: 3, keepRatio: true, x: 30, y: 30, width: 30, height: 10 },
  ...{ turn: 0, mirrored: false, recolour: [] },
});

/** A drawing for the library. @returns its blob */
async function drawing(side: number): Promise<string> {
  const svg = `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${side} 10"><rect width="${side}" height="10" fill="#c0ffee"/></svg>`;
  const answer = await fetch(`${server.url}/api/decals?name=Sponsor`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/octet-stream' },
    body: svg,
  });
  return ((await answer.json()) as { blob: string }).blob;
}

beforeAll(async () => {
  server = await startServer({ demo: true });
});
afterAll(() => server.stop());

describe('a change of a team', () => {
  test('is one step in every livery, under the painter’s name; taken back and done again from the team', async () => {
    const { id, team, liveries } = await started(['Ash', 'Birch']);
    const first = await open(liveries[0]);
    const { status, body } = await put(id, 0, changed(team, 'Main', '#aa3300'), { label: 'Main' });
    expect(status).toBe(200);
    expect(body.changed.map(({ livery }) => livery).toSorted()).toEqual(liveries.toSorted());
    for (const one of liveries) {
      const { livery, revision, log } = await open(one);
      expect([revision, livery.scheme.find(({ name }) => name === 'Main')!.hex]).toEqual([1, '#aa3300']);
      expect(log).toMatchObject([{ person, label: 'Team: Main' }]);
    }
    const back = await ask<TeamChanged>('POST', `/teams/${id}/take-back`, { base: 1, person });
    expect(back.body).toMatchObject({ revision: 2, undo: null, redo: 'Main', skipped: [] });
    expect((await open(liveries[0])).livery).toEqual(first.livery);
    expect((await server.get<OpenTeam>(`/teams/${id}`)).team).toEqual(team);
    const again = await ask<TeamChanged>('POST', `/teams/${id}/do-again`, { base: 2, person });
    expect(again.body).toMatchObject({ revision: 3, undo: 'Main', redo: null });
    expect((await open(liveries[1])).livery.scheme[1].hex).toBe('#aa3300');
    expect((await ask('POST', `/teams/${id}/do-again`, { base: 3, person })).status).toBe(400);
  });

  test('what was changed in a livery since stays when the team’s step is taken back, and is said', async () => {
    const { id, team, liveries } = await started(['Cedar', 'Dogwood']);
    await put(id, 0, changed(team, 'Main', '#aa3300'));
    const { livery, revision } = await open(liveries[0]);
    const edit = { do: 'set-colour', colour: livery.scheme[1].id, set: { hex: '#010203' } };
    const entry = { id: randomUUID(), person, edit, undoes: null, redoes: null, label: 'own' };
    await ask('POST', `/liveries/${liveries[0]}/entries`, { base: revision, entries: [entry] });
    const { body } = await ask<TeamChanged>('POST', `/teams/${id}/take-back`, { base: 1, person });
    expect(body.skipped).toEqual([{ livery: liveries[0], why: '1 places were changed since; they stay.' }]);
    expect((await open(liveries[0])).livery.scheme[1].hex).toBe('#010203');
    expect((await open(liveries[1])).livery.scheme[1].hex).toBe('#2f5d62');
  });

  test('who has its own keeps it; who is in the bin is passed by and named', async () => {
    const { id, team, liveries } = await started(['Elm', 'Fir', 'Gorse']);
    const main = named(team, 'Main').id;
    const own = { ...team, members: team.members.map((one, n) => (n === 1 ? { ...one, own: [main] } : one)) };
    await ask('DELETE', `/liveries/${liveries[2]}`);
    const { body } = await put(id, 0, changed(own, 'Main', '#aa3300'));
    expect(body.changed).toEqual([{ livery: liveries[0], places: 1 }]);
    expect(body.skipped).toMatchObject([{ livery: liveries[2], why: expect.stringContaining('in the bin') as string }]);
    expect((await open(liveries[1])).livery.scheme[1].hex).toBe('#2f5d62');
    const cards = await server.get<TeamCard[]>('/teams');
    expect(cards.find((card) => card.id === id)!.members.map(({ name }) => name)).toEqual(['Elm', 'Fir']);
    // Let go, it is not there; its liveries are. It comes back as it was.
    await ask('DELETE', `/teams/${id}`);
    expect((await ask('GET', `/teams/${id}`)).status).toBe(404);
    expect((await open(liveries[0])).livery.scheme[1].hex).toBe('#aa3300');
    await ask('POST', `/teams/${id}/restore`);
    expect((await server.get<OpenTeam>(`/teams/${id}`)).revision).toBe(1);
  });

  test('one livery that cannot take it: none has it, and the team is as it was', async () => {
    const { id, team, liveries } = await started(['Hazel', 'Ivy']);
    const all = await Promise.all(liveries.map(open));
    // The second livery's scheme is full: a colour more cannot be.
    const edits = Array.from({ length: 60 }, (_, n) => ({
      do: 'add-colour',
      colour: { id: `c${n}`, name: `C ${n}`, hex: '#000000' },
      index: n,
    }));
    await ask('POST', `/liveries/${liveries[1]}/entries`, {
      base: 0,
      entries: [
        { id: randomUUID(), person, edit: { do: 'together', edits }, undoes: null, redoes: null, label: 'fill' },
      ],
    });
    const item = { id: 'more', kind: 'colour' as const, name: 'More', value: '#123456' };
    const more: Team = {
      ...team,
      items: [...team.items, item],
      members: team.members.map((one, n) => ({ ...one, places: { ...one.places, more: [`more-${n}`] } })),
    };
    const bring = liveries.map((livery) => ({ livery, item: 'more' }));
    const { status, body } = await put(id, 0, more, { bring });
    expect([status, body.error]).toEqual([400, expect.stringMatching(/^Ivy: /)]);
    expect((await open(liveries[0])).livery).toEqual(all[0].livery);
    expect(await server.get<OpenTeam>(`/teams/${id}`)).toMatchObject({ revision: 0, team });
  });

  test('two at once: the second is told, and nothing of it is done; hundreds of strokes beside it wait for nobody', async () => {
    const { id, team, liveries } = await started(['Juniper', 'Larch']);
    const both = await Promise.all(['#111111', '#222222'].map((hex) => put(id, 0, changed(team, 'Main', hex))));
    expect(both.map(({ status }) => status).toSorted()).toEqual([200, 409]);
    const won = both.find(({ status }) => status === 200)!.body.team;
    for (const one of liveries) expect((await open(one)).revision).toBe(1);
    let revision = 1;
    const teamwork = async () => {
      let now = won;
      for (let n = 0; n < 12; n++) {
        now = changed(now, 'Main', `#0000${(16 + n).toString(16)}`);
        expect((await put(id, revision++, now)).status).toBe(200);
      }
    };
    const handwork = async (one: string) => {
      for (let n = 0; n < 25; n++) {
        const edit = { do: 'set-particular', key: 'author', value: String(n) };
        const entry = { id: randomUUID(), person: 'bob', edit, undoes: null, redoes: null, label: 'x' };
        expect((await ask('POST', `/liveries/${one}/entries`, { base: 0, entries: [entry] })).status).toBe(200);
      }
    };
    await Promise.all([teamwork(), ...liveries.map(handwork)]);
    for (const one of liveries) {
      const { livery, revision: at } = await open(one);
      expect([at, livery.scheme[1].hex, livery.particulars.author]).toEqual([38, '#00001b', '24']);
    }
  });

  test('pictures of a version that is not on are kept as long as the team is', async () => {
    const { id, team } = await started(['Maple', 'Oak']);
    const blob = await drawing(40);
    const decals = await server.get<{ id: string; blob: string }[]>('/decals');
    const item = { id: 'm', kind: 'mark' as const, name: 'Sponsor', value: { blob, source: 'svg' as const, ratio: 4 } };
    const withMark = { ...team, items: [...team.items, item as TeamItem] };
    const kept = { ...withMark, versions: [versionOf(withMark, 'Spring')] };
    expect((await put(id, 0, kept)).status).toBe(200);
    expect((await put(id, 1, { ...team, versions: kept.versions })).status).toBe(200);
    await ask('DELETE', `/decals/${decals.find((one) => one.blob === blob)!.id}`);
    const { db, pool } = connect(server.databaseUrl);
    await sweep(db, new Date(Date.now() + 5 * 86_400_000));
    const { rows } = await pool.query('select 1 from blob where hash = $1', [blob]);
    await pool.end();
    expect(rows).toHaveLength(1);
  });
});

describe('a sheet as it would be', () => {
  test('is another picture, and nothing is changed by looking', async () => {
    const { liveries } = await started(['Pine']);
    const { livery } = await open(liveries[0]);
    const [sheet] = livery.sheets;
    const layer = { ...BASE, ...solid('x') };
    const edit = { do: 'add-layer', sheet: sheet.key, map: 'colour', layer, index: 99 };
    const shown = async (init?: RequestInit) => {
      const answer = await fetch(
        `${server.url}/api/liveries/${liveries[0]}/sheets/${sheet.key}${init ? '/tried' : ''}`,
        init,
      );
      return {
        status: answer.status,
        type: answer.headers.get('Content-Type'),
        bytes: Buffer.from(await answer.arrayBuffer()),
      };
    };
    const post = (body: unknown) =>
      shown({ method: 'POST', headers: { 'Content-Type': 'application/json' }, body: JSON.stringify(body) });
    const before = await shown();
    const tried = await post({ edit });
    expect([tried.status, tried.type]).toEqual([200, 'image/png']);
    expect(tried.bytes.equals(before.bytes)).toBe(false);
    expect((await shown()).bytes.equals(before.bytes)).toBe(true);
    expect((await open(liveries[0])).revision).toBe(0);
    for (const bad of [
      {},
      { edit: { do: 'nothing' } },
      { edit: { ...edit, sheet: 'nowhere' } },
      { edit: { do: 'set-layer', layer: 'gone', set: {} } },
      {
        edit: { ...edit, layer: { ...BASE, ...decal('y', 'f'.repeat(64)) } },
      },
    ])
      expect((await post(bad)).status, JSON.stringify(bad).slice(0, 80)).toBe(400);
  });
});

describe('a team is delivered', () => {
  const finished = (batch: string) =>
    until(
      () => server.get<DeliveryCard[]>(`/deliveries/batches/${batch}`),
      (all) => all.every(({ state }) => ['done', 'failed', 'cancelled'].includes(state)),
    );

  test('six in one go; after another sponsor only what it touches is encoded; one cancel ends all that has not begun', async () => {
    const { id, team, liveries } = await started(['One', 'Two', 'Three', 'Four', 'Five', 'Six']);
    const [first, second] = [await drawing(30), await drawing(20)];
    // Every second one has the sponsor's mark.
    const wearing = liveries.filter((_, n) => n % 2 === 0);
    for (const one of liveries) await dress(one, solid(`ground-${one}`));
    for (const one of wearing) await dress(one, decal(`mark-${one}`, first));
    const item = {
      id: 'sponsor',
      kind: 'mark',
      name: 'Sponsor',
      value: { blob: first, source: 'svg', ratio: 3 },
    } as TeamItem;
    const marked: Team = {
      ...team,
      items: [...team.items, item],
      members: team.members.map((one) =>
        wearing.includes(one.livery) ? { ...one, places: { ...one.places, sponsor: [`mark-${one.livery}`] } } : one,
      ),
    };
    expect((await put(id, 0, marked)).body.changed).toEqual([]);
    const stopped = async (one: string) =>
      (await server.get<PreflightAnswer>(`/liveries/${one}/preflight`)).preflight.findings.flatMap(({ overrule }) =>
        overrule ? [overrule] : [],
      );
    const wish = async (of = liveries) => ({
      liveries: await Promise.all(of.map(async (one) => ({ id: one, overrule: await stopped(one) }))),
    });
    const asked = await ask<DeliveryCard[]>('POST', `/teams/${id}/deliveries`, await wish());
    expect(asked.body.error).toBeUndefined();
    expect(new Set(asked.body.map(({ batch }) => batch)).size).toBe(1);
    const done = await finished(asked.body[0].batch);
    expect(done.map(({ liveryId, state }) => [liveryId, state])).toEqual(liveries.map((one) => [one, 'done']));
    expect(
      (await put(id, 1, changed(marked, 'Sponsor', { blob: second, source: 'svg', ratio: 2 }))).body.changed
        .map(({ livery }) => livery)
        .toSorted(),
    ).toEqual(wearing.toSorted());
    for (const [n, one] of liveries.entries()) {
      const { files } = await server.get<PreflightAnswer>(`/liveries/${one}/preflight`);
      const drawn = files.filter(({ kind }) => kind === 'sheet').map(({ since }) => since);
      expect(drawn.length).toBeGreaterThan(0);
      expect(new Set(drawn)).toEqual(new Set([wearing.includes(liveries[n]) ? 'changed' : 'unchanged']));
    }
    const again = await ask<DeliveryCard[]>('POST', `/teams/${id}/deliveries`, await wish());
    await ask('POST', `/deliveries/${again.body[5].id}/cancel`);
    const ended = await finished(again.body[0].batch);
    expect(ended.every(({ state }) => state === 'done' || state === 'cancelled')).toBe(true);
    expect(ended.at(-1)!.state).toBe('cancelled');
  });

  test('two that would write one file are both named, and nothing is begun; strangers are not delivered from it', async () => {
    const { id, liveries } = await started(['Same name', 'Same name']);
    for (const one of liveries) await dress(one, solid(`ground-${one}`));
    const count = async () => {
      const client = new pg.Client({ connectionString: server.databaseUrl });
      await client.connect();
      const { rows } = await client.query<{ n: string }>('select count(*) as n from delivery');
      await client.end();
      return rows[0].n;
    };
    const before = await count();
    const overrule = (
      await server.get<PreflightAnswer>(`/liveries/${liveries[0]}/preflight`)
    ).preflight.findings.flatMap((one) => (one.overrule ? [one.overrule] : []));
    const { status, body } = await ask('POST', `/teams/${id}/deliveries`, {
      liveries: liveries.map((one) => ({ id: one, overrule })),
    });
    expect(status).toBe(400);
    expect(body.error).toMatch(
      /Same name and Same name would both write .*: give each a name, key or number of its own/,
    );
    expect(await count()).toBe(before);
    const other = await started(['Someone else']);
    expect((await ask('POST', `/teams/${id}/deliveries`, { liveries: [{ id: other.liveries[0] }] })).status).toBe(400);
    expect((await ask('GET', `/deliveries/batches/${randomUUID()}`)).status).toBe(404);
  });
});

describe('what is no team leaves nothing', () => {
  test('in any way in', async () => {
    const { id, team, liveries } = await started(['Rowan', 'Sorrel']);
    const teams = await server.get<TeamCard[]>('/teams');
    const item = { id: 'm', kind: 'mark', name: 'M', value: { blob: 'e'.repeat(64), source: 'svg', ratio: 1 } };
    const bad: unknown[] = [
      {},
      { team: {}, person },
      { team, person: '' },
      { team: { ...team, more: 1 }, person },
      { team: { ...team, members: [{ livery: randomUUID(), places: {}, own: [] }] }, person },
      {
        team: { ...team, members: Array.from({ length: 25 }, () => ({ livery: randomUUID(), places: {}, own: [] })) },
        person,
      },
      { team: { ...team, items: [item] }, person },
      { team: { ...team, versions: [{ id: 'v', name: 'V', values: { m: item.value } }], items: [item] }, person },
      {
        team: {
          ...team,
          members: [{ ...team.members[0], places: { x: Array.from({ length: 501 }, (_, n) => String(n)) } }],
        },
        person,
      },
      JSON.parse(`{"team":{"__proto__":{"schema":1}},"person":"x"}`) as unknown,
    ];
    for (const one of bad)
      expect((await ask('POST', '/teams', one)).status, JSON.stringify(one).slice(0, 90)).toBe(400);
    for (const one of [
      { base: 0, team },
      { base: -1, team, label: 'x', person },
      { base: 0, team, label: 'x'.repeat(101), person },
      { base: 0, team, label: 'x', person, bring: [{ livery: 'no', item: '' }] },
    ])
      expect((await ask('PUT', `/teams/${id}`, one)).status).toBe(400);
    expect((await ask('PUT', `/teams/${randomUUID()}`, { base: 0, team, label: 'x', person })).status).toBe(404);
    expect((await ask('PUT', '/teams/no-id', { base: 0, team, label: 'x', person })).status).toBe(404);
    // A font that is nowhere.
    const nowhere = {
      id: 'l',
      kind: 'lettering',
      name: 'L',
      value: { font: 'nowhere', spacing: 0, slant: 0 },
    } as TeamItem;
    expect((await put(id, 0, { ...team, items: [...team.items, nowhere] })).body.changed).toEqual([]);
    expect(await server.get<TeamCard[]>('/teams')).toMatchObject(teams.map(({ name, members }) => ({ name, members })));
    for (const one of liveries) expect((await open(one)).revision).toBe(0);
  });
});

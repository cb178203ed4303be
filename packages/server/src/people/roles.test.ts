/** Every route with every role, and everything that can be fetched by hash: who may, and who may not. */
import { readFileSync } from 'node:fs';
import path from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type { Services } from '../host/services.ts';
import { routersOf } from '../host/app.ts';
import { SHIPPED_SPECS } from '@wet-lacquer/core/games/index.ts';
import { packTiles } from '@wet-lacquer/core/paint/strokes.ts';
import type { DeliveryCard, OpenLivery } from '@wet-lacquer/sync/answers.ts';
import type { Shares } from '@wet-lacquer/sync/people.ts';
import { Client, peopleOf } from '../testing/client.ts';
import { startServer, until, type TestServer } from '../testing/server.ts';
import { GUARDS } from './guard.ts';

const NEEDS = ['anyone', 'look', 'copy', 'paint', 'own', 'painters', 'keepers'] as const;
type Need = (typeof NEEDS)[number];

/** What each route needs, written down by hand: a route that is not here fails, and so does one that is here and nowhere else. */
const TABLE: Record<Need, string> = {
  anyone: `GET /health, GET /metrics, GET /me, POST /sign-in, POST /sign-in/code, POST /sign-in/passkey/options, POST /sign-in/passkey, POST /sign-out,
    POST /invitations/look, POST /invitations/take, POST /links/open, GET /exchange/feed, GET /exchange/feed/:id/:version,
    GET /exchange/feed/:id/:version/files/:hash, POST /exchange/feed/:id/has`,
  look: `GET /liveries/:id/news, GET /liveries/:id/picture/:revision, GET /liveries/:id/sheets/:sheet, GET /looks/:id`,
  copy: `GET /liveries/:id, GET /liveries/:id/at/:revision, GET /liveries/:id/entries, POST /liveries/:id/here,
    GET /liveries/:id/notes, POST /liveries/:id/notes, POST /liveries/:id/notes/:note, POST /liveries/:id/notes/:note/answers,
    DELETE /liveries/:id/notes/:note,
    POST /liveries/:id/sheets/:sheet/tried, GET /liveries/:id/sheets/:sheet/beside/:map, GET /liveries/:id/layers/:layer/place,
    GET /liveries/:id/sheets/:sheet/followers/:follower, GET /liveries/:id/sheets/:sheet/layered/:as, GET /liveries/:id/bundle,
    GET /liveries/:id/preflight, GET /liveries/:id/plan, GET /liveries/:id/deliveries, GET /deliveries/:id,
    GET /deliveries/batches/:id, GET /deliveries/:id/note, GET /deliveries/:id/zip, GET /teams/:id, GET /specs/:key, POST /specs/trial,
    GET /templates/:hash, GET /templates/:hash/picture, GET /templates/:hash/sheets/:sheet,
    GET /templates/:hash/sheets/:sheet/followers/:follower, GET /templates/:hash/layout, GET /templates/:hash/fields,
    GET /templates/:hash/fields/:name, POST /templates/:hash/sheets/:sheet/occlusion, POST /templates/:hash/changes,
    POST /templates/:hash/outlines, GET /templates/:hash/kept, POST /templates/:hash/takings, GET /templates/:hash/texts,
    GET /templates/:hash/plan, GET /templates/:hash/newer, POST /templates/:hash/locator, GET /templates/:hash/model.glb,
    GET /templates/:hash/package, POST /transfers`,
  paint: `POST /liveries/:id/entries, POST /liveries/:id/return, DELETE /liveries/:id/aside/:entry,
    POST /liveries/:id/sheets/:sheet/layered, POST /liveries/:id/deliveries, POST /deliveries/:id/cancel, POST /deliveries/:id/repeat,
    POST /deliveries/:id/take-back, POST /teams, PUT /teams/:id, POST /teams/:id/take-back, POST /teams/:id/do-again,
    POST /teams/:id/deliveries`,
  own: `POST /exchange, POST /specs, DELETE /liveries/:id, POST /liveries/:id/restore, DELETE /decals/:id, DELETE /templates/:hash, DELETE /teams/:id,
    POST /teams/:id/restore, GET /intakes/:id, POST /intakes/:id/files, GET /intakes/:id/model, POST /intakes/:id/template,
    GET /intakes/:id/over, POST /intakes/:id/over, POST /intakes/:id/spec, DELETE /intakes/:id, GET /shares/:kind/:object,
    POST /shares/:kind/:object, DELETE /shares/:kind/:object/:painter, POST /shares/:kind/:object/links, DELETE /links/:id`,
  painters: `GET /health/threads, GET /me/account, DELETE /me/sessions/:id, DELETE /me/sessions, POST /me/password, POST /me/codes,
    POST /me/passkeys/options, POST /me/passkeys, DELETE /me/passkeys/:id, GET /liveries, GET /liveries/bin, POST /liveries,
    POST /liveries/open, GET /decals, POST /decals, POST /kits, POST /kits/open, GET /bay, GET /bay/:game, GET /bay/:game/shown,
    GET /bay/:game/picture, GET /bay/:game/files/*name, POST /intakes, GET /teams, POST /transfers/fit, POST /containers,
    GET /containers/:hash, GET /containers/:hash/file, GET /containers/:hash/entry, POST /containers/:hash/entry,
    POST /containers/:hash/entries, POST /containers/:hash/names, DELETE /containers/:hash/entry, GET /containers/:hash/text,
    POST /containers/:hash/text, GET /containers/:hash/uses, POST /containers/:hash/copies, GET /templates, POST /templates/packages,
    GET /specs, GET /fonts, GET /fonts/:key, GET /blobs/:hash, GET /blobs/:hash/thumb, GET /blobs/:hash/picture,
    POST /strokes, POST /strokes/many, POST /pictures, GET /exchange, GET /exchange/seen/:game, GET /exchange/:id,
    GET /exchange/:id/:version/pictures/:n, GET /exchange/:id/:version/folder, GET /exchange/:id/:version/files/*name,
    POST /exchange/:id/put-in, POST /exchange/:id/take-out, POST /exchange/:id/livery, POST /exchange/:id/reports,
    POST /exchange/:id/take-down, POST /exchange/:id/put-back`,
  keepers: `GET /invitations, POST /invitations, DELETE /invitations/:id, GET /painters, POST /painters/:id, GET /storage,
    GET /exchange/subscriptions, POST /exchange/subscriptions, POST /exchange/subscriptions/:id/look,
    DELETE /exchange/subscriptions/:id`,
};
const ROUTES = NEEDS.flatMap((need) => TABLE[need].split(/,\s+/).map((route) => ({ route: route.trim(), need })));

/** Every route that is served. */
function served(): { route: string; guarded: boolean }[] {
  // Routers take what they need apart, and nothing of it is used before somebody asks.
  const nothing: Services = new Proxy({}, { get: () => ({}) }) as Services;
  return routersOf(nothing).flatMap(([mount, router]) =>
    router.stack.flatMap(({ route }) => {
      if (!route) throw new Error('Something is served that is no route.');
      const at = `${mount === '/' ? '' : mount}${route.path === '/' ? '' : route.path}`;
      const first = route.stack[0].handle as unknown as Record<symbol, unknown>;
      const methods = Object.keys((route as unknown as { methods: Record<string, boolean> }).methods);
      return methods.map((method) => ({
        route: `${method.toUpperCase()} ${at}`,
        guarded: first[GUARDS] !== undefined,
      }));
    }),
  );
}

test('every route says who may use it, and is in the table', () => {
  const all = served();
  expect(all.filter(({ guarded }) => !guarded)).toEqual([]);
  expect(all.map(({ route }) => route).toSorted()).toEqual(ROUTES.map(({ route }) => route).toSorted());
});

type Name = 'keeper' | 'owner' | 'looker' | 'copier' | 'painter' | 'stranger';
const bundle = (key: string) =>
  new Uint8Array(readFileSync(path.resolve(import.meta.dirname, `../../../../demo/out/${key}`)));

describe('on a server with people', () => {
  let server: TestServer;
  let people: Record<Name, Client & { id: string }>;
  let visitor: Client;
  const nobody = () => new Client(server);
  let things: Record<string, string>;
  /** A picture that only the owner's livery names. */
  let blob: string;
  let open: OpenLivery;

  beforeAll(async () => {
    server = await startServer({ signIn: true });
    people = await peopleOf(server, 'owner', 'looker', 'copier', 'painter', 'stranger');
    const { owner } = people;
    const made = async (method: string, at: string, body?: unknown) => {
      const answer = await owner.ask<{ id: string; key: string; hash: string }>(method, at, body);
      if (answer.status >= 300) throw new Error(`${at}: ${JSON.stringify(answer.body)}`);
      return answer.body;
    };
    const livery = (await made('POST', '/liveries/open', bundle('post-harbour.livery'))).id;
    open = (await owner.ask<OpenLivery>('GET', `/liveries/${livery}`)).body;
    const own = { ...Object.values(SHIPPED_SPECS)[0], key: 'mine', version: 1 };
    const team = {
      ...{ schema: 1, name: 'Ours', items: [], versions: [] },
      members: [{ livery, places: {}, own: [] }],
    };
    things = {
      livery,
      template: open.livery.pins.template,
      decal: (
        await made(
          'POST',
          '/decals?name=Knot',
          new TextEncoder().encode(
            '<svg xmlns="http://www.w3.org/2000/svg" width="9" height="9"><path d="M0 0h9v9z"/></svg>',
          ),
        )
      ).id,
      spec: (await made('POST', '/specs', own)).key,
      team: (await made('POST', '/teams', { team, person: owner.id })).id,
      intake: (await made('POST', '/intakes', { name: 'files' })).id,
      delivery: (await made('POST', `/liveries/${livery}/deliveries`, {})).id,
      note: (
        await made('POST', `/liveries/${livery}/notes`, {
          text: 'Look here',
          place: { sheet: open.livery.sheets[0].key, x: 1, y: 2, point: null },
        })
      ).id,
    };
    const delivery = await until(
      async () => (await owner.ask<DeliveryCard>('GET', `/deliveries/${things.delivery}`)).body,
      ({ state }) => state === 'done' || state === 'failed',
    );
    things.batch = delivery.batch;
    for (const kind of ['livery', 'template', 'decal', 'spec', 'team'])
      for (const [name, role] of [
        ['looker', 'look'],
        ['copier', 'copy'],
        ['painter', 'paint'],
      ] as const) {
        const { status, body } = await owner.ask('POST', `/shares/${kind}/${things[kind]}`, { name, role });
        if (status !== 204) throw new Error(JSON.stringify(body));
      }
    const link = await made('POST', `/shares/livery/${livery}/links`, { role: 'look' });
    visitor = new Client(server);
    await visitor.ask('POST', '/links/open', { token: (link as unknown as { token: string }).token });
    things.link = (await owner.ask<Shares>('GET', `/shares/livery/${livery}`)).body.links[0].id;
    blob = /"blob":"([0-9a-f]{64})"/.exec(JSON.stringify(open.livery))![1];
  }, 300_000);
  afterAll(() => server.stop());

  test('lists hold what is shared, and no more', async () => {
    const counts = async (name: Name) => {
      const all = await Promise.all(
        ['/liveries', '/templates', '/decals', '/teams'].map(
          async (at) => (await people[name].ask<unknown[]>('GET', at)).body.length,
        ),
      );
      const specs = (await people[name].ask<{ from: string }[]>('GET', '/specs')).body.filter(
        ({ from }) => from === 'made',
      );
      return [...all, specs.length];
    };
    expect(await counts('stranger')).toEqual([0, 0, 0, 0, 0]);
    expect(await counts('keeper')).toEqual([0, 0, 0, 0, 0]);
    // Of a bundle decals come along, too.
    const [liveries, templates, decals, teams, specs] = await counts('copier');
    expect([liveries, templates, decals >= 1, teams, specs]).toEqual([1, 1, true, 1, 1]);
  });

  /** An address with everything in it. */
  const filled = (at: string) =>
    at
      .replace('/liveries/:id', `/liveries/${things.livery}`)
      .replace('/notes/:note', `/notes/${things.note}`)
      .replace('/looks/:id', `/looks/${things.livery}`)
      .replace('/deliveries/batches/:id', `/deliveries/batches/${things.batch}`)
      .replace(/^\/deliveries\/:id/, `/deliveries/${things.delivery}`)
      .replace('/teams/:id', `/teams/${things.team}`)
      .replace('/intakes/:id', `/intakes/${things.intake}`)
      .replace('/decals/:id', `/decals/${things.decal}`)
      .replace('/links/:id', `/links/${things.link}`)
      .replace('/specs/:key', `/specs/${things.spec}`)
      .replace('/templates/:hash', `/templates/${things.template}`)
      .replace('/shares/:kind/:object', `/shares/livery/${things.livery}`)
      .replace(/:hash/, blob)
      .replace(':sheet', open.livery.sheets[0].key)
      .replace(/:revision/, '0')
      .replace(':painter', people.stranger.id)
      .replace(':as', 'psd')
      .replace(':version', '1')
      .replace(':n', '0')
      .replace(':game', 'marshkin')
      .replace('*name', 'nothing.dds')
      .replace(/:(id|entry|map|follower|name|key)\b/, '00000000-0000-4000-8000-000000000000');
  /** What says nothing of its own, but names the thing where a route looks for it. */
  const bodyOf = (route: string) =>
    route === 'POST /teams' || route === 'PUT /teams/:id'
      ? { team: { members: [{ livery: things.livery }] } }
      : route === 'POST /transfers' || route === 'POST /specs/trial'
        ? { livery: things.livery }
        : route === 'POST /specs'
          ? { key: things.spec }
          : route === 'POST /exchange'
            ? { delivery: things.delivery, by: 'Somebody', terms: 'For playing.', adapt: false }
            : {};

  const MAY: Record<string, readonly Need[]> = {
    nobody: ['anyone'],
    visitor: ['anyone', 'look'],
    stranger: ['anyone', 'painters'],
    looker: ['anyone', 'painters', 'look'],
    copier: ['anyone', 'painters', 'look', 'copy'],
    painter: ['anyone', 'painters', 'look', 'copy', 'paint'],
    keeper: ['anyone', 'painters', 'keepers'],
    owner: ['anyone', 'painters', 'look', 'copy', 'paint', 'own'],
  };
  const clientOf = (name: string) =>
    name === 'nobody' ? nobody() : name === 'visitor' ? visitor : people[name as Name];
  const refused = async (name: string, route: string): Promise<string | null> => {
    const [method, at] = route.split(' ');
    const stop = new AbortController();
    const response = await clientOf(name).fetch(filled(at), {
      method,
      signal: stop.signal,
      ...(method !== 'GET' && { headers: { 'Content-Type': 'application/json' }, body: JSON.stringify(bodyOf(route)) }),
    });
    const { status } = response;
    if (status === 401 || status === 403) {
      const { error } = (await response.json()) as { error: string };
      // That is the handler's own.
      return error === 'Your password is not right.' ||
        /name or the (password|code)/.test(error) ||
        /passkey/.test(error)
        ? null
        : `${status}`;
    }
    const text = status === 404 || status === 400 ? await response.text() : '';
    stop.abort();
    return text.includes('There is nothing at this address.')
      ? '404'
      : text.includes('There is nothing stored under')
        ? 'hash'
        : null;
  };

  /** Whether a route names the picture by its hash: only who may copy the livery gets that far. */
  const byHash = (route: string) => /\/(blobs|containers)\/:hash/.test(route);
  /** What would end the test for those after it. */
  const ENDS =
    /^(DELETE|POST) \/(me\/sessions|sign-out|liveries\/:id$|decals|templates\/:hash$|teams\/:id$|intakes\/:id$|links)|\/shares\/:kind\/:object\/:painter|here$/;

  for (const name of Object.keys(MAY))
    test(`${name}: what is allowed, and nothing else`, async () => {
      const wrong: string[] = [];
      for (const { route, need } of ROUTES) {
        const may = MAY[name].includes(need) && (!byHash(route) || MAY[name].includes('copy'));
        if (may && ENDS.test(route)) continue;
        const no = await refused(name, route);
        if ((no === null) !== may) wrong.push(`${route} (${need}): ${no ?? 'was let through'}`);
      }
      expect(wrong).toEqual([]);
    }, 300_000);

  test('a looker sees the livery as it is, and no earlier state of it', async () => {
    const { revision } = (await people.owner.ask<OpenLivery>('GET', `/liveries/${things.livery}`)).body;
    const entries = open.livery.sheets[0].maps[0].layers.slice(0, 8).map(({ id }, k) => ({
      ...{ id: `hide ${k}`, person: people.owner.id, undoes: null, redoes: null, label: 'Hide' },
      edit: { do: 'set-layer', layer: id, set: { hidden: true } },
    }));
    const { status, body } = await people.owner.ask('POST', `/liveries/${things.livery}/entries`, {
      ...{ base: revision, entries },
    });
    expect([status, body]).toEqual([200, expect.objectContaining({ state: 'saved' })]);
    const picture = async (who: Client, at: number) =>
      Buffer.from(await (await who.fetch(`/liveries/${things.livery}/picture/${at}`)).arrayBuffer());
    const [old, now] = [await picture(people.owner, revision), await picture(people.owner, revision + entries.length)];
    expect(old.equals(now)).toBe(false);
    for (const who of [people.looker, visitor]) expect((await picture(who, revision)).equals(now)).toBe(true);
  });

  test('a looker is not told what was done, only that something was', async () => {
    const hear = async (client: Client) => {
      const response = await client.fetch(`/liveries/${things.livery}/news`);
      return response.body!.pipeThrough(new TextDecoderStream()).getReader();
    };
    const [looks, copies] = await Promise.all([hear(visitor), hear(people.copier)]);
    const { revision } = (await people.owner.ask<OpenLivery>('GET', `/liveries/${things.livery}`)).body;
    const entry = {
      id: 'said',
      person: people.owner.id,
      edit: { do: 'set-particular', key: 'number', value: '8' },
      undoes: null,
      redoes: null,
      label: 'Number',
    };
    expect(
      (await people.owner.ask('POST', `/liveries/${things.livery}/entries`, { base: revision, entries: [entry] }))
        .status,
    ).toBe(200);
    const all = async (reader: ReadableStreamDefaultReader<string>) => {
      let text = '';
      while (!text.includes(`"revision":${revision + 1}`)) text += (await reader.read()).value ?? '';
      await reader.cancel();
      return text;
    };
    expect(await all(copies)).toContain('set-particular');
    expect(await all(looks)).not.toContain('set-particular');
  });

  describe('by hash', () => {
    const ways = (
      hash: string,
    ): [string, (who: Client & { id?: string }) => Promise<{ status: number; body: unknown }>][] => [
      ['as a blob', (who) => who.ask('GET', `/blobs/${hash}`)],
      ['as a small picture', (who) => who.ask('GET', `/blobs/${hash}/thumb`)],
      ['as a picture', (who) => who.ask('GET', `/blobs/${hash}/picture`)],
      ['as a font', (who) => who.ask('GET', `/fonts/saira?hash=${hash}`)],
      ['as a container', (who) => who.ask('GET', `/containers/${hash}/file`)],
      ['among strokes', (who) => who.ask('POST', '/strokes/many', { hashes: [hash] })],
      ['in capital letters', (who) => who.ask('GET', `/blobs/${hash.toUpperCase()}`)],
    ];
    test('nobody, visitors, strangers and lookers get nothing; whoever may copy does', async () => {
      for (const [way, ask] of ways(blob))
        for (const who of [nobody(), visitor, people.stranger, people.looker, people.keeper]) {
          const { status } = await ask(who);
          expect([way, [400, 401, 403, 404].includes(status)]).toEqual([way, true]);
        }
      expect((await people.copier.ask('GET', `/blobs/${blob}`)).status).toBe(200);
    });

    test('what is not one’s own is not put into one’s own livery, team or kit to be fetched from there', async () => {
      const { stranger } = people;
      const brought = (
        await stranger.ask<{ hash: string }>('POST', '/templates/packages', bundle('brock.template.zip'))
      ).body.hash;
      const { id } = (await stranger.ask<{ id: string }>('POST', '/liveries', { template: brought, name: 'Mine' }))
        .body;
      const layer = open.livery.sheets
        .flatMap(({ maps }) => maps.flatMap(({ layers }) => layers))
        .find((one) => one.kind === 'decal' && one.blob === blob) ?? {
        ...open.livery.sheets[0].maps[0].layers[0],
        blob,
      };
      const mine = (await stranger.ask<OpenLivery>('GET', `/liveries/${id}`)).body.livery;
      const sheet = mine.sheets[0];
      const entry = {
        ...{ id: 'steal', person: stranger.id, undoes: null, redoes: null, label: 'Add' },
        edit: { do: 'add-layer', sheet: sheet.key, map: sheet.maps[0].key, layer, index: 0 },
      };
      const posted = await stranger.ask<{ error?: string }>('POST', `/liveries/${id}/entries`, {
        base: 0,
        entries: [entry],
      });
      expect([posted.status, posted.body.error]).toEqual([400, expect.stringContaining('nothing stored')]);
      expect((await stranger.ask('POST', '/liveries', { template: things.template, name: 'Theirs' })).status).toBe(400);
      expect((await stranger.ask('GET', `/blobs/${blob}`)).status).toBe(400);
    });

    test('what somebody stored is theirs alone, until it is in what they share', async () => {
      const { bytes } = packTiles(new Map([[0, new Uint16Array(256 * 256).fill(777)]]), 1)!;
      const { owner, copier, stranger } = people;
      const { blob: stroke } = (await owner.ask<{ blob: string }>('POST', '/strokes', bytes)).body;
      expect((await owner.ask('GET', `/blobs/${stroke}`)).status).toBe(200);
      expect((await copier.ask('GET', `/blobs/${stroke}`)).status).toBe(400);
      // Who has the same bytes has them.
      expect((await stranger.ask<{ blob: string }>('POST', '/strokes', bytes)).body.blob).toBe(stroke);
      expect((await stranger.ask('GET', `/blobs/${stroke}`)).status).toBe(200);
    });
  });

  test('steps are made in one’s own name alone', async () => {
    const { revision } = (await people.painter.ask<OpenLivery>('GET', `/liveries/${things.livery}`)).body;
    const post = (person: string, id: string) =>
      people.painter.ask('POST', `/liveries/${things.livery}/entries`, {
        base: revision,
        entries: [
          {
            id,
            person,
            edit: { do: 'set-particular', key: 'number', value: '9' },
            undoes: null,
            redoes: null,
            label: 'Number',
          },
        ],
      });
    expect((await post(people.owner.id, 'as-other')).status).toBe(403);
    expect((await post(people.painter.id, 'as-self')).status).toBe(200);
    const { people: names } = (await people.owner.ask<OpenLivery>('GET', `/liveries/${things.livery}`)).body;
    expect(names[people.painter.id]).toBe('painter');
  });

  test('what is taken back is gone at once, also where it is open: by name, by link, and with the account', async () => {
    const { owner, copier, painter } = people;
    const ended = async (client: Client): Promise<() => Promise<string>> => {
      const response = await client.fetch(`/liveries/${things.livery}/news`);
      const reader = response.body!.pipeThrough(new TextDecoderStream()).getReader();
      return async () => {
        let text = '';
        for (;;) {
          const { value, done } = await reader.read();
          if (done) return text;
          text += value;
        }
      };
    };
    const began = Date.now();
    const [a, b, c] = [await ended(copier), await ended(visitor), await ended(painter)];
    await owner.ask('DELETE', `/shares/livery/${things.livery}/${copier.id}`);
    expect(await a()).toContain('event: gone');
    expect((await copier.ask('GET', `/liveries/${things.livery}`)).status).toBe(404);
    expect((await copier.ask('GET', `/blobs/${blob}`)).status).toBe(400);
    await owner.ask('DELETE', `/links/${things.link}`);
    expect(await b()).toContain('event: gone');
    expect((await visitor.ask('GET', `/looks/${things.livery}`)).status).toBe(401);
    await people.keeper.ask('POST', `/painters/${painter.id}`, { closed: true });
    expect(await c()).toContain('event: gone');
    // Nothing of it waited for the next look at who is there.
    expect(Date.now() - began).toBeLessThan(14_000);
  });

  test('whoever follows a link while signed in has the thing as long as there is the link; a link ends by itself', async () => {
    const { owner, stranger } = people;
    const made = async (role: string) =>
      (await owner.ask<{ token: string }>('POST', `/shares/livery/${things.livery}/links`, { role, days: 1 })).body
        .token;
    const token = await made('copy');
    await stranger.ask('POST', '/links/open', { token });
    expect((await stranger.ask('GET', `/liveries/${things.livery}`)).status).toBe(200);
    const { links } = (await owner.ask<Shares>('GET', `/shares/livery/${things.livery}`)).body;
    await owner.ask('DELETE', `/links/${links[0].id}`);
    expect((await stranger.ask('GET', `/liveries/${things.livery}`)).status).toBe(404);
    expect((await stranger.ask('POST', '/links/open', { token })).status).toBe(404);
  });
});

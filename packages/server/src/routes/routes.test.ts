import { createHash } from 'node:crypto';
import { chmodSync, existsSync, mkdirSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import pg from 'pg';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { unzipSync, zipSync } from 'fflate';
import sharp from 'sharp';
import { readKit, writeKit } from '@wet-lacquer/core/files/kit.ts';
import { sha256 } from '@wet-lacquer/core/files/sha256.ts';
import { layersIn, type Livery } from '@wet-lacquer/core/livery/livery.ts';
import { packKit } from '@wet-lacquer/core/kit/kit.ts';
import type { Template } from '@wet-lacquer/core/livery/template.ts';
import type { DeliverySpec } from '@wet-lacquer/core/livery/spec.ts';
import { readDdsFacts } from '@wet-lacquer/core/texture/dds.ts';
import { packTiles, splitStrokes } from '@wet-lacquer/core/paint/strokes.ts';
import { demoBytes, fontBytes, layerOf } from '@wet-lacquer/core/testing/scenes.ts';
import { startServer, until, type TestServer } from '../testing/server.ts';

interface Card {
  id: string;
  name: string;
  revision: number;
  sheets: { key: string; state: string }[];
}
interface Delivered {
  id: string;
  state: string;
  error: string | null;
  seconds: number;
  files: { name: string; blob: string }[];
  replaced: { name: string }[];
}

let server: TestServer;
let cards: Card[];
beforeAll(async () => {
  server = await startServer({ demo: true });
  // The Turnstones: other subjects have other sheets.
  cards = (await server.get<Card[]>('/liveries')).filter(({ name }) => name.startsWith('Turnstone'));
});
afterAll(() => server.stop());

const raw = (where: string, init?: RequestInit) => fetch(`${server.url}/api${where}`, init);
const upload = (where: string, body: Uint8Array | string) =>
  raw(where, { method: 'POST', headers: { 'Content-Type': 'application/octet-stream' }, body: body as BodyInit });
const deliver = async (id: string): Promise<Delivered> => {
  const made = await server.post<Delivered>(`/liveries/${id}/deliveries`);
  expect(made.status).toBe(201);
  return until(
    () => server.get<Delivered>(`/deliveries/${made.body.id}`),
    (d) => ['done', 'failed', 'cancelled'].includes(d.state),
  );
};
const edit = (id: string, base: number, change: object) =>
  server.post(`/liveries/${id}/entries`, {
    base,
    entries: [{ id: crypto.randomUUID(), person: 'ann', edit: change, undoes: null, redoes: null, label: 'a step' }],
  });
const folder = () => path.join(server.data, 'games/brackwater-run/wharf/turnstone');

describe('who may talk to it', () => {
  test('only pages that it served: other origins and other host names are turned away', async () => {
    expect((await raw('/liveries', { headers: { Origin: 'http://evil.example' } })).status).toBe(403);
    expect((await raw('/liveries', { headers: { Origin: server.url } })).status).toBe(200);
  });

  test('pages come with a policy that lets nothing load from elsewhere', async () => {
    const policy = (await fetch(server.url)).headers.get('content-security-policy') ?? '';
    expect(policy).toContain("default-src 'self'");
    expect(policy).toContain("script-src 'self' 'wasm-unsafe-eval'");
  });
});

describe('answers to what cannot be', () => {
  test.each([
    ['/liveries/none', 404, /nothing at this address/],
    ['/liveries/00000000-0000-4000-8000-000000000000', 404, /no such livery/],
    ['/bay/other-game', 404, /no game/],
    ['/nothing', 404, /nothing at this address/],
    ['/fonts/arial', 400, /no font "arial"/],
    ['/templates/123', 400, /template/],
  ])('%s is %i, in a sentence', async (where, status, sentence) => {
    const response = await raw(where);
    expect(response.status).toBe(status);
    expect(((await response.json()) as { error: string }).error).toMatch(sentence);
  });

  test('a body that is not what is asked for names the field', async () => {
    const { status, body } = await server.post<{ error: string }>('/liveries', { template: 'x', name: '' });
    expect(status).toBe(400);
    expect(body.error).toMatch(/template|name/);
  });

  test('paths that climb out of the game’s folder find nothing', async () => {
    expect((await raw('/bay/brackwater-run/files/..%2f..%2f..%2fetc%2fpasswd')).status).toBe(400);
  });
});

describe('decals', () => {
  const square = (colour: string) => sharp({ create: { width: 24, height: 12, channels: 4, background: colour } });

  test('PNG, JPEG, WebP and SVG come in, the same picture once', async () => {
    const files = await Promise.all([
      square('#ff000080').png().toBuffer(),
      square('#00ff00').jpeg().toBuffer(),
      square('#0000ff').webp().toBuffer(),
    ]);
    for (const [i, file] of files.entries()) {
      const made = (await (await upload(`/decals?name=Square%20${i}&tags=a,%20b`, file)).json()) as {
        ratio: number;
        source: string;
        tags: string[];
      };
      expect(made).toMatchObject({ ratio: 2, source: 'pixels', tags: ['a', 'b'] });
    }
    const svg =
      '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 4 2"><rect width="4" height="2" fill="#ABC"/></svg>';
    const one = (await (await upload('/decals?name=Bar', svg)).json()) as {
      id: string;
      colours: string[];
      blob: string;
    };
    const two = (await (await upload('/decals?name=Bar%20again', svg)).json()) as { id: string };
    expect(one.colours).toEqual(['#aabbcc']);
    expect(two.id).toBe(one.id);
    const thumb = await sharp(Buffer.from(await (await raw(`/blobs/${one.blob}/thumb`)).arrayBuffer())).metadata();
    expect([thumb.format, thumb.width, thumb.height]).toEqual(['png', 256, 128]);
  });

  test('their small pictures are drawn once and kept, and drawn again where one is gone', async () => {
    const svg =
      '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 3 1"><rect width="3" height="1" fill="#123"/></svg>';
    const { blob } = (await (await upload('/decals?name=Kept', svg)).json()) as { blob: string };
    const small = async () => Buffer.from(await (await raw(`/blobs/${blob}/thumb`)).arrayBuffer());
    const first = await small();
    const client = new pg.Client({ connectionString: server.databaseUrl });
    await client.connect();
    try {
      const kept = async () =>
        (await client.query<{ picture: string }>('select picture from decal where blob = $1', [blob])).rows[0].picture;
      const picture = await kept();
      expect(picture).toBe(createHash('sha256').update(first).digest('hex'));
      await client.query('delete from blob where hash = $1', [picture]);
      expect((await small()).equals(first)).toBe(true);
      expect(await kept()).toBe(picture);
      expect((await client.query('select 1 from blob where hash = $1', [picture])).rowCount).toBe(1);
    } finally {
      await client.end();
    }
  });

  test.each([
    ['a text', 'hello', /not a picture that can be read/],
    ['a script in a drawing', '<svg xmlns="http://www.w3.org/2000/svg"><script/></svg>', /script/],
    ['nothing', '', /not a picture/],
  ])('%s is refused in a sentence', async (_what, body, sentence) => {
    const response = await upload('/decals?name=Bad', body);
    expect(response.status).toBe(400);
    expect(((await response.json()) as { error: string }).error).toMatch(sentence);
  });

  test('a picture that is cut off or too large is refused', async () => {
    const whole = await square('#ff0000').png().toBuffer();
    expect((await upload('/decals?name=Cut', whole.subarray(0, 60))).status).toBe(400);
    const wide = await sharp({ create: { width: 9000, height: 2, channels: 3, background: '#fff' } })
      .png()
      .toBuffer();
    expect(((await (await upload('/decals?name=Wide', wide)).json()) as { error: string }).error).toMatch(/9000 x 2/);
  });
});

test('a finding’s layer is seen where it lies; one that is not there is said', async () => {
  const [{ id }] = cards;
  const { findings } = (
    await server.get<{ preflight: { findings: { show?: { layer?: string } }[] } }>(`/liveries/${id}/preflight`)
  ).preflight;
  const layer = findings.find(({ show }) => show?.layer)!.show!.layer!;
  const answer = await raw(`/liveries/${id}/layers/${layer}/place`);
  expect(answer.headers.get('content-type')).toBe('image/png');
  const { width, height } = await sharp(Buffer.from(await answer.arrayBuffer())).metadata();
  expect(width).toBeLessThanOrEqual(560);
  expect(height).toBeLessThanOrEqual(240);
  for (const none of ['00000000-0000-4000-8000-000000000000', 'x'])
    expect((await raw(`/liveries/${id}/layers/${none}/place`)).status).toBe(400);
});

describe('bundles', () => {
  test('a livery saved to a file and opened again is the same livery, and its file the same file', async () => {
    const bytes = new Uint8Array(await (await raw(`/liveries/${cards[0].id}/bundle`)).arrayBuffer());
    const { id } = (await (await upload('/liveries/open', bytes)).json()) as { id: string };
    const [one, two] = await Promise.all(
      [cards[0].id, id].map((which) => server.get<{ livery: object }>(`/liveries/${which}`)),
    );
    expect(two.livery).toEqual(one.livery);
    const again = new Uint8Array(await (await raw(`/liveries/${id}/bundle`)).arrayBuffer());
    expect(Buffer.compare(Buffer.from(again), Buffer.from(bytes))).toBe(0);
    await raw(`/liveries/${id}`, { method: 'DELETE' });
  });

  test('a font that is another file than the one here is drawn, and goes along, as it came', async () => {
    const entries = unzipSync(new Uint8Array(await (await raw(`/liveries/${cards[0].id}/bundle`)).arrayBuffer()));
    const fonts = Object.keys(entries).filter((name) => name.startsWith('fonts/'));
    expect(fonts.length).toBeGreaterThan(0);
    const other = fontBytes('bungee');
    for (const name of fonts) entries[name] = other.slice();
    const { id } = (await (await upload('/liveries/open', zipSync(entries))).json()) as { id: string };
    const { livery } = await server.get<{ livery: Livery }>(`/liveries/${id}`);
    const hash = createHash('sha256').update(other).digest('hex');
    expect(new Set(Object.values(livery.pins.fonts))).toEqual(new Set([hash]));
    const sheet = livery.sheets[0].key;
    const [mine, theirs] = await Promise.all(
      [cards[0].id, id].map(async (one) => (await raw(`/liveries/${one}/sheets/${sheet}`)).arrayBuffer()),
    );
    expect(Buffer.compare(Buffer.from(mine), Buffer.from(theirs))).not.toBe(0);
    const [key] = Object.keys(livery.pins.fonts);
    const sent = await (await raw(`/fonts/${key}?hash=${hash}`)).arrayBuffer();
    expect(Buffer.compare(Buffer.from(sent), Buffer.from(other))).toBe(0);
    const again = unzipSync(new Uint8Array(await (await raw(`/liveries/${id}/bundle`)).arrayBuffer()));
    expect(Buffer.compare(Buffer.from(again[fonts[0]]), Buffer.from(other))).toBe(0);
    await raw(`/liveries/${id}`, { method: 'DELETE' });
    entries[fonts[0]] = other.slice(0, 300);
    expect((await upload('/liveries/open', zipSync(entries))).status).toBe(400);
  });

  test('a damaged one leaves nothing behind', async () => {
    const before = (await server.get<Card[]>('/liveries')).length;
    const response = await upload('/liveries/open', demoBytes('ebbline.livery').subarray(0, 9000));
    expect(response.status).toBe(400);
    expect((await server.get<Card[]>('/liveries')).length).toBe(before);
  });
});

describe('kits', () => {
  const keep = async (from: TestServer, card: Card) => {
    const { livery } = await from.get<{ livery: Livery }>(`/liveries/${card.id}`);
    const template = await from.get<Template>(`/templates/${livery.pins.template}`);
    return { livery, parcel: packKit(livery, template) };
  };

  test('one team’s marks go to a server that has never seen them, with where they come from', async () => {
    const { parcel } = await keep(server, cards[0]);
    const response = await raw('/kits', {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify(parcel),
    });
    const bytes = new Uint8Array(await response.arrayBuffer());
    const { blobs, borrowed } = await readKit(bytes);
    expect(blobs.size).toBeGreaterThan(0);
    const other = await startServer({ demo: false });
    try {
      const [blob] = blobs.keys();
      expect((await fetch(`${other.url}/api/blobs/${blob}/thumb`, { method: 'HEAD' })).status).not.toBe(200);
      const opened = await fetch(`${other.url}/api/kits/open`, {
        method: 'POST',
        headers: { 'Content-Type': 'application/octet-stream' },
        body: bytes,
      });
      expect(opened.status).toBe(200);
      expect(await opened.json()).toEqual(JSON.parse(JSON.stringify(parcel)));
      for (const hash of blobs.keys())
        expect((await fetch(`${other.url}/api/blobs/${hash}/thumb`, { method: 'HEAD' })).status).toBe(200);
      const library = await other.get<{ blob: string; origin: string; licence: string }[]>('/decals');
      for (const { blob: of, origin, licence } of borrowed)
        expect(library.find((one) => one.blob === of)).toMatchObject({ origin, licence });
      // Brought a second time nothing is there twice.
      await fetch(`${other.url}/api/kits/open`, { method: 'POST', body: bytes });
      expect(await other.get<unknown[]>('/decals')).toHaveLength(library.length);
    } finally {
      await other.stop();
    }
  });

  test('a drawing that does more than draw is refused, and nothing of the kit is kept', async () => {
    const { livery, parcel } = await keep(server, cards[0]);
    const decal = layersIn(livery).find((layer) => layer.kind === 'decal')!;
    const script = new TextEncoder().encode('<svg xmlns="http://www.w3.org/2000/svg"><script>alert(1)</script></svg>');
    const blob = await sha256(script);
    const kit = writeKit({
      parcel: { ...parcel, layers: [{ ...decal, blob }] },
      blobs: new Map([[blob, script]]),
      borrowed: [],
    });
    const before = await server.get<unknown[]>('/decals');
    const refused = await upload('/kits/open', kit);
    expect(refused.status).toBe(400);
    expect(((await refused.json()) as { error: string }).error).toMatch(/script/);
    expect(await server.get<unknown[]>('/decals')).toHaveLength(before.length);
    expect((await raw(`/blobs/${blob}`)).status).not.toBe(200);
  });
});

describe('delivering', () => {
  test('writes exactly the planned files, and the zip holds the same bytes', async () => {
    const ready = cards.find((card) => card.name.includes('Turnstone 22'))!;
    const done = await deliver(ready.id);
    expect(done).toMatchObject({ state: 'done', error: null });
    const names = [
      ...['deck', 'fan', 'hull'].flatMap((sheet) => [`ebbline_${sheet}.dds`, `ebbline_${sheet}_coatmap.dds`]),
      'finish.toml',
    ];
    expect(readdirSync(path.join(folder(), 'ebbline')).sort()).toEqual(names);
    const zip = unzipSync(new Uint8Array(await (await raw(`/deliveries/${done.id}/zip`)).arrayBuffer()));
    for (const file of done.files) {
      const onDisk = readFileSync(path.join(folder(), 'ebbline', file.name));
      expect(createHash('sha256').update(onDisk).digest('hex')).toBe(file.blob);
      expect(Buffer.compare(onDisk, Buffer.from(zip[`wharf/turnstone/ebbline/${file.name}`]))).toBe(0);
    }
    const after = (await server.get<Card[]>('/liveries')).find((card) => card.id === ready.id)!;
    expect(after.sheets.map((sheet) => sheet.state)).toEqual(['delivered', 'delivered', 'delivered']);
  });

  test('again gives the same bytes without encoding; only what changed is encoded anew', async () => {
    const ready = cards.find((card) => card.name.includes('Turnstone 22'))!;
    const again = await deliver(ready.id);
    expect(again.seconds).toBeLessThan(3);
    await edit(ready.id, ready.revision, { do: 'set-sheet', sheet: 'deck', set: { kept: true } });
    const without = await deliver(ready.id);
    const kept = ['ebbline_hull.dds', 'ebbline_fan.dds'];
    const coats = ['ebbline_hull_coatmap.dds', 'ebbline_fan_coatmap.dds'];
    expect(without.files.map((f) => f.name).sort()).toEqual([...kept, ...coats, 'finish.toml'].sort());
    for (const file of without.files.filter((f) => kept.includes(f.name)))
      expect(again.files.find((f) => f.name === file.name)?.blob).toBe(file.blob);
    // The deck of the delivery before is ours, so it does not stay to be loaded by mistake.
    expect(existsSync(path.join(folder(), 'ebbline/ebbline_deck.dds'))).toBe(false);
    const repeated = await server.post<Delivered>(`/deliveries/${again.id}/repeat`);
    await until(
      () => server.get<Delivered>(`/deliveries/${repeated.body.id}`),
      (d) => d.state === 'done',
    );
    expect(existsSync(path.join(folder(), 'ebbline/ebbline_deck.dds'))).toBe(true);
  });

  test('what somebody else put there is kept before it is overwritten', async () => {
    writeFileSync(path.join(folder(), 'ebbline/finish.toml'), 'mine = true\n');
    const done = await deliver(cards.find((card) => card.name.includes('Turnstone 22'))!.id);
    expect(done.replaced.map((file) => file.name)).toEqual(['wharf/turnstone/ebbline/finish.toml']);
  });

  test('a stop of preflight is no delivery, with the reason', async () => {
    const card = cards.find((c) => c.name.includes('Turnstone 114'))!;
    await edit(card.id, 0, { do: 'set-particular', key: 'key', value: 'Lantern Fish' });
    const refused = await server.post<{ error: string }>(`/liveries/${card.id}/deliveries`);
    expect(refused.status).toBe(400);
    expect(refused.body.error).toMatch(/capital letter/);
    await edit(card.id, 1, { do: 'set-particular', key: 'key', value: 'lanternfish' });
  });

  test('a livery that would write where another has delivered is told whose it is', async () => {
    const card = cards.find((c) => c.name.includes('Turnstone 7'))!;
    const made = await server.post<Delivered>(`/liveries/${card.id}/deliveries`);
    await until(
      () => server.get<Delivered>(`/deliveries/${made.body.id}`),
      (d) => d.state === 'done',
    );
    const bundle = new Uint8Array(await (await raw(`/liveries/${card.id}/bundle`)).arrayBuffer());
    const { id } = (await (await upload('/liveries/open', bundle)).json()) as { id: string };
    const { preflight } = await server.get<{ preflight: { findings: { title: string; detail: string }[] } }>(
      `/liveries/${id}/preflight`,
    );
    const found = preflight.findings.find(({ title }) => title.includes('lies where this delivery goes'))!;
    expect(found.title).toBe(`“${card.name}” lies where this delivery goes`);
    expect(found.detail).toMatch(/would write over them/);
    // Its own preflight says nothing of that.
    const own = await server.get<{ preflight: { findings: { title: string }[] } }>(`/liveries/${card.id}/preflight`);
    expect(own.preflight.findings.filter(({ title }) => title.includes('lies where'))).toEqual([]);
    for (const query of ['', '?now=yes']) await raw(`/liveries/${id}${query}`, { method: 'DELETE' });
  });

  test('cancelled while it runs, nothing is written', async () => {
    const card = cards.find((c) => c.name.includes('Turnstone 114'))!;
    const made = await server.post<Delivered>(`/liveries/${card.id}/deliveries`);
    await until(
      () => server.get<Delivered & { progress: { done: number } }>(`/deliveries/${made.body.id}`),
      (d) => d.state === 'encoding' && d.progress.done > 0,
    );
    expect((await server.post<Delivered>(`/deliveries/${made.body.id}/cancel`)).body.state).toBe('cancelled');
    await new Promise((resolve) => setTimeout(resolve, 1500));
    expect(existsSync(path.join(folder(), 'lanternfish'))).toBe(false);
    expect((await server.get<Delivered>(`/deliveries/${made.body.id}`)).state).toBe('cancelled');
  });

  test('a folder that cannot be written is found before the work starts', async () => {
    const blocked = path.join(folder(), 'tern-tide');
    mkdirSync(folder(), { recursive: true });
    rmSync(blocked, { recursive: true, force: true });
    // A file where the folder should be: not even root can write into it.
    writeFileSync(blocked, 'in the way');
    chmodSync(blocked, 0o444);
    const refused = await server.post<{ error: string }>(
      `/liveries/${cards.find((c) => c.name.includes('Turnstone 7'))!.id}/deliveries`,
    );
    expect(refused.status).toBe(400);
    expect(refused.body.error).toBe('Preflight stops this delivery: The game’s folder cannot be written.');
    const { preflight } = await server.get<{ preflight: { findings: { check: string; detail: string }[] } }>(
      `/liveries/${cards.find((c) => c.name.includes('Turnstone 7'))!.id}/preflight`,
    );
    expect(preflight.findings.find(({ check }) => check === 'target-folder')!.detail).toBe(
      `${blocked} is a file; a folder belongs there.`,
    );
    rmSync(blocked);
  });

  test('a worker that dies while encoding loses nothing: another takes it over', async () => {
    const card = cards.find((c) => c.name.includes('Turnstone 7'))!;
    // Another colour, so that there is something to encode: what is known already would be done before anybody looks.
    const open = await server.get<{ livery: Livery; revision: number }>(`/liveries/${card.id}`);
    const colour = open.livery.scheme[0].id;
    expect((await edit(card.id, open.revision, { do: 'set-colour', colour, set: { hex: '#345678' } })).status).toBe(
      200,
    );
    const helper = await startServer({ databaseUrl: server.databaseUrl, data: server.data, worker: true });
    const made = await server.post<Delivered>(`/liveries/${card.id}/deliveries`);
    await until(
      () => server.get<Delivered>(`/deliveries/${made.body.id}`),
      (d) => d.state !== 'queued',
    );
    await helper.kill();
    const done = await until(
      () => server.get<Delivered>(`/deliveries/${made.body.id}`),
      (d) => d.state === 'done',
      120_000,
    );
    expect(readdirSync(path.join(folder(), 'tern-tide')).sort()).toEqual(done.files.map((file) => file.name).sort());
  });
});

describe('several specs in one go', () => {
  interface Batched extends Delivered {
    batch: string;
    specKey: string;
    folder: string;
  }
  let id: string;
  let revision: number;
  const step = async (change: object) => expect((await edit(id, revision++, change)).status).toBe(200);
  const ended = () =>
    until(
      () => server.get<Batched[]>(`/liveries/${id}/deliveries`),
      (all) => all.every((one) => !['queued', 'encoding', 'publishing'].includes(one.state)),
    );
  const ask = (specs?: string[]) => server.post<Batched & { error: string }>(`/liveries/${id}/deliveries`, { specs });
  beforeAll(async () => {
    const own = await server.get<DeliverySpec>('/specs/brackwater-run');
    const half = { ...own, key: 'brackwater-half', version: 1, folder: 'wharf/turnstone/halves/' };
    // Beside the full size, in one folder.
    const beside = { ...half, key: 'brackwater-beside', folder: own.folder, sidecars: [] };
    const files = (name: string) => [{ ...own.files[0], name, scale: 0.5 }];
    for (const spec of [
      { ...half, files: files('{livery.key}_{sheet.key}.dds') },
      { ...beside, files: files('{livery.key}_{sheet.key}_half.dds') },
    ])
      expect((await server.post('/specs', spec)).status).toBe(201);
    const template = (await server.get<{ hash: string; key: string }[]>('/templates')).find(
      (card) => card.key === 'turnstone',
    )!.hash;
    id = (await server.post<{ id: string }>('/liveries', { template, name: 'Twins' })).body.id;
    revision = 0;
    const layer = layerOf('solid', { id: crypto.randomUUID(), paint: { hex: '#204060' } });
    await step({ do: 'add-layer', sheet: 'fan', map: 'colour', index: 0, layer });
    const specs = ['brackwater-half', 'brackwater-beside'].map((key) => ({ key, version: 1 }));
    await step({ do: 'also-by', specs });
  });

  test('all of them are made, each by its own rules, and what another one lies beside stays', async () => {
    const { batch } = (await ask()).body;
    const all = await ended();
    expect(all.map((one) => [one.specKey, one.state, one.batch === batch])).toEqual([
      ['brackwater-beside', 'done', true],
      ['brackwater-half', 'done', true],
      ['brackwater-run', 'done', true],
    ]);
    const side = (file: string) => readDdsFacts(new Uint8Array(readFileSync(path.join(folder(), file)))).width;
    const sides = [side('twins/twins_fan.dds'), side('twins/twins_fan_half.dds'), side('halves/twins_fan.dds')];
    expect(sides).toEqual([512, 256, 256]);
    // Delivered again by one of them, the others stay: they are no leftovers.
    await ask(['brackwater-run']);
    await ended();
    expect(readdirSync(path.join(folder(), 'twins')).sort()).toEqual([
      'finish.toml',
      'twins_fan.dds',
      'twins_fan_half.dds',
    ]);
    for (const key of ['brackwater-run', 'brackwater-half', 'brackwater-beside']) {
      const { files } = await server.get<{ files: { since: string; leftOut: string | null }[] }>(
        `/liveries/${id}/preflight?spec=${key}`,
      );
      expect(files.filter((file) => !file.leftOut).every((file) => file.since === 'unchanged')).toBe(true);
    }
  });

  test('one is taken back without the others', async () => {
    const halves = (await ended()).find((one) => one.specKey === 'brackwater-half')!;
    expect((await server.post(`/deliveries/${halves.id}/take-back`)).status).toBe(200);
    expect(existsSync(path.join(folder(), 'halves/twins_fan.dds'))).toBe(false);
    expect(existsSync(path.join(folder(), 'twins/twins_fan.dds'))).toBe(true);
  });

  test('nothing begins when preflight stops one of them, and the answer says which', async () => {
    const before = (await ended()).length;
    const long = {
      ...(await server.get<DeliverySpec>('/specs/brackwater-half')),
      version: 2,
      maxSide: 64,
      gameName: 'Small Run',
    };
    expect((await server.post('/specs', long)).status).toBe(201);
    await step({ do: 'also-by', specs: [{ key: 'brackwater-half', version: 2 }] });
    const refused = await ask();
    expect([refused.status, refused.body.error]).toEqual([
      400,
      'Preflight stops this delivery to Small Run: Sheet fan is too large.',
    ]);
    expect(await ended()).toHaveLength(before);
    expect((await ask(['brackwater-beside'])).status).toBe(404);
    await step({ do: 'also-by', specs: [{ key: 'brackwater-half', version: 1 }] });
  });

  test('all are cancelled together', async () => {
    await step({ do: 'set-sheet', sheet: 'fan', set: { finish: 'matt' } });
    const layer = layerOf('solid', { id: crypto.randomUUID(), paint: { hex: '#608040' } });
    await step({ do: 'add-layer', sheet: 'hull', map: 'colour', index: 0, layer });
    const { id: first, batch } = (await ask()).body;
    await server.post(`/deliveries/${first}/cancel`);
    const all = await ended();
    expect(all.filter((one) => one.batch === batch).map((one) => one.state)).toEqual(['cancelled', 'cancelled']);
    expect(existsSync(path.join(folder(), 'twins/twins_hull.dds'))).toBe(false);
  });

  test('one spec is not there twice', async () => {
    const refused = await edit(id, revision, { do: 'also-by', specs: [{ key: 'brackwater-run', version: 1 }] });
    expect(JSON.stringify(refused.body)).toMatch(/once/);
  });
});

test('a livery is had as it was at any revision, and only at those that it has had', async () => {
  const { id } = cards[1];
  const before = await server.get<{ livery: Livery; revision: number }>(`/liveries/${id}`);
  await edit(id, before.revision, { do: 'set-particular', key: 'number', value: '88' });
  const at = async (revision: number | string) => raw(`/liveries/${id}/at/${revision}`);
  expect(((await (await at(before.revision)).json()) as { livery: Livery }).livery).toEqual(before.livery);
  const now = ((await (await at(before.revision + 1)).json()) as { livery: Livery }).livery;
  expect(now.particulars.number).toBe('88');
  for (const wrong of [before.revision + 2, -1, 'x']) expect((await at(wrong)).status).toBe(400);
  const become = await edit(id, before.revision + 1, { do: 'become', livery: before.livery });
  expect(become.body).toMatchObject({ state: 'saved' });
  expect((await server.get<{ livery: Livery }>(`/liveries/${id}`)).livery).toEqual(before.livery);
});

test('a livery comes with the end of its log, and what was before is asked for piece by piece', async () => {
  const { hash } = (await server.get<{ hash: string; key: string }[]>('/templates')).find(
    ({ key }) => key === 'lampkin',
  )!;
  const { id } = (await server.post<{ id: string }>('/liveries', { template: hash, name: 'Long' })).body;
  const entries = Array.from({ length: 450 }, (_, k) => ({
    id: crypto.randomUUID(),
    person: 'ann',
    edit: { do: 'set-particular', key: 'team', value: `Team ${k}` },
    undoes: null,
    redoes: null,
    label: `step ${k + 1}`,
  }));
  expect((await server.post(`/liveries/${id}/entries`, { base: 0, entries })).status).toBe(200);
  const revisions = (log: { revision: number }[]) => [log[0]?.revision, log.at(-1)?.revision, log.length];
  const opened = await server.get<{ log: { revision: number }[] }>(`/liveries/${id}`);
  expect(revisions(opened.log)).toEqual([251, 450, 200]);
  const ask = async (query: string) =>
    revisions(await server.get<{ revision: number }[]>(`/liveries/${id}/entries?${query}`));
  expect(await ask('upTo=250')).toEqual([51, 250, 200]);
  expect(await ask('upTo=50')).toEqual([1, 50, 50]);
  expect(await ask('after=448')).toEqual([449, 450, 2]);
  const bad = await raw(`/liveries/${id}/entries?upTo=soon`);
  expect(bad.status).toBe(400);
  expect(await bad.text()).toContain('upTo=N');
});

describe('strokes', () => {
  const stroke = (value: number) => packTiles(new Map([[0, new Uint16Array(256 * 256).fill(value)]]), 1)!;
  const card = async () => (await server.get<{ livery: Livery; revision: number }>(`/liveries/${cards[0].id}`))!;
  const layer = layerOf('brush', { strokes: [] });

  test('pixels come first: an entry that names some which are not here is refused, and taken when they are', async () => {
    const { bytes, tiles } = stroke(40_000);
    const blob = createHash('sha256').update(bytes).digest('hex');
    const { revision } = await card();
    await edit(cards[0].id, revision, { do: 'add-layer', sheet: 'hull', map: 'colour', layer, index: 99 });
    const change = {
      do: 'add-stroke',
      layer: layer.id,
      on: 'layer',
      stroke: { id: 's1', how: 'paint', paint: { hex: '#ff0000' }, opacity: 100, blob, tiles },
    };
    const early = await edit(cards[0].id, revision + 1, change);
    expect(early.body).toMatchObject({ state: 'refused', why: expect.stringContaining('have not arrived') });
    expect((await (await upload('/strokes', bytes)).json()) as object).toEqual({ blob });
    expect((await edit(cards[0].id, revision + 1, change)).body).toMatchObject({ state: 'saved' });
    // Somebody else's stroke on the same tile goes on top; both are there.
    const other = stroke(9_000);
    await upload('/strokes', other.bytes);
    const second = { ...change.stroke, id: 's2', blob: createHash('sha256').update(other.bytes).digest('hex') };
    await edit(cards[0].id, revision + 2, { ...change, stroke: second });
    const painted = (await card()).livery.sheets[0].maps[0].layers.find(({ id }) => id === layer.id)!;
    expect(painted.kind === 'brush' && painted.strokes.map(({ id }) => id)).toEqual(['s1', 's2']);
    const bundle = new Uint8Array(await (await raw(`/liveries/${cards[0].id}/bundle`)).arrayBuffer());
    expect(Buffer.compare(unzipSync(bundle)[`blobs/${blob}`], bytes)).toBe(0);
  });

  test('many are sent in one piece, in the order that is asked for; one that is not here is said', async () => {
    const some = [3, 70, 900].map((value) => stroke(value).bytes);
    const hashes: string[] = [];
    for (const bytes of some) hashes.push(((await (await upload('/strokes', bytes)).json()) as { blob: string }).blob);
    const ask = (wanted: string[]) =>
      raw('/strokes/many', {
        method: 'POST',
        headers: { 'Content-Type': 'application/json' },
        body: JSON.stringify({ hashes: wanted }),
      });
    const order = [hashes[2], hashes[0], hashes[1], hashes[0]];
    const got = splitStrokes(new Uint8Array(await (await ask(order)).arrayBuffer()));
    expect(got.map((bytes) => createHash('sha256').update(bytes).digest('hex'))).toEqual(order);
    const missing = await ask([hashes[0], 'a'.repeat(64)]);
    expect(missing.status).toBe(400);
    expect(((await missing.json()) as { error: string }).error).toBe('There is no stroke stored under aaaaaaaaaaaa.');
    expect((await ask([])).status).toBe(400);
  });

  test.each([
    ['a text', new TextEncoder().encode('hello')],
    ['a stroke that is cut off', stroke(1).bytes.slice(0, 40)],
  ])('%s is refused in a sentence', async (_what, body) => {
    const response = await upload('/strokes', body);
    expect(response.status).toBe(400);
    expect(((await response.json()) as { error: string }).error).toMatch(/\.$/);
  });
});

test('news of a livery reach a listener by themselves', async () => {
  const { id, revision } = await server.get<Card>(`/liveries/${cards[2].id}`);
  const abort = new AbortController();
  const response = await raw(`/liveries/${id}/news`, { signal: abort.signal });
  const reader = response.body!.pipeThrough(new TextDecoderStream()).getReader();
  expect((await reader.read()).value).toContain(`data: {"revision":${revision},`);
  const sent = Date.now();
  await edit(id, revision, { do: 'set-particular', key: 'number', value: '5' });
  expect((await reader.read()).value).toContain(`data: {"revision":${revision + 1},`);
  expect(Date.now() - sent).toBeLessThan(10_000);
  abort.abort();
});

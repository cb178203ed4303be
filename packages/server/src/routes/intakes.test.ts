/** Files brought in through the real server: understood, settled, made into a template, delivered like the original; and what is refused. */
import { readdirSync, readFileSync } from 'node:fs';
import path from 'node:path';
import { zipSync } from 'fflate';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { unpackPixels } from '@wet-lacquer/core/files/pixels.ts';
import type { Livery } from '@wet-lacquer/core/livery/livery.ts';
import type { Template } from '@wet-lacquer/core/livery/template.ts';
import type { Image8 } from '@wet-lacquer/core/raster/image.ts';
import type { TemplateLayout } from '@wet-lacquer/core/surface/templateLayout.ts';
import { grey, pixels, writePsd } from '@wet-lacquer/core/testing/layeredFiles.ts';
import { demoBytes } from '@wet-lacquer/core/testing/scenes.ts';
import { colourSheet, normalSheet, packedSheet, resized } from '@wet-lacquer/core/testing/textures.ts';
import { readDdsLevel, writeDds } from '@wet-lacquer/core/texture/dds.ts';
import { encodeImage } from '@wet-lacquer/core/texture/encode.ts';
import { mipChain } from '@wet-lacquer/core/texture/mips.ts';
import { startServer, until, type TestServer } from '../testing/server.ts';

interface File {
  name: string;
  state: string;
  error: string | null;
  preview: string | null;
  understood: { kind: string; format?: string; layers?: { name: string; role: string }[]; agreement?: unknown } | null;
  guess: { role: string; copy: { kind: string; of: string } | null } | null;
}
interface Intake {
  files: File[];
}

let server: TestServer;
beforeAll(async () => {
  server = await startServer();
});
afterAll(() => server.stop());

const png = async ({ width, height, data }: Image8) =>
  new Uint8Array(
    await sharp(data, { raw: { width, height, channels: 4 } })
      .png()
      .toBuffer(),
  );

/** A DDS as a game has it: BC1, legacy header, full mips. */
function dds(image: Image8): Uint8Array {
  const levels = mipChain(image, { kind: 'srgb', filter: 'box' });
  const bytes = levels.map((level) => encodeImage(level, 'bc1', { effort: 'fast' }));
  const { width, height } = image;
  return writeDds({ width, height, format: 'bc1', header: 'legacy', colourSpace: 'srgb' }, bytes);
}

async function open(on = server): Promise<string> {
  return (await on.post<{ id: string }>('/intakes', { name: 'wharf pack' })).body.id;
}
const put = (id: string, name: string, bytes: Uint8Array, on = server) =>
  fetch(`${on.url}/api/intakes/${id}/files?${new URLSearchParams({ name })}`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/octet-stream' },
    body: bytes as BodyInit,
  });
const settledFiles = (id: string, on = server) =>
  until(
    () => on.get<Intake>(`/intakes/${id}`),
    ({ files }) => files.length > 0 && files.every((file) => file.state === 'read' || file.state === 'failed'),
  );

const SIDE = 256;
const hull = colourSheet(5, SIDE);
const template = () =>
  writePsd(
    [
      { name: 'paint', imageData: { ...colourSheet(6, SIDE), data: new Uint8ClampedArray(colourSheet(6, SIDE).data) } },
      {
        name: 'grime',
        imageData: pixels(SIDE, SIDE, () => [90, 80, 70, 128]),
        blendMode: 'multiply',
        mask: {
          left: 0,
          top: 0,
          right: SIDE,
          bottom: SIDE,
          defaultColor: 0,
          imageData: grey(SIDE, SIDE, (x) => x & 255),
        },
      },
      {
        name: 'UV wire',
        imageData: pixels(SIDE, SIDE, (x, y) => (x % 16 === 0 || y % 16 === 0 ? [0, 0, 0, 255] : [0, 0, 0, 0])),
      },
    ],
    SIDE,
    SIDE,
  );

describe('an archive with a model, textures and a layered file', () => {
  let id: string;
  let files: File[];
  let hash: string;
  const file = (ending: string) => files.find((f) => f.name.endsWith(ending))!;

  beforeAll(async () => {
    id = await open();
    const pack = zipSync({
      'skimmer.glb': demoBytes('turnstone.glb'),
      'tex/skimmer_hull.dds': dds(hull),
      'tex/skimmer_hull_n.png': await png(normalSheet(7)),
      'tex/skimmer_hull_orm.png': await png(packedSheet(8)),
      'tex/skimmer_hull_low.png': await png(resized(hull, 64)),
      'skimmer deck.psd': template(),
      'notes.txt': new TextEncoder().encode('paint me'),
      '.DS_Store': new Uint8Array(8),
    });
    expect((await put(id, 'wharf.pack', pack)).status).toBe(202);
    files = (
      await until(
        () => server.get<Intake>(`/intakes/${id}`),
        (i) => i.files.length >= 8 && i.files.every((f) => f.state === 'read'),
      )
    ).files;
  });

  test('every file in it is told for what it is, the writer’s leftovers left aside', () => {
    expect(files.map((f) => [f.name, f.understood?.kind])).toEqual([
      ['wharf.pack', 'other'],
      ['wharf.pack/notes.txt', 'other'],
      ['wharf.pack/skimmer deck.psd', 'layered'],
      ['wharf.pack/skimmer.glb', 'model'],
      ['wharf.pack/tex/skimmer_hull.dds', 'texture'],
      ['wharf.pack/tex/skimmer_hull_low.png', 'texture'],
      ['wharf.pack/tex/skimmer_hull_n.png', 'texture'],
      ['wharf.pack/tex/skimmer_hull_orm.png', 'texture'],
    ]);
    expect(file('hull.dds').guess?.role).toBe('colour');
    expect(file('hull_n.png').guess?.role).toBe('normal');
    expect(file('hull_orm.png').guess?.role).toBe('packed');
    expect(file('hull_low.png').guess?.copy).toEqual({ kind: 'size', of: 'wharf.pack/tex/skimmer_hull.dds' });
    expect(file('deck.psd').understood?.layers?.map((l) => [l.name, l.role])).toEqual([
      ['paint', 'art'],
      ['grime', 'art'],
      ['UV wire', 'guide'],
    ]);
  });

  test('pictures of them are PNG', async () => {
    const preview = await fetch(`${server.url}/api/blobs/${file('deck.psd').preview}`);
    expect((await sharp(await preview.arrayBuffer()).metadata()).format).toBe('png');
  });

  test('as settled it becomes a template: art as layers, the original locked, the wire a guide', async () => {
    const made = await server.post<{ hash: string; remarks: string[]; error?: string }>(`/intakes/${id}/template`, {
      name: 'Wharf skimmer',
      game: 'Wharf Racers',
      model: 'wharf.pack/skimmer.glb',
      sheets: [
        { material: 'hull', name: 'Hull', colour: 'wharf.pack/tex/skimmer_hull.dds', layered: null },
        { material: 'deck', name: 'Deck', colour: null, layered: 'wharf.pack/skimmer deck.psd' },
      ],
    });
    expect(made.body.error).toBeUndefined();
    hash = made.body.hash;
    const document = await server.get<Template>(`/templates/${hash}`);
    expect(document.sheets.map((s) => [s.key, s.width])).toEqual([
      ['hull', SIDE],
      ['deck', SIDE],
    ]);
    expect(document.begin!.hull.map((l) => [l.name, l.locked])).toEqual([['Original', true]]);
    expect(document.begin!.deck.map((l) => [l.name, l.blend])).toEqual([
      ['paint', 'normal'],
      ['grime', 'multiply'],
    ]);
    expect(document.guides!.map((g) => [g.name, g.sheet])).toEqual([['UV wire', 'deck']]);
    expect(document.ownSpec!.files[0]).toMatchObject({
      format: 'bc1',
      header: 'legacy',
      mips: 'full',
      name: 'tex/skimmer_hull.dds',
    });
    const layout = await server.get<TemplateLayout>(`/templates/${hash}/layout`);
    expect(layout.islands.length).toBeGreaterThan(8);
    expect((await server.get<{ error?: string }>(`/intakes/${id}`)).error).toMatch(/no longer here/);
  });

  test('the original’s texels come back from the store as the file’s own decoder gives them', async () => {
    const document = await server.get<Template>(`/templates/${hash}`);
    const [original] = document.begin!.hull;
    const bytes = new Uint8Array(
      await (await fetch(`${server.url}/api/blobs/${original.kind === 'picture' && original.blob}`)).arrayBuffer(),
    );
    expect(Buffer.compare(Buffer.from(unpackPixels(bytes).data), Buffer.from(readDdsLevel(dds(hull), 0).data))).toBe(0);
  });

  test('a livery begins with it and is delivered in the original’s own format, mips and name', async () => {
    const { id: livery } = (await server.post<{ id: string }>('/liveries', { template: hash, name: 'First' })).body;
    const stored = (await server.get<{ livery: Livery }>(`/liveries/${livery}`)).livery;
    expect(stored.sheets[0].maps[0].layers[0].name).toBe('Original');
    const { body } = await server.post<{ id: string }>(`/liveries/${livery}/deliveries`);
    const done = await until(
      () => server.get<{ state: string; error: string | null; files: { name: string }[] }>(`/deliveries/${body.id}`),
      (d) => ['done', 'failed'].includes(d.state),
    );
    expect(done.error).toBeNull();
    const root = path.join(server.data, 'games/wharf-racers/first');
    const names = readdirSync(root, { recursive: true, withFileTypes: true })
      .filter((e) => e.isFile())
      .map((e) => e.name);
    expect(names.sort()).toEqual(['first_deck.png', 'skimmer_hull.dds']);
    // Nobody painted on it: it is the very file, in the folder that it came from.
    const delivered = readFileSync(path.join(root, 'tex/skimmer_hull.dds'));
    expect(Buffer.compare(delivered, Buffer.from(dds(hull)))).toBe(0);
  });
});

describe('what cannot be taken in', () => {
  const cut = (bytes: Uint8Array, length: number) => bytes.slice(0, length);
  const huge = () => {
    const tga = new Uint8Array(18 + 64);
    tga.set([0, 0, 2, 0, 0, 0, 0, 0, 0, 0, 0, 0, 255, 255, 255, 255, 32, 8]);
    return tga;
  };
  test('each file gets one sentence, the others are read all the same, and the server goes on', async () => {
    const id = await open();
    const began = performance.now();
    const bad: [string, Uint8Array, RegExp][] = [
      ['cut.psd', cut(template(), 4000), /damaged or cut off/],
      ['cut.glb', cut(demoBytes('turnstone.glb'), 5000), /cut off/],
      ['cut.dds', cut(dds(hull), 900), /cut off/],
      ['huge.tga', huge(), /65535/],
      ['empty.png', new Uint8Array(0), /empty/],
      ['lies.png', new TextEncoder().encode('no picture at all'), /does not hold what its ending says/],
      [
        'bomb.obj',
        new TextEncoder().encode('v 0 0 nan\nv 1 0 0\nv 0 1 0\nvt 0 0\nvt 1 0\nvt 0 1\nf 1/1 2/2 9/9\n'),
        /not a number|points at|no UVs|no mesh/,
      ],
      ['cut.zip', cut(zipSync({ 'a.txt': new Uint8Array(900) }), 60), /zip|cut off/],
    ];
    for (const [name, bytes] of bad) expect((await put(id, name, bytes)).status).toBe(202);
    await put(id, 'good.dds', dds(hull));
    const { files } = await settledFiles(id);
    for (const [name, , sentence] of bad) {
      const file = files.find((f) => f.name === name)!;
      expect([file.name, file.state]).toEqual([name, 'failed']);
      expect(file.error, name).toMatch(sentence);
      expect(file.error!.split('. ').length, file.error!).toBeLessThan(3);
    }
    expect(files.find((f) => f.name === 'good.dds')!.state).toBe('read');
    expect(performance.now() - began).toBeLessThan(5000 * bad.length);
    expect(await server.get('/health')).toMatchObject({ ok: true, troubles: [] });
  });

  test('names that climb out are refused, and so are decisions that name what is not there', async () => {
    const id = await open();
    expect((await put(id, '../../etc/passwd', new Uint8Array(4))).status).toBe(400);
    const pack = zipSync({ '../evil.png': await png(hull) });
    await put(id, 'pack.zip', pack);
    const { files } = await settledFiles(id);
    // It is named with the reason, and nothing of it is kept.
    expect(files.map((f) => [f.name, f.state])).toEqual([
      ['pack.zip', 'read'],
      ['pack.zip/../evil.png', 'failed'],
    ]);
    expect(files[1].error).toMatch(/cannot be the name of a file: it leaves its folder/);
    const sheets = [{ material: 'x', name: 'x', colour: 'gone.dds', layered: null }];
    const made = await server.post<{ error: string }>(`/intakes/${id}/template`, {
      name: 'a',
      game: 'b',
      model: null,
      sheets,
    });
    expect([made.status, made.body.error]).toEqual([400, '"gone.dds" is no longer among the files.']);
    const before = (await server.get<unknown[]>('/templates')).length;
    const none = await server.post<{ error: string }>(`/intakes/${id}/template`, {
      name: ' ',
      game: 'b',
      model: null,
      sheets,
    });
    expect(none.body.error).toMatch(/give the subject a name/);
    expect((await server.get<unknown[]>('/templates')).length).toBe(before);
  });
});

describe('a server that is killed while files are read', () => {
  test('reads them after its next start', async () => {
    const first = await startServer({ worker: false });
    const id = await open(first);
    await put(id, 'hull.dds', dds(hull), first);
    await first.kill();
    const second = await startServer({ databaseUrl: first.databaseUrl });
    try {
      const { files } = await settledFiles(id, second);
      expect(files.map((f) => [f.name, f.state])).toEqual([['hull.dds', 'read']]);
      await fetch(`${second.url}/api/intakes/${id}`, { method: 'DELETE' });
      expect((await second.get<{ error: string }>(`/intakes/${id}`)).error).toMatch(/no longer here/);
    } finally {
      await second.stop();
    }
  });
});

describe('a baked occlusion', () => {
  test('comes step by step, as stored pixels of the sheet’s size; who leaves ends it', async () => {
    const id = await open();
    await put(id, 'turnstone.glb', demoBytes('turnstone.glb'));
    await settledFiles(id);
    const sheets = [{ material: 'fan', name: 'Fan', colour: null, layered: null, side: 256 }];
    const made = await server.post<{ hash: string }>(`/intakes/${id}/template`, {
      name: 'Fan only',
      game: 'b',
      model: 'turnstone.glb',
      sheets,
    });
    const where = `${server.url}/api/templates/${made.body.hash}/sheets/fan/occlusion`;
    const ask = (signal?: AbortSignal) =>
      fetch(where, {
        method: 'POST',
        headers: { 'Content-Type': 'application/json' },
        body: JSON.stringify({ rays: 16, reach: 1 }),
        signal,
      });
    const steps = (await (await ask()).text())
      .trim()
      .split('\n')
      .map((line) => JSON.parse(line) as { done?: number; blob?: string });
    const { blob } = steps.at(-1)!;
    for (const { done } of steps.slice(0, -1)) expect(done).toBeGreaterThanOrEqual(0);
    const pixelsOf = unpackPixels(new Uint8Array(await (await fetch(`${server.url}/api/blobs/${blob}`)).arrayBuffer()));
    expect([pixelsOf.width, pixelsOf.height]).toEqual([256, 256]);
    // The duct's inside is darker than open air, and nothing is black.
    expect(Math.min(...pixelsOf.data.filter((_, i) => i % 4 === 0))).toBeLessThan(200);
    const leave = new AbortController();
    const left = ask(leave.signal).then((r) => r.text());
    setTimeout(() => leave.abort(), 100);
    await expect(left).rejects.toThrow(/abort/i);
    // The threads that were ended are started anew.
    await until(
      () => server.get<{ ok: boolean; troubles: string[] }>('/health'),
      ({ ok, troubles }) => ok && troubles.length === 0,
    );
    const { status } = await server.post(`/templates/${made.body.hash}/sheets/none/occlusion`, {});
    expect(status).toBe(404);
  });
});

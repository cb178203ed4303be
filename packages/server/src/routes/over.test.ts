/** A livery over somebody's finished skin, on a template that was here before: through the real server, files by ImageMagick. */
import { execFileSync } from 'node:child_process';
import { createHash, randomUUID } from 'node:crypto';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { unzipSync } from 'fflate';
import { afterAll, beforeAll, expect, test } from 'vitest';
import type { SkinMatch } from '@wet-lacquer/core/intake/matchSkin.ts';
import type { Livery } from '@wet-lacquer/core/livery/livery.ts';
import { originalKey, type Template } from '@wet-lacquer/core/livery/template.ts';
import { pixels, writePsd } from '@wet-lacquer/core/testing/layeredFiles.ts';
import { startServer, until, type TestServer } from '../testing/server.ts';

let server: TestServer;
let folder: string;
beforeAll(async () => {
  server = await startServer();
  folder = mkdtempSync(path.join(os.tmpdir(), 'wl-over-'));
});
afterAll(async () => {
  rmSync(folder, { recursive: true });
  await server.stop();
});

const hashOf = (bytes: Uint8Array) => createHash('sha256').update(bytes).digest('hex');

/** The files of a delivery by their names, once it is done. */
async function deliveredFiles(id: string): Promise<Record<string, Uint8Array>> {
  const done = await until(
    () => server.get<{ state: string; error: string | null }>(`/deliveries/${id}`),
    ({ state }) => state === 'done' || state === 'failed',
  );
  expect(done).toMatchObject({ state: 'done', error: null });
  return unzipSync(new Uint8Array(await (await fetch(`${server.url}/api/deliveries/${id}/zip`)).arrayBuffer()));
}

/** A picture by ImageMagick. */
function made(name: string, side: number, ...how: string[]): Uint8Array {
  const file = path.join(folder, name);
  execFileSync('convert', ['-size', `${side}x${side}`, 'plasma:tan-navy', ...how, file]);
  return new Uint8Array(readFileSync(file));
}

async function broughtIn(files: Record<string, Uint8Array>): Promise<string> {
  const { id } = (await server.post<{ id: string }>('/intakes', { name: 'skin' })).body;
  for (const [name, bytes] of Object.entries(files))
    await fetch(`${server.url}/api/intakes/${id}/files?${new URLSearchParams({ name })}`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/octet-stream' },
      body: bytes as BodyInit,
    });
  await until(
    () => server.get<{ files: { state: string }[] }>(`/intakes/${id}`),
    (now) => now.files.length === Object.keys(files).length && now.files.every(({ state }) => state === 'read'),
  );
  return id;
}

/** The template of three sheets, made of a layered file with paint, shading and a guide. */
async function layeredTemplate(): Promise<string> {
  const layer = (name: string, blendMode: string, colour: number) => ({
    name,
    blendMode,
    imageData: { ...pixels(64, 64, () => [colour, colour, colour, 255]) },
  });
  const psd = writePsd(
    [layer('paint', 'normal', 120), layer('shading', 'multiply', 200), layer('UV wire guide', 'normal', 255)] as never,
    64,
    64,
  );
  const id = await broughtIn({ 'skiff.psd': psd, 'skiff_glass.png': made('glass.png', 32) });
  const sheet = { also: [], maps: [], followers: [], upsideDown: false, side: 64 };
  const { body } = await server.post<{ hash: string; error?: string }>(`/intakes/${id}/template`, {
    ...{ name: 'Skiff', game: 'Fleet', model: null },
    sheets: [
      { ...sheet, material: 'hull', name: 'hull', colour: null, layered: 'skiff.psd' },
      { ...sheet, material: 'glass', name: 'glass', colour: 'skiff_glass.png', layered: null },
    ],
    roles: { 'skiff.psd': { '0': 'art', '1': 'art', '2': 'guide' } },
  });
  expect(body.error).toBeUndefined();
  return body.hash;
}

test('a finished TGA lies above the paint of a layered template, under its shading and guide; its bytes are kept, and go out as they came', async () => {
  const template = await layeredTemplate();
  const skin = made('team_hull_final.tga', 64, '-compress', 'none', '-type', 'TrueColor');
  const id = await broughtIn({
    'team/team_hull_final.tga': skin,
    'team/readme.txt': new TextEncoder().encode('hello'),
  });
  const proposed = await server.get<{ matches: SkinMatch[] }>(`/intakes/${id}/over?template=${template}`);
  expect(proposed.matches).toMatchObject([
    { sheet: 'hull', file: 'team/team_hull_final.tga', reason: expect.stringMatching(/“hull”.*only one of its size/) },
    { sheet: 'glass', file: null, reason: 'none of them is 32 x 32' },
  ]);
  const started = await server.post<{ id: string; remarks: string[]; error?: string }>(`/intakes/${id}/over`, {
    ...{ template, name: 'Over it' },
    sheets: [{ sheet: 'hull', file: 'team/team_hull_final.tga', upsideDown: false }],
  });
  expect(started.body.error).toBeUndefined();
  expect(started.body.remarks.join(' ')).toMatch(/shading of hull .* hidden/);
  const { livery } = await server.get<{ livery: Livery }>(`/liveries/${started.body.id}`);
  const hull = livery.sheets.find(({ key }) => key === 'hull')!.maps[0].layers;
  expect(hull.map(({ name, hidden, phase }) => [name, hidden, phase])).toEqual([
    ['paint', true, 'Base'],
    ['Original', false, 'Base'],
    // Of the last phase: what is painted later goes under it.
    ['shading', true, 'Retouch'],
  ]);
  const own = await server.get<Template>(`/templates/${livery.pins.template}`);
  expect(own.guides).toHaveLength(1);
  expect(own.originals![originalKey('hull')]).toMatchObject({ name: 'team_hull_final.tga', blob: hashOf(skin) });
  // What of the folder is on no sheet stays with it.
  expect(own.beside).toMatchObject([{ name: 'readme.txt', bytes: 5 }]);
  // The untouched copy can be taken out again, byte for byte; nothing else by a name that is not its own.
  const kept = (name: string) =>
    fetch(`${server.url}/api/templates/${livery.pins.template}/kept?${new URLSearchParams({ name })}`);
  const out = await kept('team_hull_final.tga');
  expect(hashOf(new Uint8Array(await out.arrayBuffer()))).toBe(hashOf(skin));
  expect((await kept('../team_hull_final.tga')).status).toBe(404);
  // The other sheet is as the template has it.
  expect(own.originals![originalKey('glass')]).toMatchObject({ name: 'skiff_glass.png' });
  const delivery = await server.post<{ id: string }>(`/liveries/${started.body.id}/deliveries`);
  const delivered = await deliveredFiles(delivery.body.id);
  const files = Object.values(delivered).map(hashOf);
  expect(files).toContain(hashOf(skin));
});

test('what is of no sheet’s size, of another kind, or not among the files is refused, and nothing is started', async () => {
  const template = await layeredTemplate();
  const id = await broughtIn({ 'small.png': made('small.png', 48), 'notes.txt': new TextEncoder().encode('x') });
  const before = (await server.get<unknown[]>('/liveries')).length;
  const start = async (sheet: string, file: string, name = 'No') =>
    (
      await server.post<{ error?: string }>(`/intakes/${id}/over`, {
        ...{ template, name },
        sheets: [{ sheet, file, upsideDown: false }],
      })
    ).body.error;
  expect(await start('hull', 'small.png')).toMatch(/48 x 48; the sheets are hull 64 x 64/);
  expect(await start('nothing', 'small.png')).toMatch(/the sheets are/);
  expect(await start('hull', 'notes.txt')).toMatch(/not a finished texture/);
  expect(await start('hull', 'gone.png')).toMatch(/no longer among the files/);
  expect(await start('hull', 'small.png', '   ')).toBeDefined();
  expect(await server.get<unknown[]>('/liveries')).toHaveLength(before);
  // The files are still there, to be settled otherwise.
  expect((await server.get<{ files: unknown[] }>(`/intakes/${id}`)).files).toHaveLength(2);
});

test('of an atlas that came without a model, only the painted cells are put into the file that came', async () => {
  const atlas = made('Dock_Props.dds', 64, '-define', 'dds:compression=dxt1', '-define', 'dds:mipmaps=6');
  const id = await broughtIn({ 'props/Dock_Props.dds': atlas });
  const made1 = await server.post<{ hash: string; error?: string }>(`/intakes/${id}/template`, {
    ...{ name: 'Props', game: 'Fleet', model: null },
    sheets: [{ material: 'Dock_Props', name: 'Dock_Props', colour: 'props/Dock_Props.dds', layered: null, side: 64 }],
  });
  const cells = { columns: 4, rows: 4, names: { 6: 'Crate' } };
  const changes = [{ do: 'set-sheet', sheet: 'dock-props', set: { cells } }];
  const { hash } = (await server.post<{ hash: string }>(`/templates/${made1.body.hash}/changes`, { changes })).body;
  const template = await server.get<Template>(`/templates/${hash}`);
  // Each board wears its own sheet, whatever the file was called.
  expect(template.parts.map(({ sheet }) => sheet)).toEqual(template.sheets.map(({ key }) => key));
  const own = template.ownSpec!;
  const files = own.files.map(({ over: _over, ...file }) => ({ ...file, padding: 0, inPlace: true }));
  const spec = { ...own, key: 'atlas-cells', version: 1, files };
  expect((await server.post('/specs', spec)).status).toBe(201);
  const { id: livery } = (await server.post<{ id: string }>('/liveries', { template: hash, name: 'Crates' })).body;
  const { livery: before, revision } = await server.get<{ livery: Livery; revision: number }>(`/liveries/${livery}`);
  const layer = {
    ...{ kind: 'solid', id: 'paint', name: 'Crate paint', phase: 'Base', hidden: false, locked: false },
    ...{ opacity: 100, blend: 'normal', parts: ['cell:6'], paint: { hex: '#e01020' } },
  };
  const index = before.sheets[0].maps[0].layers.length;
  const edits = [
    { do: 'add-layer', sheet: 'dock-props', map: 'colour', layer, index },
    { do: 'also-by', specs: [{ key: 'atlas-cells', version: 1 }] },
  ];
  const posted = await server.post<{ error?: string }>(`/liveries/${livery}/entries`, {
    base: revision,
    entries: edits.map((edit) => ({ id: randomUUID(), person: 'ann', edit, undoes: null, redoes: null, label: 'x' })),
  });
  expect(posted.body.error).toBeUndefined();
  const wish = { specs: ['atlas-cells'] };
  const delivery = await server.post<{ id: string; error?: string }>(`/liveries/${livery}/deliveries`, wish);
  expect(delivery.body.error ?? null).toBeNull();
  const delivered = await deliveredFiles(delivery.body.id);
  const out = Object.values(delivered).find((bytes) => bytes.length === atlas.length)!;
  // BC1: 8 bytes a block of 4 x 4; cell 6 of 4 x 4 cells of 16 texels is blocks 4 to 7 of rows 4 to 7.
  const changed = new Set<string>();
  for (let y = 0; y < 16; y++)
    for (let x = 0; x < 16; x++) {
      const at = 128 + (y * 16 + x) * 8;
      if (Buffer.compare(out.subarray(at, at + 8), atlas.subarray(at, at + 8)) !== 0)
        changed.add(`${x >> 2} ${y >> 2}`);
    }
  expect([...changed]).toEqual(['1 1']);
  expect(hashOf(out.subarray(0, 128))).toBe(hashOf(atlas.subarray(0, 128)));
});

test('a texture that was kept beside the sheets is taken onto one later, or gets one; it goes out as it came', async () => {
  const [hull, gloss, flag] = ['hull', 'gloss', 'flag'].map((name, i) =>
    made(`${name}.png`, 64, '-modulate', String(60 + i * 20), '-strip'),
  );
  const id = await broughtIn({ 'boat/hull.png': hull, 'boat/tex/gloss.png': gloss, 'boat/tex/flag.png': flag });
  const made1 = await server.post<{ hash: string; error?: string }>(`/intakes/${id}/template`, {
    ...{ name: 'Boat', game: 'Fleet', model: null },
    sheets: [{ material: 'hull', name: 'hull', colour: 'boat/hull.png', layered: null, side: 64 }],
  });
  expect(made1.body.error).toBeUndefined();
  const first = await server.get<Template>(`/templates/${made1.body.hash}`);
  expect(first.beside!.map(({ name }) => name).toSorted()).toEqual(['tex/flag.png', 'tex/gloss.png']);
  const take = async (hash: string, file: string, sheet: string | null, map: string) =>
    server.post<{ hash: string; error?: string }>(`/templates/${hash}/takings`, { file, sheet, map });
  // Each "no" is a sentence, and no template is left of it.
  const count = async () => (await server.get<unknown[]>('/templates')).length;
  const before = await count();
  for (const [file, sheet, map] of [
    ['tex/none.png', null, 'colour'],
    ['tex/gloss.png', 'deck', 'packed'],
    ['tex/gloss.png', 'hull', 'colour'],
  ] as const) {
    const { status, body } = await take(made1.body.hash, file, sheet, map);
    expect(status).toBeGreaterThanOrEqual(400);
    expect(body.error).toMatch(/\.$/);
  }
  expect(await count()).toBe(before);
  const second = (await take(made1.body.hash, 'tex/gloss.png', 'hull', 'packed')).body.hash;
  const { hash } = (await take(second, 'tex/flag.png', null, 'colour')).body;
  const template = await server.get<Template>(`/templates/${hash}`);
  expect(template.sheets.map(({ key, maps }) => [key, maps?.map((map) => map.key)])).toEqual([
    ['hull', ['packed']],
    ['flag', undefined],
  ]);
  expect(template.beside).toBeUndefined();
  expect(template.parts.map(({ sheet }) => sheet)).toEqual(['hull', 'flag']);
  const { id: livery } = (await server.post<{ id: string }>('/liveries', { template: hash, name: 'Flagged' })).body;
  const delivery = await server.post<{ id: string }>(`/liveries/${livery}/deliveries`);
  const delivered = await deliveredFiles(delivery.body.id);
  const out = Object.entries(delivered).map(([name, bytes]) => [name.replace(/^[^/]*\//, ''), hashOf(bytes)]);
  expect(Object.fromEntries(out)).toMatchObject({ 'hull.png': hashOf(hull), 'tex/flag.png': hashOf(flag) });
});

test('a copy in another light is shown beside its master as it will go out', async () => {
  const dry = made('coat.png', 128, '-strip');
  const file = path.join(folder, 'coat.png');
  // Wet: darker by one gain in every channel.
  execFileSync('convert', [file, '-channel', 'RGB', '-evaluate', 'multiply', '0.6', path.join(folder, 'coat_wet.png')]);
  const wet = new Uint8Array(readFileSync(path.join(folder, 'coat_wet.png')));
  const id = await broughtIn({ 'coat/coat.png': dry, 'coat/coat_wet.png': wet });
  const followers = ['coat/coat_wet.png'];
  const template = await server.post<{ hash: string; error?: string }>(`/intakes/${id}/template`, {
    ...{ name: 'Coat', game: 'Fleet', model: null },
    sheets: [{ material: 'coat', name: 'coat', colour: 'coat/coat.png', layered: null, side: 128, followers }],
  });
  expect(template.body.error).toBeUndefined();
  const { hash } = template.body;
  const { sheets } = await server.get<Template>(`/templates/${hash}`);
  const { key } = sheets[0].followers![0];
  interface Beside {
    light: { kind: string; error: number; strength: number } | null;
    picture: string;
  }
  const path_ = `/sheets/coat/followers/${key}`;
  const bare = await server.get<Beside>(`/templates/${hash}${path_}`);
  expect(bare.light).toMatchObject({ kind: 'light', strength: 1 });
  expect(bare.light!.error).toBeLessThan(1);
  expect((await fetch(`${server.url}/api/templates/${hash}/sheets/coat/followers/none`)).status).toBe(400);

  const { id: livery } = (await server.post<{ id: string }>('/liveries', { template: hash, name: 'Wet' })).body;
  const { livery: before, revision } = await server.get<{ livery: Livery; revision: number }>(`/liveries/${livery}`);
  const layer = {
    ...{ kind: 'solid', id: 'paint', name: 'All of it', phase: 'Base', hidden: false, locked: false },
    ...{ opacity: 70, blend: 'normal', parts: [], paint: { hex: '#c08040' } },
  };
  const edit = { do: 'add-layer', sheet: 'coat', map: 'colour', layer, index: before.sheets[0].maps[0].layers.length };
  const entry = { id: randomUUID(), person: 'ann', edit, undoes: null, redoes: null, label: 'x' };
  await server.post(`/liveries/${livery}/entries`, { base: revision, entries: [entry] });
  const delivery = await server.post<{ id: string }>(`/liveries/${livery}/deliveries`);
  const files = await deliveredFiles(delivery.body.id);
  const out = Object.entries(files).find(([name]) => name.endsWith('coat_wet.png'))![1];
  const shown = await server.get<Beside>(`/liveries/${livery}${path_}`);
  const strip = decode(Buffer.from(shown.picture.split(',')[1], 'base64'));
  // Three pictures of 128 texels with grey between them; the last is what is delivered.
  expect([strip.width, strip.height]).toEqual([128 * 3 + 8, 128]);
  const delivered = decode(out);
  let most = 0;
  for (let y = 0; y < 128; y++)
    for (let x = 0; x < 128; x++)
      for (let c = 0; c < 3; c++) {
        const [a, b] = [strip.data[(y * strip.width + 264 + x) * 4 + c], delivered.data[(y * 128 + x) * 4 + c]];
        most = Math.max(most, Math.abs(a - b));
      }
  expect(most).toBeLessThanOrEqual(1);
});

/** A picture as ImageMagick decodes it: RGBA8. */
function decode(bytes: Uint8Array): { width: number; height: number; data: Uint8Array } {
  const file = path.join(folder, 'decoded.png');
  writeFileSync(file, bytes);
  const size = execFileSync('identify', ['-format', '%w %h', file]).toString().split(' ').map(Number);
  const data = new Uint8Array(execFileSync('convert', [file, '-depth', '8', 'rgba:-'], { maxBuffer: 1 << 26 }));
  return { width: size[0], height: size[1], data };
}

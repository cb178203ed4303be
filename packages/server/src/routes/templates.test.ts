/** Templates and containers through the real server: made with maps and followers, changed, packed, replaced; containers searched and changed. */
import { readdirSync, readFileSync } from 'node:fs';
import path from 'node:path';
import { strToU8, unzipSync, zipSync } from 'fflate';
import pg from 'pg';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { floatsIn } from '@wet-lacquer/core/bytes.ts';
import type { Livery } from '@wet-lacquer/core/livery/livery.ts';
import { mapsOf, type Template } from '@wet-lacquer/core/livery/template.ts';
import { flipRows, type Image8 } from '@wet-lacquer/core/raster/image.ts';
import { mirrorImage } from '@wet-lacquer/core/raster/mirror.ts';
import { flowKey } from '@wet-lacquer/core/livery/fields.ts';
import { bakeField } from '@wet-lacquer/core/surface/baked/index.ts';
import type { TemplateLayout } from '@wet-lacquer/core/surface/templateLayout.ts';
import { compareImages } from '@wet-lacquer/core/texture/compare.ts';
import { readTga, readTgaFacts, writeTga } from '@wet-lacquer/core/texture/tga.ts';
import { readWithPillow } from '@wet-lacquer/core/testing/independent.ts';
import { pixels, writePsd } from '@wet-lacquer/core/testing/layeredFiles.ts';
import { demoBytes } from '@wet-lacquer/core/testing/scenes.ts';
import { colourSheet, normalSheet, packedSheet, resized } from '@wet-lacquer/core/testing/textures.ts';
import { startServer, until, type TestServer } from '../testing/server.ts';

let server: TestServer;
beforeAll(async () => {
  server = await startServer({ demo: true });
});
afterAll(() => server.stop());

const upload = async <T>(where: string, bytes: Uint8Array) => {
  const headers = { 'Content-Type': 'application/octet-stream' };
  const answer = await fetch(`${server.url}/api${where}`, { method: 'POST', headers, body: bytes as BodyInit });
  return { status: answer.status, body: (await answer.json()) as T & { error?: string } };
};
const bytesAt = async (where: string) => new Uint8Array(await (await fetch(`${server.url}/api${where}`)).arrayBuffer());
const png = async ({ width, height, data }: Image8) =>
  new Uint8Array(
    await sharp(data, { raw: { width, height, channels: 4 } })
      .png()
      .toBuffer(),
  );
const deliver = async (livery: string) => {
  const { body } = await server.post<{ id: string }>(`/liveries/${livery}/deliveries`);
  return until(
    () =>
      server.get<{ state: string; error: string | null; files: { name: string; what: string }[] }>(
        `/deliveries/${body.id}`,
      ),
    (d) => ['done', 'failed'].includes(d.state),
  );
};
const edit = (id: string, base: number, change: object) =>
  server.post<{ state: string }>(`/liveries/${id}/entries`, {
    base,
    entries: [{ id: crypto.randomUUID(), person: 'ann', edit: change, undoes: null, redoes: null, label: 'a step' }],
  });
const templateOf = async (key: string) => {
  const all = await server.get<{ hash: string; key: string }[]>('/templates');
  return all.find((t) => t.key === key)!.hash;
};

const rowsOf = async (query: string) => {
  const client = new pg.Client({ connectionString: server.databaseUrl });
  await client.connect();
  try {
    return (await client.query<Record<string, string>>(query)).rows;
  } finally {
    await client.end();
  }
};

describe('a subject with maps, followers and boxes, stored upside down', () => {
  const SIDE = 128;
  const colour = colourSheet(21, SIDE);
  let hash: string;
  let template: Template;

  beforeAll(async () => {
    const { id } = (await server.post<{ id: string }>('/intakes', { name: 'coat' })).body;
    const put = (name: string, bytes: Uint8Array) =>
      upload(`/intakes/${id}/files?${new URLSearchParams({ name })}`, bytes);
    const tga = (image: Image8) => writeTga(image, { alpha: false, rle: false });
    await put('coat.tga', tga(flipRows(colour)));
    await put('coat_wet.tga', tga(flipRows(mirrorImage(colour, 'across'))));
    await put('coat_lo.tga', tga(flipRows(resized(colour, 64))));
    await put('coat_n.tga', tga(flipRows(normalSheet(22, SIDE))));
    await put('coat_orm.png', await png(flipRows(packedSheet(23, 64))));
    await put(
      'coat.psd',
      writePsd(
        [
          { name: 'cloth', imageData: pixels(SIDE, SIDE, () => [120, 60, 40, 255]) },
          {
            name: 'colour box fog',
            left: 8,
            top: 100,
            imageData: pixels(8, 4, () => [10, 20, 30, 128]),
          },
          { name: 'night lamps', imageData: pixels(SIDE, SIDE, (x) => (x < 9 ? [255, 220, 120, 255] : [0, 0, 0, 0])) },
        ],
        SIDE,
        SIDE,
      ),
    );
    await until(
      () => server.get<{ files: { state: string }[] }>(`/intakes/${id}`),
      ({ files }) => files.length === 6 && files.every((file) => file.state === 'read'),
    );
    const made = await server.post<{ hash: string; remarks: string[]; error?: string }>(`/intakes/${id}/template`, {
      name: 'Coat',
      game: 'Wardrobe',
      model: null,
      sheets: [
        {
          material: 'coat',
          name: 'Coat',
          colour: 'coat.tga',
          layered: 'coat.psd',
          maps: [
            { map: 'normal', file: 'coat_n.tga' },
            { map: 'packed', file: 'coat_orm.png' },
          ],
          followers: ['coat_wet.tga', 'coat_lo.tga'],
          upsideDown: true,
        },
      ],
      roles: { 'coat.psd': { 1: 'data', 2: 'map' } },
    });
    expect(made.body.error).toBeUndefined();
    hash = made.body.hash;
    template = await server.get<Template>(`/templates/${hash}`);
  });

  test('has each map, each follower with its hand, and the layer of colours as a box', () => {
    const [sheet] = template.sheets;
    expect(mapsOf(sheet).map(({ key, alpha }) => [key, alpha])).toEqual([
      ['colour', 'none'],
      ['normal', 'none'],
      ['packed', 'none'],
      // The layer that belongs to another map is a layer of that map.
      ['night', 'none'],
    ]);
    expect(template.begin!['coat/night'].map((layer) => layer.name)).toEqual(['night lamps']);
    expect(sheet.followers!.map(({ stem, width, mirror }) => [stem, width, mirror])).toEqual([
      ['coat_wet', SIDE, 'across'],
      ['coat_lo', 64, 'none'],
    ]);
    expect(sheet.boxes).toEqual([
      {
        key: 'colour-box-fog',
        name: 'colour box fog',
        means: '',
        left: 8,
        top: 100,
        width: 8,
        height: 4,
        hex: '#0a141e80',
      },
    ]);
    expect(template.begin!.coat.map((layer) => layer.name)).toEqual(['Original', 'cloth']);
    expect(
      template.ownSpec!.files.map(({ map, name, container, colourSpace, flip, size }) => [
        map,
        name,
        container,
        colourSpace,
        flip,
        size?.width,
      ]),
    ).toEqual([
      ['normal', 'coat_n.tga', 'tga', 'normal', true, undefined],
      ['packed', 'coat_orm.png', 'png', 'linear', true, 64],
      ['night', '{livery.key}_{sheet.key}_night.png', 'png', 'srgb', false, undefined],
      ['colour', 'coat.tga', 'tga', 'srgb', true, undefined],
    ]);
  });

  test('is delivered upside down again, followers with it; maps that nobody touched stay the game’s', async () => {
    const { id } = (await server.post<{ id: string }>('/liveries', { template: hash, name: 'Mine' })).body;
    const done = await deliver(id);
    expect(done.error).toBeNull();
    expect(done.files.map((f) => f.name).sort()).toEqual(['coat.tga', 'coat_lo.tga', 'coat_wet.tga']);
    const folder = path.join(server.data, 'games/wardrobe/mine');
    const read = (name: string) => new Uint8Array(readFileSync(path.join(folder, name)));
    const main = flipRows(readWithPillow(read('coat.tga'), 'tga'));
    expect([...main.data.subarray(0, 3)]).toEqual([120, 60, 40]);
    // The box lies where it was, and its colour is in the file although the rule drops alpha.
    expect([...main.data.subarray((101 * SIDE + 10) * 4, (101 * SIDE + 10) * 4 + 3)]).toEqual([10, 20, 30]);
    const wet = flipRows(readTga(read('coat_wet.tga')));
    expect(compareImages(mirrorImage(wet, 'across'), main).largest).toBe(0);
    expect(readTgaFacts(read('coat_lo.tga'))).toMatchObject({ width: 64, height: 64 });
    // Painted on, the packed map is delivered at its own size.
    const { revision } = await server.get<{ revision: number; livery: Livery }>(`/liveries/${id}`);
    const layer = {
      ...{ kind: 'solid', id: 'packed-1', name: 'Rough', phase: 'Base', hidden: false, locked: false, opacity: 100 },
      ...{ blend: 'normal', parts: [], paint: { hex: '#00ff00' } },
    };
    const added = { do: 'add-layer', sheet: 'coat', map: 'packed', layer, index: 1 };
    expect((await edit(id, revision, added)).status).toBe(200);
    expect((await deliver(id)).files.map((f) => f.name)).toContain('coat_orm.png');
    const packed = readWithPillow(read('coat_orm.png'), 'png');
    expect([packed.width, ...packed.data.subarray(0, 3)]).toEqual([64, 0, 255, 0]);
  });
});

describe('a template that is changed', () => {
  test('takes the old one’s place in the list; liveries hear of it, and take it over and back as a step', async () => {
    const before = await templateOf('toll-sails');
    const { id } = (await server.post<{ id: string }>('/liveries', { template: before, name: 'Sail' })).body;
    expect(await server.get(`/templates/${before}/newer`)).toBeNull();
    const changes = [{ do: 'group-islands', islands: [1, 2], name: 'Top pair', hex: '#112233' }];
    const after = (await server.post<{ hash: string }>(`/templates/${before}/changes`, { changes })).body.hash;
    expect(await templateOf('toll-sails')).toBe(after);
    const newer = await server.get<{ hash: string; spec: object; differences: { text: string }[] }>(
      `/templates/${before}/newer`,
    );
    expect(newer.hash).toBe(after);
    expect(newer.differences.map((d) => d.text)).toContain('The part Top pair is new.');
    const take = { do: 'take-template', template: after, spec: newer.spec, sheets: [] };
    expect((await edit(id, 0, take)).body.state).toBe('saved');
    expect((await server.get<{ livery: Livery }>(`/liveries/${id}`)).livery.pins.template).toBe(after);
    // Now that a livery is on it, it stays; without that, the change is taken back and the old one is the newest again.
    const gone = async (hash: string) => fetch(`${server.url}/api/templates/${hash}`, { method: 'DELETE' });
    expect((await gone(after)).status).toBe(400);
    const more = (
      await server.post<{ hash: string }>(`/templates/${after}/changes`, {
        changes: [{ do: 'set-sheet', sheet: 'sails', set: { cells: null } }],
      })
    ).body.hash;
    expect((await gone(more)).status).toBe(204);
    expect(await server.get(`/templates/${after}/newer`)).toBeNull();
    const wrong = await server.post<{ error: string }>(`/templates/${after}/changes`, {
      changes: [{ do: 'group-islands', islands: [400], name: 'x', hex: null }],
    });
    expect([wrong.status, wrong.body.error]).toEqual([400, 'There is no island 400.']);
  });

  test('as a package it opens elsewhere as the same template, and its model is glTF', async () => {
    const hash = await templateOf('warden-courier');
    const pack = await bytesAt(`/templates/${hash}/package`);
    expect(Object.keys(unzipSync(pack)).filter((name) => !name.startsWith('pictures/'))).toEqual([
      'README.txt',
      'template.json',
      'model.glb',
    ]);
    expect((await upload<{ hash: string }>('/templates/packages', pack)).body.hash).toBe(hash);
    expect((await upload('/templates/packages', pack.subarray(0, 5000))).body.error).toMatch(/cut off/);
    expect((await upload('/templates/packages', zipSync({ 'a.txt': strToU8('a') }))).body.error).toMatch(/no template/);
    expect(new TextDecoder().decode((await bytesAt(`/templates/${hash}/model.glb`)).subarray(0, 4))).toBe('glTF');
  });

  test('the outline of a guide becomes a collider', async () => {
    const { id } = (await server.post<{ id: string }>('/intakes', { name: 'level' })).body;
    const guide = pixels(64, 64, (x, y) => (x >= 10 && x < 40 && y >= 20 && y < 30 ? [255, 0, 0, 255] : [0, 0, 0, 0]));
    const file = writePsd(
      [
        { name: 'art', imageData: pixels(64, 64, () => [9, 9, 9, 255]) },
        { name: 'collider guide', imageData: guide },
      ],
      64,
      64,
    );
    await upload(`/intakes/${id}/files?name=level.psd`, file);
    await until(
      () => server.get<{ files: { state: string }[] }>(`/intakes/${id}`),
      ({ files }) => files.length === 1 && files[0].state === 'read',
    );
    const sheets = [{ material: 'level', name: 'Level', colour: null, layered: 'level.psd' }];
    const decisions = { name: 'Level', game: 'Small', model: null, sheets, roles: { 'level.psd': { 1: 'guide' } } };
    const { hash } = (await server.post<{ hash: string }>(`/intakes/${id}/template`, decisions)).body;
    const template = await server.get<Template>(`/templates/${hash}`);
    const wish = { guides: [template.guides![0].key], role: 'collider' };
    const next = (await server.post<{ hash: string }>(`/templates/${hash}/outlines`, wish)).body.hash;
    const [outline] = (await server.get<Template>(`/templates/${next}`)).outlines!;
    expect([outline.role, outline.name]).toEqual(['collider', 'collider guide']);
    const points = Array.from({ length: 4 }, (_, i) => outline.rings[0].slice(i * 2, i * 2 + 2).join());
    expect(points.sort()).toEqual(['10,20', '10,30', '40,20', '40,30']);
    // The art is a layer like any other; what is there already is not put there twice, and nothing is left of a "no".
    const art = template.begin![outline.sheet][0];
    const both = { guides: wish.guides, layers: [art.id], role: 'frame' };
    const third = (await server.post<{ hash: string }>(`/templates/${next}/outlines`, both)).body.hash;
    const { outlines } = await server.get<Template>(`/templates/${third}`);
    expect(outlines!.map(({ name, role }) => [name, role])).toEqual([
      ['collider guide', 'collider'],
      ['collider guide', 'frame'],
      ['art', 'frame'],
    ]);
    expect((await server.post(`/templates/${third}/outlines`, both)).status).toBe(400);
    expect((await server.post(`/templates/${third}/outlines`, { role: 'frame', layers: ['no'] })).status).toBe(404);
  });
});

test('fields of a model are baked for whoever asks, once; of none, or of boards, there are none', async () => {
  const all = await server.get<{ hash: string; key: string }[]>('/templates');
  const turnstone = all.find(({ key }) => key === 'turnstone')!.hash;
  const template = await server.get<Template>(`/templates/${turnstone}`);
  const asked = ['height', 'edges', 'hollows', 'hollows', 'hollows'] as const;
  const began = await Promise.all(asked.map((name) => bytesAt(`/templates/${turnstone}/fields/${name}`)));
  asked.forEach((name, i) => expect(floatsIn(began[i])).toEqual(bakeField(template, name)));
  expect(await server.get(`/templates/${turnstone}/fields`)).toEqual([]);
  const status = async (where: string) => (await fetch(`${server.url}/api${where}`)).status;
  expect(await status(`/templates/${turnstone}/fields/constructor`)).toBe(400);
  expect(await status(`/templates/${'0'.repeat(64)}/fields/height`)).toBe(400);
});

test('what is worked out is kept; whoever leaves ends it, and nothing of it stays', async () => {
  const hash = await templateOf('turnstone');
  const [{ kept }] = await rowsOf("select count(*)::text as kept from baked_field where name = 'hollows'");
  expect(kept).toBe('1');
  const leaving = new AbortController();
  const name = flowKey(77, -33);
  const left = fetch(`${server.url}/api/templates/${hash}/fields/${name}`, { signal: leaving.signal });
  const under = () => server.get<{ name: string; done: number }[]>(`/templates/${hash}/fields`);
  await until(under, (all) => all.some((one) => one.name === name && one.done >= 0 && one.done <= 1));
  leaving.abort();
  await expect(left).rejects.toThrow();
  await until(under, (all) => all.length === 0);
  expect(await rowsOf(`select 1 from baked_field where name = '${name}'`)).toEqual([]);
});

test('a locator livery is delivered in the game’s own format, each island in its colour', async () => {
  const hash = await templateOf('toll-sails');
  const { id } = (await server.post<{ id: string }>(`/templates/${hash}/locator`, {})).body;
  const done = await deliver(id);
  expect(done.error).toBeNull();
  expect(done.files.map((f) => [f.name, f.what])).toEqual([['sails.dds', 'BC1, painted cells']]);
  const layout = await server.get<TemplateLayout>(`/templates/${hash}/layout`);
  const folder = path.join(server.data, 'games/tollbarge/barges');
  expect(readdirSync(folder)).toEqual(['sails.dds']);
  const image = readWithPillow(new Uint8Array(readFileSync(path.join(folder, 'sails.dds'))), 'dds');
  for (const { colour, box } of layout.islands) {
    const at = ((Math.round(box.top) + 6) * 1024 + Math.round(box.left) + 6) * 4;
    const wanted = [1, 3, 5].map((k) => Number.parseInt(colour.slice(k, k + 2), 16));
    // BC1 keeps five or six bits of a colour.
    wanted.forEach((value, c) => expect(Math.abs(image.data[at + c] - value)).toBeLessThanOrEqual(5));
  }
});

describe('containers', () => {
  const inner = zipSync({ 'deep/coat.dds': strToU8('DEEP') });
  const pack = zipSync({
    'coat.dds': strToU8('COAT'),
    'ship.xml': strToU8('<ship skin="coat.dds"/>'),
    'more.crate': inner,
  });
  const way = (...names: string[]) => new URLSearchParams({ way: JSON.stringify(names) }).toString();

  test('are searched inside, a file taken out, one put in its place, and saved', async () => {
    const { hash } = (await upload<{ hash: string }>('/containers', pack)).body;
    const found = await server.get<{ entries: { way: string[]; size: number }[] }>(`/containers/${hash}?text=COAT`);
    expect(found.entries).toEqual([
      { way: ['coat.dds'], size: 4 },
      { way: ['more.crate', 'deep/coat.dds'], size: 4 },
    ]);
    expect(strToU8('DEEP')).toEqual(await bytesAt(`/containers/${hash}/entry?${way('more.crate', 'deep/coat.dds')}`));
    const put = await upload<{ hash: string }>(
      `/containers/${hash}/entry?${way('more.crate', 'deep/coat.dds')}`,
      strToU8('MINE'),
    );
    const saved = unzipSync(await bytesAt(`/containers/${put.body.hash}/file?name=my.bale`));
    expect(unzipSync(saved['more.crate'])['deep/coat.dds']).toEqual(strToU8('MINE'));
    expect(saved['ship.xml']).toEqual(strToU8('<ship skin="coat.dds"/>'));
  });

  test('say what uses a file, and give some of it a copy of its own', async () => {
    const { hash } = (await upload<{ hash: string }>('/containers', pack)).body;
    const uses = await server.get<{ way: string[]; line: string }[]>(`/containers/${hash}/uses?${way('coat.dds')}`);
    expect(uses).toEqual([{ way: ['ship.xml'], times: 1, line: '<ship skin="coat.dds"/>' }]);
    const wish = { way: ['coat.dds'], name: 'coat_ann.dds', users: [['ship.xml']] };
    const made = (await server.post<{ hash: string }>(`/containers/${hash}/copies`, wish)).body.hash;
    const saved = unzipSync(await bytesAt(`/containers/${made}/file`));
    expect(new TextDecoder().decode(saved['ship.xml'])).toBe('<ship skin="coat_ann.dds"/>');
    expect(saved['coat_ann.dds']).toEqual(saved['coat.dds']);
  });

  test('take files in, call them otherwise, leave them out, and have their texts changed, also inside one another', async () => {
    const crlf = '\ufeff[a]\r\nmap=coat.dds\nname=Ann\r\n';
    const start = zipSync({ ...unzipSync(pack), 'more.crate': zipSync({ 'deep/coat.ini': strToU8(crlf) }) });
    let { hash } = (await upload<{ hash: string }>('/containers', start)).body;
    const now = async (made: Promise<{ body: { hash: string; error?: string } }>) => {
      const { body } = await made;
      expect(body.error).toBeUndefined();
      ({ hash } = body);
    };
    await now(upload(`/containers/${hash}/entries?${way('more.crate', 'deep/ new.dds ')}`, strToU8('NEW')));
    await now(server.post(`/containers/${hash}/names`, { way: ['coat.dds'], name: '  tex/coat_ann.dds ' }));
    const ini = ['more.crate', 'deep/coat.ini'];
    const text = await server.get<{ text: string; language: string }>(`/containers/${hash}/text?${way(...ini)}`);
    expect(text).toEqual({ text: crlf.slice(1), language: 'ini' });
    const edited = text.text.replaceAll('\r\n', '\n').replace('Ann', 'Bo');
    await now(server.post(`/containers/${hash}/text`, { way: ini, text: edited }));
    await now(
      fetch(`${server.url}/api/containers/${hash}/entry?${way('ship.xml')}`, { method: 'DELETE' }).then(
        async (res) => ({
          body: (await res.json()) as { hash: string },
        }),
      ),
    );
    const saved = unzipSync(await bytesAt(`/containers/${hash}/file`));
    expect(Object.keys(saved)).toEqual(['tex/coat_ann.dds', 'more.crate']);
    const crate = unzipSync(saved['more.crate']);
    expect(Object.keys(crate)).toEqual(['deep/coat.ini', 'deep/new.dds']);
    // Mark, line ends, and all but the one word.
    expect(crate['deep/coat.ini']).toEqual(strToU8(crlf.replace('Ann', 'Bo')));
  });

  test('every no leaves nothing behind: names that climb out or are taken, what is no text, what is not there', async () => {
    const { hash } = (await upload<{ hash: string }>('/containers', pack)).body;
    const kept = async () => (await server.get<{ total: number }>('/storage')).total;
    const before = await kept();
    const no = async (answer: Promise<{ status: number; body: { error?: string } }>) => {
      const { status, body } = await answer;
      expect(status).toBe(400);
      expect(body.error).toMatch(/^[^\n]+\.$/);
    };
    for (const name of ['../coat.dds', '/coat.dds', 'C:coat.dds', 'a\\b', 'ship.xml', '', 'a/'])
      await no(server.post(`/containers/${hash}/names`, { way: ['coat.dds'], name }));
    await no(upload(`/containers/${hash}/entries?${way('../x.dds')}`, strToU8('X')));
    await no(upload(`/containers/${hash}/entries?${way('ship.xml')}`, strToU8('X')));
    await no(server.post(`/containers/${hash}/text`, { way: ['none.ini'], text: 'x' }));
    await no(server.post(`/containers/${hash}/text`, { way: ['ship.xml'], text: 7 }));
    const binary = (await upload<{ hash: string }>('/containers', zipSync({ 'a.bin': Uint8Array.of(0, 1, 2) }))).body
      .hash;
    expect((await fetch(`${server.url}/api/containers/${binary}/text?${way('a.bin')}`)).status).toBe(400);
    const gone = await fetch(`${server.url}/api/containers/${hash}/entry?${way('none')}`, { method: 'DELETE' });
    expect(gone.status).toBe(400);
    expect(await kept()).toBeLessThanOrEqual(before + 200);
  });

  test('what is none, and what is not in it, is said', async () => {
    expect((await upload('/containers', strToU8('not a zip'))).body.error).toMatch(/not a zip archive/);
    const { hash } = (await upload<{ hash: string }>('/containers', pack)).body;
    const answer = async (where: string) =>
      ((await (await fetch(`${server.url}/api${where}`)).json()) as { error: string }).error;
    expect(await answer(`/containers/${hash}/entry?${way('none.dds')}`)).toBe(
      'There is no "none.dds" in this archive.',
    );
    expect(await answer(`/containers/${hash}/entry?way=x`)).toMatch(/is not JSON/);
  });
});

test('a picture to pin is kept as pixels; what is none is refused', async () => {
  const made = await upload<{ blob: string; width: number }>('/pictures', await png(colourSheet(3, 64)));
  expect(made.body.width).toBe(64);
  const back = await sharp(await bytesAt(`/blobs/${made.body.blob}/picture`)).metadata();
  expect([back.format, back.width]).toEqual(['png', 64]);
  expect((await upload('/pictures', demoBytes('turnstone.glb'))).body.error).toMatch(/not a picture/);
});

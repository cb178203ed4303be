/** Threads and publishing, against the core and the file system, without the server around them. */
import {
  existsSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  symlinkSync,
  writeFileSync,
} from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { eq } from 'drizzle-orm';
import type pg from 'pg';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { renderSheet } from '@wet-lacquer/core/compose/renderSheet.ts';
import { InputError } from '@wet-lacquer/core/errors.ts';
import { planDelivery, type PlannedSheet } from '@wet-lacquer/core/delivery/plan.ts';
import { SHIPPED_SPECS } from '@wet-lacquer/core/games/index.ts';
import { NO_TARGET } from '@wet-lacquer/core/delivery/target.ts';
import { DeliverySpec } from '@wet-lacquer/core/livery/spec.ts';
import { compareImages, squaredErrors } from '@wet-lacquer/core/texture/compare.ts';
import { decodeImage, encodeImage } from '@wet-lacquer/core/texture/encode.ts';
import { mipChain } from '@wet-lacquer/core/texture/mips.ts';
import { resample } from '@wet-lacquer/core/texture/resample.ts';
import { readDdsFacts, readDdsLevel } from '@wet-lacquer/core/texture/dds.ts';
import { readTga } from '@wet-lacquer/core/texture/tga.ts';
import { liveryLike } from '@wet-lacquer/core/testing/images.ts';
import { readWithPillow } from '@wet-lacquer/core/testing/independent.ts';
import { layerOf, smallLivery, smallTemplate, sourcesFor } from '@wet-lacquer/core/testing/scenes.ts';
import { hashOf } from '@wet-lacquer/node/hash.ts';
import { Pool } from '@wet-lacquer/node/threads/pool.ts';
import { encodePlanned, makeFiles, zipOf } from '@wet-lacquer/node/makeFiles.ts';
import { gameFolder, readGameFolder } from '@wet-lacquer/node/gameFolder.ts';
import { putBlob } from '../store/blobs.ts';
import { bringUpToDate, connect, type Db } from '../store/db.ts';
import {
  commitFiles,
  createDelivery,
  finishDelivery,
  getDelivery,
  takeDelivery,
  takePublishing,
} from '../store/deliveries.ts';
import { delivery } from '../store/schema.ts';
import { createLivery } from '../store/liveries.ts';
import { freshDatabase } from '../testing/server.ts';
import { checkWritable, publishWaiting, removeLeftovers } from './publish.ts';

const template = smallTemplate(128);
const livery = smallLivery(
  [
    layerOf('solid', { paint: { scheme: 'red' }, parts: ['left'] }),
    layerOf('stripe', { paint: { scheme: 'blue' }, x: 64, y: 64, angle: 30, width: 20, softness: 3, opacity: 70 }),
  ],
  template,
);
const scene = { livery, template, blobs: new Map() };
const spec = SHIPPED_SPECS['brackwater-run'];

// The pool's threads are the built ones.
const pools = [1, 3].map((threads) => new Pool(threads, new URL('../../dist/thread.js', import.meta.url)));
afterAll(() => Promise.all(pools.map((pool) => pool.close())));

describe('threads', () => {
  test('flatten a sheet to the core’s very bytes, one thread or three', async () => {
    const size = { width: 128, height: 128 };
    const alone = renderSheet(livery, 'face', 'colour', size, await sourcesFor(livery, template));
    for (const pool of pools)
      expect(
        Buffer.compare(Buffer.from((await pool.flatten(scene, 'face', 'colour', size)).data), Buffer.from(alone.data)),
      ).toBe(0);
  });

  test('encode an image to the core’s very bytes, one thread or three', async () => {
    const image = liveryLike(132);
    for (const format of ['bc1', 'bc3', 'bc7', 'rgba8'] as const) {
      const alone = encodeImage(image, format, { effort: 'normal' });
      for (const pool of pools)
        expect(
          Buffer.compare(Buffer.from(await pool.encode(image, format, { effort: 'normal' })), Buffer.from(alone)),
        ).toBe(0);
    }
  });

  test.each([
    [{ kind: 'srgb', filter: 'kaiser' }, 1024],
    [{ kind: 'srgb', filter: 'box', coverage: 0.5 }, 640],
    [{ kind: 'normal', filter: 'kaiser', count: 4 }, 520],
    [{ kind: 'ids', filter: 'box' }, 512],
  ] as const)('filter mip levels to the core’s very texels, one thread or three: %j', async (options, side) => {
    const image = liveryLike(side, 6, true);
    const alone = mipChain(image, options);
    for (const pool of pools) {
      const levels = await pool.mips(image, options);
      expect(levels.map(({ width, height }) => [width, height])).toEqual(
        alone.map(({ width, height }) => [width, height]),
      );
      levels.forEach(({ data }, i) => expect(Buffer.compare(Buffer.from(data), Buffer.from(alone[i].data))).toBe(0));
    }
  });

  test('bring an image to another size as the core does, one thread or three', async () => {
    const image = liveryLike(600, 7, true);
    for (const [width, height] of [
      [1200, 1200],
      [150, 300],
      [640, 380],
    ] as const) {
      const alone = resample(image, width, height, 'srgb');
      for (const pool of pools) {
        const { data } = await pool.resample(image, { width, height }, 'srgb');
        expect(Buffer.compare(Buffer.from(data), Buffer.from(alone.data))).toBe(0);
      }
    }
  });

  test('say what an encoding costs: the squared errors of the whole, however it was split', async () => {
    const image = liveryLike(260, 8, true);
    const bytes = encodeImage(image, 'bc3', { effort: 'fast' });
    const wanted = squaredErrors(image, decodeImage(bytes, 'bc3', 260, 260));
    for (const pool of pools) {
      const measured = await pool.encodeMeasured(image, 'bc3', { effort: 'fast' }, undefined, true);
      expect(measured.squares).toEqual(wanted);
      expect(Buffer.compare(Buffer.from(measured.bytes), Buffer.from(bytes))).toBe(0);
    }
  });

  test('hand the user’s mistakes over as such, and other errors as bugs', async () => {
    await expect(pools[0].run('importDecal', { bytes: new Uint8Array([1, 2, 3]) })).rejects.toBeInstanceOf(InputError);
    await expect(pools[0].run('encodeRows', {} as never)).rejects.not.toBeInstanceOf(InputError);
  });

  test('end a task whose signal fires', async () => {
    const abort = new AbortController();
    const long = pools[1].encode(liveryLike(2048), 'bc7', { effort: 'best' }, abort.signal);
    setTimeout(() => abort.abort(), 50);
    await expect(long).rejects.toMatchObject({ name: 'AbortError' });
  });
});

describe('every container that a spec can ask for', () => {
  const encodeAs = (change: object) => {
    const own = DeliverySpec.parse({ ...spec, files: [{ ...spec.files[0], ...change }] });
    const file = planDelivery(livery, template, own).files[0] as PlannedSheet;
    const files = () => Promise.reject(new Error('no file is kept here'));
    return encodePlanned({ pool: pools[1], scene, spec: own, step: async () => {}, files, held: new Map() }, file);
  };

  test('DDS in each format: facts as asked, and the picture of the flattened sheet', async () => {
    for (const change of [
      { format: 'bc7', header: 'dx10', colourSpace: 'linear', mips: 'none' },
      { format: 'bc3', header: 'legacy', mipFilter: 'box' },
      { format: 'bc1', header: 'dx10' },
      { format: 'bgra8', header: 'legacy' },
    ]) {
      const bytes = await encodeAs(change);
      const facts = readDdsFacts(bytes);
      expect(facts).toMatchObject({
        format: change.format,
        header: change.header,
        mips: change.mips === 'none' ? 1 : 8,
      });
      const least = change.format === 'bgra8' ? 90 : 30;
      expect(
        compareImages(readDdsLevel(bytes, 0), readWithPillow(await encodeAs({ container: 'png' }), 'png')).psnrRgb,
      ).toBeGreaterThan(least);
    }
  });

  test('TGA and PNG hold the same picture, with alpha kept when the spec keeps it', async () => {
    const [tga, png] = [
      await encodeAs({ container: 'tga', alpha: 'keep' }),
      await encodeAs({ container: 'png', alpha: 'keep' }),
    ];
    expect(compareImages(readTga(tga), readWithPillow(png, 'png')).largest).toBe(0);
    expect(compareImages(readTga(tga), readWithPillow(tga, 'tga')).largest).toBe(0);
    expect(readTga(tga).data.some((v, i) => i % 4 === 3 && v < 255)).toBe(true);
    expect(
      readTga(await encodeAs({ container: 'tga', alpha: 'opaque' })).data.every((v, i) => i % 4 !== 3 || v === 255),
    ).toBe(true);
  });

  test('upside down is the same picture mirrored', async () => {
    const [up, down] = [
      readTga(await encodeAs({ container: 'tga' })),
      readTga(await encodeAs({ container: 'tga', flip: true })),
    ];
    for (let y = 0; y < 128; y += 9)
      expect(
        Buffer.compare(
          Buffer.from(up.data.subarray(y * 512, y * 512 + 512)),
          Buffer.from(down.data.subarray((127 - y) * 512, (127 - y) * 512 + 512)),
        ),
      ).toBe(0);
  });

  test('each mip level as a file of its own holds the level of the one file, in every container', async () => {
    const whole = await encodeAs({ format: 'bgra8', alpha: 'keep' });
    const rule = { ...spec.files[0], name: '{sheet.key}_{file.level}_{file.width}.{file.height}', levels: 'files' };
    for (const container of ['png', 'tga', 'dds'] as const) {
      const own = DeliverySpec.parse({ ...spec, files: [{ ...rule, container, format: 'bgra8', alpha: 'keep' }] });
      const plan = planDelivery(livery, template, own);
      const sheets = plan.files.filter((file) => file.kind === 'sheet');
      expect(sheets.map((file) => file.name)).toEqual(
        [128, 64, 32, 16, 8, 4, 2, 1].map((side, level) => `face_${level}_${side}.${side}`),
      );
      const made = await makeFiles(pools[1], scene, own, plan, NO_TARGET, async () => {});
      for (const [level, file] of sheets.entries()) {
        const { content } = made.find((one) => one.name === file.name)!;
        const image = container === 'dds' ? readDdsLevel(content, 0) : readWithPillow(content, container);
        expect(compareImages(image, readDdsLevel(whole, level)).largest).toBe(0);
        if (container === 'dds') expect([content.length, readDdsFacts(content).mips]).toEqual([file.bytes, 1]);
      }
    }
  });

  test('a zip has the same bytes for the same files, whatever the time', async () => {
    const files = [
      { name: 'a.dds', content: new Uint8Array(500).fill(7) },
      { name: 'finish.toml', content: new TextEncoder().encode('x = 1\n') },
    ];
    expect(
      Buffer.compare(
        Buffer.from(await zipOf(pools[0], 'wharf/plank/test/', files)),
        Buffer.from(await zipOf(pools[1], 'wharf/plank/test/', files)),
      ),
    ).toBe(0);
  });
});

describe('publishing', () => {
  let db: Db;
  let connections: pg.Pool;
  let data: string;
  let liveryId: string;
  beforeAll(async () => {
    ({ db, pool: connections } = connect(await freshDatabase()));
    await bringUpToDate(connections, path.resolve(import.meta.dirname, '../../drizzle'));
    data = mkdtempSync(path.join(os.tmpdir(), 'wl-publish-'));
    liveryId = await createLivery(db, livery);
  });
  afterAll(async () => {
    await connections.end();
    rmSync(data, { recursive: true });
  });

  const FOLDER = 'wharf/plank/test/';
  const target = () => path.join(gameFolder(data, 'brackwater-run'), FOLDER);
  /** A delivery whose files are encoded and wait. */
  async function waiting(files: Record<string, string>, folder = FOLDER): Promise<string> {
    const made = await createDelivery(db, {
      liveryId,
      revision: 0,
      specKey: spec.key,
      specVersion: 1,
      host: 'here',
      game: 'brackwater-run',
      folder,
    });
    const taken = (await takeDelivery(db, made.id))!;
    const rows = await Promise.all(
      Object.entries(files).map(async ([name, text]) => {
        const bytes = new TextEncoder().encode(text);
        return { name, blob: await putBlob(db, bytes), bytes: bytes.length, what: 'test', signature: hashOf(bytes) };
      }),
    );
    await commitFiles(db, taken, { files: rows, zip: 'z', seconds: 0 });
    return made.id;
  }

  test('puts every file in place under its name, and nothing else', async () => {
    const id = await waiting({ 'a.dds': 'one', 'finish.toml': 'x = 1\n' });
    await publishWaiting(db, connections, data, 'here');
    expect((await getDelivery(db, id)).state).toBe('done');
    expect(readdirSync(target()).sort()).toEqual(['a.dds', 'finish.toml']);
    expect(readFileSync(path.join(target(), 'a.dds'), 'utf8')).toBe('one');
  });

  test('done twice, as after a crash in the middle, it gives the same folder without leftovers', async () => {
    const id = await waiting({ 'a.dds': 'two', 'b.dds': 'new' });
    // What a host leaves that was killed after writing one file and before renaming any.
    writeFileSync(path.join(target(), `.lacquer-${id}-a.dds`), 'tw');
    writeFileSync(path.join(target(), '.lacquer-00000000-0000-4000-8000-000000000000-c.dds'), 'older');
    expect([...(await readGameFolder(gameFolder(data, 'brackwater-run'))).keys()]).toEqual([
      `${FOLDER}a.dds`,
      `${FOLDER}finish.toml`,
    ]);
    await Promise.all([publishWaiting(db, connections, data, 'here'), publishWaiting(db, connections, data, 'here')]);
    await publishWaiting(db, connections, data, 'here');
    expect(readdirSync(target()).sort()).toEqual(['a.dds', 'b.dds']);
    expect(readFileSync(path.join(target(), 'a.dds'), 'utf8')).toBe('two');
  });

  test('what a killed host left in any game goes at the next start, but for what is under way', async () => {
    const id = await waiting({ 'a.dds': 'x' });
    const other = path.join(gameFolder(data, 'another-game'), 'deep/er');
    mkdirSync(other, { recursive: true });
    const gone = path.join(other, '.lacquer-00000000-0000-4000-8000-000000000000-a.dds');
    const kept = [path.join(other, `.lacquer-${id}-a.dds`), path.join(other, '.lacquer-notes.txt')];
    for (const file of [gone, ...kept]) writeFileSync(file, 'x');
    expect(await removeLeftovers(db, data, 'here')).toBe(1);
    expect([gone, ...kept].map((file) => existsSync(file))).toEqual([false, true, true]);
    await publishWaiting(db, connections, data, 'here');
    rmSync(gameFolder(data, 'another-game'), { recursive: true });
  });

  test('keeps what somebody else put there, and leaves their other files alone', async () => {
    writeFileSync(path.join(target(), 'a.dds'), 'somebody else’s');
    writeFileSync(path.join(target(), 'notes.txt'), 'theirs');
    const id = await waiting({ 'a.dds': 'three' });
    await publishWaiting(db, connections, data, 'here');
    const done = await getDelivery(db, id);
    expect(done.replaced).toEqual([{ name: `${FOLDER}a.dds`, blob: hashOf('somebody else’s') }]);
    expect(readdirSync(target()).sort()).toEqual(['a.dds', 'notes.txt']);
  });

  test('a folder that cannot be written fails with the reason, and the next one goes on', async () => {
    mkdirSync(path.join(gameFolder(data, 'brackwater-run'), 'wharf/plank'), { recursive: true });
    writeFileSync(
      path.join(gameFolder(data, 'brackwater-run'), 'wharf/plank/blocked'),
      'a file where a folder should be',
    );
    const bad = await waiting({ 'a.dds': 'x' }, 'wharf/plank/blocked/');
    const good = await waiting({ 'a.dds': 'four' });
    await publishWaiting(db, connections, data, 'here');
    expect(await getDelivery(db, bad)).toMatchObject({
      state: 'failed',
      error: expect.stringMatching(/could not be written \((EEXIST|ENOTDIR)\)/),
    });
    expect((await getDelivery(db, good)).state).toBe('done');
  });

  test('a link in the game’s folder is not followed, wherever on the way it lies', async () => {
    const root = gameFolder(data, 'brackwater-run');
    const outside = mkdtempSync(path.join(os.tmpdir(), 'wl-outside-'));
    writeFileSync(path.join(outside, 'a.dds'), 'not ours');
    symlinkSync(outside, path.join(root, 'wharf/plank/linked'));
    mkdirSync(path.join(root, 'wharf/plank/inner'), { recursive: true });
    symlinkSync(path.join(outside, 'a.dds'), path.join(root, 'wharf/plank/inner/a.dds'));
    for (const folder of ['wharf/plank/linked/', 'wharf/plank/linked/deep/', 'wharf/plank/inner/']) {
      const id = await waiting({ 'a.dds': 'x' }, folder);
      await publishWaiting(db, connections, data, 'here');
      expect(await getDelivery(db, id)).toMatchObject({ state: 'failed', error: expect.stringMatching(/is a link/) });
    }
    expect(readdirSync(outside)).toEqual(['a.dds']);
    expect(readFileSync(path.join(outside, 'a.dds'), 'utf8')).toBe('not ours');
    await expect(checkWritable(data, 'brackwater-run', ['wharf/plank/linked/a.dds'])).rejects.toThrow(/is a link/);
    rmSync(outside, { recursive: true });
  });

  test('looking whether something can be written makes nothing, least of all outside', async () => {
    const before = readdirSync(data, { recursive: true }).length;
    for (const name of ['../../elsewhere/a.dds', '/tmp/wl-made/a.dds', 'a/../../../b.dds', 'CON', 'x:y', 'a\u202eb'])
      await expect(checkWritable(data, 'brackwater-run', [name])).rejects.toThrow(/nothing is written/);
    await checkWritable(data, 'brackwater-run', ['wharf/not/there/yet.dds']);
    expect(readdirSync(data, { recursive: true }).length).toBe(before);
    expect(existsSync('/tmp/wl-made')).toBe(false);
  });

  test('what is for another host waits for it', async () => {
    const id = await waiting({ 'b.dds': 'theirs' });
    await db.update(delivery).set({ host: 'there' }).where(eq(delivery.id, id));
    await publishWaiting(db, connections, data, 'here');
    expect((await getDelivery(db, id)).state).toBe('publishing');
    const other = mkdtempSync(path.join(os.tmpdir(), 'wl-there-'));
    await publishWaiting(db, connections, other, 'there');
    expect((await getDelivery(db, id)).state).toBe('done');
    expect(readdirSync(path.join(gameFolder(other, 'brackwater-run'), FOLDER))).toEqual(['b.dds']);
    rmSync(other, { recursive: true });
  });

  test('whoever lost it to another does not finish it', async () => {
    const id = await waiting({ 'b.dds': 'x' });
    const first = (await takePublishing(db, id))!;
    const second = (await takePublishing(db, id))!;
    expect(await finishDelivery(db, first, { state: 'failed', error: 'late' })).toBe(false);
    expect(await finishDelivery(db, second, { state: 'done' })).toBe(true);
    expect((await getDelivery(db, id)).state).toBe('done');
    expect(await takePublishing(db, id)).toBeNull();
  });

  test('a path that would leave the game’s folder is refused', async () => {
    const id = await waiting({ 'a.dds': 'x' }, '../../elsewhere/');
    await publishWaiting(db, connections, data, 'here');
    expect(await getDelivery(db, id)).toMatchObject({
      state: 'failed',
      error: expect.stringMatching(/leaves its folder/),
    });
  });
});

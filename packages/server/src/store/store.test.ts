import { randomUUID } from 'node:crypto';
import path from 'node:path';
import { sql } from 'drizzle-orm';
import type pg from 'pg';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { EditId, LayerId } from '@wet-lacquer/core/livery/ids.ts';
import { layersOf } from '@wet-lacquer/core/livery/livery.ts';
import type { Entry } from '@wet-lacquer/core/livery/history.ts';
import type { Edit } from '@wet-lacquer/core/livery/edit.ts';
import { layerOf, smallLivery } from '@wet-lacquer/core/testing/scenes.ts';
import { freshDatabase } from '../testing/server.ts';
import { withLease } from '../jobs/lease.ts';
import { getBlob, getBlobs, putBlob } from './blobs.ts';
import { hashOf } from '@wet-lacquer/node/hash.ts';
import { bringUpToDate, connect, type Db } from './db.ts';
import {
  cancelDelivery,
  commitFiles,
  createDelivery,
  encodedFiles,
  finishDelivery,
  LostLease,
  reportProgress,
  takeDelivery,
} from './deliveries.ts';
import { createLivery, entriesAfter, getLivery } from './liveries.ts';
import { Log } from './log.ts';
import { threadsHere } from '../testing/threadsHere.ts';
import { putTemplate, getTemplate } from './templates.ts';
import { smallTemplate } from '@wet-lacquer/core/testing/scenes.ts';

const migrations = path.resolve(import.meta.dirname, '../../drizzle');
let db: Db;
let pool: pg.Pool;
let url: string;
let log: Log;

beforeAll(async () => {
  url = await freshDatabase();
  ({ db, pool } = connect(url));
  await bringUpToDate(pool, migrations);
  log = new Log(db, threadsHere);
});
afterAll(() => pool.end());

const entry = (edit: Edit, person = 'ann'): Entry => ({
  id: EditId.parse(randomUUID()),
  person,
  edit,
  undoes: null,
  redoes: null,
  label: 'a step',
});
const opacity = (layer: string, value: number): Edit => ({
  do: 'set-layer',
  layer: LayerId.parse(layer),
  set: { opacity: value },
});
const started = async () => {
  const begun = smallLivery([
    layerOf('solid', { id: 'a', paint: { scheme: 'red' } }),
    layerOf('solid', { id: 'b', paint: { scheme: 'blue' } }),
  ]);
  return createLivery(db, { ...begun, pins: { ...begun.pins, template: await putTemplate(db, smallTemplate()) } });
};

test('three processes that bring one fresh database up to date at once all succeed', async () => {
  const fresh = await freshDatabase();
  const clients = [1, 2, 3].map(() => connect(fresh).pool);
  await Promise.all(clients.map((client) => bringUpToDate(client, migrations)));
  await Promise.all(clients.map((client) => client.end()));
});

describe('edits', () => {
  test('are appended in order and give the same state at any revision', async () => {
    const id = await started();
    await log.post(id, 0, [entry(opacity('a', 60)), entry(opacity('b', 50))]);
    expect((await getLivery(db, id)).revision).toBe(2);
    expect(layersOf((await getLivery(db, id)).livery, 'face').map((l) => l.opacity)).toEqual([60, 50]);
    expect(layersOf((await getLivery(db, id, 1)).livery, 'face').map((l) => l.opacity)).toEqual([60, 100]);
    expect((await entriesAfter(db, id, 1)).map((e) => e.revision)).toEqual([2]);
  });

  test('sent twice are there once', async () => {
    const id = await started();
    const step = entry(opacity('a', 60));
    const first = await log.post(id, 0, [step]);
    const again = await log.post(id, 0, [step]);
    expect([first.state, again.state]).toEqual(['saved', 'saved']);
    expect((await entriesAfter(db, id, 0)).length).toBe(1);
  });

  test('on an older base are taken on top of what came between, which comes with the answer', async () => {
    const id = await started();
    const theirs = entry(opacity('a', 10), 'bob');
    await log.post(id, 0, [theirs]);
    const mine = entry(opacity('b', 20));
    const answer = await log.post(id, 0, [mine]);
    expect(answer).toMatchObject({ state: 'saved', revision: 2, entries: [{ id: theirs.id }, { id: mine.id }] });
    expect(layersOf((await getLivery(db, id)).livery, 'face').map((l) => l.opacity)).toEqual([10, 20]);
    // What the base cannot be is not guessed at.
    await expect(log.post(id, 99, [entry(opacity('b', 1))])).rejects.toThrow(/taken back/);
  });

  test('that cannot be are refused by name, and the others of the batch are not written', async () => {
    const id = await started();
    const bad = entry(opacity('nobody', 10));
    expect(await log.post(id, 0, [entry(opacity('a', 3)), bad])).toMatchObject({
      state: 'refused',
      entry: bad.id,
    });
    expect((await getLivery(db, id)).revision).toBe(0);
  });

  test('from ten writers at once are all there, each once', async () => {
    const id = await started();
    const writers = Array.from({ length: 10 }, async (_, w) => {
      let base = 0;
      for (let k = 0; k < 6; k++) {
        const step = entry(opacity('a', (w * 6 + k) % 101), `writer ${w}`);
        const answer = await log.post(id, base, [step]);
        if (answer.state === 'refused') throw new Error(answer.why);
        base = answer.revision;
      }
    });
    await Promise.all(writers);
    const all = await entriesAfter(db, id, 0);
    expect(all).toHaveLength(60);
    expect(new Set(all.map((e) => e.id)).size).toBe(60);
    expect(all.map((e) => e.revision)).toEqual(Array.from({ length: 60 }, (_, i) => i + 1));
    // A snapshot was taken on the way, and gives the same.
    const [{ count }] = (
      await db.execute<{ count: string }>(sql`select count(*) from snapshot where livery_id = ${id}`)
    ).rows;
    expect(Number(count)).toBe(2);
    expect(layersOf((await getLivery(db, id)).livery, 'face')[0].opacity).toBe(
      layersOf((await getLivery(db, id, 60)).livery, 'face')[0].opacity,
    );
  });

  test('of a livery that is gone say so', async () => {
    await expect(log.post(randomUUID(), 0, [entry(opacity('a', 1))])).rejects.toThrow(/no such livery/);
  });
});

describe('blobs', () => {
  test('are kept once under their SHA-256, in chunks of at most 4 MiB', async () => {
    const bytes = new Uint8Array(9 * 1024 * 1024 + 5).map((_, i) => (i * 7) % 251);
    const hash = await putBlob(db, bytes);
    expect(hash).toBe(hashOf(bytes));
    expect(await putBlob(db, bytes)).toBe(hash);
    const rows = (
      await db.execute<{ size: number }>(
        sql`select length(content) as size from blob_chunk where hash = ${hash} order by part`,
      )
    ).rows;
    expect(rows.map((row) => row.size)).toEqual([4194304, 4194304, 1048581]);
    expect(Buffer.compare(Buffer.from(await getBlob(db, hash)), Buffer.from(bytes))).toBe(0);
  });

  test('several come at once, and what is not there is left out or named', async () => {
    const [a, b] = [await putBlob(db, Uint8Array.of(1, 2)), await putBlob(db, Uint8Array.of(3))];
    const found = await getBlobs(db, [a, b, 'f'.repeat(64)]);
    expect([...found.keys()].sort()).toEqual([a, b].sort());
    await expect(getBlob(db, 'f'.repeat(64))).rejects.toThrow(/nothing stored under ffff/);
  });
});

test('a template keeps the order of its keys, since its name is the hash of its text', async () => {
  const template = smallTemplate();
  const hash = await putTemplate(db, template);
  const { db: other, pool: second } = connect(url);
  const row = (
    await other.execute<{ document: string }>(sql`select document::text as document from template where hash = ${hash}`)
  ).rows[0];
  expect(hashOf(JSON.stringify(JSON.parse(row.document)))).toBe(hash);
  expect(await getTemplate(db, hash)).toEqual(template);
  await second.end();
});

describe('deliveries', () => {
  const queued = async () =>
    createDelivery(db, {
      liveryId: await started(),
      revision: 0,
      specKey: 'brackwater-run',
      specVersion: 1,
      host: 'here',
      game: 'brackwater-run',
      folder: 'wharf/plank/test/',
    });
  const progress = { done: 1, of: 2, what: 'x' };

  test('only the latest worker may report and commit: the fence', async () => {
    const { id } = await queued();
    const first = (await takeDelivery(db, id))!;
    const second = (await takeDelivery(db, id))!;
    await expect(reportProgress(db, first, progress)).rejects.toThrow(LostLease);
    await reportProgress(db, second, progress);
    await expect(commitFiles(db, first, { files: [], zip: 'z', seconds: 1 })).rejects.toThrow(LostLease);
    await commitFiles(db, second, { files: [], zip: 'z', seconds: 1 });
  });

  test('a cancelled one is taken by nobody and stops who has it', async () => {
    const { id } = await queued();
    const taken = (await takeDelivery(db, id))!;
    expect((await cancelDelivery(db, id)).state).toBe('cancelled');
    await expect(reportProgress(db, taken, progress)).rejects.toThrow(LostLease);
    expect(await takeDelivery(db, id)).toBeNull();
    expect(await finishDelivery(db, taken, { state: 'done' })).toBe(false);
    expect((await cancelDelivery(db, id)).state).toBe('cancelled');
  });

  test('files are found again by what they depend on', async () => {
    const { id } = await queued();
    const taken = (await takeDelivery(db, id))!;
    const file = { name: 'a.dds', blob: 'b1', bytes: 3, what: 'BC7', signature: randomUUID() };
    await commitFiles(db, taken, { files: [file], zip: 'z', seconds: 1 });
    expect((await encodedFiles(db, [file.signature, 'other'])).get(file.signature)).toEqual(file);
    expect((await encodedFiles(db, [])).size).toBe(0);
  });

  test('a lease is held by one, and free when it is let go', async () => {
    let inside = 0;
    const work = async () => {
      inside++;
      expect(await withLease(pool, 'same', async () => {})).toBe(false);
    };
    expect(await withLease(pool, 'same', work)).toBe(true);
    expect(await withLease(pool, 'same', async () => {})).toBe(true);
    expect(inside).toBe(1);
  });
});

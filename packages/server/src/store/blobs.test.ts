/**
 * Bytes by their hash, in the database and in an object store that speaks S3: the same answers, one swept like the other, brought from one
 * to the other by a backup; and what a server says when its object store is away, or has other bytes.
 */
import { createHash, randomBytes } from 'node:crypto';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { sql } from 'drizzle-orm';
import type pg from 'pg';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type { DeliveryCard, LiveryCard } from '@wet-lacquer/sync/answers.ts';
import { freshDatabase, startServer, until, type TestServer } from '../testing/server.ts';
import { startBucket, type Bucket } from '../testing/objects.ts';
import { backUp, restore } from './backup.ts';
import { getBlob, getBlobPart, getBlobs, putBlob, sizeOfBlob } from './blobs.ts';
import { bringUpToDate, connect, isAway, transact, type Db } from './db.ts';
import { keepBlobsIn } from './objects.ts';
import { sweep } from './sweep.ts';

const MIGRATIONS = path.resolve(import.meta.dirname, '../../drizzle');
const MiB = 2 ** 20;
const later = (days: number) => new Date(Date.now() + days * 86_400_000);
const sha256 = (bytes: Uint8Array) => createHash('sha256').update(bytes).digest('hex');
const some = (count: number) => new Uint8Array(randomBytes(count));

let bucket: Bucket;
beforeAll(async () => {
  bucket = await startBucket();
  Object.assign(process.env, bucket.env);
});
afterAll(async () => {
  await keepBlobsIn(undefined);
  await bucket.stop();
});

async function emptyDatabase(): Promise<{ db: Db; pool: pg.Pool }> {
  const made = connect(await freshDatabase());
  await bringUpToDate(made.pool, MIGRATIONS);
  return made;
}

describe.each(['the database', 'an object store'])('in %s', (place) => {
  let db: Db;
  let pool: pg.Pool;
  const objects = place === 'an object store';
  beforeAll(async () => {
    ({ db, pool } = await emptyDatabase());
    await keepBlobsIn(objects ? bucket.env.WET_LACQUER_BLOBS : undefined);
  });
  afterAll(() => pool.end());

  test('what is put comes back, whole and in part, whatever its size', async () => {
    for (const size of [0, 1, 4 * MiB - 1, 4 * MiB, 4 * MiB + 1, 9 * MiB]) {
      const bytes = some(size);
      const hash = await putBlob(db, bytes);
      expect(hash).toBe(sha256(bytes));
      expect(sha256(await getBlob(db, hash))).toBe(hash);
      expect(await sizeOfBlob(db, hash)).toBe(size);
      const ranges = [
        [0, 0],
        [4 * MiB - 3, 4 * MiB + 2],
        [MiB, 8 * MiB + 5],
        [size - 1, size - 1],
      ].filter(([from, to]) => from >= 0 && to < size);
      for (const [from, to] of ranges) {
        const part = await getBlobPart(db, hash, { from, to });
        expect([part.length, Buffer.from(part).equals(bytes.subarray(from, to + 1))]).toEqual([to - from + 1, true]);
      }
      const { rows } = await db.execute(sql`select 1 from blob_chunk where hash = ${hash}`);
      expect(rows.length > 0).toBe(!objects);
      expect(bucket.names().includes(hash)).toBe(objects);
    }
  });

  test('many at once; one that is not there is left out, and missed by whoever asks for it alone', async () => {
    const all = await Promise.all(Array.from({ length: 25 }, (_, i) => putBlob(db, some(100 + i))));
    const found = await getBlobs(db, [...all, 'f'.repeat(64)]);
    expect([...found.keys()].sort()).toEqual([...all].sort());
    for (const [hash, bytes] of found) expect(sha256(bytes)).toBe(hash);
    await expect(getBlob(db, 'f'.repeat(64))).rejects.toThrow(/nothing stored under ffffffffffff/);
    await expect(getBlobPart(db, 'f'.repeat(64), { from: 0, to: 1 })).rejects.toThrow(/nothing stored/);
  });

  test('what was put into a transaction that came to nothing is not there, and leaves nothing', async () => {
    const bytes = some(500);
    await transact<void, null>(db, async (tx, no) => {
      await putBlob(tx, bytes);
      no(null);
    });
    await expect(getBlob(db, sha256(bytes))).rejects.toThrow(/nothing stored/);
    expect((await sweep(db)).objects).toBe(0);
    await sweep(db, later(2));
    expect(bucket.names()).not.toContain(sha256(bytes));
  });

  test('a sweep takes what nobody names, and stores are not crossed by it', async () => {
    const same = Array.from({ length: 30 }, () => some(300));
    for (const bytes of same) await putBlob(db, bytes);
    await db.execute(sql`update blob set touched_at = now() - interval '3 days'`);
    // Each is swept, or stored anew, or touched: whoever was told that it is stored finds it.
    const [stored] = await Promise.all([
      Promise.all(same.map((bytes) => putBlob(db, bytes))),
      ...Array.from({ length: 4 }, () => sweep(db, later(1.5))),
    ]);
    for (const [hash, bytes] of await getBlobs(db, stored)) expect(sha256(bytes)).toBe(hash);
    const { rows } = await db.execute<{ hash: string }>(sql`select hash from blob`);
    const rest = new Set(rows.map(({ hash }) => hash));
    for (const hash of rest) expect(sha256(await getBlob(db, hash))).toBe(hash);
    await sweep(db, later(9));
    expect(await getBlobs(db, stored)).toEqual(new Map());
    expect(bucket.names()).toEqual([]);
  });

  test('a backup brings everything into the other', async () => {
    const file = path.join(mkdtempSync(path.join(os.tmpdir(), 'wl-backup-')), 'all.tar');
    const hashes = await Promise.all([some(0), some(5 * MiB), some(77)].map((bytes) => putBlob(db, bytes)));
    const { blobs } = await backUp(pool, file);
    const other = await emptyDatabase();
    await keepBlobsIn(objects ? undefined : bucket.env.WET_LACQUER_BLOBS);
    expect((await restore(other.pool, file)).blobs).toBe(blobs);
    if (!objects) expect(bucket.names().sort()).toEqual([...hashes].sort());
    for (const hash of hashes) expect(sha256(await getBlob(other.db, hash))).toBe(hash);
    await other.pool.end();
    await keepBlobsIn(objects ? bucket.env.WET_LACQUER_BLOBS : undefined);
  });
});

test('what an object store cannot say is said: other bytes, nothing where something was, no answer, no address', async () => {
  const { db, pool } = await emptyDatabase();
  const before = await putBlob(db, some(10));
  await keepBlobsIn(bucket.env.WET_LACQUER_BLOBS);
  // What was stored before stays where it is.
  expect(sha256(await getBlob(db, before))).toBe(before);
  const [changed, lost] = [await putBlob(db, some(200)), await putBlob(db, some(200))];
  writeFileSync(bucket.fileOf(changed), 'not what it was');
  await expect(getBlob(db, changed)).rejects.toThrow(/has other bytes under/);
  await expect(getBlobPart(db, changed, { from: 0, to: 99 })).rejects.toThrow(/has other bytes under/);
  const store = (await import('./objects.ts')).objectStore()!;
  await store.remove(lost);
  await expect(getBlob(db, lost)).rejects.toThrow(/NoSuchKey|does not exist/);
  await bucket.stop();
  const unsaid = some(30);
  const fault = await putBlob(db, unsaid).catch((error: unknown) => error);
  expect(isAway(fault)).toBe(true);
  await bucket.start();
  expect(await getBlobs(db, [sha256(unsaid)])).toEqual(new Map());
  await expect(keepBlobsIn('https://somewhere/else')).rejects.toThrow(/say it as in s3:/);
  await keepBlobsIn(undefined);
  await expect(getBlob(db, changed)).rejects.toThrow(/WET_LACQUER_BLOBS does not say which/);
  await pool.end();
});

describe('a server with an object store', () => {
  let server: TestServer;
  beforeAll(async () => {
    server = await startServer({ demo: true, env: bucket.env });
  });
  afterAll(() => server.stop());

  const send = async (bytes: Uint8Array) => {
    const body = new Blob([new Uint8Array(bytes)]);
    return fetch(`${server.url}/api/pictures`, { method: 'POST', body });
  };
  const shot = (name: string) =>
    readFileSync(path.resolve(import.meta.dirname, `../../../../docs/screenshots/${name}.png`));
  const picture = () => shot('easel');

  test('parts are asked for as RFC 9110 has it (14.1.2, its examples scaled to what there is; 13.1.2, 13.1.5, 14.4, 15.5.17)', async () => {
    const { blob } = (await (await send(picture())).json()) as { blob: string };
    expect(bucket.names()).toContain(blob);
    const address = `${server.url}/api/blobs/${blob}`;
    const get = (headers: Record<string, string>) => fetch(address, { headers });
    const whole = await get({});
    const bytes = Buffer.from(await whole.arrayBuffer());
    expect([whole.status, whole.headers.get('accept-ranges'), sha256(bytes)]).toEqual([200, 'bytes', blob]);
    expect(whole.headers.get('cache-control')).toBe('private, max-age=31536000, immutable');
    const size = bytes.length;
    for (const [range, from, to] of [
      ['bytes=0-499', 0, 499],
      ['bytes=500-999', 500, 999],
      ['bytes=-500', size - 500, size - 1],
      [`bytes=${size - 500}-`, size - 500, size - 1],
      [`bytes=0-${size * 3}`, 0, size - 1],
      ['bytes=0-0', 0, 0],
    ] as const) {
      const part = await get({ range });
      expect([range, part.status, part.headers.get('content-range')]).toEqual([
        range,
        206,
        `bytes ${from}-${to}/${size}`,
      ]);
      expect(Buffer.from(await part.arrayBuffer()).equals(bytes.subarray(from, to + 1))).toBe(true);
    }
    const none = await get({ range: `bytes=${size}-` });
    expect([none.status, none.headers.get('content-range')]).toEqual([416, `bytes */${size}`]);
    // What is no range, several at once, and one of something else than this: the whole.
    for (const headers of [
      { range: 'lines=1-2' },
      { range: 'bytes=abc' },
      { range: 'bytes=0-1,5-6' },
      { range: 'bytes=0-1', 'if-range': '"another"' },
    ] as Record<string, string>[])
      expect((await get(headers)).status).toBe(200);
    expect((await get({ range: 'bytes=0-1', 'if-range': whole.headers.get('etag')! })).status).toBe(206);
    const again = await get({ 'if-none-match': whole.headers.get('etag')!, 'cache-control': 'max-age=0' });
    expect([again.status, (await again.arrayBuffer()).byteLength]).toEqual([304, 0]);
  });

  test('a livery is delivered, its package saved, and a second server reads what the first one stored', async () => {
    const card = (await server.get<LiveryCard[]>('/liveries')).find(({ name }) => name.startsWith('Ebbline barge'))!;
    const { body } = await server.post<DeliveryCard>(`/liveries/${card.id}/deliveries`);
    const done = await until(
      () => server.get<DeliveryCard>(`/deliveries/${body.id}`),
      ({ state }) => ['done', 'failed', 'cancelled'].includes(state),
    );
    expect(done.state).toBe('done');
    for (const { blob } of done.files) expect(bucket.names()).toContain(blob);
    const second = await startServer({
      databaseUrl: server.databaseUrl,
      data: mkdtempSync(path.join(os.tmpdir(), 'wl-second-')),
      env: bucket.env,
    });
    const zipOf = async (of: TestServer) =>
      sha256(new Uint8Array(await (await fetch(`${of.url}/api/deliveries/${body.id}/zip`)).arrayBuffer()));
    expect(await zipOf(second)).toBe(await zipOf(server));
    await second.stop();
  });

  test('while its object store is away it says so, keeps nothing half, and goes on when it is back', async () => {
    await bucket.stop();
    const other = shot('deliver');
    expect((await send(other)).status).toBe(503);
    // The same picture as before is there already: nothing has to be stored.
    const kept = await send(picture());
    expect(kept.status).toBe(201);
    const { blob } = (await kept.json()) as { blob: string };
    const away = await fetch(`${server.url}/api/blobs/${blob}`);
    expect([away.status, ((await away.json()) as { error: string }).error]).toEqual([
      503,
      expect.stringMatching(/again/),
    ]);
    await bucket.start();
    expect((await fetch(`${server.url}/api/blobs/${blob}`)).status).toBe(200);
    const names = bucket.names().length;
    expect((await send(other)).status).toBe(201);
    expect(bucket.names()).toHaveLength(names + 1);
  });
});

/** The sweep takes what nobody needs, and nothing else, also while somebody saves. */
import { randomUUID } from 'node:crypto';
import path from 'node:path';
import { eq, sql } from 'drizzle-orm';
import type pg from 'pg';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { packPixels } from '@wet-lacquer/core/files/pixels.ts';
import type { Entry } from '@wet-lacquer/core/livery/history.ts';
import { EditId } from '@wet-lacquer/core/livery/ids.ts';
import { picture } from '@wet-lacquer/core/testing/images.ts';
import { layerOf, smallLivery, smallTemplate } from '@wet-lacquer/core/testing/scenes.ts';
import { hashOf } from '@wet-lacquer/node/hash.ts';
import { freshDatabase } from '../testing/server.ts';
import { threadsHere } from '../testing/threadsHere.ts';
import { getBlobs, putBlob } from './blobs.ts';
import { bringUpToDate, connect, type Db } from './db.ts';
import { commitFiles, createDelivery, finishDelivery, takeDelivery } from './deliveries.ts';
import { keepField, keptFields } from './fields.ts';
import { forgetHead } from './heads.ts';
import { addIntakeFile, createIntake } from './intakes.ts';
import { createLivery, deleteLivery, entriesUpTo, getLivery, setBinned } from './liveries.ts';
import { Log } from './log.ts';
import { edit, intake } from './schema.ts';
import { storageOf, sweep } from './sweep.ts';
import { putTemplate } from './templates.ts';

let db: Db;
let pool: pg.Pool;
let log: Log;
beforeAll(async () => {
  ({ db, pool } = connect(await freshDatabase()));
  await bringUpToDate(pool, path.resolve(import.meta.dirname, '../../drizzle'));
  log = new Log(db, threadsHere);
});
afterAll(() => pool.end());

const DAY = 86_400_000;
const later = (days: number) => new Date(Date.now() + days * DAY);
let made = 0;
/** Stored pixels that are like no others. */
const pixels = () => {
  const n = ++made;
  return putBlob(db, packPixels(picture(8, 4, (x, y) => [n % 256, n >> 8, x, y])));
};
const entry = (what: unknown): Entry => ({
  ...{
    id: EditId.parse(randomUUID()),
    person: 'ann',
    edit: what as Entry['edit'],
    undoes: null,
    redoes: null,
    label: 's',
  },
});
const started = async () => {
  const begun = smallLivery([layerOf('solid', { id: 'a', paint: { scheme: 'red' } })]);
  return createLivery(db, { ...begun, pins: { ...begun.pins, template: await putTemplate(db, smallTemplate()) } });
};
const shows = (blob: string, id = randomUUID()) => ({
  do: 'add-layer',
  sheet: 'face',
  map: 'colour',
  index: 0,
  layer: layerOf('picture', { id, blob, left: 0, top: 0, width: 8, height: 4 }),
});
const left = async (blobs: string[]) => {
  const found = await getBlobs(db, blobs);
  return blobs.map((blob) => found.has(blob));
};

test('blobs that a livery, a step that was taken back, a delivery or an intake names stay; the others go after a day', async () => {
  const id = await started();
  const [shown, removed, delivered, zip, base, brought, loose] = await Promise.all(Array.from({ length: 7 }, pixels));
  const layer = randomUUID();
  await log.post(id, 0, [entry(shows(shown)), entry(shows(removed, layer)), entry({ do: 'remove-layer', layer })]);
  const values = { liveryId: id, revision: 1, specKey: 'x', specVersion: 1, host: '', game: 'g', folder: 'f/' };
  const taken = (await takeDelivery(db, (await createDelivery(db, { ...values, bases: { a: base } })).id))!;
  const file = { name: 'a', blob: delivered, bytes: 1, what: 'x', signature: 's' };
  await commitFiles(db, taken, { files: [file], zip, seconds: 0 });
  await finishDelivery(db, taken, { state: 'done' });
  const intakeId = await createIntake(db, 'folder');
  await addIntakeFile(db, intakeId, 'a.png', (await getBlobs(db, [brought])).get(brought)!);
  const all = [shown, removed, delivered, zip, base, brought, loose];
  expect((await sweep(db)).blobs).toBe(0);
  expect(await left(all)).toEqual(all.map(() => true));
  const swept = await sweep(db, later(2));
  expect(swept.blobs).toBe(1);
  expect(swept.bytes).toBeGreaterThan(20);
  expect(await left(all)).toEqual([true, true, true, true, true, true, false]);
  // An intake that was given up, and a livery that was deleted for ever, take theirs along.
  expect(await sweep(db, later(31))).toMatchObject({ intakes: 1, blobs: 1 });
  expect(await db.select().from(intake).where(eq(intake.id, intakeId))).toEqual([]);
  await setBinned(db, id, true);
  expect((await sweep(db, later(31))).blobs).toBe(0);
  await deleteLivery(db, id);
  expect((await sweep(db, later(31))).blobs).toBe(5);
  expect(await left(all)).toEqual(all.map(() => false));
});

test('a save and a sweep at once: what was saved can be drawn', async () => {
  const id = await started();
  const old = await Promise.all(Array.from({ length: 60 }, pixels));
  await db.execute(sql`update blob set touched_at = now() - interval '3 days'`);
  const saves = old.map((blob) => log.post(id, 0, [entry(shows(blob))]));
  const sweeps = Array.from({ length: 8 }, () => sweep(db));
  const answers = await Promise.all(saves);
  await Promise.all(sweeps);
  const kept = await left(old);
  // Either it was swept before it was named, and refused; or it was named, and is there.
  expect(answers.map(({ state }) => state === 'saved')).toEqual(kept);
});

test('of a long history the last steps stay, and every state that has a name or was delivered', async () => {
  const id = await started();
  const opacity = (value: number) => entry({ do: 'set-layer', layer: 'a', set: { opacity: value } });
  const most = 2600;
  for (let at = 0; at < most; at += 100)
    await log.post(
      id,
      at,
      Array.from({ length: 100 }, (_, i) => opacity((at + i + 1) % 101)),
    );
  const version = { id: 'v', name: 'Named', revision: 123 };
  await log.post(id, most, [entry({ do: 'add-version', version })]);
  const values = { liveryId: id, revision: 77, specKey: 'x', specVersion: 1, host: '', game: 'g', folder: 'f/' };
  const taken = (await takeDelivery(db, (await createDelivery(db, values)).id))!;
  await commitFiles(db, taken, { files: [], zip: null, seconds: 0 });
  await finishDelivery(db, taken, { state: 'done' });
  const stateAt = async (revision: number) =>
    (await getLivery(db, id, revision)).livery.sheets[0].maps[0].layers[0].opacity;
  expect((await sweep(db)).steps).toBe(0);
  await db
    .update(edit)
    .set({ at: new Date(Date.now() - 8 * DAY) })
    .where(eq(edit.liveryId, id));
  expect((await sweep(db)).steps).toBe(601);
  forgetHead(id);
  for (const revision of [0, 77, 123, 500, 601, 602, 1500, most])
    expect(await stateAt(revision)).toBe(revision === 0 ? 100 : revision % 101);
  await expect(stateAt(300)).rejects.toThrow(/Step 124|missing/);
  expect((await entriesUpTo(db, id, 602, 200)).map((e) => e.revision)).toEqual([602]);
  expect(await entriesUpTo(db, id, 601, 200)).toEqual([]);
  // Again, a week later, with more steps.
  await log.post(
    id,
    most + 1,
    Array.from({ length: 300 }, (_, i) => opacity(i % 101)),
  );
  await db
    .update(edit)
    .set({ at: new Date(Date.now() - 8 * DAY) })
    .where(eq(edit.liveryId, id));
  expect((await sweep(db)).steps).toBe(300);
  forgetHead(id);
  for (const revision of [0, 77, 123, 500, 901])
    expect(await stateAt(revision)).toBe(revision === 0 ? 100 : revision % 101);
  expect((await sweep(db)).steps).toBe(0);
});

test('what was worked out of a model stays while somebody needs it, and goes with its bytes when nobody does', async () => {
  const template = smallTemplate();
  const field = Uint8Array.from({ length: 400 }, (_, i) => i);
  const kept = async () => [...(await keptFields(db, template, ['height', 'hollows'])).values()].map((of) => [...of]);
  await keepField(db, template, 'height', field);
  await sweep(db, later(13));
  expect(await kept()).toEqual([[...field]]);
  // Of the same mesh under another name it is the same; of another mesh it is not.
  expect((await keptFields(db, { ...template, name: 'Another' }, ['height'])).size).toBe(1);
  const moved = { ...template.mesh, positions: template.mesh.positions.map((v) => v + 1) };
  expect((await keptFields(db, { ...template, mesh: moved }, ['height'])).size).toBe(0);
  await sweep(db, later(15));
  expect(await kept()).toEqual([]);
  expect((await getBlobs(db, [hashOf(field)])).size).toBe(0);
  await keepField(db, template, 'height', field);
  expect(await kept()).toEqual([[...field]]);
});

test('what each livery takes is said, and what several share counts for none', async () => {
  const [a, b] = [await started(), await started()];
  const [own, both] = [await pixels(), await pixels()];
  await log.post(a, 0, [entry(shows(own)), entry(shows(both))]);
  await log.post(b, 0, [entry(shows(both))]);
  const { liveries, total, shared } = await storageOf(db);
  const of = (id: string) => liveries.find((one) => one.id === id)!;
  const size = (await getBlobs(db, [own])).get(own)!.length;
  expect(of(a)).toMatchObject({ pictures: size, delivered: 0 });
  expect(of(b).pictures).toBe(0);
  expect(of(a).steps).toBeGreaterThan(of(b).steps);
  expect(shared).toBeGreaterThan(0);
  expect(total).toBeGreaterThanOrEqual(shared + size);
});

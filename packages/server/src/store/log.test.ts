/**
 * Whatever is in the log can be opened: random and hostile edits, refused batches, logs and states that an earlier version or a fault
 * left behind.
 */
import { randomUUID } from 'node:crypto';
import path from 'node:path';
import { eq, sql } from 'drizzle-orm';
import type pg from 'pg';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { packPixels } from '@wet-lacquer/core/files/pixels.ts';
import { readBundle } from '@wet-lacquer/core/files/bundle.ts';
import { undoEntry, type Entry } from '@wet-lacquer/core/livery/history.ts';
import { EditId } from '@wet-lacquer/core/livery/ids.ts';
import { Livery } from '@wet-lacquer/core/livery/livery.ts';
import { packStroke } from '@wet-lacquer/core/paint/strokes.ts';
import { newImage } from '@wet-lacquer/core/raster/image.ts';
import { randomFrom } from '@wet-lacquer/core/testing/images.ts';
import { layerOf, smallLivery, smallTemplate } from '@wet-lacquer/core/testing/scenes.ts';
import { freshDatabase } from '../testing/server.ts';
import { threadsHere } from '../testing/threadsHere.ts';
import { putBlob } from './blobs.ts';
import { loadBundle, makeBundle } from './bundles.ts';
import { bringUpToDate, connect, transact, type Db } from './db.ts';
import { forgetHead } from './heads.ts';
import {
  asideOf,
  createLivery,
  deleteLivery,
  entriesAfter,
  getLivery,
  listHeads,
  readUpTo,
  returnToGood,
  setBinned,
} from './liveries.ts';
import { Log } from './log.ts';
import { edit, livery as head, snapshot } from './schema.ts';
import { putTemplate } from './templates.ts';

const migrations = path.resolve(import.meta.dirname, '../../drizzle');
let db: Db;
let pool: pg.Pool;
let log: Log;
const blobs: Record<'pixels' | 'stroke' | 'svg' | 'other' | 'lying', string> = {} as never;

beforeAll(async () => {
  ({ db, pool } = connect(await freshDatabase()));
  await bringUpToDate(pool, migrations);
  log = new Log(db, threadsHere);
  blobs.pixels = await putBlob(db, packPixels(newImage(8, 4)));
  const patch = { left: 0, top: 0, width: 2, height: 2, values: Uint16Array.of(1, 2, 3, 4) };
  blobs.stroke = await putBlob(db, packStroke({ channels: 1, patches: [patch] }));
  const drawing = '<svg xmlns="http://www.w3.org/2000/svg" width="9" height="9"><path d="M0 0h9v9z"/></svg>';
  blobs.svg = await putBlob(db, new TextEncoder().encode(drawing));
  blobs.other = await putBlob(db, Uint8Array.of(1, 2, 3));
  // The head of stored pixels, and nothing behind it.
  blobs.lying = await putBlob(db, packPixels(newImage(8, 4)).slice(0, 14));
});
afterAll(() => pool.end());

const entry = (what: unknown, person = 'ann', label = 'a step'): Entry => ({
  ...{ id: EditId.parse(randomUUID()), person, edit: what as Entry['edit'], undoes: null, redoes: null, label },
});
const started = async () => {
  const begun = smallLivery([layerOf('solid', { id: 'a', paint: { scheme: 'red' } })]);
  return createLivery(db, { ...begun, pins: { ...begun.pins, template: await putTemplate(db, smallTemplate()) } });
};
const add = (layer: unknown, index = 0) => ({ do: 'add-layer', sheet: 'face', map: 'colour', layer, index });
const opacity = (layer: string, value: number) => ({ do: 'set-layer', layer, set: { opacity: value } });
const rowsOf = async (id: string) =>
  (await db.select({ revision: edit.revision }).from(edit).where(eq(edit.liveryId, id))).length;

/** A livery of a template that has a sheet of plates of 64 texels beside its own. */
const withPlates = async () => {
  const plain = smallTemplate();
  const template = {
    ...plain,
    sheets: [...plain.sheets, { ...plain.sheets[0], key: 'plates', name: 'plates', plates: true as const }],
  };
  const begun = smallLivery([], template);
  return createLivery(db, { ...begun, pins: { ...begun.pins, template: await putTemplate(db, template) } });
};

describe('plates', () => {
  const plate = (rest: object = {}) => ({
    do: 'add-plate',
    plate: {
      ...{ id: randomUUID(), name: 'One', sheet: 'plates', left: 0, top: 0, width: 64, height: 32, at: [0, 0, 0] },
      ...{ facing: [0, 0, 1], up: [0, 1, 0], across: 1, lift: 0, form: { kind: 'flat' }, ...rest },
    },
  });
  test.each<[string, () => unknown, RegExp]>([
    ['on a sheet that the model wears', () => plate({ sheet: 'face' }), /"face" is not a sheet of plates/],
    ['on a sheet that is not there', () => plate({ sheet: 'constructor' }), /constructor/],
    ['beyond its sheet', () => plate({ left: 4 }), /reaches beyond its sheet of 64 x 64/],
    ['below it', () => plate({ top: 40 }), /reaches beyond/],
    [
      'the 201st',
      () => ({ do: 'together', edits: Array.from({ length: 201 }, () => plate()) }),
      /A livery can have 200 plates; this would make 20[23]/,
    ],
    ['moved off its sheet', () => ({ do: 'set-plate', plate: 'here', set: { left: 32 } }), /reaches beyond/],
    ['moved to a sheet of the model', () => ({ do: 'set-plate', plate: 'here', set: { sheet: 'face' } }), /face/],
  ])('%s: refused, and nothing of its batch stays', async (_name, what, why) => {
    const id = await withPlates();
    expect(await log.post(id, 0, [entry(plate({ id: 'here' }))])).toMatchObject({ state: 'saved', revision: 1 });
    const answer = await log.post(id, 1, [entry(plate()), entry(what())]);
    expect(answer).toMatchObject({ state: 'refused', why: expect.stringMatching(why) });
    expect((await getLivery(db, id)).livery.plates).toHaveLength(1);
  });

  test('a step for one that is gone is told so, and changes nothing', async () => {
    const id = await withPlates();
    await log.post(id, 0, [entry(plate({ id: 'here' })), entry({ do: 'remove-plate', plate: 'here' }, 'bob')]);
    const late = entry({ do: 'set-plate', plate: 'here', set: { lift: 0.01 } });
    expect(await log.post(id, 1, [late])).toMatchObject({
      state: 'refused',
      why: expect.stringMatching(/no longer there/),
    });
    expect((await getLivery(db, id)).livery).not.toHaveProperty('plates');
  });
});

describe('what would leave a livery that cannot be opened is refused, and nothing of its batch stays', () => {
  const place = { x: 0, y: 0, width: 8, height: 4, turn: 0, mirrored: false, keepRatio: true, recolour: [] };
  const decal = (blob: string, source: string) => add(layerOf('decal', { ...place, blob, source, ratio: 2 }));
  const none = 'f'.repeat(64);
  const brush = (blob: string, tiles: number[]) =>
    add(
      layerOf('brush', { strokes: [{ id: 's', how: 'paint', paint: { hex: '#ff0000' }, opacity: 100, blob, tiles }] }),
    );
  const whole = async (id: string) => (await getLivery(db, id)).livery;
  const hostile: [string, (id: string) => unknown, RegExp][] = [
    ['a decal of nothing', () => decal(none, 'pixels'), /is not here/],
    ['a decal of a drawing that says it is pixels', () => decal(blobs.svg, 'pixels'), /is not here/],
    ['a decal of pixels that says it is a drawing', () => decal(blobs.pixels, 'svg'), /is not here/],
    ['a decal of bytes that are neither', () => decal(blobs.other, 'svg'), /is not here/],
    ['a picture that only begins as one', () => decal(blobs.lying, 'pixels'), /is not here/],
    [
      'a picture of another size than its pixels',
      () => add(layerOf('picture', { blob: blobs.pixels, left: 0, top: 0, width: 9, height: 4 })),
      /8 x 4, not 9 x 4/,
    ],
    ['a stroke whose pixels never came', () => brush(none, [0]), /have not arrived/],
    ['a stroke of another number of tiles', () => brush(blobs.stroke, [0, 1]), /does not fit/],
    ['a stroke of pixels', () => brush(blobs.pixels, [0]), /have not arrived/],
    ['lettering in no font', () => add(layerOf('lettering', { ...lettering, font: 'constructor' })), /font/],
    [
      'another template that is not here',
      () => ({ do: 'take-template', template: none, spec: { key: 'brackwater-run', version: 1 }, sheets: [] }),
      /template/,
    ],
    ['a spec that is not here', () => ({ do: 'also-by', specs: [{ key: 'nobody', version: 1 }] }), /spec "nobody"/],
    ['a spec called as objects are', () => ({ do: 'also-by', specs: [{ key: 'constructor', version: 1 }] }), /spec/],
    [
      'a version of a spec that is not here',
      () => ({ do: 'also-by', specs: [{ key: 'longhaul', version: 99 }] }),
      /99/,
    ],
    ['a font by another hash', () => ({ do: 'pin-font', font: 'anton', hash: none }), /anton/],
    [
      'a livery without its sheet',
      async (id) => ({
        do: 'become',
        livery: { ...(await whole(id)), sheets: [{ ...(await whole(id)).sheets[0], key: 'other' }] },
      }),
      /without the sheet/,
    ],
    ['a layer twice', async (id) => ({ do: 'become', livery: twice(await whole(id)) }), /same id/],
    [
      'the 501st layer',
      () => ({
        do: 'together',
        edits: Array.from({ length: 500 }, (_, i) => add(layerOf('solid', { id: `n${i}`, paint: { hex: '#000000' } }))),
      }),
      /500 layers/,
    ],
    [
      'the 65th colour',
      () => ({
        do: 'together',
        edits: Array.from({ length: 63 }, (_, i) => ({
          do: 'add-colour',
          index: 0,
          colour: { id: `c${i}`, name: 'c', hex: '#000000' },
        })),
      }),
      /64 scheme colours/,
    ],
    [
      'more work than a server should do at once',
      () => ({ do: 'together', edits: Array.from({ length: 600 }, () => opacity('a', 1)) }),
      /never/,
    ],
  ];
  const lettering = {
    ...{ text: '7', font: 'anton', size: 20, x: 0, y: 0, turn: 0, paint: { hex: '#ffffff' }, outline: null },
    ...{ spacing: 0, slant: 0, mirrored: false },
  };
  function twice(livery: Livery): Livery {
    const [sheet] = livery.sheets;
    const [map] = sheet.maps;
    return { ...livery, sheets: [{ ...sheet, maps: [{ ...map, layers: [map.layers[0], map.layers[0]] }] }] };
  }

  test.each(hostile.slice(0, -1))('%s', async (_name, what, why) => {
    const id = await started();
    const good = entry(opacity('a', 40));
    const answer = await log.post(id, 0, [good, entry(await what(id))]);
    expect(answer).toMatchObject({ state: 'refused', why: expect.stringMatching(why) });
    expect(await rowsOf(id)).toBe(0);
    // The others of the livery go on.
    expect(await log.post(id, 0, [good])).toMatchObject({ state: 'saved', revision: 1 });
  });

  test('what is in order is taken', async () => {
    const id = await started();
    const picture = { name: 'p', blob: blobs.pixels, sheet: 'face', left: 0, top: 0, width: 9, height: 9 };
    const selection = { name: 'q', sheet: 'face', blob: blobs.stroke, tiles: [0] };
    const fine = [
      { do: 'add-reference', reference: { id: 'p1', ...picture } },
      { do: 'add-reference', reference: { id: 'p2', ...picture } },
      { do: 'add-selection', selection: { id: 'q1', ...selection } },
      { do: 'add-selection', selection: { id: 'q2', ...selection } },
      decal(blobs.svg, 'svg'),
      decal(blobs.pixels, 'pixels'),
      brush(blobs.stroke, [0]),
      add(layerOf('picture', { blob: blobs.pixels, left: 0, top: 0, width: 8, height: 4 })),
      add(layerOf('lettering', lettering)),
      { do: 'also-by', specs: [{ key: 'longhaul', version: 1 }] },
    ];
    expect(
      await log.post(
        id,
        0,
        fine.map((one) => entry(one)),
      ),
    ).toMatchObject({ state: 'saved', revision: fine.length });
    // Each of them one by one, with nothing of what it leans on in the step, by a server that has just begun.
    for (const { id: layer } of (await getLivery(db, id)).livery.sheets[0].maps[0].layers) {
      forgetHead(id);
      const { revision } = await getLivery(db, id);
      expect(await log.post(id, revision, [entry(opacity(layer, 60))])).toMatchObject({ state: 'saved' });
    }
    const moves = [
      { do: 'move-reference', reference: 'p1', set: { left: 4 } },
      { do: 'remove-selection', selection: 'q1' },
    ];
    for (const move of moves) expect(await log.post(id, 0, [entry(move)])).toMatchObject({ state: 'saved' });
  });
});

test('a batch that one of many posts at once cannot be spoils none of the others', async () => {
  const id = await started();
  const posts = Array.from({ length: 40 }, (_, i) => entry(opacity(i % 4 === 0 ? 'nobody' : 'a', i)));
  const answers = await Promise.all(posts.map((one) => log.post(id, 0, [one])));
  expect(answers.map(({ state }) => state)).toEqual(posts.map((_, i) => (i % 4 === 0 ? 'refused' : 'saved')));
  const entries = await entriesAfter(db, id, 0);
  expect(entries.map((e) => e.revision)).toEqual(Array.from({ length: 30 }, (_, i) => i + 1));
  // Everybody was told everything up to where the log then was.
  for (const answer of answers)
    if (answer.state === 'saved')
      expect(answer.entries.map((e) => e.id)).toEqual(entries.slice(0, answer.revision).map((e) => e.id));
});

test('a state that another process moved on is not mistaken for the present one', async () => {
  const id = await started();
  await log.post(id, 0, [entry(opacity('a', 10))]);
  const other = new Log(db, threadsHere);
  forgetHead(id);
  await other.post(id, 1, [entry({ do: 'remove-layer', layer: 'a' })]);
  expect(await log.post(id, 1, [entry(opacity('a', 20))])).toMatchObject({ state: 'refused' });
});

test('a long absence comes in pieces', async () => {
  const id = await started();
  for (let k = 0; k < 3; k++)
    await log.post(
      id,
      k * 250,
      Array.from({ length: 250 }, (_, i) => entry(opacity('a', i % 100))),
    );
  const answer = await log.post(id, 0, [entry(opacity('a', 1))]);
  if (answer.state !== 'saved') throw new Error('refused');
  expect([answer.revision, answer.entries.length, answer.more]).toEqual([751, 500, true]);
  expect(answer.entries[0].revision).toBe(1);
});

/** A random edit, most of them possible, some hostile in a way that no list above has. */
function randomEdit(livery: Livery, random: () => number): unknown {
  const layers = livery.sheets[0].maps[0].layers;
  const pick = <T>(of: readonly T[]): T => of[Math.floor(random() * of.length)];
  const layer = pick(layers)?.id ?? 'nobody';
  const blob = pick([...Object.values(blobs), 'f'.repeat(64)]);
  const value = pick<unknown>([
    0,
    1,
    -1,
    1e9,
    0.5,
    '',
    'x',
    null,
    true,
    [],
    {},
    '\ud83d\ude00'.repeat(70),
    [1, 2],
    blob,
  ]);
  const text = pick(['Night', '{number}', '{constructor}', '\u202e', 'x'.repeat(199), '\u0301'.repeat(50), '']);
  const tiles = pick([[0], [0, 1], [63], [4095], []]);
  const stroke = {
    id: `s${Math.floor(random() * 9)}`,
    how: pick(['paint', 'erase', 'pixels']),
    opacity: 50,
    blob,
    tiles,
  };
  const key = pick([
    'opacity',
    'name',
    'blend',
    'blob',
    'mask',
    'group',
    'filters',
    'parts',
    'x',
    'strokes',
    'paint',
    'clipped',
  ]);
  const mask = {
    from: pick<unknown>([{ kind: 'all' }, { kind: 'layer', layer }, { kind: 'coverage', blob, tiles }]),
    strokes: [],
  };
  const whole = { ...mask, inverted: false, feather: 0, off: false, linked: null };
  const fresh = pick([
    () =>
      layerOf('solid', { id: `r${Math.floor(random() * 30)}`, paint: pick([{ scheme: 'red' }, { scheme: 'gone' }]) }),
    () => layerOf('group', { through: random() < 0.5, group: layer, name: text.slice(0, 60) || 'g' }),
    () => layerOf('brush', { strokes: tiles.length > 0 ? [{ ...stroke, tiles }] : [] }),
    () => layerOf('adjust', { filters: [{ kind: 'blur', radius: 128 }], clipped: true }),
  ]);
  return pick<() => unknown>([
    () => add(fresh(), Math.floor(random() * 99)),
    () => ({ do: 'remove-layer', layer }),
    () => ({ do: 'move-layer', layer, sheet: pick(['face', 'constructor']), map: 'colour', index: 3 }),
    () => ({ do: 'set-layer', layer, set: { [key]: value } }),
    () => ({ do: 'set-layer', layer, set: { mask: whole } }),
    () => ({ do: 'set-layer', layer, set: { group: layer } }),
    () => ({ do: 'add-stroke', layer, on: pick(['layer', 'mask']), stroke }),
    () => ({ do: 'remove-stroke', layer, on: 'layer', stroke: 's1' }),
    () => ({
      do: 'set-particular',
      key: pick(['name', 'number', 'team', 'valueOf', 'key']),
      value: pick([text, null]),
    }),
    () => ({
      do: 'add-colour',
      index: 9,
      colour: { id: `k${Math.floor(random() * 9)}`, name: text || 'c', hex: '#123456' },
    }),
    () => ({ do: 'remove-colour', colour: pick(['red', 'blue', 'k1']) }),
    () => ({ do: 'set-sheet', sheet: 'face', set: { boxes: { [pick(['a', 'toString'])]: '#11223344' } } }),
    () => ({ do: 'add-selection', selection: { id: 'q', name: text || 'q', sheet: 'face', blob, tiles } }),
    () => ({
      do: 'add-reference',
      reference: { id: 'p', name: 'p', blob, sheet: 'face', left: 0, top: 0, width: 9, height: 9 },
    }),
    () => ({ do: 'become', livery }),
    () => ({ do: 'together', edits: [opacity(layer, 3), { do: 'remove-layer', layer }, add(fresh())] }),
  ])();
}

test.each([1, 2, 3, 4])(
  'whatever of random and hostile edits is taken can be opened, listed, undone and bundled (%i)',
  async (seed) => {
    const random = randomFrom(seed);
    const id = await started();
    const { Entry: Schema } = await import('@wet-lacquer/core/livery/history.ts');
    let [taken, refused] = [0, 0];
    for (let k = 0; k < 250; k++) {
      const { livery, revision } = await getLivery(db, id);
      const parsed = Schema.safeParse(entry(randomEdit(livery, random)));
      if (!parsed.success) {
        refused++;
        continue;
      }
      const answer = await log.post(id, Math.max(0, revision - Math.floor(random() * 3)), [parsed.data]);
      if (answer.state === 'refused') refused++;
      else taken++;
      if (k % 50 !== 49) continue;
      // From the rows alone, and as a document that anybody may send.
      forgetHead(id);
      const now = await getLivery(db, id);
      expect(Livery.safeParse(now.livery).error).toBeUndefined();
      const bundle = await makeBundle(db, threadsHere, now.livery);
      expect((await readBundle(bundle)).livery.sheets).toEqual(now.livery.sheets);
      const opened = await getLivery(db, await loadBundle(db, threadsHere, bundle));
      expect(opened.livery.sheets).toEqual(now.livery.sheets);
    }
    expect(taken).toBeGreaterThan(60);
    expect(refused).toBeGreaterThan(40);
    // All of it can be taken back, to the state that it began with.
    for (;;) {
      const { revision } = await getLivery(db, id);
      const entries = [...(await entriesAfter(db, id, 0)), ...(await entriesAfter(db, id, 500))];
      const back = undoEntry(entries, { id: EditId.parse(randomUUID()), person: 'ann' });
      if (!back) break;
      const answer = await log.post(id, revision, [back]);
      expect(answer.state === 'saved' ? '' : `${answer.why} ${JSON.stringify(back.edit)}`).toBe('');
    }
    const { livery } = await getLivery(db, id, 0);
    expect((await getLivery(db, id)).livery).toEqual(livery);
  },
);

describe('what went wrong before', () => {
  test('rows above the head of their log are set aside at the start, and saving goes on', async () => {
    const id = await started();
    await log.post(id, 0, [entry(opacity('a', 10))]);
    const stray = entry(opacity('a', 77), 'bob', 'Stray');
    await db.insert(edit).values({ ...stray, liveryId: id, revision: 2, inverse: stray.edit });
    forgetHead(id);
    await expect(log.post(id, 1, [entry(opacity('a', 20))])).rejects.toThrow();
    await bringUpToDate(pool, migrations);
    expect(await asideOf(db, id)).toMatchObject([{ id: stray.id, entry: stray }]);
    expect(await log.post(id, 1, [entry(opacity('a', 20))])).toMatchObject({ state: 'saved', revision: 2 });
  });

  test.each(['a step that cannot be', 'a state that is none', 'a step that is missing'])(
    '%s: the livery is read up to there, and can go on from there',
    async (fault) => {
      const id = await started();
      for (let k = 0; k < 6; k++) await log.post(id, k, [entry(opacity('a', 10 + k))]);
      const at = sql`${edit.liveryId} = ${id} and ${edit.revision} = 4`;
      if (fault === 'a step that cannot be')
        await db
          .update(edit)
          .set({ edit: opacity('nobody', 1) as never })
          .where(at);
      if (fault === 'a step that is missing') await db.delete(edit).where(at);
      if (fault === 'a state that is none')
        await db.insert(snapshot).values({ liveryId: id, revision: 5, document: { schema: 1 } as never });
      forgetHead(id);
      const whole = fault === 'a state that is none';
      if (whole) {
        // An earlier state and the steps after it say the same.
        expect((await getLivery(db, id)).revision).toBe(6);
        return;
      }
      await expect(getLivery(db, id)).rejects.toThrow(/Step 4/);
      expect(await readUpTo(db, id, 6)).toMatchObject({ revision: 3, trouble: expect.stringMatching(/Step 4/) });
      expect(await returnToGood(db, id)).toBe(3);
      expect((await getLivery(db, id)).livery.sheets[0].maps[0].layers[0].opacity).toBe(12);
      expect((await asideOf(db, id)).length).toBe(fault === 'a step that cannot be' ? 3 : 2);
      expect(await log.post(id, 3, [entry(opacity('a', 99))])).toMatchObject({ state: 'saved', revision: 4 });
      await expect(returnToGood(db, id)).rejects.toThrow(/can be read/);
    },
  );

  test('with no good state at all the livery is named, and can be put into the bin', async () => {
    const id = await started();
    await db
      .update(snapshot)
      .set({ document: { schema: 9 } as never })
      .where(eq(snapshot.liveryId, id));
    expect(await readUpTo(db, id, 0)).toMatchObject({ revision: -1, trouble: expect.stringMatching(/version 9/) });
    await expect(returnToGood(db, id)).rejects.toThrow(/No state/);
    await setBinned(db, id, true);
    expect((await listHeads(db)).map((one) => one.id)).not.toContain(id);
  });
});

test('what is in the bin takes no steps, comes out again as it was, and is deleted from there alone', async () => {
  const id = await started();
  await expect(deleteLivery(db, id)).rejects.toThrow(/bin/);
  await setBinned(db, id, true);
  expect((await listHeads(db, 'in the bin')).map((one) => one.id)).toContain(id);
  await expect(log.post(id, 0, [entry(opacity('a', 1))])).rejects.toThrow(/bin/);
  await setBinned(db, id, false);
  expect(await log.post(id, 0, [entry(opacity('a', 1))])).toMatchObject({ state: 'saved' });
  await setBinned(db, id, true);
  await deleteLivery(db, id);
  expect(await db.select().from(head).where(eq(head.id, id))).toEqual([]);
});

test('whoever says no within a transaction leaves nothing', async () => {
  const id = await started();
  const refusal = { state: 'refused' } as const;
  const answer = await transact(db, async (tx, no: (answer: { state: 'refused' }) => never) => {
    await tx.update(head).set({ revision: 7 }).where(eq(head.id, id));
    if (id) return no(refusal);
    return { state: 'saved' };
  });
  expect(answer).toBe(refusal);
  expect((await getLivery(db, id)).revision).toBe(0);
});

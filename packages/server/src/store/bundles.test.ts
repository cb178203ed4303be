/** A bundle comes in by the same door as a step: what is opened can be drawn, bundled and opened again, or leaves nothing. */
import path from 'node:path';
import { sql } from 'drizzle-orm';
import { unzipSync, zipSync } from 'fflate';
import type pg from 'pg';
import { afterAll, beforeAll, beforeEach, expect, test } from 'vitest';
import { packPixels } from '@wet-lacquer/core/files/pixels.ts';
import type { Livery } from '@wet-lacquer/core/livery/livery.ts';
import { packStroke } from '@wet-lacquer/core/paint/strokes.ts';
import { newImage } from '@wet-lacquer/core/raster/image.ts';
import { layerOf, smallLivery, smallTemplate } from '@wet-lacquer/core/testing/scenes.ts';
import { freshDatabase } from '../testing/server.ts';
import { threadsHere } from '../testing/threadsHere.ts';
import { putBlob } from './blobs.ts';
import { loadBundle, makeBundle } from './bundles.ts';
import { bringUpToDate, connect, type Db } from './db.ts';
import { getLivery } from './liveries.ts';
import { blob } from './schema.ts';
import { putTemplate } from './templates.ts';

let db: Db;
let pool: pg.Pool;
/** The files of a bundle that opens. */
let good: Record<string, Uint8Array>;
let hashes: Record<'picture' | 'stroke' | 'drawing', string>;

beforeAll(async () => {
  ({ db, pool } = connect(await freshDatabase()));
  await bringUpToDate(pool, path.resolve(import.meta.dirname, '../../drizzle'));
  const patch = { left: 0, top: 0, width: 2, height: 2, values: Uint16Array.of(1, 2, 3, 4) };
  const drawing = '<svg xmlns="http://www.w3.org/2000/svg" width="9" height="9"><path d="M0 0h9v9z"/></svg>';
  hashes = {
    picture: await putBlob(db, packPixels(newImage(8, 4))),
    stroke: await putBlob(db, packStroke({ channels: 1, patches: [patch] })),
    drawing: await putBlob(db, new TextEncoder().encode(drawing)),
  };
  const template = smallTemplate();
  const place = { x: 0, y: 0, width: 8, height: 4, turn: 0, mirrored: false, keepRatio: true, recolour: [] };
  const lettering = {
    ...{ text: '7', font: 'anton', size: 20, x: 0, y: 0, turn: 0, paint: { hex: '#ffffff' }, outline: null },
    ...{ spacing: 0, slant: 0, mirrored: false },
  };
  const layers = [
    layerOf('picture', { id: 'p', blob: hashes.picture, left: 0, top: 0, width: 8, height: 4 }),
    layerOf('decal', { ...place, id: 'd', blob: hashes.drawing, source: 'svg', ratio: 1 }),
    layerOf('brush', {
      id: 'b',
      strokes: [{ id: 's', how: 'paint', paint: { scheme: 'red' }, blob: hashes.stroke, opacity: 100, tiles: [0] }],
    }),
    layerOf('lettering', { ...lettering, id: 'l' }),
  ];
  const livery = {
    ...smallLivery(layers),
    pins: { ...smallLivery([]).pins, template: await putTemplate(db, template) },
  };
  good = unzipSync(await makeBundle(db, threadsHere, livery as Livery));
  // Another server, where nothing of it is.
  await pool.end();
  ({ db, pool } = connect(await freshDatabase()));
  await bringUpToDate(pool, path.resolve(import.meta.dirname, '../../drizzle'));
});
afterAll(() => pool.end());

const rows = async () =>
  (
    await db.execute<{ n: number }>(sql`select (select count(*) from livery) + (select count(*) from blob)
      + (select count(*) from template) + (select count(*) from decal) + (select count(*) from spec) as n`)
  ).rows[0].n;

// eslint-disable-next-line @typescript-eslint/no-explicit-any -- documents that are none of ours
type Loose = any;
const packed = (change: (livery: Loose, files: Record<string, Uint8Array>) => void) => {
  const files = { ...good };
  const livery = JSON.parse(new TextDecoder().decode(files['livery.json']));
  change(livery, files);
  return zipSync({ ...files, 'livery.json': new TextEncoder().encode(JSON.stringify(livery)) });
};
const layer = (livery: Loose, id: string) =>
  livery.sheets.flatMap((s: Loose) => s.maps.flatMap((m: Loose) => m.layers)).find((l: Loose) => l.id === id);

let before: number;
beforeEach(async () => void (before = await rows()));

test.each<[string, RegExp, (livery: Loose, files: Record<string, Uint8Array>) => void]>([
  ['a picture of another size', /is 8 x 4, not 8 x 5/, (l) => void (layer(l, 'p').height = 5)],
  ['two layers of one id', /same id/, (l) => void (layer(l, 'd').id = 'p')],
  ['a sheet less than its template', /without the sheet/, (l) => void (l.sheets[0].key = 'other')],
  ['a map less than its template', /without its map/, (l) => void (l.sheets[0].maps[0].key = 'night')],
  [
    'a sheet twice',
    /same key/,
    (l) => void l.sheets.push({ ...l.sheets[0], maps: [{ ...l.sheets[0].maps[0], layers: [] }] }),
  ],
  ['a drawing called pixels', /is not here/, (l) => void (layer(l, 'd').source = 'pixels')],
  ['a picture that is a stroke', /is not here/, (l) => void (layer(l, 'p').blob = hashes.stroke)],
  ['a stroke that is a picture', /is not here/, (l) => void (layer(l, 'b').strokes[0].blob = hashes.picture)],
  ['a stroke of more tiles', /does not fit/, (l) => layer(l, 'b').strokes[0].tiles.push(1)],
  ['a stroke in colour called coverage', /does not fit/, (l) => void (layer(l, 'b').strokes[0].how = 'pixels')],
  ['more colours than a livery can have', /./, (l) => void (l.scheme = Array(80).fill(l.scheme[0]))],
  ['a spec that is nowhere', /spec .* is not here/, (l) => void (l.pins.spec = { key: 'nobodys', version: 3 })],
  [
    'a blob that is nothing',
    /damaged|hash|not what/,
    (_l, files) => void (files[`blobs/${hashes.picture}`] = Uint8Array.of(1, 2, 3)),
  ],
])('%s: no, and nothing is left of it', async (_, why, change) => {
  await expect(loadBundle(db, threadsHere, packed(change))).rejects.toThrow(why);
  expect(await rows()).toBe(before);
});

test('a good one is looked at once: what its blobs are is known from then on; a spec that is not here as well stays behind', async () => {
  const id = await loadBundle(
    db,
    threadsHere,
    packed((l) => void (l.alsoBy = [{ key: 'nobodys', version: 1 }])),
  );
  const { livery } = await getLivery(db, id);
  expect(livery.alsoBy).toBeUndefined();
  const facts = await db.select({ hash: blob.hash, facts: blob.facts }).from(blob);
  for (const hash of Object.values(hashes)) expect(facts.find((one) => one.hash === hash)?.facts).not.toBeNull();
  const again = await loadBundle(db, threadsHere, await makeBundle(db, threadsHere, livery));
  expect((await getLivery(db, again)).livery).toEqual(livery);
});

/**
 * No half-written package under its final name, no lost history, every job done in the end: the server and PostgreSQL are killed with
 * SIGKILL at random moments while many liveries are delivered. KILL_LIVERIES=25 KILL_ROUNDS=8 makes 200 deliveries of it.
 */
import { randomUUID } from 'node:crypto';
import { mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { unzipSync } from 'fflate';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { loader as marshkin } from '@wet-lacquer/core/games/marshkin/loader.ts';
import { randomFrom } from '@wet-lacquer/core/testing/images.ts';
import { layerOf } from '@wet-lacquer/core/testing/scenes.ts';
import { gameFolder, readGameFolder } from '@wet-lacquer/node/gameFolder.ts';
import { startServer, until, type TestServer } from '../testing/server.ts';
// The start scripts are plain JavaScript: they run before anything is installed.
import { startPostgres } from '../../../../scripts/postgres.mjs';
import { hashOf } from '@wet-lacquer/node/hash.ts';

const LIVERIES = Number(process.env.KILL_LIVERIES ?? 8);
const ROUNDS = Number(process.env.KILL_ROUNDS ?? 4);
/** How long something may go on after the last of those answers that are waited for. */
const WITHIN_MS = 80 * LIVERIES;

interface Delivered {
  id: string;
  state: string;
  error: string | null;
  zip: string | null;
  package: string;
}

let folder: string;
let postgres: Awaited<ReturnType<typeof startPostgres>>;
let server: TestServer;

beforeAll(async () => {
  folder = mkdtempSync(path.join(os.tmpdir(), 'wl-kill-'));
  postgres = await startPostgres(path.join(folder, 'pg'));
  const databaseUrl = await postgres.database('kill');
  server = await startServer({ databaseUrl, data: path.join(folder, 'data'), demo: true });
});
afterAll(async () => {
  await server?.kill();
  await postgres?.stop();
  rmSync(folder, { recursive: true, force: true });
});

const crates = () => path.join(gameFolder(server.data, 'marshkin'), 'crates');
const entry = (change: object) => ({
  id: randomUUID(),
  person: 'ann',
  edit: change,
  undoes: null,
  redoes: null,
  label: 'a step',
});

async function started(name: string): Promise<{ id: string; layer: string; revision: number; asked: string[] }> {
  const cards = await server.get<{ hash: string; key: string }[]>('/templates');
  const template = cards.find((card) => card.key === 'lampkin')!.hash;
  const { id } = (await server.post<{ id: string }>('/liveries', { template, name })).body;
  const layer = randomUUID();
  const solid = layerOf('solid', { id: layer, paint: { hex: '#204060' } });
  const entries = [entry({ do: 'add-layer', sheet: 'skin', map: 'colour', index: 0, layer: solid })];
  await server.post(`/liveries/${id}/entries`, { base: 0, entries });
  return { id, layer, revision: 1, asked: [] };
}

/** Every package under its final name is whole, whatever was killed. */
async function allWhole(): Promise<void> {
  const files = await readGameFolder(gameFolder(server.data, 'marshkin'));
  const { keys, ignored } = marshkin.list(files);
  expect(ignored).toEqual([]);
  for (const key of keys) {
    expect(Object.keys(unzipSync(files.get(`crates/${key}.crate`)!))).toHaveLength(2);
    expect(marshkin.load(files, key).sheets.map((sheet) => sheet.status)).toEqual(['shown']);
  }
}

test(`${LIVERIES * ROUNDS} deliveries, and something killed in the middle of them ${ROUNDS} times`, async () => {
  const random = randomFrom(77);
  const liveries: Awaited<ReturnType<typeof started>>[] = [];
  for (let i = 0; i < LIVERIES; i++) liveries.push(await started(`Glow ${i}`));
  const acknowledged = () => liveries.reduce((n, livery) => n + livery.asked.length, 0);
  for (let round = 0; round < ROUNDS; round++) {
    // Another colour each time: nothing can be taken from the delivery before.
    const hex = `#${(0x204060 + round * 0x111111).toString(16)}`;
    for (const livery of liveries) {
      const paint = entry({ do: 'set-layer', layer: livery.layer, set: { paint: { hex } } });
      await server.post(`/liveries/${livery.id}/entries`, { base: livery.revision++, entries: [paint] });
    }
    const before = acknowledged();
    const asking = liveries.map(async (livery) => {
      try {
        const { status, body } = await server.post<{ id: string }>(`/liveries/${livery.id}/deliveries`);
        if (status === 201) livery.asked.push(body.id);
      } catch {
        // The server was killed before it answered.
      }
    });
    // By answers first, not by the clock alone: machines differ.
    const answers = Math.min(LIVERIES, Math.floor(random() * LIVERIES * 1.5));
    await until(
      () => Promise.resolve(acknowledged() - before),
      (answered) => answered >= answers,
    );
    await new Promise((resolve) => setTimeout(resolve, random() * WITHIN_MS));
    if (round % 2 === 0) {
      await server.kill();
      await allWhole();
      await Promise.all(asking);
      server = await startServer({ databaseUrl: server.databaseUrl, data: server.data });
    } else {
      postgres.kill();
      await allWhole();
      postgres = await startPostgres(path.join(folder, 'pg'), postgres.port);
      await Promise.all(asking);
    }
    for (const livery of liveries) {
      const all = await until(
        () => server.get<Delivered[]>(`/liveries/${livery.id}/deliveries`).catch(() => null),
        (list) => Array.isArray(list) && list.every((one) => ['done', 'failed', 'cancelled'].includes(one.state)),
      );
      // What was acknowledged is there, once, and done.
      for (const id of livery.asked)
        expect(all!.filter((one) => one.id === id).map((one) => [one.state, one.error])).toEqual([['done', null]]);
      const last = all!.find((one) => one.state === 'done');
      if (last) expect(hashOf(readFileSync(path.join(crates(), path.basename(last.package))))).toBe(last.zip);
    }
    await allWhole();
    expect(readdirSync(crates()).filter((name) => name.startsWith('.lacquer-'))).toEqual([]);
  }
}, 900_000);

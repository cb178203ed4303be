/**
 * Nothing acknowledged is lost: the server, and in other runs PostgreSQL, are killed with SIGKILL in the middle of random edit
 * streams. After the restart every acknowledged edit is there, once, in order, and undo works.
 */
import { randomUUID } from 'node:crypto';
import { mkdtempSync, rmSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { undoEntry, type Entry, type LoggedEntry } from '@wet-lacquer/core/livery/history.ts';
import { EditId } from '@wet-lacquer/core/livery/ids.ts';
import { findLayer, layersIn, type Livery } from '@wet-lacquer/core/livery/livery.ts';
import { randomFrom } from '@wet-lacquer/core/testing/images.ts';
import { startServer, until, type TestServer } from '../testing/server.ts';
// The start scripts are plain JavaScript: they run before anything is installed.
import { startPostgres } from '../../../../scripts/postgres.mjs';

const STREAMS = 50;

interface Open {
  id: string;
  revision: number;
  livery: Livery;
  log: LoggedEntry[];
}
interface Stream {
  id: string;
  acknowledged: string[];
  /** Sent without an answer: may or may not be there, but never twice. */
  unanswered: string | null;
  opacity: Map<string, number>;
}

let folder: string;
let postgres: Awaited<ReturnType<typeof startPostgres>>;
let server: TestServer;
let template: string;

beforeAll(async () => {
  // A cluster of its own: killing the one of the other tests would be unkind to them.
  folder = mkdtempSync(path.join(os.tmpdir(), 'wl-kill-'));
  postgres = await startPostgres(path.join(folder, 'pg'));
  const databaseUrl = await postgres.database('kill');
  server = await startServer({ databaseUrl, data: path.join(folder, 'data'), demo: true });
  template = (await server.get<{ hash: string }[]>('/templates'))[0].hash;
});
afterAll(async () => {
  await server?.kill();
  await postgres?.stop();
  rmSync(folder, { recursive: true, force: true });
});

const edit = (layer: string, opacity: number): Entry => ({
  id: EditId.parse(randomUUID()),
  person: 'ann',
  edit: { do: 'set-layer', layer: layer as never, set: { opacity } },
  undoes: null,
  redoes: null,
  label: 'opacity',
});

/** Sends random edits, one after the other, until the other side is gone. */
async function play(stream: Stream, layers: string[], random: () => number, gone: () => boolean): Promise<void> {
  let base = 0;
  for (let k = 0; k < 400 && !gone(); k++) {
    const layer = layers[Math.floor(random() * layers.length)];
    const opacity = Math.floor(random() * 101);
    const entry = edit(layer, opacity);
    stream.unanswered = entry.id;
    try {
      const { status, body } = await server.post<{ revision: number }>(`/liveries/${stream.id}/entries`, {
        base,
        entries: [entry],
      });
      if (status !== 200) return;
      base = body.revision;
      stream.acknowledged.push(entry.id);
      stream.opacity.set(layer, opacity);
      stream.unanswered = null;
    } catch {
      return;
    }
  }
}

async function streams(): Promise<{ all: Stream[]; layers: string[] }> {
  const bundle = new Uint8Array(
    await (
      await fetch(`${server.url}/api/liveries/${(await server.get<{ id: string }[]>('/liveries'))[0].id}/bundle`)
    ).arrayBuffer(),
  );
  const all: Stream[] = [];
  for (let i = 0; i < STREAMS; i++) {
    const made = (await (
      await fetch(`${server.url}/api/liveries/open`, {
        method: 'POST',
        headers: { 'Content-Type': 'application/octet-stream' },
        body: bundle,
      })
    ).json()) as { id: string };
    all.push({ id: made.id, acknowledged: [], unanswered: null, opacity: new Map() });
  }
  const { livery } = await server.get<Open>(`/liveries/${all[0].id}`);
  return { all, layers: layersIn(livery).map((layer) => layer.id) };
}

async function check(all: Stream[]): Promise<void> {
  for (const stream of all) {
    const { livery, log, revision } = await server.get<Open>(`/liveries/${stream.id}`);
    const ids = log.map((entry) => entry.id as string);
    expect(new Set(ids).size).toBe(ids.length);
    // Every acknowledged one in its order; at most the one without an answer after them.
    expect(ids.slice(0, stream.acknowledged.length)).toEqual(stream.acknowledged);
    const more = ids.slice(stream.acknowledged.length);
    expect(more.length === 0 || (more.length === 1 && more[0] === stream.unanswered)).toBe(true);
    if (more.length === 0)
      for (const [layer, opacity] of stream.opacity)
        expect(findLayer(livery, layer as never)?.layer.opacity).toBe(opacity);
    const back = undoEntry(log, { id: EditId.parse(randomUUID()), person: 'ann' });
    if (!back) continue;
    const { status } = await server.post(`/liveries/${stream.id}/entries`, { base: revision, entries: [back] });
    expect(status).toBe(200);
    // Undo gives the state that the log had one edit earlier.
    const last = log.at(-1)!;
    const { layer, set } = last.inverse as unknown as { layer: string; set: { opacity: number } };
    const after = await server.get<Open>(`/liveries/${stream.id}`);
    expect(findLayer(after.livery, layer as never)?.layer.opacity).toBe(set.opacity);
  }
}

describe(`killed in the middle of ${STREAMS} edit streams`, () => {
  test.each(['the server', 'PostgreSQL'] as const)('%s', async (victim) => {
    expect(template).toMatch(/^[0-9a-f]{64}$/);
    const { all, layers } = await streams();
    let dead = false;
    const playing = all.map((stream, i) => play(stream, layers, randomFrom(i + 1), () => dead));
    await until(
      async () => all.reduce((n, stream) => n + stream.acknowledged.length, 0),
      (n) => n > STREAMS * 4,
    );
    if (victim === 'the server') await server.kill();
    else postgres.kill();
    dead = true;
    await Promise.all(playing);
    expect(all.reduce((n, stream) => n + stream.acknowledged.length, 0)).toBeGreaterThan(STREAMS * 4);
    if (victim === 'the server') {
      server = await startServer({ databaseUrl: server.databaseUrl, data: server.data });
    } else {
      const again = await startPostgres(path.join(folder, 'pg'), postgres.port);
      postgres = again;
      // The same server process goes on by itself.
      await until(
        () =>
          fetch(`${server.url}/api/liveries/${all[0].id}`).then(
            (r) => r.status,
            () => 0,
          ),
        (status) => status === 200,
      );
    }
    await check(all);
  });
});

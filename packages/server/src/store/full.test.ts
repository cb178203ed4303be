/** A disk without room: said as what it is, nothing is lost, and it goes on by itself. On a small file system of its own, where the machine lets one be made. */
import { execFileSync, spawnSync } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { chmodSync, mkdtempSync, rmSync, statfsSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { packTiles } from '@wet-lacquer/core/paint/strokes.ts';
import { randomFrom } from '@wet-lacquer/core/testing/images.ts';
import { startServer, until, type TestServer } from '../testing/server.ts';
// The start scripts are plain JavaScript: they run before anything is installed.
import { startPostgres } from '../../../../scripts/postgres.mjs';

const disk = mkdtempSync(path.join(os.tmpdir(), 'wl-full-'));
chmodSync(disk, 0o755);
const can = spawnSync('mount', ['-t', 'tmpfs', '-o', 'size=330m', 'none', disk]).status === 0;
let postgres: Awaited<ReturnType<typeof startPostgres>>;
let server: TestServer;

beforeAll(async () => {
  if (!can) return;
  postgres = await startPostgres(path.join(disk, 'pg'));
  server = await startServer({
    databaseUrl: await postgres.database('full'),
    data: path.join(disk, 'data'),
    demo: true,
  });
});
afterAll(async () => {
  await server?.kill();
  await postgres?.stop();
  if (can) execFileSync('umount', ['-l', disk]);
  rmSync(disk, { recursive: true, force: true });
});

const free = () => {
  const { bavail, bsize } = statfsSync(disk);
  return bavail * bsize;
};

/** A stroke of texels that no packing makes smaller. */
function noisyStroke(seed: number): Uint8Array {
  const random = randomFrom(seed);
  const tile = () => Uint16Array.from({ length: 65536 }, () => 1 + Math.floor(random() * 65535));
  return packTiles(new Map([0, 1, 2, 3, 4, 5, 6, 7].map((n) => [n, tile()])), 1)!.bytes;
}

test.runIf(can)(
  'strokes that find no room are refused with how much there is, steps go on when there is room again',
  async () => {
    const [{ id }] = await server.get<{ id: string }[]>('/liveries');
    const step = (value: string) => ({
      ...{ id: randomUUID(), person: 'ann', undoes: null, redoes: null, label: 'Number' },
      edit: { do: 'set-particular', key: 'number', value },
    });
    const acknowledged: string[] = [];
    // Filled up to a few megabytes, and then by what the painter does.
    writeFileSync(path.join(disk, 'ballast'), Buffer.alloc(Math.max(0, free() - 24 * 2 ** 20)));
    let said: { status: number; error: string } | null = null;
    for (let k = 0; k < 60 && !said; k++) {
      const response = await fetch(`${server.url}/api/strokes`, {
        method: 'POST',
        body: noisyStroke(k) as Uint8Array<ArrayBuffer>,
      });
      if (response.status !== 201)
        said = { status: response.status, error: ((await response.json()) as { error: string }).error };
    }
    expect(said).toMatchObject({
      status: 503,
      error: expect.stringMatching(/^The disk is full: \d+ MB free\.|does not answer just now/),
    });
    // The server itself lives, whatever became of the database.
    expect([200, 503]).toContain((await fetch(`${server.url}/api/health`)).status);
    rmSync(path.join(disk, 'ballast'));
    // The database comes back by itself, or is started again as npm start does.
    await until(
      async () => {
        if (!(await postgres.alive())) postgres = await startPostgres(path.join(disk, 'pg'), postgres.port);
        const { status, body } = await server.post<{ revision: number }>(`/liveries/${id}/entries`, {
          base: 0,
          entries: [step(String(acknowledged.length))],
        });
        if (status === 200) acknowledged.push(String(body.revision));
        return acknowledged.length;
      },
      (n) => n >= 3,
      60_000,
    );
    expect(await server.get('/health')).toMatchObject({ ok: true });
    const { revision } = await server.get<{ revision: number }>(`/liveries/${id}`);
    expect(revision).toBe(3);
  },
  180_000,
);

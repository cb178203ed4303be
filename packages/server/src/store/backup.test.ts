/** A backup restored into an empty database is the same world: read by an independent tar, damaged, cut off, and of another version. */
import { execFileSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { afterAll, beforeAll, expect, test } from 'vitest';
import type { Livery } from '@wet-lacquer/core/livery/livery.ts';
import { proposeTeam } from '@wet-lacquer/core/team/propose.ts';
import { freshDatabase, startServer, until, type TestServer } from '../testing/server.ts';
import { backUp, restore, TABLES } from './backup.ts';
import { bringUpToDate, connect } from './db.ts';

const folder = mkdtempSync(path.join(os.tmpdir(), 'wl-backup-'));
const file = path.join(folder, 'all.tar');
let server: TestServer;
let id: string;

beforeAll(async () => {
  server = await startServer({ demo: true });
  [{ id }] = await server.get<{ id: string }[]>('/liveries');
  const step = (value: string, n: number) => ({
    ...{ id: `s${n}`, person: 'ann', undoes: null, redoes: null, label: 'ö\n\u{1f600}' },
    edit: { do: 'set-particular', key: 'number', value },
  });
  await server.post(`/liveries/${id}/entries`, { base: 0, entries: ['5', '6', '7'].map(step) });
  const { body } = await server.post<{ id: string }>(`/liveries/${id}/deliveries`);
  await until(
    () => server.get<{ state: string }>(`/deliveries/${body.id}`),
    ({ state }) => state === 'done',
  );
  const { livery } = await server.get<{ livery: Livery }>(`/liveries/${id}`);
  await server.post('/teams', { team: proposeTeam('Crew', [{ id, livery }]), person: 'ann' });
  const { pool } = connect(server.databaseUrl);
  await backUp(pool, file);
  await pool.end();
});
afterAll(async () => {
  await server?.stop();
  rmSync(folder, { recursive: true, force: true });
});

async function emptyOne() {
  const url = await freshDatabase();
  const { pool } = connect(url);
  await bringUpToDate(pool, path.resolve(import.meta.dirname, '../../drizzle'));
  return { url, pool };
}

test('restored, it answers as the first one does, and a delivery is repeated byte for byte', async () => {
  const { url, pool } = await emptyOne();
  const { rows, blobs } = await restore(pool, file);
  expect(rows).toBeGreaterThan(10);
  expect(blobs).toBeGreaterThan(10);
  await expect(restore(pool, file)).rejects.toThrow(/not empty/);
  await pool.end();
  const other = await startServer({ databaseUrl: url });
  try {
    for (const where of [
      '/liveries',
      `/liveries/${id}`,
      `/liveries/${id}/entries?after=0`,
      '/templates',
      '/decals',
      '/teams',
      `/liveries/${id}/deliveries`,
    ])
      expect(await other.get(where), where).toEqual(await server.get(where));
    const [done] = await other.get<{ id: string }[]>(`/liveries/${id}/deliveries`);
    const { body } = await other.post<{ id: string }>(`/deliveries/${done.id}/repeat`);
    await until(
      () => other.get<{ state: string }>(`/deliveries/${body.id}`),
      ({ state }) => state === 'done',
    );
    const tree = (data: string) =>
      readdirSync(path.join(data, 'games/brackwater-run/wharf'), { recursive: true, withFileTypes: true })
        .filter((entry) => entry.isFile())
        .map((entry) => path.join(entry.parentPath, entry.name))
        .sort()
        .map((one) => [path.relative(data, one), createHash('sha256').update(readFileSync(one)).digest('hex')]);
    expect(tree(other.data)).toEqual(tree(server.data));
    // Numbers go on after the last.
    expect((await other.post(`/liveries/${id}/deliveries`)).status).toBe(201);
  } finally {
    await other.stop();
  }
});

/**
 * What is not in a backup as rows: blobs lie in it as files, what was worked out is made anew, and nobody is signed in, or invited, at
 * another place for having been so here.
 */
const NO_ROWS = [
  ...['baked_field', 'blob', 'blob_chunk', 'blob_use'],
  ...['session', 'challenge', 'invitation', 'attempt', 'here'],
];

test('every table is in it, or has a reason not to be', async () => {
  const { pool } = await emptyOne();
  const { rows } = await pool.query<{ name: string }>(
    "select table_name as name from information_schema.tables where table_schema = 'public'",
  );
  await pool.end();
  expect(rows.map(({ name }) => name).toSorted()).toEqual([...TABLES, ...NO_ROWS].toSorted());
});

test('anybody’s tar opens it, and every blob is what its name says', () => {
  const out = mkdtempSync(path.join(folder, 'out-'));
  execFileSync('tar', ['-xf', file, '-C', out]);
  const sums = JSON.parse(readFileSync(path.join(out, 'sums.json'), 'utf8')) as Record<string, string>;
  const said = execFileSync(
    'sha256sum',
    [...Object.keys(sums), ...readdirSync(path.join(out, 'blobs')).map((b) => `blobs/${b}`)],
    { cwd: out, encoding: 'utf8' },
  );
  for (const line of said.trim().split('\n')) {
    const [sum, name] = line.split(/\s+/);
    expect(sum).toBe(sums[name] ?? name.slice(6));
  }
  // One livery a line.
  const lines = readFileSync(path.join(out, 'tables/livery/000000.jsonl'), 'utf8').trim().split('\n');
  expect(lines.map((line) => (JSON.parse(line) as { id: string }).id)).toContain(id);
});

/** The archive with its files changed, packed by GNU tar in the order it was. */
function changed(change: (at: string) => void, without: string[] = []): string {
  const out = mkdtempSync(path.join(folder, 'change-'));
  execFileSync('tar', ['-xf', file, '-C', out]);
  const names = execFileSync('tar', ['-tf', file], { encoding: 'utf8' })
    .trim()
    .split('\n')
    .filter((name) => !without.includes(name));
  change(out);
  const made = path.join(folder, `${path.basename(out)}.tar`);
  execFileSync('tar', ['-cf', made, '-C', out, ...names]);
  return made;
}
const edit = (name: string, how: (text: string) => string) => (out: string) => {
  const full = path.join(out, name);
  writeFileSync(full, how(readFileSync(full, 'utf8')));
};

test.each<[string, () => string, RegExp]>([
  [
    'cut off',
    () => {
      const at = path.join(folder, 'cut.tar');
      writeFileSync(at, readFileSync(file).subarray(0, 200_000));
      return at;
    },
    /cut off|Unexpected end|not what its name says/,
  ],
  [
    'with a changed row',
    () => changed(edit('tables/livery/000000.jsonl', (text) => text.replace('"revision":3', '"revision":2'))),
    /not as it was/,
  ],
  ['without a piece', () => changed(() => {}, ['tables/snapshot/000000.jsonl']), /missing/],
  [
    'with a changed blob',
    () =>
      changed((out) => {
        const [blob] = readdirSync(path.join(out, 'blobs'));
        writeFileSync(path.join(out, 'blobs', blob), 'x');
      }),
    /not what its name says/,
  ],
  [
    'of a later version',
    () => changed(edit('manifest.json', (text) => text.replace('"version":1', '"version":9'))),
    /later version/,
  ],
  [
    'that is something else',
    () => {
      const at = path.join(folder, 'else.tar');
      writeFileSync(path.join(folder, 'a.txt'), 'x');
      execFileSync('tar', ['-cf', at, '-C', folder, 'a.txt']);
      return at;
    },
    /no backup/,
  ],
])('one %s is refused, and the database stays empty', async (_name, make, why) => {
  const { pool } = await emptyOne();
  await expect(restore(pool, make())).rejects.toThrow(why);
  for (const table of ['livery', 'blob', 'edit', 'template'])
    expect((await pool.query(`select 1 from ${table}`)).rows).toEqual([]);
  await pool.end();
});

test('of an earlier version, whose rows had fewer columns, it is filled up', async () => {
  const { pool } = await emptyOne();
  const older = changed((out) => {
    const name = 'tables/livery/000000.jsonl';
    edit(name, (text) => text.replaceAll(/,"deleted_at":null/g, ''))(out);
    const sums = JSON.parse(readFileSync(path.join(out, 'sums.json'), 'utf8')) as Record<string, string>;
    sums[name] = createHash('sha256')
      .update(readFileSync(path.join(out, name)))
      .digest('hex');
    writeFileSync(path.join(out, 'sums.json'), JSON.stringify(sums));
  });
  await restore(pool, older);
  const { rows } = await pool.query<{ deleted_at: Date | null }>('select deleted_at from livery');
  expect(rows.every((row) => row.deleted_at === null)).toBe(true);
  expect(rows.length).toBeGreaterThan(2);
  await pool.end();
});

/** The private PostgreSQL lets in nobody without its password, and its files are its owner's alone. */
import { mkdtempSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import pg from 'pg';
import { afterAll, beforeAll, expect, test } from 'vitest';
// The start scripts are plain JavaScript: they run before anything is installed.
import { startPostgres } from '../../../../scripts/postgres.mjs';

const folder = mkdtempSync(path.join(os.tmpdir(), 'wl-cluster-'));
let cluster: Awaited<ReturnType<typeof startPostgres>>;

beforeAll(async () => void (cluster = await startPostgres(folder)));
afterAll(async () => {
  await cluster?.stop();
  rmSync(folder, { recursive: true, force: true });
});

async function asks(url: string): Promise<string> {
  const client = new pg.Client({ connectionString: url });
  try {
    await client.connect();
    return 'in';
  } catch (error) {
    return (error as Error).message;
  } finally {
    await client.end().catch(() => {});
  }
}
const withPassword = (password: string) => cluster.url('postgres').replace(/:[^:@/]*@/, `:${password}@`);

async function onlyWithIt(): Promise<void> {
  expect(await asks(cluster.url('postgres'))).toBe('in');
  expect(await asks(withPassword('guessed'))).toMatch(/password authentication failed/);
  expect(await asks(withPassword(''))).not.toBe('in');
  const client = new pg.Client({ connectionString: cluster.url('postgres') });
  await client.connect();
  const { rows } = await client.query<{ kept: string }>(
    "select left(rolpassword, 13) as kept from pg_authid where rolname = 'postgres'",
  );
  await client.end();
  expect(rows).toEqual([{ kept: 'SCRAM-SHA-256' }]);
}

test('every connection needs the password; files and folder are closed to others', async () => {
  await onlyWithIt();
  const mode = (file: string) => (statSync(path.join(cluster.folder, file)).mode & 0o777).toString(8);
  expect([mode('.'), mode('data'), mode('password')]).toEqual(['700', '700', '600']);
  expect(readFileSync(path.join(cluster.folder, 'data/postmaster.opts'), 'utf8')).toContain(
    'unix_socket_directories="',
  );
});

test('one that an earlier version left open is closed at its next start, and keeps what it holds', async () => {
  await cluster.database('kept');
  await cluster.stop();
  rmSync(path.join(cluster.folder, 'password'));
  const rules = path.join(cluster.folder, 'data/pg_hba.conf');
  writeFileSync(rules, readFileSync(rules, 'utf8').replaceAll('scram-sha-256', 'trust'));
  cluster = await startPostgres(folder);
  await onlyWithIt();
  expect(await asks(cluster.url('kept'))).toBe('in');
});

/**
 * Everything of a database as one open archive (tar), streamed: `manifest.json`, the rows of every table as JSON lines in pieces, and every
 * blob under its SHA-256. At its end stands the SHA-256 of every piece, so that what was cut off or changed is found before it is used.
 */
import { createHash } from 'node:crypto';
import { createReadStream, createWriteStream } from 'node:fs';
import { rename, rm } from 'node:fs/promises';
import { pipeline } from 'node:stream/promises';
import type pg from 'pg';
import { extract, pack, type Pack } from 'tar-stream';
import { z } from 'zod';
import { InputError } from '@wet-lacquer/core/errors.ts';
import { getBlob, keepBytes } from './blobs.ts';
import { through, type Tx } from './db.ts';
import { blob } from './schema.ts';

/** In the order in which they refer to each other. */
export const TABLES = [
  'livery',
  'edit',
  'note',
  'note_answer',
  'snapshot',
  'set_aside',
  'template',
  'intake',
  'intake_file',
  'decal',
  'delivery',
  'spec',
  'team',
  'team_step',
  'painter',
  'passkey',
  'recovery_code',
  'link',
  'access',
  'subscription',
  'listing',
  'listing_version',
  'report',
  'put_in',
  'friend',
] as const;
type Table = (typeof TABLES)[number];

const FORMAT = 'wet-lacquer-backup';
const VERSION = 1;
const Manifest = z.object({ format: z.literal(FORMAT), version: z.number().int().min(1), at: z.string() });
const Sums = z.record(z.string(), z.string().regex(/^[0-9a-f]{64}$/));
const PIECE = /^tables\/([a-z_]+)\/\d{6}\.jsonl$/;
const BLOB = /^blobs\/([0-9a-f]{64})$/;

/** Characters of one piece of a table, and rows that are read at once. */
const PIECE_CHARACTERS = 8_000_000;
const ROWS = 200;
/** Bytes that any one entry may have: the largest upload, and some. */
const MOST_ENTRY = 600 * 2 ** 20;

export interface Counted {
  rows: number;
  blobs: number;
  bytes: number;
}

const sha256 = (bytes: Uint8Array | string) => createHash('sha256').update(bytes).digest('hex');

/** Writes a backup, under its name only when it is whole. All of it is of one moment, whatever is saved meanwhile. */
export async function backUp(pool: pg.Pool, file: string): Promise<Counted> {
  const client = await pool.connect();
  const draft = `${file}.part`;
  const archive = pack();
  const written = pipeline(archive, createWriteStream(draft, { flags: 'wx', flush: true }));
  // The pipeline's fault is told where it is waited for.
  written.catch(() => {});
  try {
    await client.query('begin isolation level repeatable read read only');
    const counted = await writeAll(client, archive);
    archive.finalize();
    await written;
    await rename(draft, file);
    return counted;
  } catch (error) {
    archive.destroy();
    await rm(draft, { force: true });
    throw error;
  } finally {
    await client.query('rollback').catch(() => {});
    client.release();
  }
}

async function writeAll(client: pg.PoolClient, archive: Pack): Promise<Counted> {
  const counted: Counted = { rows: 0, blobs: 0, bytes: 0 };
  const sums: Record<string, string> = {};
  const put = (name: string, content: string | Buffer) =>
    new Promise<void>((resolve, reject) => {
      if (!name.startsWith('blobs/')) sums[name] = sha256(content);
      archive.entry({ name }, content, (error) => (error ? reject(error) : resolve()));
    });
  await put('manifest.json', JSON.stringify({ format: FORMAT, version: VERSION, at: new Date().toISOString() }));
  for (const table of TABLES) {
    let [lines, characters, piece] = [[] as string[], 0, 0];
    const flush = async () => {
      if (lines.length > 0)
        await put(`tables/${table}/${String(piece++).padStart(6, '0')}.jsonl`, `${lines.join('\n')}\n`);
      [lines, characters] = [[], 0];
    };
    for await (const line of linesOf(client, table)) {
      counted.rows++;
      lines.push(line);
      characters += line.length;
      if (characters > PIECE_CHARACTERS) await flush();
    }
    await flush();
  }
  const tx = through(client);
  const { rows } = await client.query<{ hash: string; facts: unknown }>('select hash, facts from blob order by hash');
  for (const { hash } of rows) {
    const content = Buffer.from(await getBlob(tx, hash));
    if (sha256(content) !== hash) throw new InputError(`The stored bytes ${hash.slice(0, 12)} are damaged.`);
    await put(`blobs/${hash}`, content);
    counted.blobs++;
    counted.bytes += content.length;
  }
  await put('sums.json', JSON.stringify(sums));
  return counted;
}

/** A table's rows as PostgreSQL itself writes them out: documents keep the order of their keys. */
async function* linesOf(client: pg.PoolClient, table: Table): AsyncGenerator<string> {
  await client.query(`declare rows no scroll cursor for select row_to_json(t)::text as line from "${table}" t`);
  try {
    for (;;) {
      const { rows } = await client.query<{ line: string }>(`fetch ${ROWS} from rows`);
      if (rows.length === 0) return;
      // A line is a line.
      for (const { line } of rows) yield line.replaceAll('\n', ' ');
    }
  } finally {
    await client.query('close rows').catch(() => {});
  }
}

/**
 * Fills an empty database, brought up to date, from a backup of this version or an earlier one: columns that it did not have yet are as
 * in a new row. All of it or nothing.
 * @throws InputError when the database is not empty, or the backup is not whole
 */
export async function restore(pool: pg.Pool, file: string): Promise<Counted> {
  const client = await pool.connect();
  try {
    await client.query('begin');
    for (const table of TABLES) {
      const { rows } = await client.query(`select 1 from "${table}" limit 1`);
      if (rows.length > 0)
        throw new InputError('This database is not empty; a backup is restored into one where nothing is yet.');
    }
    const counted = await readAll(client, file);
    await client.query('commit');
    return counted;
  } catch (error) {
    await client.query('rollback').catch(() => {});
    throw error;
  } finally {
    client.release();
  }
}

async function readAll(client: pg.PoolClient, file: string): Promise<Counted> {
  const counted: Counted = { rows: 0, blobs: 0, bytes: 0 };
  const seen = new Map<string, string>();
  let [manifest, sums]: [boolean, Record<string, string> | null] = [false, null];
  const tx = through(client);
  const archive = extract();
  const read = pipeline(createReadStream(file), archive);
  read.catch(() => {});
  for await (const entry of archive) {
    const { name, size = 0 } = entry.header;
    if (size > MOST_ENTRY) throw new InputError(`"${name}" in this backup is larger than anything that is kept.`);
    const pieces: Buffer[] = [];
    for await (const piece of entry) pieces.push(piece as Buffer);
    const content = Buffer.concat(pieces);
    const json = () => JSON.parse(content.toString('utf8')) as unknown;
    if (!manifest) {
      const parsed = name === 'manifest.json' ? Manifest.safeParse(safely(json)) : null;
      if (!parsed?.success) throw new InputError('This is no backup of Wet Lacquer.');
      if (parsed.data.version > VERSION)
        throw new InputError(`This backup is of a later version (${parsed.data.version}); update Wet Lacquer first.`);
      manifest = true;
      seen.set(name, sha256(content));
      continue;
    }
    if (name === 'sums.json') {
      sums = Sums.parse(safely(json));
      continue;
    }
    const hash = BLOB.exec(name)?.[1];
    if (hash) {
      if (sha256(content) !== hash) throw new InputError(`This backup is damaged: ${name} is not what its name says.`);
      await keepBlob(tx, hash, content);
      counted.blobs++;
      counted.bytes += content.length;
      continue;
    }
    const table = TABLES.find((one) => one === PIECE.exec(name)?.[1]);
    // What a later version may add is passed over.
    if (!table) continue;
    seen.set(name, sha256(content));
    counted.rows += await keepRows(client, table, content.toString('utf8'));
  }
  await read;
  if (!sums) throw new InputError('This backup is cut off.');
  for (const [name, sum] of Object.entries(sums))
    if (seen.get(name) !== sum) throw new InputError(`This backup is damaged: ${name} is missing or not as it was.`);
  if (Object.keys(sums).length !== seen.size) throw new InputError('This backup holds more than it says.');
  for (const table of ['edit', 'delivery', 'intake_file', 'set_aside'] as const) await countOn(client, table);
  return counted;
}

const safely = (read: () => unknown): unknown => {
  try {
    return read();
  } catch {
    return null;
  }
};

async function keepRows(client: pg.PoolClient, table: Table, text: string): Promise<number> {
  const lines = text.split('\n').filter(Boolean);
  const { rows } = await client.query<{ name: string }>(
    "select column_name as name from information_schema.columns where table_schema = 'public' and table_name = $1",
    [table],
  );
  const has = new Set(rows.map(({ name }) => name));
  const keys = Object.keys(JSON.parse(lines[0]) as object).filter((key) => has.has(key));
  const columns = keys.map((key) => `"${key}"`).join(', ');
  // Of json, not jsonb: documents keep the order of their keys, by which their hash is reckoned.
  const sql = `insert into "${table}" (${columns}) select ${columns} from json_populate_recordset(null::"${table}", $1)`;
  for (let at = 0; at < lines.length; at += ROWS)
    await client.query(sql, [`[${lines.slice(at, at + ROWS).join(',')}]`]);
  return lines.length;
}

async function keepBlob(tx: Tx, hash: string, content: Buffer): Promise<void> {
  await tx.insert(blob).values({ hash, bytes: content.length });
  await keepBytes(tx, hash, content);
}

/** Numbers that tables count with go on after the last. */
async function countOn(client: pg.PoolClient, table: Table): Promise<void> {
  const { rows } = await client.query<{ name: string }>(
    `select column_name as name from information_schema.columns
     where table_schema = 'public' and table_name = $1 and column_default like 'nextval(%'`,
    [table],
  );
  for (const { name } of rows)
    await client.query(
      `select setval(pg_get_serial_sequence($1, $2), greatest(1, (select coalesce(max("${name}"), 0) from "${table}")))`,
      [`"${table}"`, name],
    );
}

import { drizzle } from 'drizzle-orm/node-postgres';
import { migrate } from 'drizzle-orm/node-postgres/migrator';
import pg from 'pg';
import { log } from '../host/log.ts';
import * as schema from './schema.ts';

export type Db = ReturnType<typeof drizzle<typeof schema, pg.Pool>>;
/** The database, a connection to it or a transaction in it. */
export type Tx =
  Db | ReturnType<typeof drizzle<typeof schema, pg.PoolClient>> | Parameters<Parameters<Db['transaction']>[0]>[0];

/** Carries an answer out of a transaction that is rolled back. */
class RolledBack extends Error {
  constructor(readonly answer: unknown) {
    super('rolled back');
  }
}

/**
 * Runs `work` in a transaction, within `db`'s own if it is one. What throws is rolled back, and so is every answer given with `no`:
 * there is no other way of answering no.
 */
export async function transact<T, N = never>(
  db: Tx,
  work: (tx: Tx, no: (answer: N) => never) => Promise<T>,
): Promise<T | N> {
  try {
    return await db.transaction((tx) =>
      work(tx, (answer) => {
        throw new RolledBack(answer);
      }),
    );
  } catch (error) {
    if (error instanceof RolledBack) return error.answer as N;
    throw error;
  }
}

const MIGRATION_LOCK = 731_402;

export function connect(url: string): { db: Db; pool: pg.Pool } {
  const pool = new pg.Pool({ connectionString: url, max: 12, connectionTimeoutMillis: 5000 });
  // A database that goes away ends idle connections with an error; the next query makes a new one.
  pool.on('error', (error) => log.warn({ error: error.message }, 'database connection lost'));
  // One that goes away while it is in use fails its query; the event beside that must not end the process.
  pool.on('connect', (client) => client.on('error', () => {}));
  return { db: drizzle(pool, { schema, casing: 'snake_case' }), pool };
}

/** What reads and writes by one connection. */
export const through = (client: pg.PoolClient): Tx => drizzle(client, { schema, casing: 'snake_case' });

/**
 * An earlier version could leave rows above the head of their log, on which every later step failed: they are set aside. One statement
 * sees heads and rows as of one moment, so that none of a save under way is taken for one.
 */
const SET_ASIDE = `
  with above as (
    delete from edit using livery where livery.id = edit.livery_id and edit.revision > livery.revision returning edit.*
  )
  insert into set_aside (livery_id, id, entry, why, at)
  select livery_id, id,
    jsonb_build_object('id', id, 'person', person, 'edit', edit, 'undoes', undoes, 'redoes', redoes, 'label', label),
    'It was refused by an earlier version, which kept it all the same.', at
  from above order by revision
  on conflict do nothing`;

/** Brings the tables up to date. The lock keeps two processes that start together from doing it twice. */
export async function bringUpToDate(pool: pg.Pool, folder: string): Promise<void> {
  const client = await pool.connect();
  try {
    await client.query('select pg_advisory_lock($1)', [MIGRATION_LOCK]);
    await migrate(drizzle(client, { casing: 'snake_case' }), { migrationsFolder: folder });
    await client.query(SET_ASIDE);
    // Blobs are compressed already: kept out of line and not compressed again.
    await client.query('alter table blob_chunk alter column content set storage external');
  } finally {
    await client.query('select pg_advisory_unlock($1)', [MIGRATION_LOCK]).catch(() => {});
    client.release();
  }
}

/** Codes of a connection that is gone: of the system, and SQLSTATE of PostgreSQL (Appendix A: 08, 57P01 to 57P05, 53300). */
const AWAY = /^(ECONNREFUSED|ECONNRESET|EPIPE|ETIMEDOUT|EHOSTUNREACH|ENOTFOUND|08...|57P0[1-5]|53300)$/;
/** The client's own errors of that kind have no code, only these words (pg 8, pg-pool 3). */
const AWAY_WORDS = new Set([
  'Connection terminated',
  'Connection terminated unexpectedly',
  'Connection terminated due to connection timeout',
  'Client has encountered a connection error and is not queryable',
  'timeout exceeded when trying to connect',
]);
/** The disk has no room (SQLSTATE 53100; ENOSPC of the system). */
const FULL = /^(53100|ENOSPC|EDQUOT)$/;

/** Looks through an error and what caused it. */
function anyCause(error: unknown, is: (code: string, message: string) => boolean): boolean {
  for (let at = error as { code?: unknown; message?: unknown; cause?: unknown } | undefined; at; at = at.cause as never)
    if (is(String(at.code ?? ''), String(at.message ?? ''))) return true;
  return false;
}

/** Whether something failed because the database does not answer: what was being done can be done again when it does. */
export const isAway = (error: unknown): boolean =>
  anyCause(error, (code, message) => AWAY.test(code) || (code === '' && AWAY_WORDS.has(message)));

/** How long a database that is starting, or recovering from a crash, is waited for. */
const PATIENCE_MS = 120_000;

/** Does something as soon as the database is there. @throws when it does not come within two minutes */
export async function whenThere<T>(work: () => Promise<T>): Promise<T> {
  const end = Date.now() + PATIENCE_MS;
  for (;;) {
    try {
      return await work();
    } catch (error) {
      if (!isAway(error) || Date.now() > end) throw error;
      log.warn('the database is not there yet');
      await new Promise((resolve) => setTimeout(resolve, 500));
    }
  }
}

/** Whether something failed because the disk is full. */
export const isFull = (error: unknown): boolean => anyCause(error, (code) => FULL.test(code));

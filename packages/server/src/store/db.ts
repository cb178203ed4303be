import { drizzle } from 'drizzle-orm/node-postgres';
import { migrate } from 'drizzle-orm/node-postgres/migrator';
import pg from 'pg';
import { log } from '../host/log.ts';
import * as schema from './schema.ts';

export type Db = ReturnType<typeof drizzle<typeof schema, pg.Pool>>;
/** The database or a transaction in it. */
export type Tx = Db | Parameters<Parameters<Db['transaction']>[0]>[0];

const MIGRATION_LOCK = 731_402;

export function connect(url: string): { db: Db; pool: pg.Pool } {
  const pool = new pg.Pool({ connectionString: url, max: 12, connectionTimeoutMillis: 5000 });
  // A database that goes away ends idle connections with an error; the next query makes a new one.
  pool.on('error', (error) => log.warn({ error: error.message }, 'database connection lost'));
  // One that goes away while it is in use fails its query; the event beside that must not end the process.
  pool.on('connect', (client) => client.on('error', () => {}));
  return { db: drizzle(pool, { schema, casing: 'snake_case' }), pool };
}

/** Brings the tables up to date. The lock keeps two processes that start together from doing it twice. */
export async function bringUpToDate(pool: pg.Pool, folder: string): Promise<void> {
  const client = await pool.connect();
  try {
    await client.query('select pg_advisory_lock($1)', [MIGRATION_LOCK]);
    await migrate(drizzle(client, { casing: 'snake_case' }), { migrationsFolder: folder });
    // Blobs are compressed already: kept out of line and not compressed again.
    await client.query('alter table blob_chunk alter column content set storage external');
  } finally {
    await client.query('select pg_advisory_unlock($1)', [MIGRATION_LOCK]).catch(() => {});
    client.release();
  }
}

/** Whether something failed because the database does not answer: what was being done can be done again when it does. */
export function isAway(error: unknown): boolean {
  const { code, cause } = error as { code?: string; cause?: { code?: string } };
  return (
    /^(ECONN|57P|08|53)/.test(code ?? cause?.code ?? '') || /terminat|timeout|connect/i.test(String(cause ?? error))
  );
}

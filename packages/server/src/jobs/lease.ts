import type pg from 'pg';

/**
 * Runs `work` while holding the advisory lock that stands for `name`. The lock lives with its database session: when the process
 * dies, it is free at once.
 * @returns false when somebody else holds it
 */
export async function withLease(pool: pg.Pool, name: string, work: () => Promise<void>): Promise<boolean> {
  const client = await pool.connect();
  const [space, key] = [0x574c, name];
  try {
    const { rows } = await client.query<{ got: boolean }>('select pg_try_advisory_lock($1, hashtext($2)) as got', [
      space,
      key,
    ]);
    if (!rows[0].got) return false;
    try {
      await work();
    } finally {
      await client.query('select pg_advisory_unlock($1, hashtext($2))', [space, key]).catch(() => {});
    }
    return true;
  } finally {
    client.release();
  }
}

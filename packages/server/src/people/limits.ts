/** How often something may be tried. Counted in the database: several servers count together. */
import { eq, lt, sql } from 'drizzle-orm';
import type { Db } from '../store/db.ts';
import { attempt } from '../store/schema.ts';
import { TooOften } from '../host/errors.ts';
import { digestOf } from './secrets.ts';

const WINDOW_MS = 15 * 60_000;
/** Times within a window, for one name from wherever, and from one address for whatever name. */
export const TRIES = { name: 10, address: 100, code: 10 } as const;

/** Whoever is let in begins anew. */
export async function forgetTries(db: Db, what: keyof typeof TRIES, of: string): Promise<void> {
  await db.delete(attempt).where(eq(attempt.key, digestOf(`${what} ${of}`)));
}

/** Counts a try. @throws TooOften when there were too many within the last quarter of an hour */
export async function countTry(db: Db, what: keyof typeof TRIES, of: string, now = Date.now()): Promise<void> {
  const begins = new Date(Math.floor(now / WINDOW_MS) * WINDOW_MS);
  await db.delete(attempt).where(lt(attempt.begins, new Date(now - 2 * WINDOW_MS)));
  const [{ count }] = await db
    .insert(attempt)
    .values({ key: digestOf(`${what} ${of}`), begins, count: 1 })
    .onConflictDoUpdate({ target: [attempt.key, attempt.begins], set: { count: sql`${attempt.count} + 1` } })
    .returning({ count: attempt.count });
  if (count > TRIES[what]) throw new TooOften(Math.ceil((begins.getTime() + WINDOW_MS - now) / 1000));
}

/** Whether this server can do what it is for, and what would keep it from that. */
import { statfs } from 'node:fs/promises';
import { sql } from 'drizzle-orm';
import type { PoolHealth } from '@wet-lacquer/node/threads/pool.ts';
import type { Services } from './services.ts';

/** Below this the next large delivery may not find room. */
const LITTLE = 256 * 2 ** 20;
/** A database that has not answered by then is away. */
const DATABASE_MS = 2000;
/** So long may drawing a few texels wait for a thread. */
const DRAW_MS = 5000;

export interface Health {
  ok: boolean;
  /** What is wrong, a sentence each. */
  troubles: string[];
  threads: PoolHealth;
  /** Deliveries and files that wait or are under way; null: the database does not say. */
  queue: { deliveries: number; files: number } | null;
  database: { ok: boolean; milliseconds: number };
  disk: { free: number };
}

export const freeBytes = async (folder: string): Promise<number> => {
  const { bavail, bsize } = await statfs(folder);
  return bavail * bsize;
};

export async function healthOf({ config, db, threads }: Pick<Services, 'config' | 'db' | 'threads'>): Promise<Health> {
  const began = performance.now();
  const [queue, free, draws] = await Promise.all([
    within(DATABASE_MS, queueOf(db)),
    freeBytes(config.data).catch(() => 0),
    within(DRAW_MS, threads.run('draws', {})),
  ]);
  const milliseconds = Math.round(performance.now() - began);
  const health = threads.health();
  const troubles = [
    ...(queue ? [] : ['The database does not answer.']),
    ...(draws
      ? []
      : [
          health.waiting > 0
            ? `Nothing can be drawn just now: ${health.waiting} tasks wait for a thread.`
            : 'Nothing can be drawn.',
        ]),
    ...(free < LITTLE ? [`The disk is nearly full: ${Math.floor(free / 2 ** 20)} MB free.`] : []),
  ];
  return {
    ok: queue !== null && draws === true,
    troubles,
    threads: health,
    queue,
    database: { ok: queue !== null, milliseconds },
    disk: { free },
  };
}

export async function queueOf(db: Services['db']): Promise<{ deliveries: number; files: number }> {
  const { rows } = await db.execute<{ deliveries: number; files: number }>(sql`
    select (select count(*)::int from delivery where state in ('queued', 'encoding', 'publishing')) as deliveries,
           (select count(*)::int from intake_file where state in ('waiting', 'reading')) as files`);
  return rows[0];
}

/** A promise's value; null when it fails or takes longer. */
const within = <T>(ms: number, work: Promise<T>): Promise<T | null> =>
  Promise.race([work.catch(() => null), new Promise<null>((resolve) => setTimeout(resolve, ms, null).unref())]);

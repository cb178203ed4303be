import PgBoss from 'pg-boss';
import { sql } from 'drizzle-orm';
import type { News } from '../host/events.ts';
import { log } from '../host/log.ts';
import { isAway, type Db } from '../store/db.ts';

/** Kinds of work. The queue only wakes workers up; what is to be done, and how far it is, stands in the row that the id names. */
const QUEUES = ['deliver', 'understand'] as const;
export type Work = (typeof QUEUES)[number];

/** How long nothing is asked for when there was nothing and nobody says that there is; after a fault, how long until it is tried again. */
const PAUSE_MS = 15_000;
const AFTER_FAULT_MS = 500;

export interface Queue {
  /** Wakes a worker. */
  send(work: Work, id: string): Promise<void>;
  /** Runs `handle` for what comes up, one at a time. */
  work(work: Work, handle: (id: string) => Promise<void>): void;
  stop(): Promise<void>;
}

export async function openQueue(url: string, db: Db, news: News): Promise<Queue> {
  // The library has promises of its own that nobody waits for; without the database those fail too, and nothing is lost by it.
  process.on('unhandledRejection', (error) => {
    if (!isAway(error)) throw error;
    log.warn({ error: String(error) }, 'database away');
  });
  const boss = new PgBoss({ connectionString: url, max: 3 });
  boss.on('error', (error) => log.warn({ error: error.message }, 'queue'));
  await boss.start();
  for (const name of QUEUES)
    await boss.createQueue(name, { name, retryLimit: 2, retryDelay: 1, expireInSeconds: 3600 });
  let stopped = false;
  /** Until something is put in, here or elsewhere; not for ever, for news can be lost. */
  const quiet = () =>
    new Promise<void>((resolve) => {
      const over = () => {
        clearTimeout(timer);
        unhear();
        resolve();
      };
      const timer = setTimeout(over, PAUSE_MS);
      const unhear = news.onWork(over);
    });
  const afterFault = () => new Promise((resolve) => setTimeout(resolve, AFTER_FAULT_MS));
  // The queue's own workers do not wait for their last word on a job: without a database that would end the process.
  const take = async (work: Work, handle: (id: string) => Promise<void>) => {
    const [job] = await boss.fetch<{ id: string }>(work, { batchSize: 1 });
    if (!job) return false;
    try {
      await handle(job.data.id);
    } catch (error) {
      log.warn({ error: String(error), id: job.data.id }, `${work} failed`);
      await boss.fail(work, job.id);
      return true;
    }
    await boss.complete(work, job.id);
    return true;
  };
  const keepTaking = async (work: Work, handle: (id: string) => Promise<void>) => {
    while (!stopped) {
      // Heard from before it is asked for: what comes in between is not missed.
      const something = quiet();
      try {
        if (!(await take(work, handle))) await something;
      } catch (error) {
        log.debug({ error: String(error) }, 'queue');
        await afterFault();
      }
    }
  };
  return {
    async send(work, id) {
      await boss.send(work, { id });
      await db.execute(sql`select pg_notify('work', ${work})`);
    },
    work: (work, handle) => void keepTaking(work, handle),
    stop: () => {
      stopped = true;
      return boss.stop({ graceful: false, wait: false });
    },
  };
}

import PgBoss from 'pg-boss';
import { log } from '../host/log.ts';
import { isAway } from '../store/db.ts';

/** Kinds of work. The queue only wakes workers up; what is to be done, and how far it is, stands in the row that the id names. */
const QUEUES = ['deliver', 'understand'] as const;
export type Work = (typeof QUEUES)[number];

/** How long nothing is asked for when there was nothing. */
const PAUSE_MS = 500;

export interface Queue {
  /** Wakes a worker. */
  send(work: Work, id: string): Promise<void>;
  /** Runs `handle` for what comes up, one at a time. */
  work(work: Work, handle: (id: string) => Promise<void>): void;
  stop(): Promise<void>;
}

export async function openQueue(url: string): Promise<Queue> {
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
  const pause = () => new Promise((resolve) => setTimeout(resolve, PAUSE_MS));
  // The queue's own workers do not wait for their last word on a job: without a database that would end the process.
  const take = async (work: Work, handle: (id: string) => Promise<void>) => {
    const [job] = await boss.fetch<{ id: string }>(work, { batchSize: 1 });
    if (!job) return pause();
    try {
      await handle(job.data.id);
    } catch (error) {
      log.warn({ error: String(error), id: job.data.id }, `${work} failed`);
      return boss.fail(work, job.id);
    }
    return boss.complete(work, job.id);
  };
  const keepTaking = async (work: Work, handle: (id: string) => Promise<void>) => {
    while (!stopped)
      await take(work, handle).catch((error: Error) => {
        log.debug({ error: error.message }, 'queue');
        return pause();
      });
  };
  return {
    send: async (work, id) => void (await boss.send(work, { id })),
    work: (work, handle) => void keepTaking(work, handle),
    stop: () => {
      stopped = true;
      return boss.stop({ graceful: false, wait: false });
    },
  };
}

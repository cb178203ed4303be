import PgBoss from 'pg-boss';
import { log } from '../host/log.ts';

/** Kinds of work. The queue only wakes workers up; what is to be done, and how far it is, stands in the row that the id names. */
const QUEUES = ['deliver', 'understand'] as const;
export type Work = (typeof QUEUES)[number];

export interface Queue {
  /** Wakes a worker. */
  send(work: Work, id: string): Promise<void>;
  /** Runs `handle` for what comes up, one at a time. */
  work(work: Work, handle: (id: string) => Promise<void>): Promise<void>;
  stop(): Promise<void>;
}

export async function openQueue(url: string): Promise<Queue> {
  const boss = new PgBoss({ connectionString: url, max: 3 });
  boss.on('error', (error) => log.warn({ error: error.message }, 'queue'));
  await boss.start();
  for (const name of QUEUES)
    await boss.createQueue(name, { name, retryLimit: 2, retryDelay: 1, expireInSeconds: 3600 });
  return {
    send: async (work, id) => void (await boss.send(work, { id })),
    work: async (work, handle) =>
      void (await boss.work<{ id: string }>(work, { pollingIntervalSeconds: 0.5, batchSize: 1 }, async ([job]) =>
        handle(job.data.id),
      )),
    stop: () => boss.stop({ graceful: false, wait: false }),
  };
}

import PgBoss from 'pg-boss';
import { log } from '../host/log.ts';

/** The queue only wakes workers up; what is to be done, and how far it is, stands in the delivery's own row. */
const QUEUE = 'deliver';

export interface Queue {
  /** Wakes a worker for a delivery. */
  send(id: string): Promise<void>;
  /** Runs `handle` for deliveries that come up, one at a time. */
  work(handle: (id: string) => Promise<void>): Promise<void>;
  stop(): Promise<void>;
}

export async function openQueue(url: string): Promise<Queue> {
  const boss = new PgBoss({ connectionString: url, max: 3 });
  boss.on('error', (error) => log.warn({ error: error.message }, 'queue'));
  await boss.start();
  await boss.createQueue(QUEUE, { name: QUEUE, retryLimit: 2, retryDelay: 1, expireInSeconds: 3600 });
  return {
    send: async (id) => void (await boss.send(QUEUE, { id })),
    work: async (handle) =>
      void (await boss.work<{ id: string }>(QUEUE, { pollingIntervalSeconds: 0.5, batchSize: 1 }, async ([job]) =>
        handle(job.data.id),
      )),
    stop: () => boss.stop({ graceful: false, wait: false }),
  };
}

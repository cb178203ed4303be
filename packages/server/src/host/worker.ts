import type pg from 'pg';
import { encodeDelivery } from '../jobs/encode.ts';
import { understandFiles } from '../jobs/understandFiles.ts';
import type { Queue } from '../jobs/queue.ts';
import type { Db } from '../store/db.ts';
import { intakesWaiting } from '../store/intakes.ts';
import { deliveriesIn } from '../store/deliveries.ts';
import type { Pool } from '@wet-lacquer/node/threads/pool.ts';
import { log } from './log.ts';

/** How often a worker looks for deliveries whose worker died: the queue itself would notice only much later. */
const RESCUE_MS = 4000;

/** Takes deliveries and files to look at from the queue, and those that somebody left behind. @returns how to stop */
export function startWorker(db: Db, connections: pg.Pool, threads: Pool, queue: Queue): () => void {
  const encode = (id: string) => encodeDelivery(db, connections, threads, id);
  const understand = (id: string) => understandFiles(db, connections, threads, id);
  queue.work('deliver', encode);
  queue.work('understand', understand);
  // One after the other: each holds a connection for its lease, and all at once would leave none to work with.
  const look = async () => {
    for (const one of await deliveriesIn(db, ['queued', 'encoding']))
      if (Date.now() - one.createdAt.getTime() > RESCUE_MS) await encode(one.id);
    for (const id of await intakesWaiting(db)) await understand(id);
  };
  let looking = false;
  const rescue = setInterval(() => {
    if (looking) return;
    looking = true;
    look()
      .catch((error: Error) => log.debug({ error: String(error.cause ?? error) }, 'looking for work that was left'))
      .finally(() => (looking = false));
  }, RESCUE_MS);
  return () => clearInterval(rescue);
}

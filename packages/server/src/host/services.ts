import type pg from 'pg';
import type { Queue } from '../jobs/queue.ts';
import type { Db } from '../store/db.ts';
import type { Log } from '../store/log.ts';
import type { Pool } from '@wet-lacquer/node/threads/pool.ts';
import type { Config } from './config.ts';
import type { News } from './events.ts';

/** What routes work with. */
export interface Services {
  config: Config;
  db: Db;
  /** For leases, which live with a connection. */
  connections: pg.Pool;
  threads: Pool;
  log: Log;
  queue: Queue;
  news: News;
  /** Looks for deliveries that wait to be published, now. */
  publish(): void;
  /** Fires when the server is about to stop: whoever only listens is let go. */
  stopping: AbortSignal;
}

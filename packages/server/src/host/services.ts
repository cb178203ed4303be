import type { Queue } from '../jobs/queue.ts';
import type { Db } from '../store/db.ts';
import type { Pool } from '../threads/pool.ts';
import type { Config } from './config.ts';
import type { News } from './events.ts';

/** What routes work with. */
export interface Services {
  config: Config;
  db: Db;
  threads: Pool;
  queue: Queue;
  news: News;
  /** Looks for deliveries that wait to be published, now. */
  publish(): void;
}

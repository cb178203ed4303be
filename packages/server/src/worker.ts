/** A worker on its own: takes deliveries from the database that DATABASE_URL names, and publishes nothing. */
import { readConfig } from './host/config.ts';
import { startWorker } from './host/worker.ts';
import { openQueue } from './jobs/queue.ts';
import { bringUpToDate, connect } from './store/db.ts';
import { Pool } from './threads/pool.ts';

const config = readConfig(process.env);
const { db, pool } = connect(config.databaseUrl);
await bringUpToDate(pool, config.migrations);
startWorker(db, pool, new Pool(config.threads), await openQueue(config.databaseUrl));
console.log(`Working for deliveries on ${config.threads} threads.`);
for (const signal of ['SIGINT', 'SIGTERM'] as const) process.on(signal, () => process.exit(0));

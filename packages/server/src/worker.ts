/** A worker on its own: takes deliveries from the database that DATABASE_URL names, and publishes nothing. */
import os from 'node:os';
import { readConfig } from './host/config.ts';
import { startWorker } from './host/worker.ts';
import { openQueue } from './jobs/queue.ts';
import { listen } from './host/events.ts';
import { bringUpToDate, connect, whenThere } from './store/db.ts';
import { keepBlobsIn } from './store/objects.ts';
import { Pool } from '@wet-lacquer/node/threads/pool.ts';

// It is nobody's answer that waits for it.
os.setPriority(os.constants.priority.PRIORITY_BELOW_NORMAL);
const config = readConfig(process.env);
const { db, pool } = connect(config.databaseUrl);
await keepBlobsIn(config.blobs);
await whenThere(() => bringUpToDate(pool, config.migrations));
const news = listen(config.databaseUrl);
startWorker(db, pool, new Pool(config.threads), await whenThere(() => openQueue(config.databaseUrl, db, news)));
console.log(`Working for deliveries on ${config.threads} threads.`);
for (const signal of ['SIGINT', 'SIGTERM'] as const) process.on(signal, () => process.exit(0));

/** The server: brings the database up to date, serves pages and data, encodes deliveries and publishes them. */
import { once, setMaxListeners } from 'node:events';
import { createServer } from 'node:http';
import { makeApp } from './host/app.ts';
import { readConfig } from './host/config.ts';
import { deliverDemo, installGames, loadDemo, type DemoLivery } from './host/demo.ts';
import { listen } from './host/events.ts';
import { log } from './host/log.ts';
import { startWorker } from './host/worker.ts';
import { publishWaiting, removeLeftovers } from './jobs/publish.ts';
import { settlePutIns } from './jobs/putIn.ts';
import { lookThroughAll } from './jobs/subscribe.ts';
import { withLease } from './jobs/lease.ts';
import { openQueue } from './jobs/queue.ts';
import { hasPainters, invite } from './people/accounts.ts';
import { bringUpToDate, connect, whenThere } from './store/db.ts';
import { Log } from './store/log.ts';
import { keepBlobsIn } from './store/objects.ts';
import { sweep } from './store/sweep.ts';
import { Pool } from '@wet-lacquer/node/threads/pool.ts';

/** News can be lost: as often as this is looked without any. */
const LOOK_MS = 10_000;

const AGAIN_MS = 1000;
/** What nobody needs is taken away a while after the start, and every few hours. */
const SWEEP_FIRST_MS = 120_000;
const SWEEP_MS = 6 * 3_600_000;
/** How often other servers are asked for new skins. */
const LISTEN_MS = 900_000;

const config = readConfig(process.env);
const { db, pool } = connect(config.databaseUrl);
await keepBlobsIn(config.blobs);
await whenThere(() => bringUpToDate(pool, config.migrations));
const threads = new Pool(config.threads);
/** What comes along: the demo world delivered into its games, undelivered (`bare`), or nothing (`none`). */
const demo = process.env.WET_LACQUER_DEMO ?? 'delivered';
let loaded: DemoLivery[] = [];
if (demo !== 'none') {
  await installGames(config.demo, config.data);
  loaded = await loadDemo(db, threads, config.demo);
  if (loaded.length > 0) console.log('Loaded the demo world.');
}
const news = listen(config.databaseUrl);
const queue = await whenThere(() => openQueue(config.databaseUrl, db, news));

await removeLeftovers(db, config.data, config.hostId);
await settlePutIns({ db, connections: pool, config });
let publishing = Promise.resolve();
const publish = () => {
  publishing = publishing.then(() =>
    publishWaiting(db, pool, config.data, config.hostId)
      .then(async (again) => {
        for (const id of again) await queue.send('deliver', id);
      })
      .catch((error: Error) => {
        log.debug({ error: String(error.cause ?? error) }, 'publishing waits for the database or for room');
        setTimeout(publish, AGAIN_MS).unref();
      }),
  );
};
/** One server of all that share the database. */
const tidy = () =>
  withLease(pool, 'sweep', async () => {
    const { blobs, objects, bytes, steps } = await sweep(db);
    if (blobs + objects + steps > 0) log.info({ blobs, objects, bytes, steps }, 'swept');
  }).catch((error: unknown) => log.debug({ error: String(error) }, 'sweeping'));
setTimeout(() => void tidy(), SWEEP_FIRST_MS).unref();
setInterval(() => void tidy(), SWEEP_MS).unref();
/** One server of all looks through the others that are listened to. */
const listenToOthers = () =>
  withLease(pool, 'subscriptions', () => lookThroughAll({ db, threads, connections: pool, config })).catch(
    (error: unknown) => log.debug({ error: String(error) }, 'looking through other servers'),
  );
setInterval(() => void listenToOthers(), LISTEN_MS).unref();
news.onPublish(config.hostId, publish);
setInterval(publish, LOOK_MS);
if (process.env.WET_LACQUER_WORKER !== 'none') startWorker(db, pool, threads, queue);

const stopping = new AbortController();
setMaxListeners(0, stopping.signal);
const services = {
  ...{ config, db, connections: pool, threads, log: new Log(db, threads), queue, news, publish },
  stopping: stopping.signal,
};
const server = createServer(makeApp(services));
// Longer than clients keep a quiet connection, so that none is closed under a request that is just being sent.
server.keepAliveTimeout = 65_000;
let port = config.port;
for (;;) {
  server.listen(port, config.host);
  try {
    await Promise.race([
      once(server, 'listening'),
      once(server, 'error').then(([error]) => Promise.reject(error as Error)),
    ]);
    break;
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code !== 'EADDRINUSE' || port > config.port + 50) throw error;
    port++;
  }
}
// Keys of devices are bound to a name, and browsers trust this one without TLS.
const shown = config.origin ?? `http://${config.signIn ? 'localhost' : config.host}:${port}`;
console.log(`Wet Lacquer is at ${shown}`);
if (config.signIn) {
  if (!config.origin)
    console.log('Sessions are kept for TLS alone; browsers trust localhost without, and nothing else.');
  if (!(await hasPainters(db))) {
    const token = await invite(db, { note: 'the first', keeper: true, painterId: null });
    console.log(`Nobody has an account yet. This link makes the first: ${shown}/invited#${token}`);
  }
}
// Behind the first look at it.
if (demo === 'delivered') void deliverDemo(services, loaded);

/** How long requests that are being answered have. */
const PATIENCE_MS = 10_000;
let stops = false;
const stop = async () => {
  // Asked twice, it is meant.
  if (stops) process.exit(1);
  stops = true;
  const closed = new Promise((resolve) => server.close(resolve));
  stopping.abort();
  const idle = setInterval(() => server.closeIdleConnections(), 50);
  await Promise.race([closed, new Promise((resolve) => setTimeout(resolve, PATIENCE_MS))]);
  clearInterval(idle);
  server.closeAllConnections();
  await queue.stop().catch(() => {});
  await news.close();
  await pool.end().catch(() => {});
  process.exit(0);
};
process.on('SIGINT', () => void stop());
process.on('SIGTERM', () => void stop());

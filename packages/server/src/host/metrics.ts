/** Figures of this server in the open text format (OpenMetrics, and Prometheus before it), for whatever looks after it. */
import { timingSafeEqual } from 'node:crypto';
import type { RequestHandler } from 'express';
import { collectDefaultMetrics, Gauge, Histogram, Registry } from 'prom-client';
import { digestOf } from '../people/secrets.ts';
import { NotFound } from './errors.ts';
import { queueOf } from './health.ts';
import type { Services } from './services.ts';

/** Seconds. What is acknowledged is so within a quarter of one; a heavy answer takes minutes. */
const BOUNDS = [0.005, 0.01, 0.025, 0.05, 0.1, 0.25, 0.5, 1, 2.5, 10, 60, 300];
/** Ids and hashes are no part of a name: there would be one for each livery. */
const IDS = /\/([0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}|[0-9a-f]{64})(?=\/|$)/g;

export interface Metrics {
  /** Measures whatever is asked. */
  measure: RequestHandler;
  /** Says the figures. With sign-in on only to whoever has the word that this server was given for it. */
  say: RequestHandler;
}

export function metricsOf({ threads, db, config }: Pick<Services, 'threads' | 'db' | 'config'>): Metrics {
  const registry = new Registry();
  collectDefaultMetrics({ register: registry, prefix: 'wet_lacquer_' });
  const asked = new Histogram({
    name: 'wet_lacquer_http_seconds',
    help: 'How long answers took, by method, route and status; listeners to news are counted when they leave.',
    labelNames: ['method', 'route', 'status'],
    buckets: BOUNDS,
    registers: [registry],
  });
  const tasks = new Gauge({
    name: 'wet_lacquer_thread_tasks',
    help: 'Tasks that a thread has, that wait for one, and that were ended for taking too much since the start.',
    labelNames: ['state'],
    registers: [],
    collect() {
      const { busy, waiting, ended } = threads.health();
      for (const [state, n] of Object.entries({ busy, waiting, ended })) this.set({ state }, n);
    },
  });
  const queued = new Gauge({
    name: 'wet_lacquer_queue_jobs',
    help: 'Deliveries and files that wait or are under way, on all servers and workers of the database.',
    labelNames: ['of'],
    registers: [],
    async collect() {
      const queue = await queueOf(db).catch(() => null);
      for (const [of, n] of Object.entries(queue ?? {})) this.set({ of }, n);
    },
  });
  for (const gauge of [tasks, queued]) registry.registerMetric(gauge);
  return {
    measure(req, res, next) {
      const began = process.hrtime.bigint();
      res.once('close', () => {
        const { path } = (req.route as { path?: string } | undefined) ?? {};
        const route = path === undefined ? 'none' : `${req.baseUrl}${path}`.replace(IDS, '/:id');
        const seconds = Number(process.hrtime.bigint() - began) / 1e9;
        asked.observe({ method: req.method, route, status: String(res.statusCode) }, seconds);
      });
      next();
    },
    async say(req, res) {
      if (config.signIn && !isWord(config.metricsWord, req.get('authorization')))
        throw new NotFound('There are no figures here.');
      res.type(registry.contentType).send(await registry.metrics());
    },
  };
}

/** Compared by digest, so that how long it takes tells nothing of it. */
function isWord(word: string | null, said = ''): boolean {
  const [kind, token] = said.split(' ');
  if (word === null || kind !== 'Bearer' || !token) return false;
  return timingSafeEqual(Buffer.from(digestOf(word)), Buffer.from(digestOf(token)));
}

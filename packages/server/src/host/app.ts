import express, { type ErrorRequestHandler, type Express } from 'express';
import helmet from 'helmet';
import path from 'node:path';
import { InputError } from '@wet-lacquer/core/errors.ts';
import { bay } from '../routes/bay.ts';
import { decals } from '../routes/decals.ts';
import { deliveries, deliveriesOf } from '../routes/deliveries.ts';
import { onlyItsHosts, onlyOwnPages, onlyPlain } from '../routes/http.ts';
import { exchange } from '../routes/exchange.ts';
import { intakes } from '../routes/intakes.ts';
import { kits } from '../routes/kits.ts';
import { liveries } from '../routes/liveries.ts';
import { containers } from '../routes/containers.ts';
import { templates } from '../routes/templates.ts';
import { specs } from '../routes/specs.ts';
import { notesOf } from '../routes/notes.ts';
import { people } from '../routes/people.ts';
import { shares } from '../routes/shares.ts';
import { storage } from '../routes/storage.ts';
import { teams } from '../routes/teams.ts';
import { transfers } from '../routes/transfers.ts';
import { sources } from '../routes/sources.ts';
import { guarded, knowWho, readJson, type Guarded } from '../people/guard.ts';
import { isAway, isFull } from '../store/db.ts';
import { freeBytes, healthOf } from './health.ts';
import { Clash, Forbidden, NotFound, NotSignedIn, TooOften } from './errors.ts';
import { log } from './log.ts';
import { metricsOf, type Metrics } from './metrics.ts';
import type { Services } from './services.ts';

export function makeApp(services: Services): Express {
  const app = express();
  const { config } = services;
  app.disable('x-powered-by');
  app.set('trust proxy', config.proxies);
  app.locals.services = services;
  app.use(
    helmet({
      contentSecurityPolicy: {
        directives: {
          scriptSrc: ["'self'", "'wasm-unsafe-eval'"],
          workerSrc: ["'self'", 'blob:'],
          connectSrc: ["'self'", 'data:', 'blob:'],
          imgSrc: ["'self'", 'data:', 'blob:'],
          styleSrc: ["'self'", "'unsafe-inline'"],
          fontSrc: ["'self'", 'data:'],
          upgradeInsecureRequests: null,
        },
      },
      strictTransportSecurity: config.origin?.startsWith('https:') ?? false,
    }),
  );
  app.use((_req, res, next) => {
    res.set('Permissions-Policy', 'camera=(), geolocation=(), microphone=(), payment=(), usb=()');
    next();
  });
  app.use(onlyItsHosts(config));
  // Nothing is compressed on its way: it stays on this machine, where packing takes longer than sending.
  const api = express.Router();
  const metrics = metricsOf(services);
  app.locals.metrics = metrics;
  api.use(metrics.measure);
  api.use(onlyOwnPages(config), knowWho(services), readJson(config), onlyPlain);
  for (const [path, router] of routersOf(services)) api.use(path, router);
  api.use((_req, _res, next) => next(new NotFound('There is nothing at this address.')));
  api.use(failOf(config.data));
  app.use('/api', api);
  app.use(express.static(config.web, { index: false, setHeaders: cache }));
  app.get('/*path', (_req, res) => page(res, config.web));
  app.get('/', (_req, res) => page(res, config.web));
  return app;
}

/** Everything that can be asked, under `/api`. */
export const routersOf = (services: Services): [path: string, router: Guarded][] => [
  ['/', healthRoutes(services)],
  ['/', people(services)],
  ['/', shares(services)],
  ['/liveries/:id', deliveriesOf(services)],
  ['/liveries/:id', notesOf(services)],
  ['/liveries', liveries(services)],
  ['/deliveries', deliveries(services)],
  ['/decals', decals(services)],
  ['/kits', kits(services)],
  ['/bay', bay(services)],
  ['/exchange', exchange(services)],
  ['/intakes', intakes(services)],
  ['/teams', teams(services)],
  ['/transfers', transfers(services)],
  ['/containers', containers(services)],
  ['/templates', templates(services)],
  ['/specs', specs(services)],
  ['/storage', storage(services)],
  ['/', sources(services)],
];

function healthRoutes(services: Services): Guarded {
  const router = guarded();
  router.get('/health', 'anyone', async (_req, res) => {
    const health = await healthOf(services);
    res.status(health.ok ? 200 : 503).json(health);
  });
  /** At once, whatever else goes on: whoever waits asks here for what. */
  router.get('/health/threads', 'painters', (_req, res) => void res.json(services.threads.health()));
  router.get('/metrics', 'anyone', (req, res, next) => (req.app.locals.metrics as Metrics).say(req, res, next));
  return router;
}

function page(res: express.Response, web: string): void {
  res.set('Cache-Control', 'no-cache').sendFile(path.join(web, 'index.html'));
}

/** Built files carry their hash in the name. */
function cache(res: express.Response, file: string): void {
  if (file.includes(`${path.sep}assets${path.sep}`)) res.set('Cache-Control', 'public, max-age=31536000, immutable');
}

const failOf =
  (data: string): ErrorRequestHandler =>
  (error: Error & { status?: number; type?: string }, _req, res, next) => {
    if (res.headersSent) return next(error);
    if (error instanceof TooOften) res.set('Retry-After', String(error.seconds));
    void answerFor(error, data).then(({ status, sentence }) => {
      if (status >= 500) log.error({ error: String(error), stack: error.stack }, 'request failed');
      res.status(status).json({ error: sentence });
    });
  };

async function answerFor(
  error: Error & { status?: number; type?: string },
  data: string,
): Promise<{ status: number; sentence: string }> {
  if (error instanceof NotFound) return { status: 404, sentence: error.message };
  if (error instanceof Clash) return { status: 409, sentence: error.message };
  if (error instanceof NotSignedIn) return { status: 401, sentence: error.message };
  if (error instanceof Forbidden) return { status: 403, sentence: error.message };
  if (error instanceof TooOften) return { status: 429, sentence: error.message };
  if (error instanceof InputError) return { status: 400, sentence: error.message };
  if (error.type === 'entity.too.large') return { status: 413, sentence: 'This file is larger than can be taken in.' };
  // Whoever asked has gone.
  if (error.name === 'AbortError') return { status: 499, sentence: 'It was given up.' };
  if (error.status && error.status < 500) return { status: error.status, sentence: 'The request could not be read.' };
  if (isFull(error))
    return {
      status: 503,
      sentence: `The disk is full: ${Math.floor((await freeBytes(data)) / 2 ** 20)} MB free. Nothing is lost; it goes on when there is room.`,
    };
  if (isAway(error))
    return {
      status: 503,
      sentence: 'What this server keeps its work in does not answer just now; nothing is lost, trying again helps.',
    };
  return { status: 500, sentence: 'Something went wrong on the server; the log says more.' };
}

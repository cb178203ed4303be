import express, { Router } from 'express';
import { z } from 'zod';
import { sheetState, signaturesOf } from '@wet-lacquer/core/delivery/checklist.ts';
import { specFor } from '@wet-lacquer/core/delivery/specs.ts';
import { NO_TARGET } from '@wet-lacquer/core/delivery/target.ts';
import { planDelivery } from '@wet-lacquer/core/delivery/plan.ts';
import { InputError } from '@wet-lacquer/core/errors.ts';
import { Entry } from '@wet-lacquer/core/livery/history.ts';
import { Sha256 } from '@wet-lacquer/core/livery/ids.ts';
import { fillIn } from '@wet-lacquer/core/livery/livery.ts';
import { newLivery } from '@wet-lacquer/core/livery/newLivery.ts';
import type { Services } from '../host/services.ts';
import { pictureOf } from '../jobs/picture.ts';
import { sceneOf } from '../jobs/scene.ts';
import { putBlob } from '../store/blobs.ts';
import { lastDeliveries } from '../store/deliveries.ts';
import {
  createLivery,
  deleteLivery,
  entriesAfter,
  entriesUpTo,
  getLivery,
  listLiveries,
  postEntries,
} from '../store/liveries.ts';
import { getTemplate } from '../store/templates.ts';
import { madeFor, specOf } from '../store/specs.ts';
import { loadBundle, makeBundle } from '../store/bundles.ts';
import { bodyOf, bytesOf, idOf, sendForEver } from './http.ts';

const NewLivery = z.strictObject({
  template: Sha256,
  name: z.string().trim().min(1, 'give the livery a name').max(80),
});
const PostEntries = z.strictObject({ base: z.number().int().min(0), entries: z.array(Entry).min(1).max(500) });

/** Steps that are sent along when a livery is opened, and at most in one answer about earlier ones. */
const LOG_PAGE = 200;
/** Which steps are asked for: all after a revision, or the last ones up to one. */
const EntriesAsked = z.union(
  [z.strictObject({ after: z.coerce.number().int().min(0) }), z.strictObject({ upTo: z.coerce.number().int().min(0) })],
  'say after or up to which revision the steps are wanted: after=N or upTo=N',
);

/** Matching what came back may not take longer than this. */
const BACK_MS = 180_000;

export function liveries({ db, threads, news }: Services): Router {
  const router = Router();

  router.get('/', async (_req, res) => {
    const stored = await listLiveries(db);
    const last = await lastDeliveries(db, stored);
    const made = await madeFor(
      db,
      stored.map((s) => s.livery),
    );
    const cards = stored.map(async ({ id, revision, livery, updatedAt }) => {
      const template = await getTemplate(db, livery.pins.template);
      const delivery = last.get(id);
      const target = { ...NO_TARGET, slot: delivery?.slot ?? null };
      const plan = planDelivery(livery, template, specFor(livery, template, made), target);
      const now = await signaturesOf(plan);
      return {
        id,
        revision,
        updatedAt,
        name: fillIn(livery.particulars.name ?? '', livery.particulars),
        particulars: livery.particulars,
        template: template.name,
        game: template.gameName,
        sheets: template.sheets.map(({ key, name }) => ({
          key,
          name,
          state: sheetState(livery, key, plan, now, delivered(delivery)),
        })),
        lastDelivery: delivery?.finishedAt ?? null,
      };
    });
    res.json(await Promise.all(cards));
  });

  router.post('/', async (req, res) => {
    const { template: hash, name } = bodyOf(NewLivery, req.body);
    res.status(201).json({ id: await createLivery(db, newLivery(await getTemplate(db, hash), hash, name)) });
  });

  router.post('/open', express.raw({ type: () => true, limit: '512mb' }), async (req, res) => {
    res.status(201).json({ id: await loadBundle(db, threads, bytesOf(req.body)) });
  });

  router.get('/:id', async (req, res) => {
    const id = idOf(req.params.id);
    const { revision, livery } = await getLivery(db, id);
    const last = (await lastDeliveries(db, [{ id, livery }])).get(id);
    const log = await entriesUpTo(db, id, revision, LOG_PAGE);
    // A livery whose spec is gone still opens.
    const spec = await specOf(db, livery, await getTemplate(db, livery.pins.template)).catch(() => null);
    const lastDelivery = last ? { revision: last.revision, at: last.finishedAt, slot: last.slot } : null;
    res.json({ id, revision, livery, log, delivered: [...delivered(last)], lastDelivery, spec });
  });

  /** What it was at an earlier revision. */
  router.get('/:id/at/:revision', async (req, res) => {
    const revision = Number(req.params.revision);
    const id = idOf(req.params.id);
    const { revision: now } = await getLivery(db, id);
    if (!Number.isInteger(revision) || revision < 0 || revision > now)
      throw new InputError(`This livery has no revision ${req.params.revision}: it is at ${now}.`);
    res.json({ livery: (await getLivery(db, id, revision)).livery });
  });

  router.delete('/:id', async (req, res) => {
    await deleteLivery(db, idOf(req.params.id));
    res.status(204).end();
  });

  router.get('/:id/entries', async (req, res) => {
    const id = idOf(req.params.id);
    const asked = bodyOf(EntriesAsked, req.query);
    res.json(
      'after' in asked ? await entriesAfter(db, id, asked.after) : await entriesUpTo(db, id, asked.upTo, LOG_PAGE),
    );
  });

  router.post('/:id/entries', async (req, res) => {
    const { base, entries } = bodyOf(PostEntries, req.body);
    const result = await postEntries(db, idOf(req.params.id), base, entries);
    res.status(result.state === 'saved' ? 200 : result.state === 'stale' ? 409 : 422).json(result);
  });

  /** Tells of new revisions as they come: server-sent events. */
  router.get('/:id/news', async (req, res) => {
    const id = idOf(req.params.id);
    const { revision } = await getLivery(db, id);
    res.set({ 'Content-Type': 'text/event-stream', 'Cache-Control': 'no-store', 'X-Accel-Buffering': 'no' });
    const tell = (now: number) => res.write(`data: ${now}\n\n`);
    tell(revision);
    const stop = news.subscribe(id, tell);
    const beat = setInterval(() => res.write(': here\n\n'), 15_000);
    req.on('close', () => {
      clearInterval(beat);
      stop();
    });
  });

  /** The model with this revision of the livery on it, as PNG. */
  router.get('/:id/picture/:revision', async (req, res) => {
    const revision = Number.parseInt(req.params.revision, 10) || 0;
    sendForEver(res, 'png', await pictureOf(db, threads, idOf(req.params.id), revision));
  });

  /** One sheet as it is painted, at a quarter of its size, as PNG. */
  router.get('/:id/sheets/:sheet', async (req, res) => {
    const { livery } = await getLivery(db, idOf(req.params.id));
    const scene = await sceneOf(db, livery);
    res
      .set('Cache-Control', 'no-cache')
      .type('png')
      .send(Buffer.from(await threads.run('sheetPicture', { scene, sheet: req.params.sheet, step: 4 })));
  });

  /** A map of a sheet as it came and as it is, side by side and small, as PNG. */
  router.get('/:id/sheets/:sheet/beside/:map', async (req, res) => {
    const { livery } = await getLivery(db, idOf(req.params.id));
    const scene = await sceneOf(db, livery);
    const { sheet, map } = req.params;
    const bytes = await threads.run('besideOriginal', { scene, sheet, map, side: 256 });
    res.set('Cache-Control', 'no-cache').type('png').send(Buffer.from(bytes));
  });

  /** A sheet with its layers, for another editor. */
  router.get('/:id/sheets/:sheet/layered/:as', async (req, res) => {
    const as = req.params.as === 'ora' ? 'ora' : 'psd';
    const { livery } = await getLivery(db, idOf(req.params.id));
    const scene = await sceneOf(db, livery);
    const bytes = await threads.run('sheetAsLayered', { scene, sheet: req.params.sheet, as });
    const name = `${livery.particulars.key || 'livery'}-${req.params.sheet}.${as}`;
    res.attachment(name).type('application/octet-stream').send(Buffer.from(bytes));
  });

  /** The same file, come back: what was done to it there. Nothing of the livery is changed; its pictures are stored. */
  router.post('/:id/sheets/:sheet/layered', express.raw({ type: () => true, limit: '512mb' }), async (req, res) => {
    const { livery } = await getLivery(db, idOf(req.params.id));
    const scene = await sceneOf(db, livery);
    const task = { scene, sheet: String(req.params.sheet), bytes: bytesOf(req.body) };
    const { plan, blobs } = await threads.run('sheetBack', task, AbortSignal.timeout(BACK_MS));
    await db.transaction(async (tx) => {
      for (const bytes of blobs) await putBlob(tx, bytes);
    });
    res.json(plan);
  });

  router.get('/:id/bundle', async (req, res) => {
    const { livery } = await getLivery(db, idOf(req.params.id));
    const bare = req.query.files === 'leave';
    res
      .attachment(`${livery.particulars.key || 'livery'}.livery`)
      .type('application/zip')
      .send(Buffer.from(await makeBundle(db, livery, bare)));
  });

  return router;
}

const delivered = (delivery?: { files: { name: string; signature: string }[] }): Map<string, string> =>
  new Map(delivery?.files.map((file) => [file.name, file.signature]));

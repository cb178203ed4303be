import { Router } from 'express';
import { signaturesOf } from '@wet-lacquer/core/delivery/checklist.ts';
import { planDelivery, type PlannedSheet, type PlannedSidecar } from '@wet-lacquer/core/delivery/plan.ts';
import { InputError } from '@wet-lacquer/core/errors.ts';
import { getBlob } from '../store/blobs.ts';
import type { Services } from '../host/services.ts';
import { checkWritable } from '../jobs/publish.ts';
import { sceneOf } from '../jobs/scene.ts';
import {
  cancelDelivery,
  commitFiles,
  createDelivery,
  getDelivery,
  listDeliveries,
  takeDelivery,
  type Delivery,
} from '../store/deliveries.ts';
import type { DeliveredFile } from '../store/schema.ts';
import { getLivery } from '../store/liveries.ts';
import { specFor } from '@wet-lacquer/core/delivery/specs.ts';
import { describe } from '../jobs/encode.ts';
import { idOf } from './http.ts';

/** Routes under one livery. */
export function deliveriesOf({ db, threads, queue, config }: Services): Router {
  const router = Router({ mergeParams: true });
  const livery = (params: unknown) => idOf((params as { id?: string }).id);

  /** Preflight, what would be written, and what of it is new since the last delivery. */
  router.get('/preflight', async (req, res) => {
    const id = livery(req.params);
    const stored = await getLivery(db, id);
    const scene = await sceneOf(db, stored.livery);
    const spec = specFor(stored.livery, scene.template);
    const plan = planDelivery(stored.livery, scene.template, spec);
    const signatures = await signaturesOf(plan);
    const earlier = (await listDeliveries(db, id)).find((d) => d.state === 'done');
    const files = await Promise.all(
      plan.files.map(async (file) => {
        const before = earlier?.files.find((f) => f.name === file.name);
        return file.kind === 'sidecar'
          ? sidecarCard(file, before && new TextDecoder().decode(await getBlob(db, before.blob)))
          : sheetCard(file, before, signatures.get(file.name)!);
      }),
    );
    const { key, game, gameName, after } = spec;
    const preflight = await threads.run('check', { scene, spec });
    res.json({
      revision: stored.revision,
      spec: { key, game, gameName, after },
      folder: plan.folder,
      files,
      preflight,
    });
  });

  router.get('/deliveries', async (req, res) => {
    res.json((await listDeliveries(db, livery(req.params))).map(publicDelivery));
  });

  router.post('/deliveries', async (req, res) => {
    const id = livery(req.params);
    const stored = await getLivery(db, id);
    const scene = await sceneOf(db, stored.livery);
    const spec = specFor(stored.livery, scene.template);
    const { findings } = await threads.run('check', { scene, spec });
    const stop = findings.find((finding) => finding.level === 'stop');
    if (stop) throw new InputError(`Preflight stops this delivery: ${stop.title}.`);
    const { folder } = planDelivery(stored.livery, scene.template, spec);
    await checkWritable(config.data, spec.game, folder);
    const made = await createDelivery(db, {
      liveryId: id,
      revision: stored.revision,
      specKey: spec.key,
      specVersion: spec.version,
      game: spec.game,
      folder,
    });
    await queue.send('deliver', made.id);
    res.status(201).json(publicDelivery(made));
  });

  return router;
}

/** Routes of one delivery. */
export function deliveries({ db, config, publish }: Services): Router {
  const router = Router();

  router.get('/:id', async (req, res) => {
    res.json(publicDelivery(await getDelivery(db, idOf(req.params.id))));
  });

  router.post('/:id/cancel', async (req, res) => {
    res.json(publicDelivery(await cancelDelivery(db, idOf(req.params.id))));
  });

  /** The same bytes again, from what was kept: nothing is encoded. */
  router.post('/:id/repeat', async (req, res) => {
    const before = await getDelivery(db, idOf(req.params.id));
    if (before.state !== 'done' || !before.zip) throw new InputError('Only a finished delivery can be repeated.');
    await checkWritable(config.data, before.game, before.folder);
    const { liveryId, revision, specKey, specVersion, game, folder } = before;
    const made = await createDelivery(db, { liveryId, revision, specKey, specVersion, game, folder });
    const taken = await takeDelivery(db, made.id);
    await commitFiles(db, taken!, { files: before.files, zip: before.zip, seconds: 0 });
    publish();
    res.status(201).json(publicDelivery(await getDelivery(db, made.id)));
  });

  router.get('/:id/zip', async (req, res) => {
    const { zip, folder } = await getDelivery(db, idOf(req.params.id));
    if (!zip) throw new InputError('This delivery has no zip yet.');
    const name = folder.split('/').filter(Boolean).at(-1) ?? 'delivery';
    res
      .attachment(`${name}.zip`)
      .type('application/zip')
      .send(Buffer.from(await getBlob(db, zip)));
  });

  return router;
}

const sinceOf = (same: boolean | undefined) => (same === undefined ? 'new' : same ? 'unchanged' : 'changed');

function sidecarCard({ kind, name, text }: PlannedSidecar, before: string | undefined) {
  const since = sinceOf(before === undefined ? undefined : before === text);
  return {
    kind,
    name,
    what: 'sidecar',
    bytes: Buffer.byteLength(text),
    leftOut: null,
    since,
    text,
    before: before ?? null,
  };
}

function sheetCard(file: PlannedSheet, before: DeliveredFile | undefined, signature: string) {
  const { kind, name, leftOut, mips, pattern, spec, sheet } = file;
  const { header, flip, mipFilter, padding, alpha } = spec;
  const same = before && before.signature === signature;
  return {
    kind,
    name,
    what: describe(file),
    bytes: same ? before.bytes : file.bytes,
    leftOut,
    since: sinceOf(same),
    sheet: file.master.key,
    facts: { width: sheet.width, height: sheet.height, mips, header, flip, mipFilter, padding, pattern, alpha },
  };
}

const publicDelivery = ({ fence: _fence, cancelled: _cancelled, ...rest }: Delivery) => rest;

import { Router } from 'express';
import { planDelivery } from '@wet-lacquer/core/delivery/plan.ts';
import { InputError } from '@wet-lacquer/core/errors.ts';
import { hashOf, getBlob } from '../store/blobs.ts';
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
import { getLivery } from '../store/liveries.ts';
import { specOf } from '../store/templates.ts';
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
    const spec = specOf(stored.livery);
    const plan = planDelivery(stored.livery, scene.template, spec);
    const earlier = (await listDeliveries(db, id)).find((d) => d.state === 'done');
    const files = await Promise.all(
      plan.files.map(async (file) => {
        const before = earlier?.files.find((f) => f.name === file.name);
        if (file.kind === 'sidecar') {
          const was = before ? new TextDecoder().decode(await getBlob(db, before.blob)) : null;
          return {
            kind: file.kind,
            name: file.name,
            what: 'sidecar',
            bytes: Buffer.byteLength(file.text),
            leftOut: null,
            since: sinceOf(was === null ? undefined : was === file.text),
            text: file.text,
            before: was,
          };
        }
        return {
          kind: file.kind,
          name: file.name,
          what: describe(file),
          bytes: before?.signature === hashOf(file.signature) ? before.bytes : file.bytes,
          leftOut: file.leftOut,
          since: sinceOf(before && before.signature === hashOf(file.signature)),
          sheet: file.sheet.key,
          facts: {
            width: file.sheet.width,
            height: file.sheet.height,
            mips: file.mips,
            header: file.spec.header,
            flip: file.spec.flip,
            mipFilter: file.spec.mipFilter,
            padding: file.spec.padding,
            pattern: file.pattern,
            alpha: file.spec.alpha,
          },
        };
      }),
    );
    const { preflight, spec: specKey } = { preflight: await threads.run('check', { scene, spec }), spec: spec.key };
    res.json({
      revision: stored.revision,
      spec: { key: specKey, gameName: spec.gameName, game: spec.game, after: spec.after },
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
    const spec = specOf(stored.livery);
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
    await queue.send(made.id);
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
    const made = await createDelivery(db, before2values(before));
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

const before2values = ({ liveryId, revision, specKey, specVersion, game, folder }: Delivery) => ({
  liveryId,
  revision,
  specKey,
  specVersion,
  game,
  folder,
});

const publicDelivery = ({ fence: _fence, cancelled: _cancelled, ...rest }: Delivery) => rest;

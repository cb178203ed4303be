import { z } from 'zod';
import { heldIn } from '@wet-lacquer/core/held.ts';
import { signaturesOf } from '@wet-lacquer/core/delivery/checklist.ts';
import {
  planDelivery,
  type PlannedCompanion,
  type PlannedSheet,
  type PlannedSidecar,
  type PlannedThumbnail,
} from '@wet-lacquer/core/delivery/plan.ts';
import { InputError } from '@wet-lacquer/core/errors.ts';
import { slotText } from '@wet-lacquer/core/delivery/target.ts';
import { baseOf } from '@wet-lacquer/core/paths.ts';
import { describe, zipOf } from '@wet-lacquer/node/makeFiles.ts';
import type { DeliveryCard, PlanAnswer, PlannedCard, PreflightAnswer } from '@wet-lacquer/sync/answers.ts';
import { getBlob, getBlobs } from '../store/blobs.ts';
import { getSpec, specOf } from '../store/specs.ts';
import { getTemplate } from '../store/templates.ts';
import { NotFound } from '../host/errors.ts';
import type { Role } from '../store/schema.ts';
import { each, guarded, the, type Guarded, type Rule } from '../people/guard.ts';
import type { Services } from '../host/services.ts';
import { withFields } from '../jobs/fields.ts';
import { askDelivery, openDelivery, plannedBy } from '../jobs/askDelivery.ts';
import { checkWritable, takeBack } from '../jobs/publish.ts';
import { pathsIn } from '../jobs/target.ts';
import {
  cancelDelivery,
  commitKept,
  createDelivery,
  deliveriesOfBatch,
  getDelivery,
  lastBy,
  listDeliveries,
  type Delivery,
} from '../store/deliveries.ts';
import type { DeliveredFile } from '../store/schema.ts';
import { getLivery } from '../store/liveries.ts';
import { answer, bodyOf, idOf, leaving } from './http.ts';

/** Keys of specs. */
const WhatToDeliver = z.strictObject({
  specs: z.array(z.string().max(60)).min(1).max(9).optional(),
  /** The step that is delivered: what was looked at, whatever came since. Left out: the newest. */
  revision: z.number().int().min(0).optional(),
  /** Names of findings that somebody who knows better lets go on. */
  overrule: z.array(z.string().max(500)).max(200).optional(),
});

/** What a question about a delivery may say. */
const Asked = z.object({
  spec: z.string().max(60).optional(),
  revision: z.coerce
    .number()
    .int()
    .min(0)
    .max(2 ** 31 - 1)
    .optional(),
});

/** Routes under one livery. */
export function deliveriesOf(services: Services): Guarded {
  const { db, threads } = services;
  const router = guarded();
  const livery = (params: unknown) => idOf((params as { id?: string }).id);

  const open = (id: string, key: string | undefined, revision?: number) => openDelivery(services, id, key, revision);

  /** Preflight by one of its specs, what would be written, and what of it is new since the last delivery. */
  router.get('/preflight', the('livery', 'copy'), async (req, res) => {
    const id = livery(req.params);
    const { spec: key, revision } = bodyOf(Asked, req.query);
    const { stored, scene, spec, target, plan } = await open(id, key, revision);
    const signatures = await signaturesOf(plan);
    const earlier = await lastBy(db, id, spec);
    const files = await Promise.all(
      plan.files.map(async (file) => {
        const before = earlier?.files.find((f) => f.name === file.name);
        if (file.kind === 'companion') return companionCard(file, before);
        return file.kind === 'sidecar'
          ? sidecarCard(file, before && new TextDecoder().decode(await getBlob(db, before.blob)))
          : drawnCard(file, before, heldIn(signatures, file.name));
      }),
    );
    const { version, game, gameName, lacks, before, after, slot } = spec;
    const ready = await withFields(db, threads, scene, leaving(res));
    const preflight = await threads.run('check', { scene: ready, spec, target }, leaving(res));
    answer<PreflightAnswer>(res, {
      revision: stored.revision,
      spec: { key: spec.key, version, game, gameName, lacks, before, after },
      folder: plan.folder,
      package: plan.package,
      slot: slot ? { called: slot.called, is: slotText(spec, target.slot) } : null,
      files,
      preflight,
    });
  });

  /** What would be written by a spec, also by one that the livery is not delivered by yet: names alone, at once. */
  router.get('/plan', the('livery', 'copy'), async (req, res) => {
    const id = livery(req.params);
    const { spec: key, revision } = bodyOf(Asked, req.query);
    const { livery: state } = await getLivery(db, id, revision);
    const template = await getTemplate(db, state.pins.template);
    const spec = key ? await getSpec(db, key) : await specOf(db, state, template);
    const plan = planDelivery(state, template, spec);
    answer<PlanAnswer>(res, plannedBy(spec, plan));
  });

  router.get('/deliveries', the('livery', 'copy'), async (req, res) => {
    answer<DeliveryCard[]>(res, (await listDeliveries(db, livery(req.params))).map(publicDelivery));
  });

  /** Delivers by all of the livery's specs, or by those that are named; the answer is the first, the others share its `batch`. */
  router.post('/deliveries', the('livery', 'paint'), async (req, res) => {
    const id = livery(req.params);
    const made = await askDelivery(services, id, bodyOf(WhatToDeliver, req.body ?? {}), leaving(res));
    res.status(201).json(publicDelivery(made[0]));
  });

  return router;
}

/** Whoever may do something with the livery that a delivery is of. */
const ofDelivery =
  (role: Role): Rule =>
  async ({ params }, db) =>
    each('livery', role, [(await getDelivery(db, idOf(params.id))).liveryId]);

const ofBatch: Rule = async ({ params }, db) =>
  each(
    'livery',
    'copy',
    (await deliveriesOfBatch(db, idOf(params.id))).map(({ liveryId }) => liveryId),
  );

/** Routes of one delivery. */
export function deliveries({ db, threads, connections, config, publish }: Services): Guarded {
  const router = guarded();

  router.get('/:id', ofDelivery('copy'), async (req, res) => {
    answer<DeliveryCard>(res, publicDelivery(await getDelivery(db, idOf(req.params.id))));
  });

  /** What was asked for in one go, also of several liveries. */
  router.get('/batches/:id', ofBatch, async (req, res) => {
    const rows = await deliveriesOfBatch(db, idOf(req.params.id));
    if (rows.length === 0) throw new NotFound('There are no such deliveries.');
    answer<DeliveryCard[]>(res, rows.map(publicDelivery));
  });

  router.post('/:id/cancel', ofDelivery('paint'), async (req, res) => {
    res.json(publicDelivery(await cancelDelivery(db, idOf(req.params.id))));
  });

  /** The same bytes again, from what was kept: nothing is encoded. */
  router.post('/:id/repeat', ofDelivery('paint'), async (req, res) => {
    const before = await getDelivery(db, idOf(req.params.id));
    if (before.state !== 'done') throw new InputError('Only a finished delivery can be repeated.');
    await checkWritable(config.data, before.game, [...pathsIn(before).keys()]);
    const { liveryId, revision, specKey, specVersion, game, folder, package: pack, slot, bases, credits } = before;
    const host = config.hostId;
    const again = { liveryId, revision, specKey, specVersion, host, game, folder, package: pack, slot, bases, credits };
    const made = await createDelivery(db, { ...again, repeat: true });
    await commitKept(db, made.id, before);
    publish();
    res.status(201).json(publicDelivery(await getDelivery(db, made.id)));
  });

  /** What it replaced returns, and its own files go. */
  router.post('/:id/take-back', ofDelivery('paint'), async (req, res) => {
    const before = await getDelivery(db, idOf(req.params.id));
    if (before.state !== 'done') throw new InputError('Only a finished delivery can be taken back.');
    const paths = pathsIn(before);
    const over = (await listDeliveries(db, before.liveryId)).find(
      (one) =>
        one.order > before.order &&
        one.state === 'done' &&
        one.game === before.game &&
        (one.specKey === before.specKey || [...pathsIn(one).keys()].some((name) => paths.has(name))),
    );
    if (over)
      throw new InputError(
        'A later delivery lies over this one; take that one back first, or repeat the one you want.',
      );
    const left = await takeBack(db, connections, config, before);
    res.json({ ...publicDelivery(await getDelivery(db, before.id)), left });
  });

  /** What was delivered, for others to check: every file with its SHA-256. */
  router.get('/:id/note', ofDelivery('copy'), async (req, res) => {
    const done = await getDelivery(db, idOf(req.params.id));
    if (done.files.length === 0) throw new InputError('This delivery has no files yet.');
    res.attachment('delivery-note.json').json(noteOf(done));
  });

  router.get('/:id/zip', ofDelivery('copy'), async (req, res) => {
    const { zip, folder, package: pack, files } = await getDelivery(db, idOf(req.params.id));
    if (files.length === 0) throw new InputError('This delivery has no files yet.');
    const name = pack ? baseOf(pack) : `${folder.split('/').filter(Boolean).at(-1) ?? 'delivery'}.zip`;
    const made = async () => {
      const blobs = await getBlobs(
        db,
        files.map(({ blob }) => blob),
      );
      return zipOf(
        threads,
        folder,
        files.map((file) => ({ name: file.name, content: heldIn(blobs, file.blob) })),
      );
    };
    res
      .attachment(name)
      .type('application/zip')
      .send(Buffer.from(zip ? await getBlob(db, zip) : await made()));
  });

  return router;
}

const sinceOf = (same: boolean | undefined): PlannedCard['since'] =>
  same === undefined ? 'new' : same ? 'unchanged' : 'changed';

function sidecarCard({ kind, name, text, bytes, original }: PlannedSidecar, before: string | undefined) {
  const since = sinceOf(before === undefined ? undefined : before.replaceAll('\r\n', '\n') === text);
  return {
    kind,
    name,
    what: 'sidecar',
    bytes: bytes.length,
    leftOut: null,
    since,
    text,
    before: original ?? before ?? null,
  };
}

function companionCard({ kind, name, file }: PlannedCompanion, before: DeliveredFile | undefined) {
  const since = sinceOf(before && before.blob === file.blob);
  return { kind, name, what: 'as it came', bytes: file.bytes, leftOut: null, since };
}

function drawnCard(file: PlannedSheet | PlannedThumbnail, before: DeliveredFile | undefined, signature: string) {
  const same = before && before.signature === signature;
  const common = { kind: file.kind, name: file.name, what: describe(file), since: sinceOf(same) };
  if (file.kind === 'thumbnail') return { ...common, bytes: same ? before.bytes : 0, leftOut: null };
  const { leftOut, mips, pattern, spec, sheet } = file;
  const { header, flip, mipFilter, padding, alpha, map } = spec;
  return {
    ...common,
    bytes: same ? before.bytes : file.bytes,
    leftOut,
    sheet: file.master.key,
    map,
    follower: file.follower,
    facts: {
      ...{ width: sheet.width, height: sheet.height, mips, header, flip, mipFilter, padding, pattern, alpha },
      over: file.original !== null,
    },
  };
}

/** The delivery note: what was delivered, by which rules, from which state of the livery. */
function noteOf({ liveryId, revision, specKey, specVersion, game, folder, files, zip, ...rest }: Delivery) {
  return {
    livery: liveryId,
    revision,
    spec: { key: specKey, version: specVersion },
    game,
    folder,
    package: rest.package,
    number: rest.slot,
    finished: rest.finishedAt,
    files: files.map(({ name, what, bytes, blob }) => ({ name: folder + name, what, bytes, sha256: blob })),
    ...(zip && { zip: { sha256: zip } }),
  };
}

/** A delivery as pages see it. */
export const publicDelivery = ({
  fence: _fence,
  cancelled: _cancelled,
  bases: _bases,
  credits: _credits,
  ...rest
}: Delivery) => rest;

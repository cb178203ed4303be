/** The encoding half of a delivery: from a livery's revision to files as blobs. Runs on any machine that reaches the database. */
import type pg from 'pg';
import { heldIn } from '@wet-lacquer/core/held.ts';
import { InputError } from '@wet-lacquer/core/errors.ts';
import { signaturesOf } from '@wet-lacquer/core/delivery/checklist.ts';
import { planDelivery, written } from '@wet-lacquer/core/delivery/plan.ts';
import { makeFiles, stepsOf, zipOf, type Step } from '@wet-lacquer/node/makeFiles.ts';
import type { Pool } from '@wet-lacquer/node/threads/pool.ts';
import { log } from '../host/log.ts';
import { getBlob, putBlob } from '../store/blobs.ts';
import { isAway, isFull, type Db } from '../store/db.ts';
import {
  commitFiles,
  encodedFiles,
  finishDelivery,
  LostLease,
  reportProgress,
  takeDelivery,
  type Delivery,
} from '../store/deliveries.ts';
import { getLivery } from '../store/liveries.ts';
import type { DeliveredFile, DeliveryProgress } from '../store/schema.ts';
import { specOf } from '../store/specs.ts';
import { withLease } from './lease.ts';
import { readyScene } from './fields.ts';
import { targetIn } from './target.ts';

/** Does the encoding of one delivery, unless somebody else is at it. What goes wrong is kept in the delivery's row. */
export async function encodeDelivery(db: Db, connections: pg.Pool, threads: Pool, id: string): Promise<void> {
  await withLease(connections, id, async () => {
    const delivery = await takeDelivery(db, id);
    if (!delivery) return;
    const stop = new AbortController();
    let now = delivery.progress;
    const report = (progress = now) => reportProgress(db, delivery, (now = progress));
    // A cancelled delivery ends its threads at once, not at the next step.
    const watch = setInterval(() => {
      report().catch((error: unknown) => error instanceof LostLease && stop.abort());
    }, 300);
    try {
      await encodeAll(db, threads, delivery, report, stop.signal);
    } catch (error) {
      // Without the database nothing is lost: it is taken again.
      if (error instanceof LostLease || stop.signal.aborted || isAway(error) || isFull(error)) return;
      if (!(error instanceof InputError))
        log.error({ id, error: String(error), stack: (error as Error).stack }, 'delivery failed');
      const message = error instanceof InputError ? error.message : 'Something went wrong while encoding; try again.';
      await finishDelivery(db, delivery, { state: 'failed', error: message });
    } finally {
      clearInterval(watch);
    }
  });
}

async function encodeAll(
  db: Db,
  threads: Pool,
  delivery: Delivery,
  report: (progress: DeliveryProgress) => Promise<void>,
  signal: AbortSignal,
): Promise<void> {
  const began = performance.now();
  const { livery } = await getLivery(db, delivery.liveryId, delivery.revision);
  const scene = await readyScene(db, threads, livery, signal);
  const spec = await specOf(db, livery, scene.template, { key: delivery.specKey, version: delivery.specVersion });
  const target = await targetIn(db, delivery, scene.template, spec);
  const plan = planDelivery(livery, scene.template, spec, target);
  const signatures = await signaturesOf(plan);
  const known = await encodedFiles(db, [...signatures.values()]);
  const drawn = written(plan).filter((file) => file.kind === 'sheet' || file.kind === 'thumbnail');
  const of = drawn.reduce(
    (n, file) => n + (known.has(heldIn(signatures, file.name)) ? 0 : file.kind === 'sheet' ? stepsOf(file) : 1),
    1,
  );
  let done = 0;
  const step: Step = async (what) => {
    await report({ done: done++, of, what });
  };
  const encoded = async (signature: string) => {
    const same = known.get(signature);
    return same ? getBlob(db, same.blob) : null;
  };
  const kept = (hash: string) => getBlob(db, hash);
  const made = await makeFiles(threads, scene, spec, plan, target, step, signal, encoded, kept);
  await step('packing');
  const files: DeliveredFile[] = [];
  for (const { content, ...row } of made) files.push({ ...row, blob: await putBlob(db, content) });
  // A zip of what lies in a folder is made when somebody wants it.
  const zip = plan.package === null ? null : await putBlob(db, await zipOf(threads, plan.folder, made));
  await commitFiles(db, delivery, { files, zip, seconds: (performance.now() - began) / 1000 });
}

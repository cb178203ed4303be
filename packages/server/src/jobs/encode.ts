/** The encoding half of a delivery: from a livery's revision to files as blobs. Runs on any machine that reaches the database. */
import { zipSync, type Zippable } from 'fflate';
import type pg from 'pg';
import { InputError } from '@wet-lacquer/core/errors.ts';
import { signaturesOf } from '@wet-lacquer/core/delivery/checklist.ts';
import { planDelivery, type PlannedSheet } from '@wet-lacquer/core/delivery/plan.ts';
import { encodingOf, mipOptions, spaceOf } from '@wet-lacquer/core/delivery/preparedSheet.ts';
import type { DeliverySpec } from '@wet-lacquer/core/livery/spec.ts';
import { ZIP_TIME } from '@wet-lacquer/core/files/bundle.ts';
import { mapsOf } from '@wet-lacquer/core/livery/template.ts';
import { FORMATS } from '@wet-lacquer/core/texture/formats.ts';
import { writeDds } from '@wet-lacquer/core/texture/dds.ts';
import { writeTga } from '@wet-lacquer/core/texture/tga.ts';
import { log } from '../host/log.ts';
import { getBlob, hashOf, putBlob } from '../store/blobs.ts';
import type { Db } from '../store/db.ts';
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
import { specFor } from '@wet-lacquer/core/delivery/specs.ts';
import type { Pool } from '../threads/pool.ts';
import type { Scene } from '../threads/tasks.ts';
import { withLease } from './lease.ts';
import { sceneOf } from './scene.ts';

type Step = (what: string) => Promise<void>;

/** The bytes of one sheet's file; the same for the same livery and spec, on any number of threads. */
export async function encodePlanned(
  pool: Pool,
  scene: Scene,
  spec: DeliverySpec,
  file: PlannedSheet,
  step: Step,
  signal?: AbortSignal,
): Promise<Uint8Array> {
  await step(`${file.name}: painting`);
  const { master, sheet, spec: rule } = file;
  const alpha = mapsOf(master).find((map) => map.key === rule.map)?.alpha ?? 'none';
  const flat = await pool.flatten(scene, master.key, rule.map, master, signal);
  await step(`${file.name}: filtering mip levels`);
  const image = await pool.run(
    'prepare',
    { scene, file: { master, sheet, mirror: file.mirror }, flat, spec: rule, ground: spec.ground },
    signal,
  );
  if (rule.container === 'png') return pool.run('filePng', { image, space: spaceOf(rule) }, signal);
  if (rule.container === 'jpg') return pool.run('fileJpeg', { image, space: spaceOf(rule) }, signal);
  if (file.spec.container === 'tga') return writeTga(image, { alpha: file.spec.alpha === 'keep', rle: true });
  const levels = await pool.mips(image, mipOptions(rule, alpha), signal);
  const encoded: Uint8Array[] = [];
  for (const [i, level] of levels.entries()) {
    await step(`${file.name}: ${FORMATS[file.spec.format].name}, mip level ${i} of ${levels.length}`);
    encoded.push(await pool.encode(level, file.spec.format, encodingOf(rule, alpha, 'normal'), signal));
  }
  const { width, height } = file.sheet;
  return writeDds(
    { width, height, format: file.spec.format, header: file.spec.header, colourSpace: spaceOf(rule) },
    encoded,
  );
}

/** How many steps encodePlanned takes. */
export const stepsOf = (file: PlannedSheet): number => (file.spec.container === 'dds' ? 2 + file.mips : 2);

/** What a file is, in a few words. */
export function describe(file: PlannedSheet): string {
  if (file.spec.container !== 'dds') return file.spec.container.toUpperCase();
  const space = file.spec.colourSpace === 'srgb' ? 'sRGB' : file.spec.colourSpace;
  return `${FORMATS[file.spec.format].name} ${space}, ${file.mips} mips`;
}

/** The delivery as one zip: the game's own tree, fixed times, so that the same files give the same bytes. */
export function zipOf(folder: string, files: readonly { name: string; content: Uint8Array }[]): Uint8Array {
  const tree: Zippable = {};
  for (const { name, content } of files) tree[folder + name] = content;
  return zipSync(tree, { level: 6, mtime: ZIP_TIME });
}

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
      if (error instanceof LostLease || stop.signal.aborted) return;
      if (!(error instanceof InputError))
        log.error({ id, error: String(error), stack: (error as Error).stack }, 'delivery failed');
      const message = error instanceof InputError ? error.message : 'Something went wrong while encoding; try again.';
      await finishDelivery(db, id, { state: 'failed', error: message });
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
  const scene = await sceneOf(db, livery);
  const spec = specFor(livery, scene.template);
  const plan = planDelivery(livery, scene.template, spec);
  const sheets = plan.files.filter((file) => file.kind === 'sheet' && !file.leftOut) as PlannedSheet[];
  const signatures = await signaturesOf(plan);
  const known = await encodedFiles(
    db,
    sheets.map((file) => signatures.get(file.name)!),
  );
  const of = sheets.reduce((n, file) => n + (known.has(signatures.get(file.name)!) ? 0 : stepsOf(file)), 1);
  let done = 0;
  const step: Step = async (what) => {
    await report({ done: done++, of, what });
  };
  const files: (DeliveredFile & { content: Uint8Array })[] = [];
  for (const file of plan.files) {
    if (file.kind === 'sidecar') {
      const content = new TextEncoder().encode(file.text);
      files.push({
        name: file.name,
        content,
        blob: await putBlob(db, content),
        bytes: content.length,
        what: 'sidecar',
        signature: hashOf(file.text),
      });
      continue;
    }
    if (file.leftOut) continue;
    const signature = signatures.get(file.name)!;
    const same = known.get(signature);
    const content = same ? await getBlob(db, same.blob) : await encodePlanned(threads, scene, spec, file, step, signal);
    files.push({
      name: file.name,
      content,
      blob: same?.blob ?? (await putBlob(db, content)),
      bytes: content.length,
      what: describe(file),
      signature,
    });
  }
  await step('packing');
  const zip = await putBlob(db, zipOf(plan.folder, files));
  const rows = files.map(({ content: _content, ...row }) => row);
  await commitFiles(db, delivery, { files: rows, zip, seconds: (performance.now() - began) / 1000 });
}

/** The encoding half of a delivery: from a livery's revision to files as blobs. Runs on any machine that reaches the database. */
import { zipSync, type Zippable } from 'fflate';
import type pg from 'pg';
import { InputError } from '@wet-lacquer/core/errors.ts';
import { signaturesOf } from '@wet-lacquer/core/delivery/checklist.ts';
import { cellsChanged } from '@wet-lacquer/core/delivery/atlas.ts';
import {
  planDelivery,
  written,
  type DeliveryPlan,
  type PlannedFile,
  type PlannedSheet,
} from '@wet-lacquer/core/delivery/plan.ts';
import { encodingOf, mipOptions, packChannels, spaceOf } from '@wet-lacquer/core/delivery/preparedSheet.ts';
import type { Target } from '@wet-lacquer/core/delivery/target.ts';
import { carriesAlpha, packedMaps, type DeliverySpec } from '@wet-lacquer/core/livery/spec.ts';
import type { Image8 } from '@wet-lacquer/core/raster/image.ts';
import { ZIP_TIME } from '@wet-lacquer/core/files/archive.ts';
import { beginningOf, mapsOf } from '@wet-lacquer/core/livery/template.ts';
import { FORMATS } from '@wet-lacquer/core/texture/formats.ts';
import { writeDds } from '@wet-lacquer/core/texture/dds.ts';
import { writeTga } from '@wet-lacquer/core/texture/tga.ts';
import { log } from '../host/log.ts';
import { getBlob, hashOf, putBlob } from '../store/blobs.ts';
import { isAway, type Db } from '../store/db.ts';
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
import type { Pool } from '../threads/pool.ts';
import type { Scene } from '../threads/tasks.ts';
import { withLease } from './lease.ts';
import { sceneOf } from './scene.ts';
import { targetIn } from './target.ts';

type Step = (what: string) => Promise<void>;

/** The mip levels of sheets whose levels are files of their own, so that they are painted once. */
type LevelsHeld = Map<string, Promise<Image8[]>>;

/** The bytes of one sheet's file; the same for the same livery, spec and base, on any number of threads. */
export async function encodePlanned(
  pool: Pool,
  scene: Scene,
  spec: DeliverySpec,
  file: PlannedSheet,
  step: Step,
  signal?: AbortSignal,
  base?: Uint8Array,
  held: LevelsHeld = new Map(),
): Promise<Uint8Array> {
  await step(`${file.name}: painting`);
  const { master, sheet, spec: rule } = file;
  const alpha = mapsOf(master).find((map) => map.key === rule.map)?.alpha ?? 'none';
  const { mirror, level } = file;
  const prepare = async (picture: Image8) => {
    const task = { scene, file: { master, mirror }, flat: picture, spec: rule, ground: spec.ground };
    return pool.resample(await pool.run('prepare', task, signal), level ?? sheet, spaceOf(rule), signal);
  };
  const mips = mipOptions(rule, alpha);
  const whole = async () => {
    const flat = await flatOf(pool, scene, file, signal);
    await step(`${file.name}: filtering mip levels`);
    return prepare(flat);
  };
  let image: Image8;
  if (level) {
    const key = JSON.stringify([master.key, file.pattern, file.follower]);
    const making = held.get(key) ?? whole().then((largest) => pool.mips(largest, mips, signal));
    held.set(key, making);
    image = (await making)[level.at];
  } else image = await whole();
  if (rule.container === 'png') return pool.run('filePng', { image, space: spaceOf(rule) }, signal);
  if (rule.container === 'jpg') return pool.run('fileJpeg', { image, space: spaceOf(rule) }, signal);
  if (file.spec.container === 'tga') return writeTga(image, { alpha: carriesAlpha(file.spec), rle: true });
  const encoding = encodingOf(rule, alpha, 'normal');
  if (rule.inPlace) {
    if (!base || !master.cells)
      throw new InputError(`${file.name}: there is no atlas in the game’s folder to put it into.`);
    const before = await pool.flatten(asItCame(scene, master.key), master.key, rule.map, master, signal);
    const changed = cellsChanged(await prepare(before), image, master.cells);
    await step(`${file.name}: ${changed.length} of ${master.cells.columns * master.cells.rows} cells`);
    return pool.run('cells', { base, image, changed, cells: master.cells, file: rule, mips, encoding }, signal);
  }
  const levels = level ? [image] : await pool.mips(image, mips, signal);
  const encoded: Uint8Array[] = [];
  for (const [i, level] of levels.entries()) {
    await step(`${file.name}: ${FORMATS[file.spec.format].name}, mip level ${i} of ${levels.length}`);
    encoded.push(await pool.encode(level, file.spec.format, encoding, signal));
  }
  const { width, height } = sheet;
  return writeDds(
    { width, height, format: file.spec.format, header: file.spec.header, colourSpace: spaceOf(rule) },
    encoded,
  );
}

/** What is painted of a file: one map of its sheet, or channels from several. */
async function flatOf(pool: Pool, scene: Scene, { master, spec }: PlannedSheet, signal?: AbortSignal): Promise<Image8> {
  const { packed } = spec;
  if (!packed) return pool.flatten(scene, master.key, spec.map, master, signal);
  const maps = new Map<string, Image8>();
  for (const key of packedMaps(packed)) maps.set(key, await pool.flatten(scene, master.key, key, master, signal));
  return packChannels(packed, maps, { width: master.width, height: master.height });
}

/** The scene with one sheet as its template brings it. */
function asItCame(scene: Scene, sheet: string): Scene {
  const sheets = scene.livery.sheets.map((one) => {
    if (one.key !== sheet) return one;
    const maps = one.maps.map((map) => ({ ...map, layers: [...beginningOf(scene.template, sheet, map.key)] }));
    return { ...one, maps };
  });
  return { ...scene, livery: { ...scene.livery, sheets } };
}

/** How many steps encodePlanned takes. */
export const stepsOf = (file: PlannedSheet): number =>
  file.spec.inPlace ? 3 : file.spec.container === 'dds' ? 2 + file.mips : 2;

/** What a file is, in a few words. */
export function describe(file: PlannedFile): string {
  if (file.kind === 'sidecar') return 'sidecar';
  if (file.kind === 'thumbnail')
    return `${file.rule.container.toUpperCase()}, ${file.rule.width} x ${file.rule.height}`;
  if (file.spec.container !== 'dds')
    return file.spec.container.toUpperCase() + (file.level ? `, mip level ${file.level.at}` : '');
  const space = file.spec.colourSpace === 'srgb' ? 'sRGB' : file.spec.colourSpace;
  if (file.spec.inPlace) return `${FORMATS[file.spec.format].name}, painted cells`;
  const levels = file.level ? `mip level ${file.level.at}` : `${file.mips} mips`;
  return `${FORMATS[file.spec.format].name} ${space}, ${levels}`;
}

/** The delivery as one zip: the game's own tree, fixed times, so that the same files give the same bytes. */
export function zipOf(folder: string, files: readonly { name: string; content: Uint8Array }[]): Uint8Array {
  const tree: Zippable = {};
  for (const { name, content } of files) tree[folder + name] = content;
  return zipSync(tree, { level: 6, mtime: ZIP_TIME });
}

/** A file of a delivery with its bytes. */
export type MadeFile = Omit<DeliveredFile, 'blob'> & { content: Uint8Array };

/** Every file of a delivery with its bytes. @param known what was encoded before, by signature */
export async function makeFiles(
  pool: Pool,
  scene: Scene,
  spec: DeliverySpec,
  plan: DeliveryPlan,
  target: Target,
  step: Step,
  signal?: AbortSignal,
  known: (signature: string) => Promise<Uint8Array | null> = async () => null,
): Promise<MadeFile[]> {
  const signatures = await signaturesOf(plan);
  const levels: LevelsHeld = new Map();
  const makeOne = async (file: PlannedFile): Promise<MadeFile> => {
    const base = target.bases.get(plan.folder + file.name);
    const made = (content: Uint8Array, signature: string, based = false): MadeFile => ({
      name: file.name,
      content,
      bytes: content.length,
      what: describe(file),
      signature,
      ...(based && { base: base?.hash ?? null }),
    });
    if (file.kind === 'sidecar') {
      if (file.problems.length > 0) throw new InputError(file.problems[0]);
      return made(file.bytes, hashOf(file.text), file.continues);
    }
    const signature = signatures.get(file.name)!;
    const inPlace = file.kind === 'sheet' && !!file.spec.inPlace;
    const held = inPlace ? null : await known(signature);
    if (held) return made(held, signature);
    if (file.kind === 'sheet')
      return made(await encodePlanned(pool, scene, spec, file, step, signal, base?.bytes, levels), signature, inPlace);
    await step(`${file.name}: drawing the model`);
    return made(await pool.run('thumbnail', { scene, rule: file.rule }, signal), signature);
  };
  const wanted = written(plan);
  const files = new Array<MadeFile>(wanted.length);
  let next = 0;
  // Some stages of a file run on one thread: with more, two files are in work at once.
  const work = async () => {
    while (next < wanted.length) {
      const at = next++;
      try {
        files[at] = await makeOne(wanted[at]);
      } catch (error) {
        next = wanted.length;
        throw error;
      }
    }
  };
  await Promise.all(Array.from({ length: Math.min(2, pool.threads) }, work));
  return files;
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
      // Without the database nothing is lost: it is taken again.
      if (error instanceof LostLease || stop.signal.aborted || isAway(error)) return;
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
  const spec = await specOf(db, livery, scene.template, { key: delivery.specKey, version: delivery.specVersion });
  const target = await targetIn(db, delivery);
  const plan = planDelivery(livery, scene.template, spec, target);
  const signatures = await signaturesOf(plan);
  const known = await encodedFiles(db, [...signatures.values()]);
  const drawn = written(plan).filter((file) => file.kind !== 'sidecar');
  const of = drawn.reduce(
    (n, file) => n + (known.has(signatures.get(file.name)!) ? 0 : file.kind === 'sheet' ? stepsOf(file) : 1),
    1,
  );
  let done = 0;
  const step: Step = async (what) => {
    await report({ done: done++, of, what });
  };
  const made = await makeFiles(threads, scene, spec, plan, target, step, signal, async (signature) => {
    const same = known.get(signature);
    return same ? getBlob(db, same.blob) : null;
  });
  await step('packing');
  const files: DeliveredFile[] = [];
  for (const { content, ...row } of made) files.push({ ...row, blob: await putBlob(db, content) });
  const zip = await putBlob(db, zipOf(plan.folder, made));
  await commitFiles(db, delivery, { files, zip, seconds: (performance.now() - began) / 1000 });
}

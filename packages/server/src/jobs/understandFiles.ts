import type pg from 'pg';
import { heldIn } from '@wet-lacquer/core/held.ts';
import { InputError } from '@wet-lacquer/core/errors.ts';
import { isZip, openZip } from '@wet-lacquer/core/files/zip.ts';
import { filesNamedBy } from '@wet-lacquer/core/models/beside.ts';
import type { Pool } from '@wet-lacquer/node/threads/pool.ts';
import { modelKindOf, type ModelKind } from '@wet-lacquer/core/kinds/index.ts';
import { sharedCopy } from '@wet-lacquer/node/threads/shared.ts';
import { log } from '../host/log.ts';
import { getBlob, getBlobs, putBlob } from '../store/blobs.ts';
import type { Db } from '../store/db.ts';
import {
  addIntakeFile,
  archivesAround,
  blobsByName,
  filesWanting,
  noteRefused,
  readAgain,
  removeBelow,
  setIntakeFile,
  takeWaiting,
  type IntakeFile,
} from '../store/intakes.ts';
import { withLease } from './lease.ts';

/** Reading one file may not take longer than this. */
const LIMIT_MS = 180_000;
const REPORT_MS = 300;

/** Looks at every file of an intake that waits, as many at once as there are threads; files inside archives join the others. */
export async function understandFiles(db: Db, connections: pg.Pool, threads: Pool, intakeId: string): Promise<void> {
  await withLease(connections, `intake ${intakeId}`, async () => {
    await readAgain(db, intakeId);
    const turn = async () => {
      for (let file = await takeWaiting(db, intakeId); file; file = await takeWaiting(db, intakeId))
        await understandOne(db, threads, file);
    };
    do await Promise.all(Array.from({ length: Math.max(1, threads.threads) }, turn));
    while (await readModelsAgain(db, intakeId));
  });
}

async function understandOne(db: Db, threads: Pool, file: IntakeFile): Promise<void> {
  const progress = new SharedArrayBuffer(4);
  const gauge = new Int32Array(progress);
  const stop = new AbortController();
  const timer = setTimeout(() => stop.abort(), LIMIT_MS);
  // Tells how far it is, and gives up when the painter has let go of the files.
  const report = setInterval(() => {
    setIntakeFile(db, file, { progress: Atomics.load(gauge, 0) / 1000 })
      .then((there) => {
        if (!there) stop.abort();
      })
      .catch((error: Error) => log.debug({ error: error.message }, 'reporting how far a file is read'));
  }, REPORT_MS);
  try {
    const bytes = await getBlob(db, file.blob);
    const kind = modelKindOf(bytes, file.name);
    const beside = kind && (await besideModel(db, threads, file, bytes, kind, stop.signal));
    const { understood, preview, difference, inside } = await threads.understand(
      bytes,
      file.name,
      progress,
      stop.signal,
      beside?.bytes,
    );
    if (isZip(bytes) && understood.kind === 'other') await unpack(db, threads, file, bytes, stop.signal);
    if (kind && beside && understood.kind === 'model') {
      understood.beside = beside.names;
      for (const picture of inside ?? []) await addBelow(db, file, picture.name, picture.bytes);
    }
    await setIntakeFile(db, file, {
      state: 'read',
      progress: 1,
      understood,
      preview: preview && (await putBlob(db, preview)),
      difference: difference && (await putBlob(db, difference)),
    });
  } catch (error) {
    const sentence =
      error instanceof InputError
        ? error.message
        : (error as Error).name === 'AbortError'
          ? 'Reading this file took too long, so it was given up.'
          : 'This file could not be read; the log of the server says more.';
    if (!(error instanceof InputError)) log.warn({ error: String(error), file: file.name }, 'reading a file');
    await setIntakeFile(db, file, { state: 'failed', error: sentence });
  } finally {
    clearTimeout(timer);
    clearInterval(report);
  }
}

/** Files of the intake that a model is read with: their bytes by the paths that it writes. */
export async function besideModel(
  db: Db,
  threads: Pick<Pool, 'run'>,
  { intakeId, name }: Pick<IntakeFile, 'intakeId' | 'name'>,
  bytes: Uint8Array,
  kind: ModelKind,
  signal: AbortSignal,
): Promise<{ bytes: Map<string, Uint8Array>; names: string[] }> {
  const paths = await threads.run('besideModel', { bytes, kind }, signal);
  if (paths.length === 0) return { bytes: new Map(), names: [] };
  const held = await blobsByName(db, intakeId);
  const found = filesNamedBy([...held.keys()], name, paths);
  const blobs = await getBlobs(
    db,
    found.map((one) => heldIn(held, one.name)),
  );
  return {
    bytes: new Map(found.map((one) => [one.path, heldIn(blobs, heldIn(held, one.name))])),
    names: found.map((one) => one.name),
  };
}

/** Models that wanted files which have come since wait again. @returns whether there are any */
async function readModelsAgain(db: Db, intakeId: string): Promise<boolean> {
  const wanting = await filesWanting(db, intakeId);
  if (wanting.length === 0) return false;
  const names = [...(await blobsByName(db, intakeId)).keys()];
  let again = false;
  for (const { needs, ...file } of wanting)
    if (filesNamedBy(names, file.name, needs).length > 0)
      again = (await setIntakeFile(db, file, { state: 'waiting', progress: 0 })) || again;
  return again;
}

/** What systems leave in archives for themselves. */
const LITTER = /(^|\/)(__MACOSX|\.[^./][^/]*|Thumbs\.db|desktop\.ini)(\/|$)/i;
/** Archives in archives. */
const DEEPEST = 3;
/** How much more than the archive itself its files may be, once they are more than so many bytes. */
const MOST_RATIO = 100;
const ALWAYS = 64 * 1024 * 1024;

/** Puts the files inside an archive beside it. One that cannot be is named, and the others come; of an archive that is dangerous nothing stays. */
async function unpack(db: Db, threads: Pool, file: IntakeFile, bytes: Uint8Array, signal: AbortSignal): Promise<void> {
  const entries = openZip(bytes).entries.filter(({ name, folder }) => !folder && !LITTER.test(name));
  const total = entries.reduce((sum, { size }) => sum + size, 0);
  if (total > ALWAYS && total > bytes.length * MOST_RATIO)
    throw new InputError(
      `This archive would unpack to ${Math.round(total / 2 ** 20)} MiB, over ${MOST_RATIO} times its size, which no folder of pictures does.`,
    );
  if ((await archivesAround(db, file)) >= DEEPEST)
    throw new InputError(`This archive lies inside ${DEEPEST} others; unpack them first.`);
  const shared = sharedCopy(bytes);
  try {
    for (const { name } of entries)
      await addBelow(db, file, name, () => threads.run('unpackEntry', { bytes: shared, name }, signal));
  } catch (error) {
    await removeBelow(db, file);
    throw error;
  }
}

/** Puts what was inside a file beside it, or names it with the reason why not. */
async function addBelow(
  db: Db,
  file: IntakeFile,
  name: string,
  content: Uint8Array | (() => Promise<Uint8Array>),
): Promise<void> {
  const path = `${file.name}/${name}`;
  try {
    await addIntakeFile(db, file.intakeId, path, typeof content === 'function' ? await content() : content);
  } catch (error) {
    if (!(error instanceof InputError)) throw error;
    await noteRefused(db, file, path, error.message);
  }
}

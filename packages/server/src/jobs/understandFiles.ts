import type pg from 'pg';
import { InputError } from '@wet-lacquer/core/errors.ts';
import { isZip, openZip } from '@wet-lacquer/core/files/zip.ts';
import { log } from '../host/log.ts';
import { getBlob, putBlob } from '../store/blobs.ts';
import type { Db } from '../store/db.ts';
import { addIntakeFile, readAgain, setIntakeFile, takeWaiting, type IntakeFile } from '../store/intakes.ts';
import type { Pool } from '../threads/pool.ts';
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
    await Promise.all(Array.from({ length: Math.max(1, threads.threads) }, turn));
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
    const { understood, preview, difference } = await threads.understand(bytes, file.name, progress, stop.signal);
    if (isZip(bytes) && understood.kind === 'other') await unpack(db, file, bytes);
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

async function unpack(db: Db, file: IntakeFile, bytes: Uint8Array): Promise<void> {
  const zip = openZip(bytes);
  for (const { name, folder } of zip.entries) {
    if (folder || /(^|\/)(__MACOSX|\.[^./][^/]*|Thumbs\.db|desktop\.ini)(\/|$)/i.test(name)) continue;
    await addIntakeFile(db, file.intakeId, `${file.name}/${name}`, zip.read(name)!);
  }
}

/**
 * The publishing half of a delivery, on the host that owns the games' folders. Each file is written under a temporary name that
 * carries the delivery's id, and renamed when all are there. The delivery's row is the journal: it stays "publishing" until the
 * folder is right, so that a host that died half-way does it again at its next start.
 */
import { access, constants, mkdir, readdir, readFile, rename, rm, writeFile } from 'node:fs/promises';
import path from 'node:path';
import type pg from 'pg';
import { InputError } from '@wet-lacquer/core/errors.ts';
import { log } from '../host/log.ts';
import { getBlob, hashOf, putBlob } from '../store/blobs.ts';
import type { Db } from '../store/db.ts';
import { deliveriesIn, finishDelivery, listDeliveries, type Delivery } from '../store/deliveries.ts';
import { withLease } from './lease.ts';

const TEMPORARY = /^\.lacquer-[0-9a-f-]{36}-/;

/** Folder of a stand-in game. */
export const gameFolder = (data: string, game: string): string => path.join(data, 'games', game);

/** Finds out before the work starts whether the target can be written. @throws InputError */
export async function checkWritable(data: string, game: string, folder: string): Promise<void> {
  const target = path.join(gameFolder(data, game), folder);
  try {
    await mkdir(target, { recursive: true });
    await access(target, constants.W_OK);
  } catch {
    throw new InputError(`The folder ${target} cannot be written, so nothing was started.`);
  }
}

/** Publishes every delivery that waits for it. */
export async function publishWaiting(db: Db, connections: pg.Pool, data: string): Promise<void> {
  for (const delivery of await deliveriesIn(db, ['publishing'])) {
    await withLease(connections, `publish ${delivery.game}`, async () => {
      try {
        const replaced = await publish(db, data, delivery);
        await finishDelivery(db, delivery.id, { state: 'done', replaced });
      } catch (error) {
        if (!(error instanceof InputError)) log.error({ error: String(error) }, 'publishing failed');
        const code = (error as NodeJS.ErrnoException).code;
        const why =
          error instanceof InputError
            ? error.message
            : `The game's folder could not be written${code ? ` (${code})` : ''}.`;
        await finishDelivery(db, delivery.id, { state: 'failed', error: why });
      }
    });
  }
}

async function publish(db: Db, data: string, delivery: Delivery): Promise<Delivery['replaced']> {
  const root = gameFolder(data, delivery.game);
  const target = path.join(root, delivery.folder);
  if (!target.startsWith(root + path.sep)) throw new InputError('The delivery would leave the folder of its game.');
  await mkdir(target, { recursive: true });
  const earlier = (await listDeliveries(db, delivery.liveryId)).filter(
    (d) => d.state === 'done' && d.folder === delivery.folder,
  );
  const ours = new Set([...earlier, delivery].flatMap((d) => d.files.map((file) => file.blob)));
  const replaced: Delivery['replaced'] = [];
  // What somebody else put there is kept before it is overwritten; what we delivered is kept anyway.
  for (const { name } of delivery.files) {
    const there = await readFile(path.join(target, name)).catch(() => null);
    if (there && !ours.has(hashOf(there))) replaced.push({ name, blob: await putBlob(db, there) });
  }
  // Beside the file that it becomes, so that renaming never crosses a file system.
  const temporary = (name: string) =>
    path.join(target, path.dirname(name), `.lacquer-${delivery.id}-${path.basename(name)}`);
  for (const { name, blob } of delivery.files) {
    if (!path.join(target, name).startsWith(path.join(target, path.sep)))
      throw new InputError(`"${name}" would leave the folder of its game.`);
    await mkdir(path.dirname(temporary(name)), { recursive: true });
    await writeFile(temporary(name), await getBlob(db, blob), { flush: true });
  }
  for (const { name } of delivery.files) await rename(temporary(name), path.join(target, name));
  for (const entry of await readdir(target, { recursive: true, withFileTypes: true })) {
    if (!entry.isFile()) continue;
    const name = path.relative(target, path.join(entry.parentPath, entry.name)).split(path.sep).join('/');
    if (delivery.files.some((file) => file.name === name)) continue;
    if (TEMPORARY.test(entry.name)) await rm(path.join(target, name));
    // A file of an earlier delivery that this one no longer has would be loaded as if it belonged to it.
    else if (earlier.some((d) => d.files.some((file) => file.name === name))) {
      const left = await readFile(path.join(target, name));
      if (ours.has(hashOf(left))) await rm(path.join(target, name));
    }
  }
  return replaced;
}

/** All files of a game's folder, path inside it to bytes. Leftovers of unfinished publishing are not part of it. */
export async function readGameFolder(root: string): Promise<Map<string, Uint8Array>> {
  const files = new Map<string, Uint8Array>();
  const entries = await readdir(root, { recursive: true, withFileTypes: true }).catch(() => []);
  for (const entry of entries) {
    if (!entry.isFile() || TEMPORARY.test(entry.name)) continue;
    const full = path.join(entry.parentPath, entry.name);
    files.set(path.relative(root, full).split(path.sep).join('/'), new Uint8Array(await readFile(full)));
  }
  return files;
}

/**
 * The publishing half of a delivery, on the host that owns the games' folders. Each file is written under a temporary name that
 * carries the delivery's id, and renamed when all are there. The delivery's row is the journal: it stays "publishing" until the
 * folder is right, so that a host that died half-way does it again at its next start.
 */
import { readdir, rm } from 'node:fs/promises';
import path from 'node:path';
import type pg from 'pg';
import { InputError } from '@wet-lacquer/core/errors.ts';
import { deliveredBy } from '@wet-lacquer/core/livery/livery.ts';
import { log } from '../host/log.ts';
import { putBlob } from '../store/blobs.ts';
import { hashOf } from '@wet-lacquer/node/hash.ts';
import { isAway, isFull, type Db } from '../store/db.ts';
import {
  encodeAgain,
  finishDelivery,
  listDeliveries,
  markTakenBack,
  takePublishing,
  waitingFor,
  type Delivery,
} from '../store/deliveries.ts';
import { getLivery } from '../store/liveries.ts';
import { withLease } from './lease.ts';
import { gameFolder, TEMPORARY, whyClosedFor } from '@wet-lacquer/node/gameFolder.ts';
import { placeOf, putFiles, readIf } from './folder.ts';
import { pathsIn } from './target.ts';

/** Finds out before the work starts whether files can be written at some paths; nothing is made for it. @throws InputError */
export async function checkWritable(data: string, game: string, paths: readonly string[]): Promise<void> {
  const root = gameFolder(data, game);
  for (const name of paths) await placeOf(root, name);
  const why = await whyClosedFor(root, paths);
  if (why) throw new InputError(`${why} Nothing was started.`);
}

/** Publishes every delivery that waits for it and is for this host. @returns those that have to be encoded again */
export async function publishWaiting(db: Db, connections: pg.Pool, data: string, host: string): Promise<string[]> {
  const again: string[] = [];
  for (const { id, game } of await waitingFor(db, host)) {
    await withLease(connections, `publish ${host} ${game}`, async () => {
      const delivery = await takePublishing(db, id);
      if (!delivery) return;
      try {
        const result = await publish(db, data, delivery);
        if ('bases' in result) {
          await encodeAgain(db, delivery.id, result.bases);
          again.push(delivery.id);
        } else await finishDelivery(db, delivery, { state: 'done', ...result });
      } catch (error) {
        // Without the database it stays as it is, and is published when that answers again.
        if (isAway(error) || isFull(error)) throw error;
        if (!(error instanceof InputError)) log.error({ error: String(error) }, 'publishing failed');
        const code = (error as NodeJS.ErrnoException).code;
        const why =
          error instanceof InputError
            ? error.message
            : `The game's folder could not be written${code ? ` (${code})` : ''}.`;
        await finishDelivery(db, delivery, { state: 'failed', error: why });
      }
    });
  }
  return again;
}

async function publish(
  db: Db,
  data: string,
  delivery: Delivery,
): Promise<{ replaced: Delivery['replaced'] } | { bases: Record<string, string> }> {
  const root = gameFolder(data, delivery.game);
  const files = pathsIn(delivery);
  const earlier = (await listDeliveries(db, delivery.liveryId)).filter(
    (d) => d.state === 'done' && d.game === delivery.game,
  );
  const ours = new Set([...earlier, delivery].flatMap((d) => [...pathsIn(d).values()]));
  const changed = await changedBases(db, root, delivery);
  if (changed) return { bases: changed };
  const replaced: Delivery['replaced'] = [];
  // What somebody else put there is kept before it is overwritten; what we delivered is kept anyway.
  for (const name of files.keys()) {
    const there = await readIf(await placeOf(root, name));
    const kept = there && (!ours.has(hashOf(there)) || name in delivery.bases);
    if (kept && hashOf(there) !== files.get(name)) replaced.push({ name, blob: await putBlob(db, there) });
  }
  await putFiles(db, root, delivery.id, files);
  // Another size or spec of the livery may lie in the same folder.
  const { livery } = await getLivery(db, delivery.liveryId);
  const others = deliveredBy(livery).flatMap(({ key }) => earlier.find((d) => d.specKey === key) ?? []);
  const beside = new Set(others.flatMap((d) => (d.specKey === delivery.specKey ? [] : [...pathsIn(d).keys()])));
  const folders = new Set([...files.keys()].map((name) => path.posix.dirname(name)));
  for (const entry of await readdir(root, { recursive: true, withFileTypes: true })) {
    if (!entry.isFile()) continue;
    const full = path.join(entry.parentPath, entry.name);
    const name = path.relative(root, full).split(path.sep).join('/');
    if (files.has(name) || beside.has(name)) continue;
    if (TEMPORARY.test(entry.name)) await rm(full);
    // A file of an earlier delivery that this one no longer has would be loaded as if it belonged to it. Under another name of
    // the livery it stays: that is another one to the game.
    else if (folders.has(path.posix.dirname(name)) && earlier.some((d) => pathsIn(d).has(name) && !(name in d.bases))) {
      const left = await readIf(full);
      if (left && ours.has(hashOf(left))) await rm(full);
    }
  }
  return { replaced };
}

/** At the start: what a host that was killed left behind in its games' folders goes, but for what is still being published. */
export async function removeLeftovers(db: Db, data: string, host: string): Promise<number> {
  const games = path.join(data, 'games');
  const busy = new Set((await waitingFor(db, host)).map(({ id }) => id));
  let gone = 0;
  for (const entry of await readdir(games, { recursive: true, withFileTypes: true }).catch(() => [])) {
    if (!entry.isFile() || !TEMPORARY.test(entry.name) || busy.has(entry.name.slice('.lacquer-'.length, 45))) continue;
    await rm(path.join(entry.parentPath, entry.name), { force: true });
    gone++;
  }
  return gone;
}

/** The files that a delivery continues, as they are now, when one of them is not what it was based on; null: all are. */
async function changedBases(db: Db, root: string, delivery: Delivery): Promise<Record<string, string> | null> {
  const based = delivery.files.filter((file) => file.base !== undefined);
  const now: Record<string, string> = {};
  let same = true;
  for (const { name, base, blob } of based) {
    const there = await readIf(await placeOf(root, delivery.folder + name));
    const hash = there && hashOf(there);
    if (there) now[delivery.folder + name] = await putBlob(db, there);
    if (hash === base || hash === blob) continue;
    same = false;
    if (delivery.repeat)
      throw new InputError(
        `${name} has been changed since by others, so it was not written over; deliver anew instead.`,
      );
  }
  return same ? null : now;
}

/**
 * Puts back what a delivery replaced: its own files go, as far as they are still as it left them, and what was there before returns.
 * @returns names of files that somebody changed since, which stay @throws InputError when it is not the last word in its folder
 */
export async function takeBack(
  db: Db,
  connections: pg.Pool,
  { data, hostId }: { data: string; hostId: string },
  delivery: Delivery,
): Promise<string[]> {
  const root = gameFolder(data, delivery.game);
  const left: string[] = [];
  const got = await withLease(connections, `publish ${hostId} ${delivery.game}`, async () => {
    for (const [name, blob] of pathsIn(delivery)) {
      const full = await placeOf(root, name);
      const there = await readIf(full);
      if (!there || hashOf(there) !== blob) {
        left.push(name);
        continue;
      }
      const before = delivery.replaced.find((one) => one.name === name || delivery.folder + one.name === name)?.blob;
      if (before) await putFiles(db, root, delivery.id, new Map([[name, before]]));
      else await rm(full);
    }
    await markTakenBack(db, delivery.id);
  });
  if (!got) throw new InputError('Something is being published to this game just now; try again in a moment.');
  return left;
}

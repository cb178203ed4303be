/**
 * Skins from the exchange into the games of this host, and out again. What the folder is to become stands in the skin's row before the first
 * file is touched: a host that died half-way does it again at its next start.
 */
import { rm } from 'node:fs/promises';
import { and, eq } from 'drizzle-orm';
import { planPutIn, type PutBefore } from '@wet-lacquer/core/exchange/putIn.ts';
import { InputError } from '@wet-lacquer/core/errors.ts';
import { folderReader, gameFolder, whyClosedFor } from '@wet-lacquer/node/gameFolder.ts';
import { hashOf } from '@wet-lacquer/node/hash.ts';
import { zipOf } from '@wet-lacquer/node/makeFiles.ts';
import type { Services } from '../host/services.ts';
import { painterNow } from '../people/who.ts';
import { getBlob, putBlob } from '../store/blobs.ts';
import { transact, type Db } from '../store/db.ts';
import { busySlots } from '../store/deliveries.ts';
import { getListing, getVersion, putInGame, putInNow, type PutInRow } from '../store/exchange.ts';
import { putIn } from '../store/schema.ts';
import { placeOf, putFiles, readIf } from './folder.ts';
import { withLease } from './lease.ts';

type Hosting = Pick<Services, 'db' | 'connections' | 'threads' | 'config'>;

/** No livery has it: what is under way of all of them counts. */
const NOBODY = '00000000-0000-0000-0000-000000000000';

/** Only one at a time writes to a game. @throws InputError when somebody else does just now */
async function alone(
  { connections, config }: Pick<Hosting, 'connections' | 'config'>,
  game: string,
  work: () => Promise<void>,
): Promise<void> {
  const got = await withLease(connections, `publish ${config.hostId} ${game}`, work);
  if (!got) throw new InputError('Something is being written to this game just now; try again in a moment.');
}

const hashes = (files: PutInRow['files']) => new Map(files.map(({ name, blob }) => [name, blob]));

/**
 * Puts a skin into its game, or a newer version of it in place of the one that is there.
 * @throws InputError when there is no place for it; then nothing was written
 */
export async function putSkinIn(services: Hosting, id: string, version?: number): Promise<PutInRow> {
  const { db, threads, config } = services;
  const { takenDown } = await getListing(db, id);
  if (takenDown !== null) throw new InputError(`This skin was taken down: ${takenDown}`);
  const found = await getVersion(db, id, version);
  const { document: skin } = found;
  const stop = found.findings.find(({ level }) => level === 'stop');
  if (stop) throw new InputError(`This skin is not put into a game: ${stop.says}`);
  const { game } = skin.spec;
  const root = gameFolder(config.data, game);
  let made: PutInRow | null = null;
  await alone(services, game, async () => {
    const before = (await putInNow(db, config.hostId, [id])).get(id) ?? null;
    const earlier: PutBefore | undefined = before
      ? { key: before.key, number: before.number, files: hashes(before.files) }
      : undefined;
    const busy = await busySlots(db, game, NOBODY);
    const plan = await planPutIn(skin, (hash) => getBlob(db, hash), await folderReader(root), earlier, busy);
    const wanted =
      plan.package === null
        ? plan.files.map(({ name, bytes, base }) => ({ name: plan.folder + name, bytes, shared: base !== undefined }))
        : [{ name: plan.package, bytes: await packed(), shared: false }];
    async function packed() {
      return zipOf(
        threads,
        plan.folder,
        plan.files.map(({ name, bytes }) => ({ name, content: bytes })),
      );
    }
    const paths = wanted.map(({ name }) => name);
    for (const name of paths) await placeOf(root, name);
    const closed = await whyClosedFor(root, paths);
    if (closed) throw new InputError(`${closed} Nothing was written.`);
    const row = await transact(db, async (tx) => {
      const files: PutInRow['files'] = [];
      for (const { name, bytes, shared } of wanted) files.push({ name, blob: await putBlob(tx, bytes), shared });
      const replaced: PutInRow['replaced'] = [];
      for (const { name, blob } of files) {
        const there = await readIf(await placeOf(root, name));
        const held = before?.replaced.find((one) => one.name === name);
        // What an earlier version replaced is still what was there before.
        if (held && there && earlier?.files.get(name) === hashOf(there)) replaced.push(held);
        else if (there && hashOf(there) !== blob) replaced.push({ name, blob: await putBlob(tx, there) });
      }
      const { key, number, notes } = plan;
      const [one] = await tx
        .insert(putIn)
        .values({
          ...{ listingId: id, version: found.version, host: config.hostId, game, state: 'putting' },
          ...{ key, number, files, replaced, notes, painterId: painterNow()?.id ?? null },
        })
        .returning();
      return one;
    });
    made = await settle(db, root, row, before);
  });
  return made!;
}

/** Makes the folder what a row says. @param before what it takes the place of */
async function settle(db: Db, root: string, row: PutInRow, before: PutInRow | null): Promise<PutInRow> {
  const files = hashes(row.files);
  await putFiles(db, root, row.id, files);
  for (const { name, blob, shared } of before?.files ?? []) {
    if (files.has(name) || shared) continue;
    const full = await placeOf(root, name);
    const there = await readIf(full);
    if (there && hashOf(there) === blob) await rm(full);
  }
  return transact(db, async (tx) => {
    if (before) await tx.update(putIn).set({ state: 'replaced' }).where(eq(putIn.id, before.id));
    const [done] = await tx.update(putIn).set({ state: 'in' }).where(eq(putIn.id, row.id)).returning();
    return done;
  });
}

/** At the start: what a host that died was putting in is put in. */
export async function settlePutIns(services: Pick<Hosting, 'db' | 'connections' | 'config'>): Promise<void> {
  const { db, config } = services;
  const left = await db
    .select()
    .from(putIn)
    .where(and(eq(putIn.host, config.hostId), eq(putIn.state, 'putting')));
  for (const row of left)
    await withLease(services.connections, `publish ${config.hostId} ${row.game}`, async () => {
      const before = (await putInNow(db, config.hostId, [row.listingId])).get(row.listingId) ?? null;
      await settle(db, gameFolder(config.data, row.game), row, before);
    });
}

/**
 * Takes a skin out of its game: its own files go, what they replaced returns.
 * @returns files that were changed since, which stay as they are
 */
export async function takeSkinOut(services: Hosting, id: string): Promise<string[]> {
  const { db, config } = services;
  const row = (await putInNow(db, config.hostId, [id])).get(id);
  if (!row) throw new InputError('This skin is not in the game here.');
  const root = gameFolder(config.data, row.game);
  const left: string[] = [];
  await alone(services, row.game, async () => {
    for (const { name, blob } of row.files) {
      const full = await placeOf(root, name);
      const there = await readIf(full);
      if (!there) continue;
      if (hashOf(there) !== blob) {
        left.push(name);
        continue;
      }
      const before = row.replaced.find((one) => one.name === name);
      if (before) await putFiles(db, root, row.id, new Map([[name, before.blob]]));
      else await rm(full);
    }
    await db.update(putIn).set({ state: 'out' }).where(eq(putIn.id, row.id));
  });
  return left;
}

/** Paths in a game's folder that skins from the exchange were put at, with what lies there. */
export async function putPaths(db: Db, host: string, game: string): Promise<Map<string, { shared: boolean }>> {
  const rows = await putInGame(db, host, game);
  return new Map(rows.flatMap(({ files }) => files.map(({ name, shared }) => [name, { shared }] as const)));
}

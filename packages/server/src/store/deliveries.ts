import { and, asc, desc, eq, inArray, ne, sql } from 'drizzle-orm';
import { fillIn, type Livery } from '@wet-lacquer/core/livery/livery.ts';
import { getLivery } from './liveries.ts';
import type { DeliverySpec } from '@wet-lacquer/core/livery/spec.ts';
import { NotFound } from '../host/errors.ts';
import { transact, type Db, type Tx } from './db.ts';
import { delivery, listing, putIn, type DeliveredFile, type DeliveryProgress, type DeliveryState } from './schema.ts';

export type Delivery = typeof delivery.$inferSelect;

/** The work was cancelled, or another worker has taken it: stop without a trace. */
export class LostLease extends Error {
  override name = 'LostLease';
}

const UNDER_WAY: DeliveryState[] = ['queued', 'encoding', 'publishing'];

export async function createDelivery(
  db: Tx,
  values: Pick<Delivery, 'liveryId' | 'revision' | 'specKey' | 'specVersion' | 'host' | 'game' | 'folder'> &
    Partial<Pick<Delivery, 'package' | 'slot' | 'bases' | 'credits' | 'repeat' | 'batch'>>,
): Promise<Delivery> {
  const [row] = await db
    .insert(delivery)
    .values({
      ...values,
      state: 'queued',
      progress: { done: 0, of: 1, what: 'waiting for a worker' },
      files: [],
      replaced: [],
    })
    .returning();
  return row;
}

export async function getDelivery(tx: Tx, id: string): Promise<Delivery> {
  const [row] = await tx.select().from(delivery).where(eq(delivery.id, id));
  if (!row) throw new NotFound('There is no such delivery.');
  return row;
}

export const listDeliveries = (tx: Tx, liveryId: string): Promise<Delivery[]> =>
  tx.select().from(delivery).where(eq(delivery.liveryId, liveryId)).orderBy(desc(delivery.order)).limit(50);

/** The last finished delivery of a livery by a spec; where there is none, the last one to that game. */
export async function lastBy(
  tx: Tx,
  liveryId: string,
  { key, game }: Pick<DeliverySpec, 'key' | 'game'>,
): Promise<Delivery | undefined> {
  const mine = and(eq(delivery.liveryId, liveryId), eq(delivery.game, game), eq(delivery.state, 'done'));
  const byIt = sql`${delivery.specKey} = ${key}`;
  const [row] = await tx.select().from(delivery).where(mine).orderBy(desc(byIt), desc(delivery.order)).limit(1);
  return row;
}

/** Which of some paths in a game's folder belong to other liveries, by their last deliveries, or to skins from the exchange: whose by path. */
export async function ownersIn(
  tx: Tx,
  game: string,
  host: string,
  liveryId: string,
  paths: ReadonlySet<string>,
  pathsIn: (delivery: Delivery) => ReadonlyMap<string, string>,
): Promise<Map<string, string>> {
  const rows = await tx
    .selectDistinctOn([delivery.liveryId, delivery.specKey])
    .from(delivery)
    .where(
      and(
        eq(delivery.game, game),
        ne(delivery.liveryId, liveryId),
        inArray(delivery.state, [...UNDER_WAY, 'done']),
        sql`jsonb_array_length(${delivery.files}) > 0`,
      ),
    )
    .orderBy(delivery.liveryId, delivery.specKey, desc(delivery.order));
  const owners = new Map<string, string>();
  for (const row of rows) {
    const theirs = [...pathsIn(row).keys()].filter((name) => paths.has(name));
    if (theirs.length === 0) continue;
    const { livery } = await getLivery(tx, row.liveryId, row.revision).catch(() => ({ livery: null }));
    const name = livery ? fillIn(livery.particulars.name ?? '', livery.particulars) : 'another livery';
    for (const path of theirs) owners.set(path, name);
  }
  const skins = await tx
    .select({ files: putIn.files, facts: listing.facts })
    .from(putIn)
    .innerJoin(listing, eq(listing.id, putIn.listingId))
    .where(and(eq(putIn.game, game), eq(putIn.host, host), inArray(putIn.state, ['putting', 'in'])));
  for (const { files, facts } of skins)
    for (const { name, shared } of files)
      if (!shared && paths.has(name)) owners.set(name, `${facts.name} by ${facts.by}`);
  return owners;
}

/** Numbers that deliveries of other liveries to a game are about to take, and skins that are being put in. */
export async function busySlots(tx: Tx, game: string, liveryId: string): Promise<number[]> {
  const rows = await tx
    .select({ slot: delivery.slot })
    .from(delivery)
    .where(and(eq(delivery.game, game), ne(delivery.liveryId, liveryId), inArray(delivery.state, UNDER_WAY)));
  const put = await tx
    .select({ slot: putIn.number })
    .from(putIn)
    .where(and(eq(putIn.game, game), eq(putIn.state, 'putting')));
  return [...rows, ...put].flatMap(({ slot }) => (slot === null ? [] : [slot]));
}

/** Runs `work` alone among all that ask for a delivery to some games, so that no two get one number. */
export const aloneFor = <T>(db: Db, games: readonly string[], work: (tx: Tx) => Promise<T>): Promise<T> =>
  transact(db, async (tx) => {
    // In one order for everybody, so that no two wait for each other.
    for (const game of [...new Set(games)].sort())
      await tx.execute(sql`select pg_advisory_xact_lock(${0x574d}, hashtext(${game}))`);
    return work(tx);
  });

/** Sends a delivery back to be encoded again, for what it continues has changed meanwhile. */
export async function encodeAgain(tx: Tx, id: string, bases: Record<string, string>): Promise<void> {
  await tx
    .update(delivery)
    .set({ state: 'queued', bases, progress: { done: 0, of: 1, what: 'the game’s own files changed meanwhile' } })
    .where(and(eq(delivery.id, id), eq(delivery.state, 'publishing')));
}

/** The last finished delivery of each of some liveries, by livery: by the livery's own spec, where it was delivered by several. */
export async function lastDeliveries(
  tx: Tx,
  liveries: readonly { id: string; livery: Pick<Livery, 'pins'> }[],
): Promise<Map<string, Delivery>> {
  if (liveries.length === 0) return new Map();
  const own = new Map(liveries.map(({ id, livery }) => [id, livery.pins.spec.key]));
  const rows = await tx
    .selectDistinctOn([delivery.liveryId, delivery.specKey])
    .from(delivery)
    .where(and(inArray(delivery.liveryId, [...own.keys()]), eq(delivery.state, 'done')))
    .orderBy(delivery.liveryId, delivery.specKey, desc(delivery.order));
  const last = new Map<string, Delivery>();
  for (const row of rows.sort((a, b) => a.order - b.order))
    if (last.get(row.liveryId)?.specKey !== own.get(row.liveryId)) last.set(row.liveryId, row);
  return last;
}

export const deliveriesIn = (tx: Tx, state: DeliveryState[]): Promise<Delivery[]> =>
  tx.select().from(delivery).where(inArray(delivery.state, state)).orderBy(delivery.order);

/** Files of finished deliveries by what they depend on: equal signature, equal bytes. */
export async function encodedFiles(tx: Tx, signatures: string[]): Promise<Map<string, DeliveredFile>> {
  if (signatures.length === 0) return new Map();
  const rows = await tx.execute<{ file: DeliveredFile }>(sql`
    select distinct on (file ->> 'signature') file
    from ${delivery}, jsonb_array_elements(${delivery.files}) as file
    where ${delivery.state} in ('done', 'publishing') and file ->> 'signature' in ${signatures}`);
  return new Map(rows.rows.map(({ file }) => [file.signature, file]));
}

/** Takes a delivery for encoding: the fence rises, so that whoever had it before can no longer commit. Null: nothing to do. */
export async function takeDelivery(tx: Tx, id: string): Promise<Delivery | null> {
  const [row] = await tx
    .update(delivery)
    .set({ state: 'encoding', fence: sql`${delivery.fence} + 1` })
    .where(and(eq(delivery.id, id), inArray(delivery.state, ['queued', 'encoding']), eq(delivery.cancelled, false)))
    .returning();
  return row ?? null;
}

/** The row, as long as this worker is the latest that took it and nobody cancelled it. */
const stillOurs = (id: string, fence: number) =>
  and(eq(delivery.id, id), eq(delivery.fence, fence), eq(delivery.state, 'encoding'), eq(delivery.cancelled, false));

/** Notes how far it is. @throws LostLease when it was cancelled or taken by another */
export async function reportProgress(tx: Tx, { id, fence }: Delivery, progress: DeliveryProgress): Promise<void> {
  const rows = await tx.update(delivery).set({ progress }).where(stillOurs(id, fence)).returning({ id: delivery.id });
  if (rows.length === 0) throw new LostLease();
}

/** Hands the results over to the host that owns the folder. @throws LostLease */
export async function commitFiles(
  tx: Tx,
  { id, fence }: Delivery,
  result: { files: DeliveredFile[]; zip: string | null; seconds: number },
): Promise<void> {
  const rows = await tx
    .update(delivery)
    .set({ ...result, state: 'publishing' })
    .where(stillOurs(id, fence))
    .returning({ host: delivery.host });
  if (rows.length === 0) throw new LostLease();
  await tx.execute(sql`select pg_notify('publish', ${rows[0].host})`);
}

/** Hands over files that were made before: nothing is encoded for it. @throws LostLease when somebody else has taken it */
export async function commitKept(tx: Tx, id: string, { files, zip }: Pick<Delivery, 'files' | 'zip'>): Promise<void> {
  const taken = await takeDelivery(tx, id);
  if (!taken) throw new LostLease();
  await commitFiles(tx, taken, { files, zip, seconds: 0 });
}

/** Deliveries whose files are made and that one host is to put in their place. */
export const waitingFor = (tx: Tx, host: string): Promise<Delivery[]> =>
  tx
    .select()
    .from(delivery)
    .where(and(eq(delivery.state, 'publishing'), inArray(delivery.host, [host, ''])))
    .orderBy(delivery.order);

/** Takes a delivery for publishing: whoever was at it before can no longer finish it. Null: there is nothing left to do. */
export async function takePublishing(tx: Tx, id: string): Promise<Delivery | null> {
  const [row] = await tx
    .update(delivery)
    .set({ fence: sql`${delivery.fence} + 1` })
    .where(and(eq(delivery.id, id), eq(delivery.state, 'publishing')))
    .returning();
  return row ?? null;
}

/** Ends a delivery, as long as nobody else has taken it since. @returns whether it was still theirs */
export async function finishDelivery(
  tx: Tx,
  { id, fence }: Pick<Delivery, 'id' | 'fence'>,
  end: { state: 'done' | 'failed'; error?: string; replaced?: Delivery['replaced'] },
): Promise<boolean> {
  const rows = await tx
    .update(delivery)
    .set({ ...end, finishedAt: sql`now()` })
    .where(and(eq(delivery.id, id), eq(delivery.fence, fence), inArray(delivery.state, UNDER_WAY)))
    .returning({ id: delivery.id });
  return rows.length > 0;
}

/** Notes that what a delivery replaced is back in its place. */
export async function markTakenBack(tx: Tx, id: string): Promise<void> {
  await tx
    .update(delivery)
    .set({ state: 'taken-back' })
    .where(and(eq(delivery.id, id), eq(delivery.state, 'done')));
}

/** What was asked for in one go, in that order. */
export const deliveriesOfBatch = (tx: Tx, batch: string): Promise<Delivery[]> =>
  tx.select().from(delivery).where(eq(delivery.batch, batch)).orderBy(asc(delivery.order));

/** Cancels a delivery and those that were asked for together with it, as far as they are not yet being published. */
export async function cancelDelivery(tx: Tx, id: string): Promise<Delivery> {
  const { batch } = await getDelivery(tx, id);
  await tx
    .update(delivery)
    .set({ cancelled: true, state: 'cancelled', finishedAt: sql`now()` })
    .where(and(eq(delivery.batch, batch), inArray(delivery.state, ['queued', 'encoding'])));
  return getDelivery(tx, id);
}

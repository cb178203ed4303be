import { and, asc, desc, eq, gt, inArray, isNotNull, isNull, lte, sql } from 'drizzle-orm';
import { InputError } from '@wet-lacquer/core/errors.ts';
import { applyEntry, type Entry, type LoggedEntry } from '@wet-lacquer/core/livery/history.ts';
import type { Livery } from '@wet-lacquer/core/livery/livery.ts';
import { readLivery } from '@wet-lacquer/core/livery/migrate.ts';
import { NotFound } from '../host/errors.ts';
import { onlySeen, own } from '../people/access.ts';
import { transact, type Db, type Tx } from './db.ts';
import { forgetHead, heldAfter, heldHead } from './heads.ts';
import { delivery, edit, livery, setAside, snapshot, type Role } from './schema.ts';

export interface StoredLivery {
  id: string;
  revision: number;
  livery: Livery;
  updatedAt: Date;
}
export type Head = typeof livery.$inferSelect;

export async function createLivery(db: Tx, document: Livery): Promise<string> {
  return transact(db, async (tx) => {
    const [row] = await tx.insert(livery).values({ revision: 0 }).returning();
    await tx.insert(snapshot).values({ liveryId: row.id, revision: 0, document });
    await own(tx, 'livery', row.id);
    return row.id;
  });
}

/** @throws NotFound */
export async function headOf(tx: Tx, id: string): Promise<Head> {
  const [head] = await tx.select().from(livery).where(eq(livery.id, id));
  if (!head) throw noSuchLivery();
  return head;
}
export const noSuchLivery = () => new NotFound('There is no such livery; it may have been deleted.');

/** The state of a livery, now or at an earlier revision. @throws InputError when it is not there, or cannot be read */
export async function getLivery(tx: Tx, id: string, at?: number): Promise<StoredLivery> {
  const head = await headOf(tx, id);
  const revision = at ?? head.revision;
  if (revision > head.revision)
    throw new InputError(`This livery has ${head.revision} steps; ${revision} is not there yet.`);
  return { id, revision, livery: await stateAt(tx, id, revision), updatedAt: head.updatedAt };
}

/** The state at a revision that the log has come to. @throws InputError when it cannot be read */
export async function stateAt(tx: Tx, id: string, revision: number): Promise<Livery> {
  const read = await readUpTo(tx, id, revision);
  if (read.revision < revision) throw new InputError(read.trouble!);
  return read.livery!;
}

/** Latest state that can be read, up to a revision. */
export interface ReadUpTo {
  /** -1: none can. */
  revision: number;
  livery: Livery | null;
  /** Why the next one cannot. */
  trouble: string | null;
}

/** Reads a livery as far as it can be read: its latest good snapshot, and the steps after it. */
export async function readUpTo(tx: Tx, id: string, revision: number): Promise<ReadUpTo> {
  const held = heldHead(id);
  if (held?.revision === revision) return { ...held, trouble: null };
  let trouble: string | null = null;
  for (let below = revision; ;) {
    const [base] = await tx
      .select()
      .from(snapshot)
      .where(and(eq(snapshot.liveryId, id), lte(snapshot.revision, below)))
      .orderBy(desc(snapshot.revision))
      .limit(1);
    if (!base) return { revision: -1, livery: null, trouble: trouble ?? 'Its first state is not here.' };
    below = base.revision - 1;
    let document: Livery;
    try {
      document = readLivery(base.document);
    } catch (error) {
      trouble ??= `Step ${base.revision}: ${(error as Error).message}`;
      continue;
    }
    const steps = await tx
      .select()
      .from(edit)
      .where(and(eq(edit.liveryId, id), gt(edit.revision, base.revision), lte(edit.revision, revision)))
      .orderBy(asc(edit.revision));
    let good = base.revision;
    for (const row of steps) {
      try {
        if (row.revision !== good + 1) throw new InputError(`Step ${good + 1} is missing.`);
        document = applyEntry(document, toEntry(row)).livery;
        good = row.revision;
      } catch (error) {
        // Whatever it is that this step does to the program: the steps before it are good.
        return { revision: good, livery: document, trouble: `Step ${row.revision}: ${(error as Error).message}` };
      }
    }
    if (good < revision && trouble === null) trouble = `Step ${good + 1} is missing.`;
    return { revision: good, livery: document, trouble };
  }
}

/** Heads, oldest first: those at hand, or those in the bin. */
export const listHeads = (db: Tx, where: 'at hand' | 'in the bin' = 'at hand'): Promise<Head[]> =>
  db
    .select()
    .from(livery)
    .where(where === 'at hand' ? isNull(livery.deletedAt) : isNotNull(livery.deletedAt))
    .orderBy(asc(livery.createdAt));

/** The same, each read as far as it can be. @param least only those with which whoever asks may do so much; left out: all */
export async function listRead(
  db: Db,
  where?: 'at hand' | 'in the bin',
  least?: Role,
): Promise<{ head: Head; read: ReadUpTo }[]> {
  const heads = await listHeads(db, where);
  const seen = least ? await onlySeen(db, 'livery', heads, ({ id }) => id, least) : heads;
  return Promise.all(seen.map(async (head) => ({ head, read: await readUpTo(db, head.id, head.revision) })));
}

/** Puts a livery into the bin, or takes it out. @throws NotFound */
export async function setBinned(db: Db, id: string, binned: boolean): Promise<void> {
  const rows = await db
    .update(livery)
    .set({ deletedAt: binned ? sql`now()` : null })
    .where(eq(livery.id, id))
    .returning({ id: livery.id });
  if (rows.length === 0) throw noSuchLivery();
}

/**
 * For ever, from the bin alone. What of its deliveries is under way is cancelled first.
 * @throws InputError when it is not in the bin, or just now being put into its game's folder: that is finished whole
 */
export async function deleteLivery(db: Db, id: string): Promise<void> {
  await transact(db, async (tx) => {
    const mine = eq(delivery.liveryId, id);
    await tx
      .update(delivery)
      .set({ cancelled: true, state: 'cancelled', finishedAt: sql`now()` })
      .where(and(mine, inArray(delivery.state, ['queued', 'encoding'])));
    const [busy] = await tx
      .select({ id: delivery.id })
      .from(delivery)
      .where(and(mine, eq(delivery.state, 'publishing')))
      .limit(1);
    if (busy) throw new InputError('This livery is just being put into its game’s folder; try again in a moment.');
    await removeBinned(tx, id);
  });
}

async function removeBinned(tx: Tx, id: string): Promise<void> {
  const rows = await tx
    .delete(livery)
    .where(and(eq(livery.id, id), isNotNull(livery.deletedAt)))
    .returning({ id: livery.id });
  if (rows.length === 0) throw new InputError('Only what is in the bin can be deleted for ever.');
}

/**
 * Takes a livery that cannot be read back to its last good step, as a new beginning: the steps after it are set aside, none is lost.
 * @returns the revision that it has now
 */
export async function returnToGood(db: Db, id: string): Promise<number> {
  return transact(db, async (tx) => {
    const [head] = await tx.select().from(livery).where(eq(livery.id, id)).for('update');
    if (!head) throw noSuchLivery();
    const read = await readUpTo(tx, id, head.revision);
    if (read.revision === head.revision) throw new InputError('This livery can be read as it is.');
    if (!read.livery) throw new InputError('No state of this livery can be read.');
    const bad = await tx
      .delete(edit)
      .where(and(eq(edit.liveryId, id), gt(edit.revision, read.revision)))
      .returning();
    const order = bad.toSorted((a, b) => a.revision - b.revision);
    if (order.length > 0)
      await tx
        .insert(setAside)
        .values(
          order.map((row) => ({ liveryId: id, id: row.id, entry: toEntry(row), why: read.trouble!, at: row.at })),
        );
    forgetHead(id);
    await tx.delete(snapshot).where(and(eq(snapshot.liveryId, id), gt(snapshot.revision, read.revision)));
    await tx
      .update(livery)
      .set({ revision: read.revision, picture: null, pictureRevision: null, updatedAt: sql`now()` })
      .where(eq(livery.id, id));
    return read.revision;
  });
}

export interface AsideRow {
  id: string;
  entry: unknown;
  why: string;
}

/** Steps that could not stay in a livery's log, in the order in which they were made. */
export const asideOf = (tx: Tx, id: string): Promise<AsideRow[]> =>
  tx
    .select({ id: setAside.id, entry: setAside.entry, why: setAside.why })
    .from(setAside)
    .where(eq(setAside.liveryId, id))
    .orderBy(asc(setAside.order));

export async function letGoAside(tx: Tx, id: string, entry: string): Promise<void> {
  await tx.delete(setAside).where(and(eq(setAside.liveryId, id), eq(setAside.id, entry)));
}

/** Whoever made steps of a livery that are still kept. */
export const personsOf = async (tx: Tx, id: string): Promise<string[]> =>
  (await tx.selectDistinct({ person: edit.person }).from(edit).where(eq(edit.liveryId, id))).map(
    ({ person }) => person,
  );

/** Log entries in one answer at most. */
export const MOST_ENTRIES = 500;

/** The log after a revision: at most MOST_ENTRIES. */
export async function entriesAfter(tx: Tx, id: string, revision: number): Promise<LoggedEntry[]> {
  const rows = await tx
    .select()
    .from(edit)
    .where(and(eq(edit.liveryId, id), gt(edit.revision, revision)))
    .orderBy(asc(edit.revision))
    .limit(MOST_ENTRIES);
  return rows.map(toLogged);
}

/** The log after a revision, from what is at hand where that is enough. */
export const entriesSince = async (tx: Tx, id: string, revision: number): Promise<LoggedEntry[]> =>
  heldAfter(id, revision) ?? (await entriesAfter(tx, id, revision));

/** The end of the log up to a revision, or of one person's steps in it: at most `limit` entries, oldest first. */
export async function entriesUpTo(
  tx: Tx,
  id: string,
  revision: number,
  limit: number,
  person?: string,
): Promise<LoggedEntry[]> {
  const rows = await tx
    .select()
    .from(edit)
    .where(
      and(
        eq(edit.liveryId, id),
        lte(edit.revision, revision),
        person === undefined ? undefined : eq(edit.person, person),
      ),
    )
    .orderBy(desc(edit.revision))
    .limit(limit);
  return rows.toReversed().map(toLogged);
}

type EditRow = typeof edit.$inferSelect;

const toEntry = (row: EditRow): Entry => ({
  id: row.id as Entry['id'],
  person: row.person,
  edit: row.edit,
  undoes: row.undoes as Entry['undoes'],
  redoes: row.redoes as Entry['redoes'],
  label: row.label,
});

const toLogged = (row: EditRow): LoggedEntry => ({
  ...toEntry(row),
  revision: row.revision,
  inverse: row.inverse,
  at: row.at.toISOString(),
});

import { and, asc, desc, eq, gt, inArray, lte, sql } from 'drizzle-orm';
import { InputError } from '@wet-lacquer/core/errors.ts';
import { NotFound } from '../host/errors.ts';
import { applyEntry, type Entry, type LoggedEntry } from '@wet-lacquer/core/livery/history.ts';
import type { Livery } from '@wet-lacquer/core/livery/livery.ts';
import { storedIn } from '@wet-lacquer/core/livery/strokes.ts';
import { knownBlobs } from './blobs.ts';
import type { Db, Tx } from './db.ts';
import { edit, livery, snapshot } from './schema.ts';

/** A snapshot is kept every so many revisions, so that a state is never more than that many edits away. */
const SNAPSHOT_EVERY = 50;

export interface StoredLivery {
  id: string;
  revision: number;
  livery: Livery;
  updatedAt: Date;
}

export async function createLivery(db: Tx, document: Livery): Promise<string> {
  return db.transaction(async (tx) => {
    const [row] = await tx.insert(livery).values({ revision: 0 }).returning();
    await tx.insert(snapshot).values({ liveryId: row.id, revision: 0, document });
    return row.id;
  });
}

/** The state of a livery, now or at an earlier revision. @throws InputError when it is not there */
export async function getLivery(tx: Tx, id: string, at?: number): Promise<StoredLivery> {
  const [head] = await tx.select().from(livery).where(eq(livery.id, id));
  if (!head) throw new NotFound('There is no such livery; it may have been deleted.');
  const revision = at ?? head.revision;
  if (revision > head.revision)
    throw new InputError(`This livery has ${head.revision} steps; ${revision} is not there yet.`);
  const [base] = await tx
    .select()
    .from(snapshot)
    .where(and(eq(snapshot.liveryId, id), lte(snapshot.revision, revision)))
    .orderBy(desc(snapshot.revision))
    .limit(1);
  const later = await tx
    .select()
    .from(edit)
    .where(and(eq(edit.liveryId, id), gt(edit.revision, base.revision), lte(edit.revision, revision)))
    .orderBy(asc(edit.revision));
  let document = base.document;
  for (const row of later) document = applyEntry(document, toEntry(row)).livery;
  return { id, revision, livery: document, updatedAt: head.updatedAt };
}

export async function listLiveries(db: Db): Promise<StoredLivery[]> {
  const heads = await db.select().from(livery).orderBy(asc(livery.createdAt));
  return Promise.all(heads.map((head) => getLivery(db, head.id)));
}

export async function deleteLivery(db: Db, id: string): Promise<void> {
  await db.delete(livery).where(eq(livery.id, id));
}

/** The log after a revision. */
export async function entriesAfter(tx: Tx, id: string, revision: number): Promise<LoggedEntry[]> {
  const rows = await tx
    .select()
    .from(edit)
    .where(and(eq(edit.liveryId, id), gt(edit.revision, revision)))
    .orderBy(asc(edit.revision));
  return rows.map(toLogged);
}

/** The end of the log up to a revision: at most `limit` entries, oldest first. */
export async function entriesUpTo(tx: Tx, id: string, revision: number, limit: number): Promise<LoggedEntry[]> {
  const rows = await tx
    .select()
    .from(edit)
    .where(and(eq(edit.liveryId, id), lte(edit.revision, revision)))
    .orderBy(desc(edit.revision))
    .limit(limit);
  return rows.toReversed().map(toLogged);
}

export type PostResult =
  | { state: 'saved'; revision: number; entries: LoggedEntry[] }
  /** The sender has not seen these entries yet; it applies them and sends again. */
  | { state: 'stale'; revision: number; entries: LoggedEntry[] }
  | { state: 'refused'; entry: string; why: string };

/**
 * Appends entries that were made on revision `base`. All or none; entries that are there already are passed over, so sending
 * twice does nothing. Other processes hear of it through NOTIFY.
 */
export async function postEntries(db: Db, id: string, base: number, entries: readonly Entry[]): Promise<PostResult> {
  return db.transaction(async (tx) => {
    const [head] = await tx.select().from(livery).where(eq(livery.id, id)).for('update');
    if (!head) throw new NotFound('There is no such livery; it may have been deleted.');
    const known = await tx
      .select({ id: edit.id })
      .from(edit)
      .where(
        and(
          eq(edit.liveryId, id),
          inArray(
            edit.id,
            entries.map((entry) => entry.id),
          ),
        ),
      );
    const fresh = entries.filter((entry) => !known.some((row) => row.id === entry.id));
    if (fresh.length > 0 && head.revision !== base) {
      return { state: 'stale', revision: head.revision, entries: await entriesAfter(tx, id, base) };
    }
    let document = fresh.length > 0 ? (await getLivery(tx, id)).livery : null;
    let revision = head.revision;
    const lacking = await lackingStrokes(tx, fresh);
    for (const entry of fresh) {
      if (lacking.has(entry.id))
        return { state: 'refused', entry: entry.id, why: 'The pixels of this stroke have not arrived here.' };
      let applied;
      try {
        applied = applyEntry(document!, entry);
      } catch (error) {
        if (error instanceof InputError) return { state: 'refused', entry: entry.id, why: error.message };
        throw error;
      }
      document = applied.livery;
      revision++;
      await tx.insert(edit).values({ ...entry, liveryId: id, revision, inverse: applied.applied.inverse });
      if (revision % SNAPSHOT_EVERY === 0) await tx.insert(snapshot).values({ liveryId: id, revision, document });
    }
    if (fresh.length > 0) {
      await tx
        .update(livery)
        .set({ revision, updatedAt: sql`now()` })
        .where(eq(livery.id, id));
      await tx.execute(sql`select pg_notify('livery', ${`${id} ${revision}`})`);
    }
    return { state: 'saved', revision, entries: await entriesAfter(tx, id, base) };
  });
}

/** The entries whose strokes are not stored here. */
async function lackingStrokes(tx: Tx, entries: readonly Entry[]): Promise<Set<string>> {
  const named = entries.map((entry) => ({ id: entry.id, blobs: storedIn(entry.edit) }));
  const known = await knownBlobs(
    tx,
    named.flatMap(({ blobs }) => blobs),
  );
  return new Set(named.filter(({ blobs }) => blobs.some((blob) => !known.has(blob))).map(({ id }) => id));
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

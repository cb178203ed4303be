/** What nobody needs any more is taken away: blobs that nothing refers to, intakes that were given up, steps older than history keeps. */
import { and, eq, gt, inArray, lt, lte, sql } from 'drizzle-orm';
import type { Livery } from '@wet-lacquer/core/livery/livery.ts';
import { transact, type Db, type Tx } from './db.ts';
import { objectStore } from './objects.ts';
import { bakedField, blob, delivery, edit, intake, livery, snapshot } from './schema.ts';
import { getLivery, readUpTo } from './liveries.ts';

/** A blob is left alone for so long after anybody last stored, or referred to, it: whatever is being made with it has come to its end by then. */
const REST_HOURS = 24;
const INTAKE_DAYS = 30;
/** What was worked out of a model is made anew when somebody needs it after so long. */
const BAKED_DAYS = 14;
/** Every step is kept of so many days, and of the last so many steps. */
const STEP_DAYS = 7;
const STEPS = 2000;
/** Below them one state in so many stays, and every state that has a name or was delivered. */
const THINNED = 500;

export interface Swept {
  blobs: number;
  /** Those of the object store that no row has: of rows that went, and of work that came to nothing. */
  objects: number;
  bytes: number;
  intakes: number;
  steps: number;
}

/** All SHA-256 in a text, a row each. */
const hashesIn = (text: string) => sql.raw(`(regexp_matches(${text}, '[0-9a-f]{64}', 'g'))[1] as hash`);
const FILES = "files::text || ' ' || bases::text || ' ' || replaced::text || ' ' || coalesce(zip, '')";
const STEP = "edit::text || ' ' || inverse::text";

/**
 * Everywhere that a blob can be named: every 64 hex digits in documents, steps and rows count, so that a new kind of reference is never
 * forgotten.
 */
export const REFERRED = sql`
  select ${hashesIn('document::text')} from snapshot
  union select ${hashesIn(STEP)} from edit
  union select ${hashesIn('entry::text')} from set_aside
  union select ${hashesIn('document::text')} from template
  union select ${hashesIn("document::text || ' ' || given::text")} from team_step
  union select ${hashesIn(FILES)} from delivery
  union select ${hashesIn("blob || ' ' || coalesce(preview, '') || ' ' || coalesce(difference, '')")} from intake_file
  union select blob from decal
  union select picture from decal where picture is not null
  union select picture from livery where picture is not null
  union select picture from template where picture is not null
  union select ${hashesIn('document::text')} from listing_version
  union select ${hashesIn("files::text || ' ' || replaced::text")} from put_in
  union select blob from baked_field`;

/**
 * Takes away what nobody needs. A save that refers to an old blob touches it first: the row that is to go is looked at again under its
 * lock, so that the sweep and a save never cross.
 */
export async function sweep(db: Db, now = new Date()): Promise<Swept> {
  const before = (hours: number) => new Date(now.getTime() - hours * 3_600_000);
  const intakes = await db
    .delete(intake)
    .where(lt(intake.createdAt, before(INTAKE_DAYS * 24)))
    .returning({ id: intake.id });
  await db.delete(bakedField).where(lt(bakedField.usedAt, before(BAKED_DAYS * 24)));
  let steps = 0;
  for (const { id } of await db.select({ id: livery.id }).from(livery).where(gt(livery.revision, STEPS)))
    steps += await thin(db, id, before(STEP_DAYS * 24));
  const { rows } = await db.execute<{ bytes: number }>(sql`
    delete from blob
    where touched_at < ${before(REST_HOURS).toISOString()} and not exists (
      select 1 from (${REFERRED}) as referred where referred.hash = blob.hash)
    returning bytes`);
  await db.execute(sql`
    delete from blob_use u where not exists (select 1 from blob b where b.hash = u.hash)
      and not exists (select 1 from template t where t.hash = u.hash)`);
  const objects = await sweepObjects(db, before(REST_HOURS));
  const bytes = rows.reduce((sum, row) => sum + row.bytes, 0);
  return { blobs: rows.length, objects, bytes, intakes: intakes.length, steps };
}

/** Takes away the objects that no row has. @returns how many */
async function sweepObjects(db: Db, before: Date): Promise<number> {
  let gone = 0;
  for await (const page of objectStore()?.pages() ?? []) {
    const old = page.filter(({ changedAt }) => changedAt < before);
    if (old.length === 0) continue;
    const kept = await db
      .select({ hash: blob.hash })
      .from(blob)
      .where(
        inArray(
          blob.hash,
          old.map(({ hash }) => hash),
        ),
      );
    const has = new Set(kept.map(({ hash }) => hash));
    for (const one of old) if (!has.has(one.hash) && (await removeObject(db, one.hash))) gone++;
  }
  return gone;
}

/**
 * The row is inserted for as long as its object goes: whoever stores the same bytes meanwhile waits for that, and stores them anew; where
 * somebody has stored them already, it stays.
 */
const removeObject = (db: Db, hash: string): Promise<boolean> =>
  transact<boolean, boolean>(db, async (tx, no) => {
    const made = await tx.insert(blob).values({ hash, bytes: 0 }).onConflictDoNothing().returning();
    if (made.length === 0) return false;
    await objectStore()!.remove(hash);
    return no(true);
  });

/** Lets the oldest steps of a livery go, but for the states that are to stay. @returns how many went */
async function thin(db: Db, id: string, before: Date): Promise<number> {
  return transact(db, async (tx) => {
    const [head] = await tx.select().from(livery).where(eq(livery.id, id)).for('update');
    if (!head) return 0;
    const [{ last }] = await tx
      .select({ last: sql<number | null>`max(${edit.revision})` })
      .from(edit)
      .where(and(eq(edit.liveryId, id), lte(edit.revision, head.revision - STEPS), lt(edit.at, before)));
    if (last === null) return 0;
    // One that cannot be read keeps every step: somebody may mend it.
    const read = await readUpTo(tx, id, head.revision);
    if (!read.livery || read.revision < head.revision) return 0;
    const keep = await statesToKeep(tx, id, last, read.livery);
    for (const revision of keep) {
      const document = (await getLivery(tx, id, revision)).livery;
      await tx.insert(snapshot).values({ liveryId: id, revision, document }).onConflictDoNothing();
    }
    const gone = await tx
      .delete(edit)
      .where(and(eq(edit.liveryId, id), lte(edit.revision, last)))
      .returning({ revision: edit.revision });
    const old = await tx
      .select({ revision: snapshot.revision })
      .from(snapshot)
      .where(and(eq(snapshot.liveryId, id), lt(snapshot.revision, last)));
    const left = old.map(({ revision }) => revision).filter((revision) => !keep.has(revision));
    if (left.length > 0)
      await tx.delete(snapshot).where(and(eq(snapshot.liveryId, id), inArray(snapshot.revision, left)));
    return gone.length;
  });
}

/** Revisions up to `last` whose state stays: the first, named and delivered ones, one in so many, and `last`, on which the steps after it stand. */
async function statesToKeep(tx: Tx, id: string, last: number, now: Livery): Promise<Set<number>> {
  const delivered = await tx
    .selectDistinct({ revision: delivery.revision })
    .from(delivery)
    .where(and(eq(delivery.liveryId, id), eq(delivery.state, 'done')));
  const { rows } = await tx.execute<{ revision: number }>(
    sql`select min(revision) as revision from edit where livery_id = ${id}`,
  );
  const first = rows[0].revision - 1;
  const named = (now.versions ?? []).map(({ revision }) => revision);
  const steady = Array.from({ length: Math.floor(last / THINNED) }, (_, i) => (i + 1) * THINNED);
  const old = await tx.select({ revision: snapshot.revision }).from(snapshot).where(eq(snapshot.liveryId, id));
  // What was thinned before is there as states alone.
  const there = new Set(old.map(({ revision }) => revision));
  return new Set(
    [0, first, last, ...named, ...delivered.map(({ revision }) => revision), ...steady].filter(
      (revision) => revision <= last && (revision >= first || there.has(revision)),
    ),
  );
}

/** What a livery takes in the store. */
export interface Stored {
  id: string;
  /** Bytes of its steps and states, of pictures and strokes that only it refers to, and of delivered files that only its deliveries hold. */
  steps: number;
  pictures: number;
  delivered: number;
}

/** What every livery takes by itself: so much would be free without it. What several share counts for none of them. */
export async function storageOf(db: Db): Promise<{ liveries: Stored[]; total: number; shared: number }> {
  const { rows } = await db.execute<{ id: string; steps: number; pictures: number; delivered: number }>(sql`
    with art as (
      select livery_id, ${hashesIn('document::text')} from snapshot
      union select livery_id, ${hashesIn(STEP)} from edit
    ), files as (
      select livery_id, ${hashesIn("files::text || ' ' || bases::text || ' ' || replaced::text || ' ' || coalesce(zip, '')")} from delivery
    ), used as (
      select livery_id, hash, false as out from art union all select livery_id, hash, true from files
    ), others as (
      select hash from (
        select ${hashesIn('document::text')} from template
        union select ${hashesIn('document::text')} from team_step
        union select blob from decal
        union select picture from decal where picture is not null
        union select blob from intake_file) as kept
    ), lone as (
      select hash, min(livery_id::text) as id, bool_and(out) as out from used
      where hash not in (select hash from others) group by hash having count(distinct livery_id) = 1
    ), own as (
      select id, sum(bytes) filter (where not out) as pictures, sum(bytes) filter (where out) as delivered
      from lone join blob using (hash) group by id
    ), log as (
      select livery_id, sum(n) as steps from (
        select livery_id, sum(pg_column_size(edit) + pg_column_size(inverse) + 120) as n from edit group by 1
        union all select livery_id, sum(pg_column_size(document) + 40) from snapshot group by 1) as logged group by 1
    )
    select livery.id, coalesce(log.steps, 0)::float8 as steps, coalesce(own.pictures, 0)::float8 as pictures,
      coalesce(own.delivered, 0)::float8 as delivered
    from livery left join log on log.livery_id = livery.id left join own on own.id = livery.id::text
    order by livery.created_at`);
  const { rows: all } = await db.execute<{ total: number }>(
    sql`select coalesce(sum(bytes), 0)::float8 as total from blob`,
  );
  const lone = rows.reduce((sum, row) => sum + row.pictures + row.delivered, 0);
  return { liveries: rows, total: all[0].total, shared: all[0].total - lone };
}

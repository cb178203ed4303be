import { own } from '../people/access.ts';
import { asc, eq } from 'drizzle-orm';
import { InputError } from '@wet-lacquer/core/errors.ts';
import type { BlobFacts } from '@wet-lacquer/sync/judge.ts';
import type { ImportedDecal } from '@wet-lacquer/node/threads/tasks.ts';
import { putBlob } from './blobs.ts';
import { transact, type Db, type Tx } from './db.ts';
import { decal } from './schema.ts';

export type Decal = typeof decal.$inferSelect;

export const listDecals = (db: Db): Promise<Decal[]> =>
  db.select().from(decal).orderBy(asc(decal.createdAt), asc(decal.name));

export interface DecalFacts {
  name: string;
  tags: string[];
  origin: string;
  licence: string;
}

/** Keeps an imported decal; the same picture is kept once, and what is known of it stays. */
export async function addDecal(
  db: Tx,
  imported: ImportedDecal,
  facts: DecalFacts,
  bytesAre: BlobFacts | null = null,
): Promise<Decal> {
  return transact(db, async (tx) => {
    const blob = await putBlob(tx, imported.bytes, bytesAre);
    const { source, ratio, colours } = imported;
    await tx
      .insert(decal)
      .values({ ...facts, blob, source, ratio, colours })
      .onConflictDoNothing();
    const [row] = await tx.select().from(decal).where(eq(decal.blob, blob));
    await own(tx, 'decal', row.id);
    return row;
  });
}

/** Takes a decal out of the library; liveries that use it keep its blob. */
export async function removeDecal(db: Db, id: string): Promise<void> {
  const gone = await db.delete(decal).where(eq(decal.id, id)).returning();
  if (gone.length === 0) throw new InputError('This decal is no longer in the library.');
}

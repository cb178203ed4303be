import { and, eq } from 'drizzle-orm';
import { getBlob, getBlobs, putBlob } from '../store/blobs.ts';
import type { Db, Tx } from '../store/db.ts';
import { getLivery } from '../store/liveries.ts';
import { decal, livery, template } from '../store/schema.ts';
import type { Scene } from '@wet-lacquer/node/threads/scene.ts';
import type { Pool } from '@wet-lacquer/node/threads/pool.ts';
import { readyScene } from './fields.ts';

/** How a craft stands on its picture. */
export const VIEW = { width: 560, height: 360, heading: 138, elevation: 16 };

/** A revision of a livery on the turntable, as PNG. The latest one asked for is kept, so that it is drawn once. */
export async function pictureOf(db: Db, threads: Pool, id: string, revision: number): Promise<Uint8Array> {
  const [known] = await db
    .select({ blob: livery.picture })
    .from(livery)
    .where(and(eq(livery.id, id), eq(livery.pictureRevision, revision)));
  return keptOrMade(
    db,
    known?.blob,
    async () => {
      const stored = await getLivery(db, id, revision);
      return threads.run('picture', { scene: await readyScene(db, threads, stored.livery), ...VIEW });
    },
    (blob) => keepPicture(db, id, revision, blob),
  );
}

/**
 * A picture that is kept; where there is none, or none any more (an earlier version that sweeps the same database may not know that it is
 * needed), it is made.
 * @param keep says where it is kept; null: nowhere
 */
async function keptOrMade(
  db: Db,
  known: string | null | undefined,
  make: () => Promise<Uint8Array>,
  keep: ((blob: string) => Promise<unknown>) | null,
): Promise<Uint8Array> {
  const kept = known ? (await getBlobs(db, [known])).get(known) : undefined;
  if (kept) return kept;
  const png = await make();
  await keep?.(await putBlob(db, png));
  return png;
}

/** Says which picture shows a revision of a livery. */
export async function keepPicture(tx: Tx, id: string, revision: number, blob: string): Promise<void> {
  await tx.update(livery).set({ picture: blob, pictureRevision: revision }).where(eq(livery.id, id));
}

/** A template's model with what a new livery begins with, as PNG: drawn once and kept. */
export async function templatePicture(
  db: Db,
  threads: Pool,
  hash: string,
  scene: () => Promise<Scene>,
  signal: AbortSignal,
): Promise<Uint8Array> {
  const [known] = await db.select({ blob: template.picture }).from(template).where(eq(template.hash, hash));
  return keptOrMade(
    db,
    known?.blob,
    async () => threads.run('picture', { scene: await scene(), ...VIEW }, signal),
    (picture) => db.update(template).set({ picture }).where(eq(template.hash, hash)),
  );
}

/** Longer side of a decal's small picture, pixels. */
const SMALL = 256;

/** A decal's blob as a small PNG: drawings and stored pixels alike. Of those in the library it is drawn once and kept. */
export async function decalPicture(db: Db, threads: Pool, blob: string, signal: AbortSignal): Promise<Uint8Array> {
  const [known] = await db.select({ picture: decal.picture }).from(decal).where(eq(decal.blob, blob));
  return keptOrMade(
    db,
    known?.picture,
    async () => threads.run('decalThumb', { bytes: await getBlob(db, blob), side: SMALL }, signal),
    known ? (picture) => db.update(decal).set({ picture }).where(eq(decal.blob, blob)) : null,
  );
}

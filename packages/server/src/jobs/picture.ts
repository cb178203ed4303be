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
  const [kept] = await db
    .select({ blob: livery.picture })
    .from(livery)
    .where(and(eq(livery.id, id), eq(livery.pictureRevision, revision)));
  if (kept?.blob) return getBlob(db, kept.blob);
  const stored = await getLivery(db, id, revision);
  const png = await threads.run('picture', { scene: await readyScene(db, threads, stored.livery), ...VIEW });
  await keepPicture(db, id, revision, await putBlob(db, png));
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
  const [kept] = await db.select({ blob: template.picture }).from(template).where(eq(template.hash, hash));
  if (kept?.blob) return getBlob(db, kept.blob);
  const png = await threads.run('picture', { scene: await scene(), ...VIEW }, signal);
  const blob = await putBlob(db, png);
  await db.update(template).set({ picture: blob }).where(eq(template.hash, hash));
  return png;
}

/** Longer side of a decal's small picture, pixels. */
const SMALL = 256;

/** A decal's blob as a small PNG: drawings and stored pixels alike. Of those in the library it is drawn once and kept. */
export async function decalPicture(db: Db, threads: Pool, blob: string, signal: AbortSignal): Promise<Uint8Array> {
  const [known] = await db.select({ picture: decal.picture }).from(decal).where(eq(decal.blob, blob));
  // An earlier version that sweeps the same database does not know that it is needed.
  const kept = known?.picture ? (await getBlobs(db, [known.picture])).get(known.picture) : undefined;
  if (kept) return kept;
  const png = await threads.run('decalThumb', { bytes: await getBlob(db, blob), side: SMALL }, signal);
  if (known)
    await db
      .update(decal)
      .set({ picture: await putBlob(db, png) })
      .where(eq(decal.blob, blob));
  return png;
}

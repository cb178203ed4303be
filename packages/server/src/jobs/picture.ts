import { and, eq } from 'drizzle-orm';
import { getBlob, putBlob } from '../store/blobs.ts';
import type { Db } from '../store/db.ts';
import { getLivery } from '../store/liveries.ts';
import { livery } from '../store/schema.ts';
import type { Pool } from '@wet-lacquer/node/threads/pool.ts';
import { sceneOf } from './scene.ts';

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
  const png = await threads.run('picture', { scene: await sceneOf(db, stored.livery), ...VIEW });
  await db
    .update(livery)
    .set({ picture: await putBlob(db, png), pictureRevision: revision })
    .where(eq(livery.id, id));
  return png;
}

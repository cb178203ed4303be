/** Pictures and strokes that came in a file of somebody else's: looked at before they are kept. */
import { inArray } from 'drizzle-orm';
import type { Borrowed } from '@wet-lacquer/core/files/bundle.ts';
import type { Sha256 } from '@wet-lacquer/core/livery/ids.ts';
import type { Layer } from '@wet-lacquer/core/livery/layer.ts';
import type { Stored } from '@wet-lacquer/core/livery/strokes.ts';
import type { Pool } from '../threads/pool.ts';
import type { ImportedDecal } from '../threads/tasks.ts';
import { putBlob } from './blobs.ts';
import type { Tx } from './db.ts';
import { addDecal } from './decals.ts';
import { decal } from './schema.ts';

/** What is known of decals: where each comes from. */
export async function creditsOf(tx: Tx, blobs: Iterable<string>): Promise<Borrowed[]> {
  const wanted = [...blobs];
  if (wanted.length === 0) return [];
  const known = await tx.select().from(decal).where(inArray(decal.blob, wanted));
  return known.map(({ blob, name, origin, licence }) => ({ blob: blob as Sha256, name, origin, licence }));
}

export interface Brought {
  decals: { imported: ImportedDecal; blob: Sha256 }[];
  /** Stored pixels and strokes. */
  rest: Uint8Array[];
}

/**
 * Looks at every one in a thread: decals like uploaded ones, strokes and pixels for being whole.
 * @throws InputError when one is not what the layers say
 */
export async function checkBrought(
  threads: Pick<Pool, 'run'>,
  blobs: ReadonlyMap<Sha256, Uint8Array>,
  use: { layers: readonly Layer[]; strokes: readonly Stored[] },
): Promise<Brought> {
  const decalBlobs = new Set(use.layers.flatMap((layer) => (layer.kind === 'decal' ? [layer.blob] : [])));
  const strokes = new Map(use.strokes.map(({ blob, tiles }) => [blob, tiles.length]));
  const brought: Brought = { decals: [], rest: [] };
  for (const [blob, bytes] of blobs) {
    const tiles = strokes.get(blob);
    if (tiles === undefined && decalBlobs.has(blob)) {
      brought.decals.push({ blob, imported: { ...(await threads.run('checkDecal', { bytes })), bytes } });
      continue;
    }
    if (tiles !== undefined) await threads.run('checkStroke', { bytes, tiles });
    else await threads.run('checkPixels', { bytes });
    brought.rest.push(bytes);
  }
  return brought;
}

/** Keeps them; decals join the library, with what was said of them or else that they came so. */
export async function keepBrought(
  tx: Tx,
  { decals, rest }: Brought,
  borrowed: readonly Borrowed[],
  origin: string,
  team: string,
): Promise<void> {
  const credit = new Map(borrowed.map((one) => [one.blob, one]));
  for (const bytes of rest) await putBlob(tx, bytes);
  for (const { blob, imported } of decals) {
    const known = credit.get(blob) ?? { name: 'Decal', origin, licence: 'not stated' };
    const { name, licence } = known;
    await addDecal(tx, imported, { name, origin: known.origin, licence, tags: [team].filter(Boolean) });
  }
}

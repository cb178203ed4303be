/** Pictures and strokes that came in a file of somebody else's: looked at before they are kept. */
import { inArray } from 'drizzle-orm';
import type { Borrowed } from '@wet-lacquer/core/files/bundle.ts';
import type { Sha256 } from '@wet-lacquer/core/livery/ids.ts';
import type { Layer } from '@wet-lacquer/core/livery/layer.ts';
import { InputError } from '@wet-lacquer/core/errors.ts';
import type { BlobFacts } from '@wet-lacquer/sync/judge.ts';
import type { Pool } from '@wet-lacquer/node/threads/pool.ts';
import type { ImportedDecal } from '@wet-lacquer/node/threads/tasks.ts';
import { putBlob } from './blobs.ts';
import { hashOf } from '@wet-lacquer/node/hash.ts';
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
  /** What each of them is, found by reading it whole. */
  facts: Map<string, BlobFacts>;
}

/**
 * Looks at every one in a thread: decals like uploaded ones, strokes and pixels for being whole. Whether they are what the layers say
 * is the judge's.
 * @throws InputError when one is nothing that a livery draws with
 */
export async function checkBrought(
  threads: Pick<Pool, 'run'>,
  blobs: ReadonlyMap<Sha256, Uint8Array>,
  layers: readonly Layer[],
): Promise<Brought> {
  const decals = new Set(layers.flatMap((layer) => (layer.kind === 'decal' ? [layer.blob] : [])));
  const brought: Brought = { decals: [], rest: [], facts: new Map() };
  for (const [blob, bytes] of blobs) {
    const { facts, decal } = await threads.run('lookAtBlob', { bytes });
    // A drawing says itself why it cannot be one.
    if (facts.is === 'other' && decals.has(blob)) await threads.run('importDecal', { bytes });
    if (facts.is === 'other' || facts.is === 'font')
      throw new InputError('A picture or stroke that this file brings is damaged.');
    brought.facts.set(blob, facts);
    if (decal && decals.has(blob)) brought.decals.push({ blob, imported: { ...decal, bytes } });
    else brought.rest.push(bytes);
  }
  return brought;
}

/** Keeps them; decals join the library, with what was said of them or else that they came so. */
export async function keepBrought(
  tx: Tx,
  { decals, rest, facts }: Brought,
  borrowed: readonly Borrowed[],
  origin: string,
  team: string,
): Promise<void> {
  const credit = new Map(borrowed.map((one) => [one.blob, one]));
  for (const bytes of rest) await putBlob(tx, bytes, facts.get(hashOf(bytes)));
  for (const { blob, imported } of decals) {
    const known = credit.get(blob) ?? { name: 'Decal', origin, licence: 'not stated' };
    const { name, licence } = known;
    const about = { name, origin: known.origin, licence, tags: [team].filter(Boolean) };
    await addDecal(tx, imported, about, facts.get(blob));
  }
}

import { asc, eq, inArray, sql } from 'drizzle-orm';
import { InputError } from '@wet-lacquer/core/errors.ts';
import { Sha256 } from '@wet-lacquer/core/livery/ids.ts';
import type { BlobFacts } from '@wet-lacquer/sync/judge.ts';
import { hashOf } from '@wet-lacquer/node/hash.ts';
import { transact, type Tx } from './db.ts';
import { painterNow } from '../people/who.ts';
import { blob, blobChunk, blobUse } from './schema.ts';

const CHUNK = 4 * 1024 * 1024;

/** Keeps bytes under their SHA-256; the same bytes are kept once. @param facts what they are, where somebody looked */
export async function putBlob(tx: Tx, bytes: Uint8Array, facts: BlobFacts | null = null): Promise<Sha256> {
  const hash = hashOf(bytes);
  await transact(tx, async (inner) => {
    const who = painterNow();
    if (who) await inner.insert(blobUse).values({ hash, kind: 'painter', object: who.id }).onConflictDoNothing();
    const made = await inner
      .insert(blob)
      .values({ hash, bytes: bytes.length, facts })
      .onConflictDoNothing()
      .returning();
    if (made.length === 0) {
      await inner
        .update(blob)
        .set({ touchedAt: sql`now()` })
        .where(eq(blob.hash, hash));
      return;
    }
    for (let part = 0; part === 0 || part * CHUNK < bytes.length; part++) {
      await inner
        .insert(blobChunk)
        .values({ hash, part, content: Buffer.from(bytes.subarray(part * CHUNK, (part + 1) * CHUNK)) });
    }
  });
  return hash;
}

/** @throws InputError when there is no such blob */
export async function getBlob(tx: Tx, hash: string): Promise<Uint8Array> {
  const chunks = await tx
    .select({ content: blobChunk.content })
    .from(blobChunk)
    .where(eq(blobChunk.hash, hash))
    .orderBy(asc(blobChunk.part));
  if (chunks.length === 0) throw new InputError(`There is nothing stored under ${hash.slice(0, 12)}.`);
  return chunks.length === 1
    ? new Uint8Array(chunks[0].content)
    : new Uint8Array(Buffer.concat(chunks.map((chunk) => chunk.content)));
}

export async function getBlobs(tx: Tx, hashes: Iterable<string>): Promise<Map<string, Uint8Array>> {
  const wanted = [...new Set(hashes)];
  if (wanted.length === 0) return new Map();
  const chunks = await tx
    .select()
    .from(blobChunk)
    .where(inArray(blobChunk.hash, wanted))
    .orderBy(asc(blobChunk.hash), asc(blobChunk.part));
  const parts = new Map<string, Buffer[]>();
  for (const { hash, content } of chunks) parts.set(hash, [...(parts.get(hash) ?? []), content]);
  return new Map([...parts].map(([hash, all]) => [hash, new Uint8Array(Buffer.concat(all))]));
}

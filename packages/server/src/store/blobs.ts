import { and, asc, between, eq, inArray, sql } from 'drizzle-orm';
import { InputError } from '@wet-lacquer/core/errors.ts';
import { Sha256 } from '@wet-lacquer/core/livery/ids.ts';
import type { BlobFacts } from '@wet-lacquer/sync/judge.ts';
import { hashOf } from '@wet-lacquer/node/hash.ts';
import { transact, type Tx } from './db.ts';
import { painterNow } from '../people/who.ts';
import { objectStore, type ByteRange } from './objects.ts';
import { blob, blobChunk, blobUse } from './schema.ts';

const CHUNK = 4 * 1024 * 1024;
/** Objects that are fetched at once. */
const AT_ONCE = 8;

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
    await keepBytes(inner, hash, bytes);
  });
  return hash;
}

/**
 * Keeps the bytes of a row that was just inserted: in chunks beside it, or in the object store. A row without chunks has its bytes
 * there, so that both can be read whatever is set now.
 */
export async function keepBytes(tx: Tx, hash: string, bytes: Uint8Array): Promise<void> {
  const store = objectStore();
  // The row's lock holds whoever would sweep the object until this transaction is at its end.
  if (store) return store.put(hash, bytes);
  for (let part = 0; part === 0 || part * CHUNK < bytes.length; part++)
    await tx
      .insert(blobChunk)
      .values({ hash, part, content: Buffer.from(bytes.subarray(part * CHUNK, (part + 1) * CHUNK)) });
}

const nothing = (hash: string) => new InputError(`There is nothing stored under ${hash.slice(0, 12)}.`);

/** @throws InputError when there is no such blob */
export async function getBlob(tx: Tx, hash: string): Promise<Uint8Array> {
  const found = (await getBlobs(tx, [hash])).get(hash);
  if (!found) throw nothing(hash);
  return found;
}

/** Those of the blobs that there are. */
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
  const found = new Map(
    [...parts].map(([hash, all]) => [hash, new Uint8Array(all.length === 1 ? all[0] : Buffer.concat(all))]),
  );
  const elsewhere = wanted.filter((hash) => !found.has(hash));
  if (elsewhere.length === 0) return found;
  const rows = await tx.select({ hash: blob.hash }).from(blob).where(inArray(blob.hash, elsewhere));
  for (let at = 0; at < rows.length; at += AT_ONCE)
    await Promise.all(
      rows.slice(at, at + AT_ONCE).map(async ({ hash }) => found.set(hash, await storeOf(hash).get(hash))),
    );
  return found;
}

/** @returns how many bytes a blob has @throws InputError when there is no such blob */
export async function sizeOfBlob(tx: Tx, hash: string): Promise<number> {
  const [row] = await tx.select({ bytes: blob.bytes }).from(blob).where(eq(blob.hash, hash));
  if (!row) throw nothing(hash);
  return row.bytes;
}

/** A part of a blob; no more than that is read. @throws InputError when there is no such blob */
export async function getBlobPart(tx: Tx, hash: string, { from, to }: ByteRange): Promise<Uint8Array> {
  const first = Math.floor(from / CHUNK);
  const begin = sql`greatest(1, ${from} - ${blobChunk.part} * ${CHUNK} + 1)::int`;
  const end = sql`least(${CHUNK}, ${to} - ${blobChunk.part} * ${CHUNK} + 1)::int`;
  const chunks = await tx
    .select({ content: sql<Buffer>`substring(${blobChunk.content} from ${begin} for ${end} - ${begin} + 1)` })
    .from(blobChunk)
    .where(and(eq(blobChunk.hash, hash), between(blobChunk.part, first, Math.floor(to / CHUNK))))
    .orderBy(asc(blobChunk.part));
  if (chunks.length > 0) return new Uint8Array(Buffer.concat(chunks.map(({ content }) => content)));
  await sizeOfBlob(tx, hash);
  return storeOf(hash).get(hash, { from, to });
}

function storeOf(hash: string) {
  const store = objectStore();
  if (!store) throw new Error(`${hash.slice(0, 12)} is in an object store, and WET_LACQUER_BLOBS does not say which.`);
  return store;
}

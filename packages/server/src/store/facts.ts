/** What stored bytes are: looked at once, by reading them whole in a thread, and kept beside them. */
import { eq, inArray, sql } from 'drizzle-orm';
import type { BlobFacts } from '@wet-lacquer/sync/judge.ts';
import type { Pool } from '@wet-lacquer/node/threads/pool.ts';
import { getBlob } from './blobs.ts';
import type { Tx } from './db.ts';
import { blob } from './schema.ts';

/** What blobs are never changes, so it is asked for once. */
const looked = new Map<string, BlobFacts>();
const MOST_LOOKED = 100_000;
const remember = (hash: string, facts: BlobFacts): void => {
  if (looked.size >= MOST_LOOKED) looked.clear();
  looked.set(hash, facts);
};

/** What stored blobs are. Those that are here count as touched; those that nobody looked at yet are looked at, in a thread. */
export async function factsOf(
  tx: Tx,
  threads: Pick<Pool, 'run'>,
  hashes: Iterable<string>,
): Promise<Map<string, BlobFacts>> {
  const wanted = [...new Set(hashes)].sort();
  const found = new Map<string, BlobFacts>();
  if (wanted.length === 0) return found;
  // In one order, so that two that touch the same blobs never wait for each other.
  const { rows } = await tx.execute<{ hash: string; facts: BlobFacts | null }>(sql`
    with here as (select hash from blob where hash in ${wanted} order by hash for update)
    update blob set touched_at = now() from here where blob.hash = here.hash returning blob.hash, blob.facts`);
  for (const { hash, facts } of rows) {
    const known = facts ?? looked.get(hash) ?? (await look(tx, threads, hash));
    remember(hash, known);
    found.set(hash, known);
  }
  return found;
}

async function look(tx: Tx, threads: Pick<Pool, 'run'>, hash: string): Promise<BlobFacts> {
  const bytes = await getBlob(tx, hash);
  const { facts } = await threads.run('lookAtBlob', { bytes });
  await tx.update(blob).set({ facts }).where(eq(blob.hash, hash));
  return facts;
}

/** What is known of blobs, without looking at any. */
export async function factsAtHand(tx: Tx, hashes: readonly string[]): Promise<Map<string, BlobFacts>> {
  const found = new Map<string, BlobFacts>();
  const left: string[] = [];
  for (const hash of new Set(hashes)) {
    const facts = looked.get(hash);
    if (facts) found.set(hash, facts);
    else left.push(hash);
  }
  if (left.length === 0) return found;
  const rows = await tx.select({ hash: blob.hash, facts: blob.facts }).from(blob).where(inArray(blob.hash, left));
  for (const { hash, facts } of rows) {
    if (!facts) continue;
    remember(hash, facts);
    found.set(hash, facts);
  }
  return found;
}

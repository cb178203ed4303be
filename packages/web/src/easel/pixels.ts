/** Pixels of strokes that the server does not have yet: in memory, and in this browser's database so that a crash does not lose them. */
import { createStore, del, get, keys, set } from 'idb-keyval';
import { heldIn } from '@wet-lacquer/core/held.ts';
import { sha256 } from '@wet-lacquer/core/files/sha256.ts';
import { splitStrokes } from '@wet-lacquer/core/paint/strokes.ts';
import { sendFile, takeBytes } from '../lib/api.ts';

const waiting = new Map<string, Uint8Array>();
const store = typeof indexedDB === 'undefined' ? null : createStore('wet-lacquer-pixels', 'pixels');

/** Keeps a stroke's bytes until they have been sent. */
export async function keepPixels(blob: string, bytes: Uint8Array): Promise<void> {
  waiting.set(blob, bytes);
  // A full or forbidden database: they are still in memory and on their way.
  if (store) await set(blob, bytes, store).catch(() => {});
}

/** Keeps coverage as masks and named regions name it. */
export async function keepRegion({ bytes, tiles }: { bytes: Uint8Array; tiles: number[] }) {
  const blob = await sha256(bytes);
  await keepPixels(blob, bytes);
  return { blob, tiles };
}

/** Sends what the server lacks of some blobs. @throws ApiError when it does not take them */
export async function sendPixels(blobs: readonly string[]): Promise<void> {
  if (blobs.length === 0) return;
  const kept = await keptHere();
  for (const blob of blobs) {
    const bytes = kept.has(blob) ? await unsentPixels(blob) : null;
    if (!bytes) continue;
    await sendFile('/strokes', new Blob([bytes as Uint8Array<ArrayBuffer>]));
    waiting.delete(blob);
    if (store) await del(blob, store).catch(() => {});
  }
}

/** Bytes of a stroke that may not have been sent. */
export async function unsentPixels(blob: string): Promise<Uint8Array | null> {
  return waiting.get(blob) ?? (store ? ((await get<Uint8Array>(blob, store).catch(() => null)) ?? null) : null);
}

/** What may not have been sent from this browser. */
const keptHere = async (): Promise<Set<unknown>> =>
  new Set<unknown>([...waiting.keys(), ...(store ? await keys(store).catch(() => []) : [])]);

/** Strokes that one answer is asked for. */
const MANY = 2000;

/** The bytes of many strokes, in order: those that may not have been sent from this browser, the rest from the server. */
export async function strokeBytes(hashes: readonly string[]): Promise<Uint8Array[]> {
  const kept = await keptHere();
  const found = new Map<string, Uint8Array>();
  for (const hash of hashes) {
    const own = kept.has(hash) ? await unsentPixels(hash) : null;
    if (own) found.set(hash, own);
  }
  let left = hashes.filter((hash) => !found.has(hash));
  while (left.length > 0) {
    const some = left.slice(0, MANY);
    const got = splitStrokes(await takeBytes('/strokes/many', { hashes: some }));
    if (got.length === 0) throw new Error('The server sent no strokes.');
    got.forEach((bytes, i) => found.set(some[i], bytes));
    left = left.slice(got.length);
  }
  return hashes.map((hash) => heldIn(found, hash));
}

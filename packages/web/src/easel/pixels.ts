/** Pixels of strokes that the server does not have yet: in memory, and in this browser's database so that a crash does not lose them. */
import { createStore, del, get, set } from 'idb-keyval';
import { sendFile } from '../lib/api.ts';

const waiting = new Map<string, Uint8Array>();
const store = typeof indexedDB === 'undefined' ? null : createStore('wet-lacquer-pixels', 'pixels');

/** Keeps a stroke's bytes until they have been sent. */
export async function keepPixels(blob: string, bytes: Uint8Array): Promise<void> {
  waiting.set(blob, bytes);
  // A full or forbidden database: they are still in memory and on their way.
  if (store) await set(blob, bytes, store).catch(() => {});
}

/** Sends what the server lacks of some blobs. @throws ApiError when it does not take them */
export async function sendPixels(blobs: readonly string[]): Promise<void> {
  for (const blob of blobs) {
    const bytes = waiting.get(blob) ?? (store ? await get<Uint8Array>(blob, store).catch(() => undefined) : undefined);
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

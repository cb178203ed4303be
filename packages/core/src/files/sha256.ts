import { Sha256 } from '../livery/ids.ts';

/** What blobs are named by. */
export async function sha256(bytes: Uint8Array): Promise<Sha256> {
  const digest = await crypto.subtle.digest('SHA-256', bytes as Uint8Array<ArrayBuffer>);
  return Sha256.parse([...new Uint8Array(digest)].map((b) => b.toString(16).padStart(2, '0')).join(''));
}

/** Runs of bytes: joined, and unpacked to exactly as many as were declared. */
import { unzlibSync } from 'fflate';
import { InputError } from './errors.ts';

/** Numbers of 32 bits that lie one behind the other, as this machine has them: little-endian on all that there are. */
export const floatsIn = (bytes: Uint8Array): Float32Array => new Float32Array(bytes.slice().buffer);

/** Some runs of bytes as one. */
export function joined(parts: readonly Uint8Array[]): Uint8Array {
  const out = new Uint8Array(parts.reduce((n, part) => n + part.length, 0));
  let at = 0;
  for (const part of parts) {
    out.set(part, at);
    at += part.length;
  }
  return out;
}

/**
 * Unpacks a zlib stream that holds exactly so many bytes.
 * @param what it is, for the sentence
 * @throws InputError when it is damaged, or holds more or less
 */
export function inflateWhole(packed: Uint8Array, size: number, what: string): Uint8Array {
  let body: Uint8Array;
  try {
    // One byte more than there may be: what does not fit is too much.
    body = unzlibSync(packed, { out: new Uint8Array(size + 1) });
  } catch {
    throw new InputError(`${what} is damaged.`);
  }
  if (body.length !== size) throw new InputError(`${what} is cut off.`);
  return body;
}

/** Memory that all threads see: what lies there is not copied on its way to them. */
import type { Image8 } from '@wet-lacquer/core/raster/image.ts';

export const sharedBytes = (length: number): Uint8Array => new Uint8Array(new SharedArrayBuffer(length));

/** The same bytes where all threads see them, copied unless they lie there already. */
export function sharedCopy(bytes: Uint8Array): Uint8Array {
  if (bytes.buffer instanceof SharedArrayBuffer) return bytes;
  const out = sharedBytes(bytes.length);
  out.set(bytes);
  return out;
}

/** The same for an image's texels. */
export const sharedImage = (image: Image8): Image8 => ({ ...image, data: sharedCopy(image.data) });

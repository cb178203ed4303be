/** Pictures as the store keeps them: decoded once on import, so that browser and server never decode one file by different code. */
import { zlibSync } from 'fflate';
import { inflateWhole } from '../bytes.ts';
import { InputError } from '../errors.ts';
import type { Image8 } from '../raster/image.ts';

const MAGIC = 0x31584c57;
/** Deflate makes at most 258 bytes of 2 bits (RFC 1951). */
const DENSEST = 1032;

/**
 * Straight RGBA8 to bytes: magic, width, height (32-bit little-endian), then the rows in zlib.
 * @param level 0: not made smaller, for what is thrown away at once
 * @example
 * import { packPixels, unpackPixels } from './files/pixels.ts';
 * const image = { width: 1, height: 1, data: Uint8Array.of(1, 2, 3, 4) };
 * unpackPixels(packPixels(image)); // image
 */
export function packPixels(image: Image8, level: 0 | 6 = 6): Uint8Array {
  const body = zlibSync(image.data, { level });
  const out = new Uint8Array(12 + body.length);
  const view = new DataView(out.buffer);
  view.setUint32(0, MAGIC, true);
  view.setUint32(4, image.width, true);
  view.setUint32(8, image.height, true);
  out.set(body, 12);
  return out;
}

/** @throws InputError when the bytes are not such a picture, or hold more or less than they declare */
export function unpackPixels(bytes: Uint8Array): Image8 {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  if (bytes.length < 12 || view.getUint32(0, true) !== MAGIC) throw new InputError('This is not a stored picture.');
  const [width, height] = [view.getUint32(4, true), view.getUint32(8, true)];
  if (width < 1 || height < 1 || width > 16384 || height > 16384)
    throw new InputError(`A stored picture cannot be ${width} x ${height}.`);
  const total = width * height * 4;
  if (bytes.length - 12 < total / DENSEST)
    throw new InputError('A stored picture says that it holds more than it can.');
  const data = inflateWhole(bytes.subarray(12), total, 'A stored picture');
  return { width, height, data };
}

/** Texels to bytes and back, in any of the formats. */
import { InputError } from '../errors.ts';
import type { Image8 } from '../raster/image.ts';
import { decodeBlockRows, encodeBlockRows } from './blocks.ts';
import type { Encoding } from './encoding.ts';
import { FORMATS, isWritten, rowBytes, rowsOf, type FormatKey } from './formats/index.ts';

/**
 * Fills `out` with the encoding of block rows `from` to `to` (exclusive) of the image; for row formats, texel rows.
 * @throws InputError when the format is only read
 */
export function encodeRows(
  key: FormatKey,
  image: Image8,
  from: number,
  to: number,
  out: Uint8Array,
  encoding: Encoding,
): void {
  const format = FORMATS[key];
  if (!isWritten(key)) throw new InputError(`${format.name} can be read, not written.`);
  if (format.blockBytes) encodeBlockRows(format, image, from, to, out, encoding);
  else format.encodeRows(image, from, to, out, encoding.dither ?? false);
}

/**
 * A whole image on this thread. Same image, same encoding, same bytes; splitting by rows changes nothing.
 * @example
 * import { decodeImage, encodeImage } from './texture/encode.ts';
 * const red = { width: 4, height: 4, data: new Uint8Array(64).map((_, i) => [255, 0, 0, 255][i & 3]) };
 * const block = encodeImage(red, 'bc1', { effort: 'fast' });
 * block.length; // 8
 * [...decodeImage(block, 'bc1', 4, 4).data.subarray(0, 4)]; // [255, 0, 0, 255]
 */
export function encodeImage(image: Image8, key: FormatKey, encoding: Encoding): Uint8Array {
  const format = FORMATS[key];
  const rows = rowsOf(format, image.height);
  const out = new Uint8Array(rows * rowBytes(format, image.width));
  encodeRows(key, image, 0, rows, out, encoding);
  return out;
}

/** Fills the image. @throws InputError when there are too few blocks */
export function decodeInto(image: Image8, bytes: Uint8Array, key: FormatKey): void {
  const format = FORMATS[key];
  if (format.blockBytes) decodeBlockRows(format, bytes, image);
  else format.decode(bytes, image);
}

/** What comes back from an encoding of `image`: the channels that the format carries, decoded. */
export function decodeImage(bytes: Uint8Array, key: FormatKey, width: number, height: number): Image8 {
  const image = { width, height, data: new Uint8Array(width * height * 4) };
  decodeInto(image, bytes, key);
  return image;
}

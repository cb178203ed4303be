import type { Image8 } from '../raster/image.ts';
import { decodeBc1Block, encodeBc1Block } from './bc1.ts';
import { decodeBc4Block, encodeBc4Block } from './bc4.ts';
import { encodeBc7Block, type Effort } from './bc7.ts';
import { decodeBc7Block } from './bc7Decode.ts';
import { readBlock, writeBlock } from './block.ts';

export type FormatKey = 'bc1' | 'bc3' | 'bc7' | 'rgba8' | 'bgra8';

/** One texture format, as its bytes lie in a DDS file. */
export interface TextureFormat {
  readonly key: FormatKey;
  readonly name: string;
  /** Bytes of a 4 x 4 block, or 0 for formats that store texels row by row. */
  readonly blockBytes: number;
  readonly carriesAlpha: boolean;
  /** Fills `out` with the encoding of block rows `from` to `to` (exclusive) of the image; for row formats, texel rows. */
  encodeRows(image: Image8, from: number, to: number, out: Uint8Array, effort: Effort): void;
  decode(bytes: Uint8Array, image: Image8): void;
}

type BlockEncoder = (block: Uint8Array, out: Uint8Array, at: number, effort: Effort) => void;
type BlockDecoder = (source: Uint8Array, at: number, out: Uint8Array) => void;

function blockFormat(
  head: Pick<TextureFormat, 'key' | 'name' | 'carriesAlpha' | 'blockBytes'>,
  encode: BlockEncoder,
  decode: BlockDecoder,
): TextureFormat {
  return {
    ...head,
    encodeRows(image, from, to, out, effort) {
      const block = new Uint8Array(64);
      const columns = Math.ceil(image.width / 4);
      for (let by = from, at = 0; by < to; by++) {
        for (let bx = 0; bx < columns; bx++, at += head.blockBytes) {
          readBlock(image, bx, by, block);
          encode(block, out, at, effort);
        }
      }
    },
    decode(bytes, image) {
      const block = new Uint8Array(64);
      const columns = Math.ceil(image.width / 4);
      for (let by = 0, at = 0; by * 4 < image.height; by++) {
        for (let bx = 0; bx < columns; bx++, at += head.blockBytes) {
          decode(bytes, at, block);
          writeBlock(image, bx, by, block);
        }
      }
    },
  };
}

function rowFormat(key: 'rgba8' | 'bgra8', name: string, order: readonly number[]): TextureFormat {
  const swizzle = (from: Uint8Array, to: Uint8Array) => {
    for (let i = 0; i < to.length; i += 4) for (let c = 0; c < 4; c++) to[i + c] = from[i + order[c]];
  };
  return {
    key,
    name,
    blockBytes: 0,
    carriesAlpha: true,
    encodeRows: (image, from, to, out) =>
      swizzle(image.data.subarray(from * image.width * 4, to * image.width * 4), out),
    decode: (bytes, image) => swizzle(bytes, image.data),
  };
}

const ROUNDS: Record<Effort, number> = { fast: 1, normal: 3, best: 8 };

/** Every format that can be written and read; nothing else knows which there are. */
export const FORMATS: Readonly<Record<FormatKey, TextureFormat>> = {
  bc1: blockFormat(
    { key: 'bc1', name: 'BC1', blockBytes: 8, carriesAlpha: false },
    (block, out, at, effort) => encodeBc1Block(block, out, at, ROUNDS[effort]),
    (source, at, out) => decodeBc1Block(source, at, out, true),
  ),
  bc3: blockFormat(
    { key: 'bc3', name: 'BC3', blockBytes: 16, carriesAlpha: true },
    (block, out, at, effort) => {
      encodeBc4Block(block, 3, out, at);
      encodeBc1Block(block, out, at + 8, ROUNDS[effort]);
    },
    (source, at, out) => {
      decodeBc1Block(source, at + 8, out, false);
      decodeBc4Block(source, at, out, 3);
    },
  ),
  bc7: blockFormat({ key: 'bc7', name: 'BC7', blockBytes: 16, carriesAlpha: true }, encodeBc7Block, decodeBc7Block),
  rgba8: rowFormat('rgba8', 'uncompressed RGBA', [0, 1, 2, 3]),
  bgra8: rowFormat('bgra8', 'uncompressed BGRA', [2, 1, 0, 3]),
};

/** Rows that encodeRows counts by, for an image of this height. */
export function rowsOf(format: TextureFormat, height: number): number {
  return format.blockBytes ? Math.ceil(height / 4) : height;
}

/** Bytes of one such row. */
export function rowBytes(format: TextureFormat, width: number): number {
  return format.blockBytes ? Math.ceil(width / 4) * format.blockBytes : width * 4;
}

/** A whole image on this thread. Same image, same effort, same bytes; splitting by rows changes nothing. */
export function encodeImage(image: Image8, key: FormatKey, effort: Effort): Uint8Array {
  const format = FORMATS[key];
  const rows = rowsOf(format, image.height);
  const out = new Uint8Array(rows * rowBytes(format, image.width));
  format.encodeRows(image, 0, rows, out, effort);
  return out;
}

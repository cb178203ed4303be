/**
 * Every texture format that can be written or read; nothing else knows which there are. Bit layouts: Direct3D 11 functional
 * specification, 19.5, and Khronos Data Format Specification 1.3, sections 18 to 20; the work is done by packages/core/kernels.
 */
import { InputError } from '../errors.ts';
import type { Image8 } from '../raster/image.ts';
import { decodeBlockRows, encodeBlockRows } from './blocks.ts';
import type { Encoding } from './encoding.ts';

export type FormatKey =
  'bc1' | 'bc1a' | 'bc2' | 'bc3' | 'bc4' | 'bc5' | 'bc7' | 'bc4s' | 'bc5s' | 'rgba8' | 'bgra8' | 'bgr8' | 'rgb565';

/** One texture format, as its bytes lie in a DDS file. */
export interface TextureFormat {
  readonly key: FormatKey;
  readonly name: string;
  /** Bytes of a 4 x 4 block, or 0 for formats that store texels row by row. */
  readonly blockBytes: number;
  /** Bytes of a texel in formats that store texels row by row. */
  readonly texelBytes: number;
  /** None, one bit (0 or 255), or as fine as the format holds. */
  readonly alpha: 'none' | 'bit' | 'full';
  /** Which channels come back: the others read as 0, alpha as 255. */
  readonly channels: 'rgba' | 'rgb' | 'rg' | 'r';
  /**
   * Fills `out` with the encoding of block rows `from` to `to` (exclusive) of the image; for row formats, texel rows.
   * @throws InputError when the format is only read
   */
  encodeRows(image: Image8, from: number, to: number, out: Uint8Array, encoding: Encoding): void;
  decode(bytes: Uint8Array, image: Image8): void;
}

type Head = Pick<TextureFormat, 'key' | 'name' | 'alpha' | 'channels'>;

function blockFormat(head: Head & { blockBytes: number }, written = true): TextureFormat {
  return {
    ...head,
    texelBytes: 0,
    encodeRows(image, from, to, out, encoding) {
      if (!written) throw new InputError(`${head.name} can be read, not written.`);
      encodeBlockRows(head.key, head.blockBytes, image, from, to, out, encoding);
    },
    decode: (bytes, image) => decodeBlockRows(head.key, head.blockBytes, bytes, image),
  };
}

/** Bytes of a texel are channels of the image, in this order. */
function byteFormat(head: Head, order: readonly number[]): TextureFormat {
  const size = order.length;
  return {
    ...head,
    blockBytes: 0,
    texelBytes: size,
    encodeRows(image, from, to, out) {
      for (let i = from * image.width * 4, o = 0; i < to * image.width * 4; i += 4, o += size) {
        for (let c = 0; c < size; c++) out[o + c] = image.data[i + order[c]];
      }
    },
    decode(bytes, { data }) {
      for (let o = 0, i = 0; o < data.length; o += 4, i += size) {
        data[o + 3] = 255;
        for (let c = 0; c < size; c++) data[o + order[c]] = bytes[i + c];
      }
    },
  };
}

/** 8 x 8 ordered thresholds, -0.5 to 0.5: spreads what 5 and 6 bits cannot hold. */
const threshold = (x: number, y: number): number => {
  let rank = 0;
  for (let bit = 0; bit < 3; bit++) {
    const [a, b] = [(x >> bit) & 1, (y >> bit) & 1];
    rank = rank * 4 + ((a ^ b) * 2 + b);
  }
  return (rank + 0.5) / 64 - 0.5;
};

const rgb565: TextureFormat = {
  key: 'rgb565',
  name: 'uncompressed 5-6-5',
  alpha: 'none',
  channels: 'rgb',
  blockBytes: 0,
  texelBytes: 2,
  encodeRows({ width, data }, from, to, out, { dither }) {
    for (let y = from, o = 0; y < to; y++) {
      for (let x = 0; x < width; x++, o += 2) {
        const i = (y * width + x) * 4;
        const d = dither ? threshold(x, y) : 0;
        const code = (v: number, top: number) => Math.max(0, Math.min(top, Math.floor((v * top) / 255 + 0.5 + d)));
        const word = (code(data[i], 31) << 11) | (code(data[i + 1], 63) << 5) | code(data[i + 2], 31);
        out[o] = word;
        out[o + 1] = word >> 8;
      }
    }
  },
  decode(bytes, { data }) {
    for (let o = 0, i = 0; o < data.length; o += 4, i += 2) {
      const word = bytes[i] | (bytes[i + 1] << 8);
      const [r, g, b] = [word >> 11, (word >> 5) & 63, word & 31];
      data[o] = (r << 3) | (r >> 2);
      data[o + 1] = (g << 2) | (g >> 4);
      data[o + 2] = (b << 3) | (b >> 2);
      data[o + 3] = 255;
    }
  },
};

export const FORMATS: Readonly<Record<FormatKey, TextureFormat>> = {
  bc1: blockFormat({ key: 'bc1', name: 'BC1', blockBytes: 8, alpha: 'none', channels: 'rgb' }),
  bc1a: blockFormat({ key: 'bc1a', name: 'BC1 with 1-bit alpha', blockBytes: 8, alpha: 'bit', channels: 'rgba' }),
  bc2: blockFormat({ key: 'bc2', name: 'BC2', blockBytes: 16, alpha: 'full', channels: 'rgba' }),
  bc3: blockFormat({ key: 'bc3', name: 'BC3', blockBytes: 16, alpha: 'full', channels: 'rgba' }),
  bc4: blockFormat({ key: 'bc4', name: 'BC4', blockBytes: 8, alpha: 'none', channels: 'r' }),
  bc5: blockFormat({ key: 'bc5', name: 'BC5', blockBytes: 16, alpha: 'none', channels: 'rg' }),
  bc7: blockFormat({ key: 'bc7', name: 'BC7', blockBytes: 16, alpha: 'full', channels: 'rgba' }),
  bc4s: blockFormat({ key: 'bc4s', name: 'BC4 signed', blockBytes: 8, alpha: 'none', channels: 'r' }, false),
  bc5s: blockFormat({ key: 'bc5s', name: 'BC5 signed', blockBytes: 16, alpha: 'none', channels: 'rg' }, false),
  rgba8: byteFormat({ key: 'rgba8', name: 'uncompressed RGBA', alpha: 'full', channels: 'rgba' }, [0, 1, 2, 3]),
  bgra8: byteFormat({ key: 'bgra8', name: 'uncompressed BGRA', alpha: 'full', channels: 'rgba' }, [2, 1, 0, 3]),
  bgr8: byteFormat({ key: 'bgr8', name: 'uncompressed BGR', alpha: 'none', channels: 'rgb' }, [2, 1, 0]),
  rgb565,
};

/** The formats that can be written. */
export const WRITTEN = (Object.keys(FORMATS) as FormatKey[]).filter((key) => !key.endsWith('s'));

/** Rows that encodeRows counts by, for an image of this height. */
export function rowsOf(format: TextureFormat, height: number): number {
  return format.blockBytes ? Math.ceil(height / 4) : height;
}

/** Bytes of one such row. */
export function rowBytes(format: TextureFormat, width: number): number {
  return format.blockBytes ? Math.ceil(width / 4) * format.blockBytes : width * format.texelBytes;
}

/** A whole image on this thread. Same image, same encoding, same bytes; splitting by rows changes nothing. */
export function encodeImage(image: Image8, key: FormatKey, encoding: Encoding): Uint8Array {
  const format = FORMATS[key];
  const rows = rowsOf(format, image.height);
  const out = new Uint8Array(rows * rowBytes(format, image.width));
  format.encodeRows(image, 0, rows, out, encoding);
  return out;
}

/** What comes back from an encoding of `image`: the channels that the format carries, decoded. */
export function decodeImage(bytes: Uint8Array, key: FormatKey, width: number, height: number): Image8 {
  const image = { width, height, data: new Uint8Array(width * height * 4) };
  FORMATS[key].decode(bytes, image);
  return image;
}

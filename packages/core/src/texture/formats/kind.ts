/** All that there is to say of a texture format; how its texels are turned into bytes is in ../encode.ts. */
import type { Image8 } from '../../raster/image.ts';
import type { BlockKernel } from '../encoding.ts';

/** How a DDS file names a format (reference pages DDS_PIXELFORMAT and DXGI_FORMAT). A format without codes and masks needs the DX10 header. */
export interface DdsNames {
  /** FourCC codes of the legacy header; the first is the one that is written. */
  readonly codes?: readonly string[];
  /** Those of the codes whose colour is stored times alpha. */
  readonly premultiplied?: readonly string[];
  /** Of uncompressed texels: bits of one, then which of them are red, green, blue and alpha. */
  readonly masks?: readonly [bits: number, r: number, g: number, b: number, a: number];
  /** DXGI_FORMAT numbers: linear, then sRGB where there is such a kind. */
  readonly dxgi?: readonly [linear: number, srgb?: number];
  /** The DXGI_FORMAT that leaves open what the bits mean: read as the plain kind. */
  readonly typeless?: number;
}

interface Facts {
  readonly name: string;
  /** None, one bit (0 or 255), or as fine as the format holds. */
  readonly alpha: 'none' | 'bit' | 'full';
  /** Which channels come back: the others read as 0, alpha as 255. */
  readonly channels: 'rgba' | 'rgb' | 'rg' | 'r';
  readonly dds: DdsNames;
  /** The proof offers it beside the one that the spec asks for. */
  readonly tried?: true;
}

/** 4 x 4 texels to a block (Khronos Data Format Specification 1.3, sections 18 to 20). */
export interface BlockFormat extends Facts {
  readonly blockBytes: 8 | 16;
  readonly texelBytes: 0;
  readonly kernel: BlockKernel;
  /** The format that these bytes are where a block holds clear texels: the same codes stand for both. */
  readonly withClear?: string;
  /** The colour of a block is two ends of 5-6-5 bits and their mixes: thin saturated strokes get fringes. */
  readonly coarse?: true;
}

/** Texels one after the other, row by row. */
export interface RowFormat extends Facts {
  readonly blockBytes: 0;
  readonly texelBytes: number;
  /** Texel rows `from` to `to` (exclusive) of the image into `out`. */
  encodeRows(image: Image8, from: number, to: number, out: Uint8Array, dither: boolean): void;
  /** Fills the image. */
  decode(bytes: Uint8Array, image: Image8): void;
}

/** One texture format, as its bytes lie in a DDS file. */
export type TextureFormat = BlockFormat | RowFormat;

/** Bytes of a texel are channels of the image, in this order. */
export function bytesInOrder(
  order: readonly number[],
): Pick<RowFormat, 'blockBytes' | 'texelBytes' | 'encodeRows' | 'decode'> {
  const size = order.length;
  return {
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

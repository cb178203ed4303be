/** Truevision TGA 2.0 (published specification, revision 2.0, 1991): true-colour, 24 or 32 bits, raw or run-length, with footer. */
import { InputError } from '../errors.ts';
import { newImage, type Image8 } from '../raster/image.ts';

const FOOTER = 'TRUEVISION-XFILE.\0';
const TOP_DOWN = 0x20;

/** Writes a TGA with rows from the top (bit 5 of the descriptor). @param alpha 32 bits with 8 attribute bits, or 24 bits */
export function writeTga(image: Image8, options: { alpha: boolean; rle: boolean }): Uint8Array {
  const { width, height } = image;
  const size = options.alpha ? 4 : 3;
  const header = Uint8Array.of(
    0,
    0,
    options.rle ? 10 : 2,
    0,
    0,
    0,
    0,
    0,
    0,
    0,
    0,
    0,
    width,
    width >> 8,
    height,
    height >> 8,
    size * 8,
    TOP_DOWN | (options.alpha ? 8 : 0),
  );
  const body = new Uint8Array(width * height * (size + 1) + height);
  const texel = (i: number) =>
    [image.data[i * 4 + 2], image.data[i * 4 + 1], image.data[i * 4], image.data[i * 4 + 3]].slice(0, size);
  const same = (a: number, b: number) => {
    for (let c = 0; c < size; c++) if (image.data[a * 4 + c] !== image.data[b * 4 + c]) return false;
    return true;
  };
  let at = 0;
  const put = (values: readonly number[]) => {
    body.set(values, at);
    at += values.length;
  };
  for (let y = 0; y < height; y++) {
    const end = (y + 1) * width;
    for (let i = y * width; i < end;) {
      if (!options.rle) {
        put(texel(i++));
        continue;
      }
      let run = 1;
      while (run < 128 && i + run < end && same(i, i + run)) run++;
      if (run > 1) {
        put([0x80 | (run - 1), ...texel(i)]);
        i += run;
        continue;
      }
      let raw = 1;
      while (raw < 128 && i + raw < end && !(i + raw + 1 < end && same(i + raw, i + raw + 1))) raw++;
      put([raw - 1]);
      for (let k = 0; k < raw; k++) put(texel(i + k));
      i += raw;
    }
  }
  const out = new Uint8Array(header.length + at + 26);
  out.set(header);
  out.set(body.subarray(0, at), header.length);
  out.set(new TextEncoder().encode(FOOTER), header.length + at + 8);
  return out;
}

export interface TgaFacts {
  width: number;
  height: number;
  bits: 24 | 32;
  rle: boolean;
  topDown: boolean;
  alphaBits: number;
}

export function readTgaFacts(bytes: Uint8Array): TgaFacts {
  if (bytes.length < 18) throw new InputError('This TGA file ends inside its header.');
  const [type, bits, descriptor] = [bytes[2], bytes[16], bytes[17]];
  const width = bytes[12] | (bytes[13] << 8);
  const height = bytes[14] | (bytes[15] << 8);
  if ((type !== 2 && type !== 10) || (bits !== 24 && bits !== 32))
    throw new InputError('Only true-colour TGA files of 24 or 32 bits can be read.');
  if (width < 1 || height < 1 || width > 16384 || height > 16384)
    throw new InputError(`This TGA file declares ${width} x ${height} texels; 1 to 16384 a side can be read.`);
  if (type === 2 && bytes.length < 18 + bytes[0] + width * height * (bits / 8))
    throw new InputError('This TGA file is cut off.');
  return { width, height, bits, rle: type === 10, topDown: (descriptor & TOP_DOWN) !== 0, alphaBits: descriptor & 15 };
}

/** Straight RGBA8, row 0 at the top. 24-bit files, and 32-bit ones without attribute bits, are opaque. */
export function readTga(bytes: Uint8Array): Image8 {
  const facts = readTgaFacts(bytes);
  const { width, height } = facts;
  const size = facts.bits / 8;
  const rightToLeft = (bytes[17] & 0x10) !== 0;
  let at = 18 + bytes[0];
  const image = newImage(width, height);
  const total = width * height;
  for (let i = 0; i < total;) {
    const packet = facts.rle ? bytes[at++] : 0;
    const count = facts.rle ? (packet & 127) + 1 : 1;
    const repeat = (packet & 128) !== 0;
    for (let k = 0; k < count && i < total; k++, i++) {
      if (at + size > bytes.length) throw new InputError('This TGA file is cut off.');
      const row = Math.floor(i / width);
      const x = rightToLeft ? width - 1 - (i % width) : i % width;
      const o = ((facts.topDown ? row : height - 1 - row) * width + x) * 4;
      image.data[o] = bytes[at + 2];
      image.data[o + 1] = bytes[at + 1];
      image.data[o + 2] = bytes[at];
      image.data[o + 3] = size === 4 && facts.alphaBits > 0 ? bytes[at + 3] : 255;
      if (!repeat || k === count - 1) at += size;
    }
  }
  return image;
}

/** Truevision TGA 2.0 (published specification, revision 2.0, 1991): written true-colour with 24 or 32 bits, raw or run-length, with
 * footer; read in all six image types, from any corner. */
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
  colours: 'true-colour' | 'grey' | 'colour-mapped';
  /** Of a texel as stored. */
  bits: 8 | 15 | 16 | 24 | 32;
  rle: boolean;
  topDown: boolean;
  rightToLeft: boolean;
  alphaBits: number;
}

/** Image types by their lower three bits; bit 3 means run lengths (specification, "Image Type"). */
const KINDS = { 1: 'colour-mapped', 2: 'true-colour', 3: 'grey' } as const;
const BITS: Record<TgaFacts['colours'], readonly number[]> = {
  'colour-mapped': [8, 16],
  'true-colour': [15, 16, 24, 32],
  grey: [8, 16],
};

interface Layout extends TgaFacts {
  /** Where the texels begin. */
  start: number;
  /** Straight RGBA8 of each entry of the colour map, and the index of its first. */
  map: Uint8Array | null;
  firstIndex: number;
}

/** What a TGA file says of itself, checked against its length. @throws InputError in one sentence */
export function readTgaFacts(bytes: Uint8Array): TgaFacts {
  const { start: _start, map: _map, firstIndex: _first, ...facts } = layoutOf(bytes);
  return facts;
}

function layoutOf(bytes: Uint8Array): Layout {
  if (bytes.length < 18) throw new InputError('This TGA file ends inside its header.');
  const [idLength, mapType, type, bits, descriptor] = [bytes[0], bytes[1], bytes[2], bytes[16], bytes[17]];
  const kind = KINDS[(type & 7) as keyof typeof KINDS] as TgaFacts['colours'] | undefined;
  if (!kind || (type & ~8) > 3 || mapType > 1 || (kind === 'colour-mapped' && mapType !== 1))
    throw new InputError(
      'This is not a TGA file that can be read: its image type is not one of the six of version 2.0.',
    );
  if (!BITS[kind].includes(bits))
    throw new InputError(`This TGA file declares ${bits} bits a texel; ${kind} ones have ${BITS[kind].join(' or ')}.`);
  const word = (at: number) => bytes[at] | (bytes[at + 1] << 8);
  const [width, height] = [word(12), word(14)];
  if (width < 1 || height < 1 || width > 16384 || height > 16384)
    throw new InputError(`This TGA file declares ${width} x ${height} texels; 1 to 16384 a side can be read.`);
  const [firstIndex, entries, entryBits] = [word(3), word(5), bytes[7]];
  let start = 18 + idLength;
  let map: Uint8Array | null = null;
  if (mapType === 1) {
    if (kind === 'colour-mapped' && ![15, 16, 24, 32].includes(entryBits))
      throw new InputError(
        `This TGA file declares a colour map of ${entryBits} bits an entry; 15, 16, 24 or 32 can be read.`,
      );
    const size = Math.ceil(entryBits / 8);
    if (start + entries * size > bytes.length) throw new InputError('This TGA file is cut off inside its colour map.');
    if (kind === 'colour-mapped') {
      map = new Uint8Array(entries * 4);
      for (let i = 0; i < entries; i++) putColour(bytes, start + i * size, entryBits, entryBits === 32, map, i * 4);
    }
    start += entries * size;
  }
  const rle = (type & 8) !== 0;
  const size = Math.ceil(bits / 8);
  // A packet of run lengths stands for 128 texels at most: less than this cannot be the whole file.
  const least = rle ? Math.ceil((width * height) / 128) * (1 + size) : width * height * size;
  if (bytes.length < start + least) throw new InputError('This TGA file is cut off.');
  return {
    width,
    height,
    colours: kind,
    bits: bits as TgaFacts['bits'],
    rle,
    topDown: (descriptor & TOP_DOWN) !== 0,
    rightToLeft: (descriptor & 0x10) !== 0,
    alphaBits: descriptor & 15,
    start,
    map,
    firstIndex,
  };
}

/** One colour of 15, 16, 24 or 32 bits, blue first, as straight RGBA8. 15 and 16 bits: 5 of each, then one that counts only with `alpha`. */
function putColour(bytes: Uint8Array, at: number, bits: number, alpha: boolean, out: Uint8Array, o: number): void {
  if (bits <= 16) {
    const word = bytes[at] | (bytes[at + 1] << 8);
    const wide = (v: number) => (v << 3) | (v >> 2);
    out[o] = wide((word >> 10) & 31);
    out[o + 1] = wide((word >> 5) & 31);
    out[o + 2] = wide(word & 31);
    out[o + 3] = alpha && bits === 16 && !(word & 0x8000) ? 0 : 255;
    return;
  }
  out[o] = bytes[at + 2];
  out[o + 1] = bytes[at + 1];
  out[o + 2] = bytes[at];
  out[o + 3] = bits === 32 && alpha ? bytes[at + 3] : 255;
}

/** Straight RGBA8, row 0 at the top, from every corner that a file may begin at. Without attribute bits it is opaque. */
export function readTga(bytes: Uint8Array): Image8 {
  const { width, height, colours, bits, rle, topDown, rightToLeft, alphaBits, start, map, firstIndex } =
    layoutOf(bytes);
  const size = Math.ceil(bits / 8);
  const image = newImage(width, height);
  const { data } = image;
  const put = (at: number, o: number) => {
    if (colours === 'true-colour') return putColour(bytes, at, bits, alphaBits > 0, data, o);
    if (colours === 'grey') {
      data.fill(bytes[at], o, o + 3);
      data[o + 3] = bits === 16 && alphaBits > 0 ? bytes[at + 1] : 255;
      return;
    }
    const index = (bits === 16 ? bytes[at] | (bytes[at + 1] << 8) : bytes[at]) - firstIndex;
    if (index < 0 || index * 4 >= map!.length)
      throw new InputError('This TGA file uses colours that its colour map does not have.');
    data.set(map!.subarray(index * 4, index * 4 + 4), o);
  };
  let at = start;
  const total = width * height;
  for (let i = 0; i < total;) {
    const packet = rle ? bytes[at++] : 0;
    const count = rle ? (packet & 127) + 1 : 1;
    const repeat = (packet & 128) !== 0;
    for (let k = 0; k < count && i < total; k++, i++) {
      if (at + size > bytes.length) throw new InputError('This TGA file is cut off.');
      const row = Math.floor(i / width);
      const x = rightToLeft ? width - 1 - (i % width) : i % width;
      put(at, ((topDown ? row : height - 1 - row) * width + x) * 4);
      if (!repeat || k === count - 1) at += size;
    }
  }
  return image;
}

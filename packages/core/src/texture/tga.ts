/** Truevision TGA 2.0 (published specification, revision 2.0, 1991): written true-colour with 24 or 32 bits, raw or run-length, with
 * footer; read in all six image types, from any corner. */
import { joined } from '../bytes.ts';
import { InputError } from '../errors.ts';
import { newImage, type Image8 } from '../raster/image.ts';

const FOOTER = 'TRUEVISION-XFILE.\0';
const TOP_DOWN = 0x20;

/** How a TGA is to be written. */
export interface TgaWay {
  /** 32 bits with 8 attribute bits, or 24 bits. */
  alpha: boolean;
  rle: boolean;
  /** The last row first, as most older files have it; left out: the first row first. */
  bottomUp?: boolean;
  /** 8: grey. Left out: as `alpha` says. */
  grey?: boolean;
  /** Without the footer of version 2.0. */
  bare?: boolean;
}

/** Writes a TGA: true colour with 24 or 32 bits, or 8 bits of grey (brightness of Rec. ITU-R BT.709). */
export function writeTga(image: Image8, way: TgaWay): Uint8Array {
  const { width, height, data } = image;
  const size = way.grey ? 1 : way.alpha ? 4 : 3;
  const kind = way.grey ? 3 : 2;
  const header = new Uint8Array(18);
  header[2] = way.rle ? kind | 8 : kind;
  header.set([width, width >> 8, height, height >> 8, size * 8], 12);
  header[17] = (way.bottomUp ? 0 : TOP_DOWN) | (size === 4 ? 8 : 0);
  const texels = new Uint8Array(width * height * size);
  for (let row = 0, o = 0; row < height; row++) {
    let i = (way.bottomUp ? height - 1 - row : row) * width * 4;
    for (let x = 0; x < width; x++, i += 4, o += size) {
      if (way.grey) texels[o] = brightness(data, i);
      else {
        texels[o] = data[i + 2];
        texels[o + 1] = data[i + 1];
        texels[o + 2] = data[i];
        if (size === 4) texels[o + 3] = data[i + 3];
      }
    }
  }
  const body = way.rle ? runLengths(texels, width, height, size) : texels;
  if (way.bare) return joined([header, body]);
  const footer = new Uint8Array(26);
  footer.set(new TextEncoder().encode(FOOTER), 8);
  return joined([header, body, footer]);
}

/** Brightness of a straight sRGB texel, of its values as they stand (weights of Rec. ITU-R BT.709). */
export const brightness = (data: ArrayLike<number>, i: number): number =>
  Math.floor(data[i] * 0.2126 + data[i + 1] * 0.7152 + data[i + 2] * 0.0722 + 0.5);

/** Packets of run lengths; none crosses the end of a row, as version 2.0 asks. @param rows only these, in file order */
function runLengths(texels: Uint8Array, width: number, height: number, size: number, row?: number): Uint8Array {
  const [first, last] = row === undefined ? [0, height] : [row, row + 1];
  const out = new Uint8Array((last - first) * (width * size + Math.ceil(width / 128) + width));
  const same = (a: number, b: number) => {
    for (let c = 0; c < size; c++) if (texels[a * size + c] !== texels[b * size + c]) return false;
    return true;
  };
  let at = 0;
  for (let y = first; y < last; y++) {
    const end = (y + 1) * width;
    for (let i = y * width; i < end;) {
      let run = 1;
      while (run < 128 && i + run < end && same(i, i + run)) run++;
      if (run > 1) {
        out[at++] = 0x80 | (run - 1);
        out.set(texels.subarray(i * size, (i + 1) * size), at);
        at += size;
        i += run;
        continue;
      }
      let raw = 1;
      while (raw < 128 && i + raw < end && !(i + raw + 1 < end && same(i + raw, i + raw + 1))) raw++;
      out[at++] = raw - 1;
      out.set(texels.subarray(i * size, (i + raw) * size), at);
      at += raw * size;
      i += raw;
    }
  }
  return out.slice(0, at);
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
  /** Where the colour map begins, and the bits of one of its entries. */
  mapStart: number;
  entryBits: number;
  /** Straight RGBA8 of each entry of the colour map, and the index of its first. */
  map: Uint8Array | null;
  firstIndex: number;
}

/** What a TGA file says of itself, checked against its length. @throws InputError in one sentence */
export function readTgaFacts(bytes: Uint8Array): TgaFacts {
  const { width, height, colours, bits, rle, topDown, rightToLeft, alphaBits } = layoutOf(bytes);
  return { width, height, colours, bits, rle, topDown, rightToLeft, alphaBits };
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
  const mapStart = 18 + idLength;
  let start = mapStart;
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
    mapStart,
    entryBits,
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

/** What could not be written as the file's kind asks. */
export interface TgaLoss {
  /** Texels whose colour the colour map does not hold: they take its nearest. */
  nearest: number;
}

/**
 * The file with other texels: identification, colour map, order of rows and columns, run lengths, attribute bits and everything behind the
 * picture stay. Rows without a changed texel keep their packets where none crosses a row's end.
 * @param painted straight RGBA8, row 0 at the top; looked at only where `changed`
 */
export function putOverTga(
  original: Uint8Array,
  painted: Image8,
  changed: Uint8Array,
): { bytes: Uint8Array; loss: TgaLoss } {
  const layout = layoutOf(original);
  const { width, height, bits, rle, topDown, rightToLeft, start } = layout;
  const size = Math.ceil(bits / 8);
  const { texels, rows, end } = rle
    ? unpacked(original, layout, size)
    : { texels: original.slice(start, start + width * height * size), rows: null, end: start + width * height * size };
  const head = original.slice(0, start);
  const putTexel = texelWriter(layout, texels, head, size);
  const dirty = new Uint8Array(height);
  for (let i = 0; i < changed.length; i++) {
    if (!changed[i]) continue;
    const y = Math.floor(i / width);
    const x = i % width;
    const row = topDown ? y : height - 1 - y;
    dirty[row] = 1;
    putTexel(painted.data, i * 4, row * width + (rightToLeft ? width - 1 - x : x));
  }
  const loss = { nearest: putTexel.nearest() };
  const rest = original.slice(end);
  if (!rle) return { bytes: joined([head, texels, rest]), loss };
  const pieces: Uint8Array[] = [];
  for (let row = 0; row < height; row++)
    pieces.push(
      rows && !dirty[row] ? original.subarray(rows[row], rows[row + 1]) : runLengths(texels, width, height, size, row),
    );
  const body = joined(pieces);
  let at = start;
  const begins = pieces.map((piece) => (at += piece.length) - piece.length);
  moveEnds(rest, end, start + body.length - end, begins);
  return { bytes: joined([head, body, rest]), loss };
}

/** The texels of a run-length file as stored, where each row's packets begin (null: some cross a row's end), and where the picture ends. */
function unpacked(bytes: Uint8Array, { width, height, start }: Layout, size: number) {
  const texels = new Uint8Array(width * height * size);
  const total = width * height;
  let rows: Uint32Array | null = new Uint32Array(height + 1);
  let at = start;
  for (let i = 0; i < total;) {
    if (i % width === 0 && rows) rows[i / width] = at;
    const packet = bytes[at++];
    const count = Math.min((packet & 127) + 1, total - i);
    if ((i % width) + count > width) rows = null;
    const step = packet & 128 ? 0 : size;
    const needed = packet & 128 ? size : count * size;
    if (at + needed > bytes.length) throw new InputError('This TGA file is cut off.');
    for (let k = 0; k < count; k++) texels.set(bytes.subarray(at + k * step, at + k * step + size), (i + k) * size);
    at += needed;
    i += count;
  }
  if (rows) rows[height] = at;
  return { texels, rows, end: at };
}

/** Writes a straight RGBA8 texel as the file stores its own. @param head the file up to its texels: free entries of its colour map are taken */
function texelWriter(layout: Layout, texels: Uint8Array, head: Uint8Array, size: number) {
  const { colours, bits, alphaBits, map, firstIndex } = layout;
  let nearest = 0;
  const indices = map ? indexOf(layout, texels, head) : null;
  const write = (data: Uint8Array, i: number, place: number): void => {
    const o = place * size;
    if (indices) {
      const { index, exact } = indices(data, i);
      if (!exact) nearest++;
      texels[o] = index + firstIndex;
      if (size === 2) texels[o + 1] = (index + firstIndex) >> 8;
    } else if (colours === 'grey') {
      texels[o] = brightness(data, i);
      if (bits === 16 && alphaBits > 0) texels[o + 1] = data[i + 3];
    } else if (bits <= 16) {
      const five = (v: number) => Math.floor((v * 31) / 255 + 0.5);
      const top = bits === 16 && alphaBits > 0 ? (data[i + 3] >= 128 ? 0x8000 : 0) : (texels[o + 1] << 8) & 0x8000;
      const word = top | (five(data[i]) << 10) | (five(data[i + 1]) << 5) | five(data[i + 2]);
      texels[o] = word;
      texels[o + 1] = word >> 8;
    } else {
      texels[o] = data[i + 2];
      texels[o + 1] = data[i + 1];
      texels[o + 2] = data[i];
      // Without attribute bits the fourth byte is not alpha: it stays.
      if (bits === 32 && alphaBits > 0) texels[o + 3] = data[i + 3];
    }
  };
  return Object.assign(write, { nearest: () => nearest });
}

/** Finds colours in the colour map: the very one, a free entry that takes it, or else the nearest. */
function indexOf({ map, mapStart, entryBits, bits, firstIndex }: Layout, texels: Uint8Array, head: Uint8Array) {
  const size = Math.ceil(bits / 8);
  const used = new Set<number>();
  for (let o = 0; o < texels.length; o += size)
    used.add((size === 2 ? texels[o] | (texels[o + 1] << 8) : texels[o]) - firstIndex);
  const free = Array.from({ length: map!.length / 4 }, (_, k) => k).filter((k) => !used.has(k));
  const entrySize = Math.ceil(entryBits / 8);
  const stored = (data: Uint8Array, i: number): number[] => {
    const { [0]: r, [1]: g, [2]: b, [3]: a } = data.subarray(i, i + 4);
    if (entryBits > 16) return entryBits === 32 ? [b, g, r, a] : [b, g, r];
    const five = (v: number) => Math.floor((v * 31) / 255 + 0.5);
    const word = (five(r) << 10) | (five(g) << 5) | five(b);
    return [word & 255, word >> 8];
  };
  return mapped(map!, free, (index, data, i) => head.set(stored(data, i), mapStart + index * entrySize));
}

/**
 * Finds straight RGBA8 colours in a palette: the very one, a free entry that takes it, or else the nearest.
 * @param palette four bytes an entry; entries that are taken change in it @param take told of each entry that a colour took
 */
export function mapped(
  palette: Uint8Array,
  free: number[],
  take: (index: number, data: Uint8Array, i: number) => void,
): (data: Uint8Array, i: number) => { index: number; exact: boolean } {
  const word = (data: Uint8Array, i: number) =>
    ((data[i] << 24) | (data[i + 1] << 16) | (data[i + 2] << 8) | data[i + 3]) >>> 0;
  const known = new Map<number, { index: number; exact: boolean }>();
  for (let k = palette.length / 4 - 1; k >= 0; k--) known.set(word(palette, k * 4), { index: k, exact: true });
  return (data, i) => {
    const colour = word(data, i);
    const found = known.get(colour);
    if (found) return found;
    const index = free.shift();
    let made: { index: number; exact: boolean };
    if (index !== undefined) {
      take(index, data, i);
      palette.set(data.subarray(i, i + 4), index * 4);
      made = { index, exact: true };
    } else {
      let [best, least] = [0, Infinity];
      for (let k = 0; k < palette.length; k += 4) {
        let apart = 0;
        for (let c = 0; c < 4; c++) apart += (palette[k + c] - data[i + c]) ** 2;
        if (apart < least) [best, least] = [k / 4, apart];
      }
      made = { index: best, exact: false };
    }
    known.set(colour, made);
    return made;
  };
}

/**
 * Offsets of the footer, and of the areas that it names, once the picture before them is longer or shorter.
 * @param rest what lies behind the picture @param rows where each row's packets begin now, in the order in which they are stored
 */
function moveEnds(rest: Uint8Array, end: number, by: number, rows: readonly number[]): void {
  if (rest.length < 26) return;
  const footer = rest.length - 26;
  const text = String.fromCharCode(...rest.subarray(footer + 8, footer + 26));
  if (text !== FOOTER) return;
  const view = new DataView(rest.buffer, rest.byteOffset, rest.byteLength);
  const move = (at: number) => {
    const offset = view.getUint32(at, true);
    if (offset >= end && at + 4 <= rest.length) view.setUint32(at, offset + by, true);
    return offset - end;
  };
  const extension = move(footer);
  const developer = move(footer + 4);
  if (extension >= 0 && extension + 495 <= footer) {
    move(extension + 482);
    move(extension + 486);
    // The table of scan lines: where each row begins, in the order in which they are stored (Truevision TGA 2.0, field 25).
    const table = move(extension + 490);
    if (table >= 0 && table + rows.length * 4 <= footer)
      rows.forEach((row, i) => view.setUint32(table + i * 4, row, true));
  }
  if (developer >= 0 && developer + 2 <= footer) {
    const tags = view.getUint16(developer, true);
    for (let k = 0, at = developer + 2; k < tags && at + 10 <= footer; k++, at += 10) move(at + 2);
  }
}

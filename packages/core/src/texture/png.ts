/**
 * PNG files as they are stored (W3C Recommendation "Portable Network Graphics (PNG) Specification", third edition): their chunks, and paint
 * put into one that is there. Pictures are otherwise read and written by a library; this is for what must stay as it came.
 */
import { unzlibSync, zlibSync } from 'fflate';
import { lastOf } from '../held.ts';
import { joined } from '../bytes.ts';
import { InputError } from '../errors.ts';
import { crc32 } from '../crc32.ts';
import type { Image8 } from '../raster/image.ts';
import { brightness, mapped } from './tga.ts';

const SIGNATURE = [0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a];
const MAX_SIDE = 16384;

/** Kinds of colour by their number ("Colour types and values"), and how many samples a texel has. */
const COLOURS = {
  0: ['grey', 1],
  2: ['rgb', 3],
  3: ['palette', 1],
  4: ['grey and alpha', 2],
  6: ['rgba', 4],
} as const;

export interface PngFacts {
  width: number;
  height: number;
  /** Bits of a sample. */
  depth: 1 | 2 | 4 | 8 | 16;
  colours: (typeof COLOURS)[keyof typeof COLOURS][0];
  interlaced: boolean;
  /** What it says of its colours: an sRGB chunk, a gamma (times 100,000), the name of a profile. */
  srgb: boolean;
  gamma: number | null;
  profile: string | null;
  /** A colour that is clear, or alpha of palette entries. */
  keyed: boolean;
}

/** zlib as somebody else does it: faster than here, where there is a faster one. */
export interface Zlib {
  inflate(bytes: Uint8Array, length: number): Uint8Array;
  deflate(bytes: Uint8Array): Uint8Array;
}

const OWN: Zlib = {
  inflate: (bytes, length) => unzlibSync(bytes, { out: new Uint8Array(length) }),
  deflate: (bytes) => zlibSync(bytes, { level: 6 }),
};

interface Chunk {
  type: string;
  /** Of its length field, and of the next chunk. */
  at: number;
  end: number;
}

interface Layout extends PngFacts {
  chunks: Chunk[];
  samples: number;
  /** Straight RGBA8 of a palette's entries. */
  palette: Uint8Array | null;
  /** The clear colour of grey and rgb files, a sample each. */
  key: number[] | null;
}

/** What a PNG says of itself. @throws InputError in one sentence */
export function readPngFacts(bytes: Uint8Array): PngFacts {
  const { width, height, depth, colours, interlaced, srgb, gamma, profile, keyed } = layoutOf(bytes);
  return { width, height, depth, colours, interlaced, srgb, gamma, profile, keyed };
}

function layoutOf(bytes: Uint8Array): Layout {
  if (bytes.length < 33 || SIGNATURE.some((byte, i) => bytes[i] !== byte))
    throw new InputError('This is not a PNG file.');
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const chunks: Chunk[] = [];
  for (let at = 8; at < bytes.length;) {
    if (at + 12 > bytes.length) throw new InputError('This PNG file is cut off.');
    const length = view.getUint32(at);
    if (length > bytes.length - at - 12) throw new InputError('This PNG file is cut off.');
    const type = String.fromCharCode(...bytes.subarray(at + 4, at + 8));
    chunks.push({ type, at, end: at + 12 + length });
    at += 12 + length;
    if (type === 'IEND') break;
  }
  const find = (type: string) => {
    const chunk = chunks.find((one) => one.type === type);
    return chunk ? bytes.subarray(chunk.at + 8, chunk.end - 4) : null;
  };
  if (chunks[0]?.type !== 'IHDR' || !find('IDAT') || lastOf(chunks).type !== 'IEND')
    throw new InputError('This PNG file is cut off.');
  const [width, height] = [view.getUint32(16), view.getUint32(20)];
  if (width < 1 || height < 1 || width > MAX_SIDE || height > MAX_SIDE)
    throw new InputError(`This PNG file declares ${width} x ${height} texels; 1 to ${MAX_SIDE} a side can be read.`);
  const kind = COLOURS[bytes[25] as keyof typeof COLOURS] as (typeof COLOURS)[keyof typeof COLOURS] | undefined;
  const depth = bytes[24] as PngFacts['depth'];
  const allowed = bytes[25] === 0 ? [1, 2, 4, 8, 16] : bytes[25] === 3 ? [1, 2, 4, 8] : [8, 16];
  if (!kind || !allowed.includes(depth) || bytes[28] > 1)
    throw new InputError('This PNG file declares a kind of colour that there is not.');
  const [colours, samples] = kind;
  const clear = find('tRNS');
  const plte = find('PLTE');
  let palette: Uint8Array | null = null;
  if (colours === 'palette') {
    if (!plte || plte.length < 3 || plte.length % 3 !== 0 || plte.length > 768)
      throw new InputError('This PNG file has no palette, though its colours come from one.');
    palette = new Uint8Array((plte.length / 3) * 4);
    for (let k = 0; k * 3 < plte.length; k++) {
      palette.set(plte.subarray(k * 3, k * 3 + 3), k * 4);
      palette[k * 4 + 3] = clear?.[k] ?? 255;
    }
  }
  const key =
    clear && (colours === 'grey' || colours === 'rgb') && clear.length >= samples * 2
      ? Array.from({ length: samples }, (_, c) => (clear[c * 2] << 8) | clear[c * 2 + 1])
      : null;
  const gama = find('gAMA');
  const iccp = find('iCCP');
  return {
    width,
    height,
    depth,
    colours,
    interlaced: bytes[28] === 1,
    srgb: find('sRGB') !== null,
    gamma: gama?.length === 4 ? new DataView(gama.buffer, gama.byteOffset).getUint32(0) : null,
    profile: iccp ? String.fromCharCode(...iccp.subarray(0, Math.max(0, iccp.indexOf(0)))) : null,
    keyed: clear !== null,
    chunks,
    samples,
    palette,
    key,
  };
}

/** Passes of Adam7 ("Interlacing and pass extraction"), first column and row and the steps; without it, everything in one. */
const ADAM7 = [
  [0, 0, 8, 8],
  [4, 0, 8, 8],
  [0, 4, 4, 8],
  [2, 0, 4, 4],
  [0, 2, 2, 4],
  [1, 0, 2, 2],
  [0, 1, 1, 2],
] as const;

interface Pass {
  x: number;
  y: number;
  dx: number;
  dy: number;
  width: number;
  height: number;
  /** Where its rows begin in the unpacked data, and bytes of a row without its filter. */
  at: number;
  line: number;
}

function passesOf({ width, height, depth, samples, interlaced }: Layout): { passes: Pass[]; length: number } {
  let length = 0;
  const passes = (interlaced ? ADAM7 : [[0, 0, 1, 1] as const]).flatMap(([x, y, dx, dy]): Pass[] => {
    const [w, h] = [Math.ceil((width - x) / dx), Math.ceil((height - y) / dy)];
    if (w <= 0 || h <= 0) return [];
    const line = Math.ceil((w * samples * depth) / 8);
    const pass = { x, y, dx, dy, width: w, height: h, at: length, line };
    length += (line + 1) * h;
    return [pass];
  });
  return { passes, length };
}

/** The bytes of a row's neighbours that its filter works with ("Filter types for filter method 0"). */
function paeth(a: number, b: number, c: number): number {
  const p = a + b - c;
  const [pa, pb, pc] = [Math.abs(p - a), Math.abs(p - b), Math.abs(p - c)];
  return pa <= pb && pa <= pc ? a : pb <= pc ? b : c;
}

function predicted(kind: number, a: number, b: number, c: number): number {
  return kind === 1 ? a : kind === 2 ? b : kind === 3 ? (a + b) >> 1 : kind === 4 ? paeth(a, b, c) : 0;
}

/** Takes the filters off all rows, in place; their kinds stay where they stand. */
function unfilter(data: Uint8Array, passes: readonly Pass[], bpp: number): void {
  for (const { at, line, height } of passes) {
    for (let y = 0; y < height; y++) {
      const row = at + y * (line + 1);
      const kind = data[row];
      if (kind > 4) throw new InputError('This PNG file is damaged: a row has a filter that there is not.');
      if (kind === 0) continue;
      const up = y > 0 ? row - line - 1 : -1;
      for (let i = 1; i <= line; i++) {
        const a = i > bpp ? data[row + i - bpp] : 0;
        const b = up >= 0 ? data[up + i] : 0;
        const c = up >= 0 && i > bpp ? data[up + i - bpp] : 0;
        data[row + i] += predicted(kind, a, b, c);
      }
    }
  }
}

/** Puts each row's filter on again. */
function filtered(data: Uint8Array, passes: readonly Pass[], bpp: number): Uint8Array {
  const out = data.slice();
  for (const { at, line, height } of passes) {
    for (let y = 0; y < height; y++) {
      const row = at + y * (line + 1);
      const kind = data[row];
      if (kind === 0) continue;
      const up = y > 0 ? row - line - 1 : -1;
      for (let i = 1; i <= line; i++) {
        const a = i > bpp ? data[row + i - bpp] : 0;
        const b = up >= 0 ? data[up + i] : 0;
        const c = up >= 0 && i > bpp ? data[up + i - bpp] : 0;
        out[row + i] = data[row + i] - predicted(kind, a, b, c);
      }
    }
  }
  return out;
}

/**
 * The file with other texels: kind of colour, depth, interlacing, palette, profile and all other chunks stay; other texels keep their
 * samples, of 16 bits too. A palette's free entries take colours that it does not hold.
 * @param painted straight RGBA8, row 0 at the top; looked at only where `changed`
 * @returns the file, and how many texels took the nearest of a palette's colours
 */
export function putOverPng(
  original: Uint8Array,
  painted: Image8,
  changed: Uint8Array,
  zlib: Zlib = OWN,
): { bytes: Uint8Array; loss: { nearest: number } } {
  const layout = layoutOf(original);
  const { width, depth, samples, chunks, keyed } = layout;
  const { passes, length } = passesOf(layout);
  const packed = joined(
    chunks.filter(({ type }) => type === 'IDAT').map(({ at, end }) => original.subarray(at + 8, end - 4)),
  );
  let data: Uint8Array;
  try {
    data = zlib.inflate(packed, length);
  } catch {
    throw new InputError('This PNG file is damaged: its picture cannot be unpacked.');
  }
  if (data.length !== length) throw new InputError('This PNG file is cut off.');
  const bpp = Math.max(1, (samples * depth) >> 3);
  unfilter(data, passes, bpp);

  const { texel, nearest, grown } = samplesFor(layout, data, passes);
  for (const { x, y, dx, dy, width: w, height: h, at, line } of passes) {
    for (let row = 0; row < h; row++) {
      const from = (y + row * dy) * width + x;
      for (let column = 0; column < w; column++) {
        const i = from + column * dx;
        if (!changed[i]) continue;
        const values = texel(painted.data, i * 4);
        const start = at + row * (line + 1) + 1;
        for (let c = 0; c < samples; c++) {
          const value = values[c];
          if (depth === 8) data[start + column * samples + c] = value;
          else if (depth === 16) {
            data[start + (column * samples + c) * 2] = value >> 8;
            data[start + (column * samples + c) * 2 + 1] = value;
          } else {
            // Samples of less than a byte: the first is in the highest bits.
            const bit = column * depth;
            const shift = 8 - depth - (bit & 7);
            const place = start + (bit >> 3);
            data[place] = (data[place] & ~(((1 << depth) - 1) << shift)) | (value << shift);
          }
        }
      }
    }
  }
  const body = zlib.deflate(filtered(data, passes, bpp));
  const entries = grown();
  const out: Uint8Array[] = [original.subarray(0, 8)];
  let placed = false;
  for (const { type, at, end } of chunks) {
    if (type === 'IDAT') {
      if (!placed) out.push(chunk('IDAT', body));
      placed = true;
    } else if (entries && type === 'PLTE') {
      out.push(chunk('PLTE', entries.colours));
      if (!keyed && entries.alpha.some((a) => a < 255)) out.push(chunk('tRNS', entries.alpha));
    } else if (entries && type === 'tRNS') out.push(chunk('tRNS', entries.alpha));
    else out.push(original.subarray(at, end));
  }
  // What lies behind the last chunk stays there.
  out.push(original.subarray(lastOf(chunks).end));
  return { bytes: joined(out), loss: { nearest: nearest() } };
}

/** How a straight RGBA8 texel is said in the file's samples. */
function samplesFor(layout: Layout, data: Uint8Array, passes: readonly Pass[]) {
  const { depth, colours, palette, key } = layout;
  const top = 2 ** depth - 1;
  const of = (v: number) => (depth === 8 ? v : Math.floor((v * top) / 255 + 0.5));
  const same = (values: readonly number[]) => key !== null && values.every((v, c) => v === key[c]);
  /** A clear texel takes the clear colour, and no other may. */
  const keyed = (values: number[], alpha: number) => {
    if (key && alpha < 128) return key;
    if (same(values)) values[0] = values[0] === top ? top - 1 : values[0] + 1;
    return values;
  };
  if (colours !== 'palette') {
    const texel = (from: Uint8Array, i: number): readonly number[] => {
      const alpha = from[i + 3];
      if (colours === 'rgba') return [of(from[i]), of(from[i + 1]), of(from[i + 2]), of(alpha)];
      if (colours === 'rgb') return keyed([of(from[i]), of(from[i + 1]), of(from[i + 2])], alpha);
      const grey = of(brightness(from, i));
      return colours === 'grey' ? keyed([grey], alpha) : [grey, of(alpha)];
    };
    return { texel, nearest: () => 0, grown: () => null };
  }
  const used = new Uint8Array(256);
  for (const { at, line, width, height } of passes)
    for (let row = 0; row < height; row++)
      for (let x = 0; x < width; x++) {
        const bit = x * depth;
        const byte = data[at + row * (line + 1) + 1 + (bit >> 3)];
        used[(byte >> (8 - depth - (bit & 7))) & top] = 1;
      }
  // A palette may be shorter than its depth allows: it grows.
  const held = palette!.length / 4;
  const entries = new Uint8Array((top + 1) * 4);
  entries.set(palette!);
  const free = Array.from({ length: top + 1 }, (_, k) => k).filter((k) => k >= held || !used[k]);
  // Entries that are not there yet must not be taken for colours of the file.
  for (let k = held; k <= top; k++) entries.copyWithin(k * 4, 0, 4);
  let size = held;
  let took = false;
  const find = mapped(entries, free, (index) => {
    took = true;
    size = Math.max(size, index + 1);
  });
  let count = 0;
  const texel = (from: Uint8Array, i: number): readonly number[] => {
    const { index, exact } = find(from, i);
    if (!exact) count++;
    return [index];
  };
  /** The palette as it is now; null: as it was. */
  const grown = () => {
    if (!took) return null;
    const colours = new Uint8Array(size * 3);
    const alpha = new Uint8Array(size);
    for (let k = 0; k < size; k++) {
      colours.set(entries.subarray(k * 4, k * 4 + 3), k * 3);
      alpha[k] = entries[k * 4 + 3];
    }
    return { colours, alpha };
  };
  return { texel, nearest: () => count, grown };
}

function chunk(type: string, body: Uint8Array): Uint8Array {
  const out = new Uint8Array(body.length + 12);
  const view = new DataView(out.buffer);
  view.setUint32(0, body.length);
  for (let k = 0; k < 4; k++) out[4 + k] = type.charCodeAt(k);
  out.set(body, 8);
  view.setUint32(body.length + 8, crc32(out.subarray(4, body.length + 8)));
  return out;
}

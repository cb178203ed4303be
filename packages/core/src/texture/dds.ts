/**
 * DDS files. Field names, flags and the meaning of each as in the published description of the format ("Programming Guide for
 * DDS", DDS_HEADER, DDS_PIXELFORMAT and DDS_HEADER_DXT10 reference pages). All numbers are little-endian 32-bit.
 */
import { InputError } from '../errors.ts';
import { newImage, type Image8 } from '../raster/image.ts';
import { decodeInto } from './encode.ts';
import { FORMAT_KEYS, FORMATS, rowBytes, rowsOf, type FormatKey } from './formats/index.ts';
import type { DdsNames } from './formats/kind.ts';
import { fullMipCount, mipSize } from './mips.ts';

const MAGIC = 0x20534444;
const DDSD_CAPS = 0x1;
const DDSD_HEIGHT = 0x2;
const DDSD_WIDTH = 0x4;
const DDSD_PITCH = 0x8;
const DDSD_PIXELFORMAT = 0x1000;
const DDSD_MIPMAPCOUNT = 0x20000;
const DDSD_LINEARSIZE = 0x80000;
const DDPF_ALPHAPIXELS = 0x1;
const DDPF_ALPHA = 0x2;
const DDPF_FOURCC = 0x4;
const DDPF_RGB = 0x40;
const DDPF_LUMINANCE = 0x20000;
const DDSCAPS_COMPLEX = 0x8;
const DDSCAPS_MIPMAP = 0x400000;
const DDSCAPS_TEXTURE = 0x1000;
const DDSCAPS2_CUBEMAP = 0x200;
const DDSCAPS2_VOLUME = 0x200000;
const DIMENSION_TEXTURE2D = 3;
const MISC_TEXTURECUBE = 0x4;

const fourCC = (text: string) => [...text].reduce((n, ch, i) => n | (ch.charCodeAt(0) << (i * 8)), 0);
const FOURCC_DX10 = fourCC('DX10');
export type DdsHeader = 'legacy' | 'dx10';
/** "unknown": a legacy header says nothing about it, and neither does a typeless format. */
export type ColourSpace = 'srgb' | 'linear';

export interface DdsFacts {
  width: number;
  height: number;
  /** "masks": uncompressed texels of some other layout. */
  format: FormatKey | 'masks';
  /** The same in words. */
  compression: string;
  header: DdsHeader;
  colourSpace: ColourSpace | 'unknown';
  /** Whether colour is stored times alpha (DXT2 and DXT4, or the alpha mode of the DX10 header). */
  premultiplied: boolean;
  mips: number;
  mipsExpected: number;
}

export const MAX_SIDE = 16384;

/** DDS_ALPHA_MODE_PREMULTIPLIED of the DX10 header's miscFlags2. */
const ALPHA_PREMULTIPLIED = 2;

/** Bytes before the first level: magic number and header, and with DX10 its 20 bytes more. */
export const headerBytes = (header: DdsHeader): number => (header === 'dx10' ? 148 : 128);

/** Whether a format can stand behind a header of this kind. */
export function headerCan(header: DdsHeader, format: FormatKey): boolean {
  const { dxgi, codes, masks } = FORMATS[format].dds;
  return header === 'dx10' ? dxgi !== undefined : codes !== undefined || masks !== undefined;
}

/** Whether a format has an sRGB kind; those without hold data. */
export function srgbCan(format: FormatKey): boolean {
  return FORMATS[format].dds.dxgi?.length !== 1;
}

/** What a DDS file is to say of itself. */
export interface DdsWanted extends Pick<DdsFacts, 'width' | 'height' | 'header'> {
  format: FormatKey;
  colourSpace: ColourSpace;
}

/** Puts the header before the encoded levels, largest first. @throws InputError when the header cannot name the format */
export function writeDds(wanted: DdsWanted, levels: readonly Uint8Array[]): Uint8Array {
  const header = ddsHeader(wanted, levels.length, levels[0].length);
  const out = new Uint8Array(header.length + levels.reduce((n, level) => n + level.length, 0));
  out.set(header);
  let at = header.length;
  for (const level of levels) {
    out.set(level, at);
    at += level.length;
  }
  return out;
}

/** The header alone, for those who write the levels behind it themselves. @param topBytes of the largest level */
export function ddsHeader(facts: DdsWanted, mips: number, topBytes: number): Uint8Array {
  const { width, height, header } = facts;
  const format = FORMATS[facts.format];
  if (!headerCan(header, facts.format)) {
    throw new InputError(
      header === 'legacy'
        ? `${format.name} needs the DX10 header; the legacy one has no code for it.`
        : `${format.name} needs the legacy header; the DX10 one has no number for it.`,
    );
  }
  const srgb = facts.colourSpace === 'srgb';
  if (header === 'dx10' && srgb && !srgbCan(facts.format))
    throw new InputError(`${format.name} has no sRGB kind: it holds data. Say linear.`);
  const out = new Uint8Array(headerBytes(header));
  const view = new DataView(out.buffer);
  const put = (at: number, value: number) => view.setUint32(at, value, true);
  put(0, MAGIC);
  put(4, 124); // dwSize
  put(
    8, // dwFlags
    DDSD_CAPS |
      DDSD_HEIGHT |
      DDSD_WIDTH |
      DDSD_PIXELFORMAT |
      (mips > 1 ? DDSD_MIPMAPCOUNT : 0) |
      (format.blockBytes ? DDSD_LINEARSIZE : DDSD_PITCH),
  );
  put(12, height); // dwHeight
  put(16, width); // dwWidth
  put(20, format.blockBytes ? topBytes : width * format.texelBytes); // dwPitchOrLinearSize
  put(28, mips); // dwMipMapCount
  put(76, 32); // ddspf.dwSize
  const { dxgi, masks, codes } = format.dds;
  if (header === 'dx10' && dxgi) {
    put(80, DDPF_FOURCC);
    put(84, FOURCC_DX10);
    put(128, (srgb && dxgi[1]) || dxgi[0]); // dxgiFormat
    put(132, DIMENSION_TEXTURE2D); // resourceDimension
    put(140, 1); // arraySize
  } else if (masks) {
    put(80, DDPF_RGB | (masks[4] ? DDPF_ALPHAPIXELS : 0));
    put(88, masks[0]); // dwRGBBitCount
    for (let c = 0; c < 4; c++) put(92 + c * 4, masks[1 + c]); // dwRBitMask, dwGBitMask, dwBBitMask, dwABitMask
  } else if (codes) {
    put(80, DDPF_FOURCC | (format.alpha === 'bit' ? DDPF_ALPHAPIXELS : 0));
    put(84, fourCC(codes[0]));
  }
  put(108, DDSCAPS_TEXTURE | (mips > 1 ? DDSCAPS_COMPLEX | DDSCAPS_MIPMAP : 0)); // dwCaps
  return out;
}

export interface DdsLayout extends DdsFacts {
  /** Where the largest level begins. */
  start: number;
  /** Of uncompressed texels: bits of one, then which of them are r g b a. */
  masks?: readonly number[];
}

/** What a DDS file says of itself, checked against its length. @throws InputError in one sentence */
export function readDdsFacts(bytes: Uint8Array): DdsFacts {
  const { start: _start, masks: _masks, ...facts } = ddsLayout(bytes);
  return facts;
}

/** The same with where its texels lie. @throws InputError in one sentence */
export function ddsLayout(bytes: Uint8Array): DdsLayout {
  if (bytes.length < 128) throw new InputError('This DDS file ends inside its header.');
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const get = (at: number) => view.getUint32(at, true);
  if (get(0) !== MAGIC || get(4) !== 124 || get(76) !== 32)
    throw new InputError('This is not a DDS file: its header does not begin as one.');
  const [height, width] = [get(12), get(16)];
  if (width < 1 || height < 1 || width > MAX_SIDE || height > MAX_SIDE) {
    throw new InputError(`This DDS file declares ${width} x ${height} texels; 1 to ${MAX_SIDE} a side can be read.`);
  }
  if (get(112) & DDSCAPS2_CUBEMAP)
    throw new InputError('This DDS file is a cube map of six faces; flat textures can be read.');
  if (get(112) & DDSCAPS2_VOLUME) throw new InputError('This DDS file is a volume; flat textures can be read.');
  const mips = Math.max(1, get(8) & DDSD_MIPMAPCOUNT ? get(28) : 1);
  const mipsExpected = fullMipCount(width, height);
  if (mips > mipsExpected)
    throw new InputError(
      `This DDS file declares ${mips} mip levels; ${width} x ${height} has at most ${mipsExpected}.`,
    );
  const kind = kindOf(bytes, get);
  const layout: DdsLayout = { width, height, mips, mipsExpected, ...kind };
  let needed = layout.start;
  for (let level = 0; level < mips; level++) needed += levelBytes(layout, level);
  if (bytes.length < needed)
    throw new InputError(`This DDS file is cut off: ${needed} bytes are declared and ${bytes.length} are there.`);
  // Hardly any writer says that its BC1 has alpha; the blocks do.
  const clear = clearKindOf(layout.format);
  return clear && hasClear(view, layout) ? { ...layout, ...named(clear) } : layout;
}

/** Whether a block of level 0 holds a clear texel: its first colour is not above its second, and an index is 3. */
function hasClear(view: DataView, layout: DdsLayout): boolean {
  const end = layout.start + levelBytes(layout, 0);
  for (let at = layout.start; at < end; at += 8) {
    if (view.getUint16(at, true) > view.getUint16(at + 2, true)) continue;
    const indices = view.getUint32(at + 4, true);
    if (indices & (indices >>> 1) & 0x55555555) return true;
  }
  return false;
}

/** The format that the same bytes are where blocks hold clear texels; undefined: there is none, or it is that one. */
function clearKindOf(key: DdsFacts['format']): FormatKey | undefined {
  const format = key !== 'masks' && FORMATS[key];
  return format && 'withClear' in format && format.withClear !== key ? (format.withClear as FormatKey) : undefined;
}

/** The first format whose names say so. */
const formatWhere = (says: (names: DdsNames) => boolean | undefined): FormatKey | undefined =>
  FORMAT_KEYS.find((key) => says(FORMATS[key].dds));

const named = (format: FormatKey) => ({ format, compression: FORMATS[format].name });

function kindOf(
  bytes: Uint8Array,
  get: (at: number) => number,
): Pick<DdsLayout, 'format' | 'compression' | 'header' | 'colourSpace' | 'premultiplied' | 'start' | 'masks'> {
  const flags = get(80);
  const legacy = { header: 'legacy', colourSpace: 'unknown', premultiplied: false, start: 128 } as const;
  if (flags & DDPF_FOURCC && get(84) === FOURCC_DX10) {
    if (bytes.length < 148) throw new InputError('This DDS file ends inside its DX10 header.');
    if (get(136) & MISC_TEXTURECUBE)
      throw new InputError('This DDS file is a cube map of six faces; flat textures can be read.');
    if (get(140) > 1)
      throw new InputError(`This DDS file is an array of ${get(140)} textures; single ones can be read.`);
    if (get(132) !== DIMENSION_TEXTURE2D)
      throw new InputError('This DDS file is not a flat texture, so it cannot be read.');
    const typeless = formatWhere(({ typeless }) => typeless === get(128));
    const format = typeless ?? formatWhere(({ dxgi }) => dxgi?.includes(get(128)));
    if (!format)
      throw new InputError(
        `This DDS file is of DXGI format ${get(128)}, which cannot be read; BC1 to BC7 and 8-bit ones can.`,
      );
    const premultiplied = (get(144) & 7) === ALPHA_PREMULTIPLIED;
    if (typeless) {
      const compression = `${FORMATS[typeless].name}, typeless`;
      return { format: typeless, compression, header: 'dx10', colourSpace: 'unknown', premultiplied, start: 148 };
    }
    const colourSpace = FORMATS[format].dds.dxgi?.[1] === get(128) ? 'srgb' : 'linear';
    return { ...named(format), header: 'dx10', colourSpace, premultiplied, start: 148 };
  }
  if (flags & DDPF_FOURCC) {
    const isCode = (code: string) => fourCC(code) === get(84);
    const found = formatWhere(({ codes }) => codes?.some(isCode));
    if (!found) {
      const code = String.fromCharCode(...bytes.subarray(84, 88)).replace(/[^ -~]/g, '?');
      throw new InputError(
        `The compression "${code}" of this DDS file cannot be read; BC1 to BC5 can behind this header.`,
      );
    }
    const premultiplied = FORMATS[found].dds.premultiplied?.some(isCode) ?? false;
    const clear = flags & DDPF_ALPHAPIXELS ? clearKindOf(found) : undefined;
    return { ...named(clear ?? found), ...legacy, premultiplied };
  }
  const bits = get(88);
  const grey = (flags & DDPF_LUMINANCE) !== 0;
  const onlyAlpha = (flags & DDPF_ALPHA) !== 0;
  if (![8, 16, 24, 32].includes(bits) || !(flags & (DDPF_RGB | DDPF_LUMINANCE | DDPF_ALPHA)))
    throw new InputError(
      `This DDS file declares texels of ${bits} bits without colours; 8 to 32 bits with masks can be read.`,
    );
  const alpha = flags & (DDPF_ALPHAPIXELS | DDPF_ALPHA) ? get(104) : 0;
  const masks = [bits, onlyAlpha ? 0 : get(92), grey ? get(92) : get(96), grey ? get(92) : get(100), alpha];
  const known = formatWhere((names) => names.masks?.every((value, i) => value === masks[i]));
  if (known) return { ...named(known), ...legacy };
  const what = grey ? 'grey' : onlyAlpha ? 'alpha' : 'colour';
  return {
    format: 'masks',
    compression: `uncompressed ${what}${alpha && !onlyAlpha ? ' and alpha' : ''}, ${bits} bits`,
    ...legacy,
    masks,
  };
}

/** Bytes of a row of texels, or of blocks. */
const lineBytes = (facts: DdsLayout, width: number): number =>
  facts.format === 'masks' ? width * (facts.masks![0] / 8) : rowBytes(FORMATS[facts.format], width);

function levelBytes(facts: DdsLayout, level: number): number {
  const size = mipSize(facts.width, facts.height, level);
  const lines = facts.format === 'masks' ? size.height : rowsOf(FORMATS[facts.format], size.height);
  return lines * lineBytes(facts, size.width);
}

/** Where a level begins, how long one of its rows of texels or blocks is, and how many texel rows such a row holds. */
export function ddsLevel(layout: DdsLayout, level: number) {
  let at = layout.start;
  for (let l = 0; l < level; l++) at += levelBytes(layout, l);
  const size = mipSize(layout.width, layout.height, level);
  const blocks = layout.format !== 'masks' && FORMATS[layout.format].blockBytes > 0;
  return { ...size, at, line: lineBytes(layout, size.width), per: blocks ? 4 : 1 };
}

/** Decodes one mip level to straight RGBA8 in the file's own encoding, rows as stored; colour that is stored times alpha is freed of it. */
export function readDdsLevel(bytes: Uint8Array, level: number): Image8 {
  const layout = ddsLayout(bytes);
  if (level < 0 || level >= layout.mips)
    throw new InputError(`This file has mip levels 0 to ${layout.mips - 1}; ${level} is not there.`);
  const image = readDdsRows(bytes, layout, level, 0, mipSize(layout.width, layout.height, level).height);
  if (layout.premultiplied) unpremultiply(image.data);
  return image;
}

/**
 * Texel rows `from` to `to` (exclusive) of a level as they are stored, colour times alpha where the file has it so.
 * @param from,to multiples of 4 in block formats, or the level's last row
 */
export function readDdsRows(bytes: Uint8Array, layout: DdsLayout, level: number, from: number, to: number): Image8 {
  const { width, at, line, per } = ddsLevel(layout, level);
  const image = newImage(width, to - from);
  const source = bytes.subarray(at + (from / per) * line, at + Math.ceil(to / per) * line);
  if (layout.format === 'masks') readMasked(source, layout.masks!, image);
  else decodeInto(image, source, layout.format);
  return image;
}

/** Colour freed of the alpha that it was multiplied with, in place; under alpha 0 it stays. @param data RGBA8 */
export function unpremultiply(data: Uint8Array): void {
  for (let i = 0; i < data.length; i += 4) {
    const a = data[i + 3];
    if (a === 0 || a === 255) continue;
    for (let c = i; c < i + 3; c++) data[c] = Math.min(255, Math.floor((data[c] * 255) / a + 0.5));
  }
}

/** One texel by masks, the inverse of what readMasked makes of it. @param out where its bytes go, at `at` */
export function writeMasked(rgba: ArrayLike<number>, masks: readonly number[], out: Uint8Array, at: number): void {
  const size = masks[0] / 8;
  const covered = masks.slice(1).reduce((all, mask) => all | mask, 0);
  let word = 0;
  // Bits that no mask names stay.
  for (let b = 0; b < size; b++) word |= out[at + b] << (b * 8);
  word &= ~covered;
  // Grey names one mask three times: the colour's brightness (Rec. ITU-R BT.709) stands there.
  const grey = masks[1] === masks[2] && masks[2] === masks[3] && masks[1] !== 0;
  const light = rgba[0] * 0.2126 + rgba[1] * 0.7152 + rgba[2] * 0.0722;
  for (let c = 0; c < 4; c++) {
    const mask = masks[1 + c] >>> 0;
    if (!mask) continue;
    const shift = 31 - Math.clz32(mask & -mask);
    const value = grey && c < 3 ? light : rgba[c];
    word |= Math.floor((value * (mask >>> shift)) / 255 + 0.5) << shift;
  }
  for (let b = 0; b < size; b++) out[at + b] = word >>> (b * 8);
}

/** Texels by masks: each channel's bits brought to 8 by their share of the largest value; no alpha mask means opaque. */
function readMasked(source: Uint8Array, masks: readonly number[], image: Image8): void {
  const size = masks[0] / 8;
  const channels = masks.slice(1).map((mask) => {
    const unsigned = mask >>> 0;
    const shift = unsigned ? 31 - Math.clz32(unsigned & -unsigned) : 0;
    return { mask: unsigned, shift, top: unsigned >>> shift };
  });
  for (let i = 0, o = 0; o < image.data.length; i += size, o += 4) {
    let word = 0;
    for (let b = 0; b < size; b++) word |= source[i + b] << (b * 8);
    channels.forEach(({ mask, shift, top }, c) => {
      const value = (word & mask) >>> shift;
      image.data[o + c] = top ? Math.floor((value * 255) / top + 0.5) : c === 3 ? 255 : 0;
    });
  }
}

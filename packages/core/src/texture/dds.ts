/**
 * DDS files. Field names, flags and the meaning of each as in the published description of the format ("Programming Guide for
 * DDS", DDS_HEADER, DDS_PIXELFORMAT and DDS_HEADER_DXT10 reference pages). All numbers are little-endian 32-bit.
 */
import { InputError } from '../errors.ts';
import { newImage, type Image8 } from '../raster/image.ts';
import { FORMATS, rowBytes, rowsOf, type FormatKey } from './formats.ts';
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
const DDPF_FOURCC = 0x4;
const DDPF_RGB = 0x40;
const DDSCAPS_COMPLEX = 0x8;
const DDSCAPS_MIPMAP = 0x400000;
const DDSCAPS_TEXTURE = 0x1000;
const DIMENSION_TEXTURE2D = 3;

const fourCC = (text: string) => [...text].reduce((n, ch, i) => n | (ch.charCodeAt(0) << (i * 8)), 0);
const FOURCC_DX10 = fourCC('DX10');
const LEGACY: Partial<Record<FormatKey, number>> = { bc1: fourCC('DXT1'), bc3: fourCC('DXT5') };
/** DXGI_FORMAT numbers: linear, then sRGB. */
const DXGI: Record<FormatKey, readonly [linear: number, srgb: number]> = {
  bc1: [71, 72],
  bc3: [77, 78],
  bc7: [98, 99],
  rgba8: [28, 29],
  bgra8: [87, 91],
};

export type DdsHeader = 'legacy' | 'dx10';
/** "unknown": a legacy header says nothing about it. */
export type ColourSpace = 'srgb' | 'linear';

export interface DdsFacts {
  width: number;
  height: number;
  format: FormatKey;
  header: DdsHeader;
  colourSpace: ColourSpace | 'unknown';
  mips: number;
  mipsExpected: number;
}

export const MAX_SIDE = 16384;

/** Whether a format can stand behind a legacy header. */
export function legacyCan(format: FormatKey): boolean {
  return format in LEGACY || format === 'rgba8' || format === 'bgra8';
}

/** Puts the header before the encoded levels, largest first. @throws InputError when the legacy header has no code for the format */
export function writeDds(
  facts: Pick<DdsFacts, 'width' | 'height' | 'format' | 'header'> & { colourSpace: ColourSpace },
  levels: readonly Uint8Array[],
): Uint8Array {
  const { width, height, header } = facts;
  const format = FORMATS[facts.format];
  if (header === 'legacy' && !legacyCan(facts.format)) {
    throw new InputError(`${format.name} needs the DX10 header; the legacy one has no code for it.`);
  }
  const start = header === 'dx10' ? 148 : 128;
  const out = new Uint8Array(start + levels.reduce((n, level) => n + level.length, 0));
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
      (levels.length > 1 ? DDSD_MIPMAPCOUNT : 0) |
      (format.blockBytes ? DDSD_LINEARSIZE : DDSD_PITCH),
  );
  put(12, height); // dwHeight
  put(16, width); // dwWidth
  put(20, format.blockBytes ? levels[0].length : width * 4); // dwPitchOrLinearSize
  put(28, levels.length); // dwMipMapCount
  put(76, 32); // ddspf.dwSize
  if (header === 'dx10') {
    put(80, DDPF_FOURCC);
    put(84, FOURCC_DX10);
    put(128, DXGI[facts.format][facts.colourSpace === 'srgb' ? 1 : 0]); // dxgiFormat
    put(132, DIMENSION_TEXTURE2D); // resourceDimension
    put(140, 1); // arraySize
  } else if (LEGACY[facts.format]) {
    put(80, DDPF_FOURCC);
    put(84, LEGACY[facts.format]!);
  } else {
    put(80, DDPF_RGB | DDPF_ALPHAPIXELS);
    put(88, 32); // dwRGBBitCount
    put(92, facts.format === 'rgba8' ? 0xff : 0xff0000); // dwRBitMask
    put(96, 0xff00); // dwGBitMask
    put(100, facts.format === 'rgba8' ? 0xff0000 : 0xff); // dwBBitMask
    put(104, 0xff000000); // dwABitMask
  }
  put(108, DDSCAPS_TEXTURE | (levels.length > 1 ? DDSCAPS_COMPLEX | DDSCAPS_MIPMAP : 0)); // dwCaps
  let at = start;
  for (const level of levels) {
    out.set(level, at);
    at += level.length;
  }
  return out;
}

/** What a DDS file says of itself, checked against its length. @throws InputError in one sentence */
export function readDdsFacts(bytes: Uint8Array): DdsFacts & { start: number } {
  if (bytes.length < 128) throw new InputError('This DDS file ends inside its header.');
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const get = (at: number) => view.getUint32(at, true);
  if (get(0) !== MAGIC || get(4) !== 124 || get(76) !== 32)
    throw new InputError('This is not a DDS file: its header does not begin as one.');
  const [height, width] = [get(12), get(16)];
  if (width < 1 || height < 1 || width > MAX_SIDE || height > MAX_SIDE) {
    throw new InputError(`This DDS file declares ${width} x ${height} texels; 1 to ${MAX_SIDE} a side can be read.`);
  }
  const flags = get(80);
  let format: FormatKey | undefined;
  let header: DdsHeader = 'legacy';
  let colourSpace: DdsFacts['colourSpace'] = 'unknown';
  let start = 128;
  if (flags & DDPF_FOURCC) {
    if (get(84) === FOURCC_DX10) {
      if (bytes.length < 148) throw new InputError('This DDS file ends inside its DX10 header.');
      header = 'dx10';
      start = 148;
      if (get(132) !== DIMENSION_TEXTURE2D || get(140) !== 1)
        throw new InputError('Only single flat DDS textures can be read, not arrays, cubes or volumes.');
      const code = get(128);
      for (const key of Object.keys(DXGI) as FormatKey[]) {
        const kind = DXGI[key].indexOf(code);
        if (kind < 0) continue;
        format = key;
        colourSpace = kind === 1 ? 'srgb' : 'linear';
      }
    } else format = (Object.keys(LEGACY) as FormatKey[]).find((key) => LEGACY[key] === get(84));
  } else if (flags & DDPF_RGB && get(88) === 32 && get(96) === 0xff00) {
    format = get(92) === 0xff ? 'rgba8' : get(92) === 0xff0000 ? 'bgra8' : undefined;
  }
  if (!format)
    throw new InputError('The compression of this DDS file cannot be read; BC1, BC3, BC7 and 32-bit RGBA can.');
  const mips = Math.max(1, get(8) & DDSD_MIPMAPCOUNT ? get(28) : 1);
  const mipsExpected = fullMipCount(width, height);
  if (mips > mipsExpected)
    throw new InputError(
      `This DDS file declares ${mips} mip levels; ${width} x ${height} has at most ${mipsExpected}.`,
    );
  const facts = { width, height, format, header, colourSpace, mips, mipsExpected, start };
  let needed = start;
  for (let level = 0; level < mips; level++) needed += levelBytes(facts, level);
  if (bytes.length < needed)
    throw new InputError(`This DDS file is cut off: ${needed} bytes are declared and ${bytes.length} are there.`);
  return facts;
}

function levelBytes(facts: Pick<DdsFacts, 'width' | 'height' | 'format'>, level: number): number {
  const size = mipSize(facts.width, facts.height, level);
  const format = FORMATS[facts.format];
  return rowsOf(format, size.height) * rowBytes(format, size.width);
}

/** Decodes one mip level to straight RGBA8 in the file's own encoding, rows as stored. */
export function readDdsLevel(bytes: Uint8Array, level: number): Image8 {
  const facts = readDdsFacts(bytes);
  if (level < 0 || level >= facts.mips)
    throw new InputError(`This file has mip levels 0 to ${facts.mips - 1}; ${level} is not there.`);
  let at = facts.start;
  for (let l = 0; l < level; l++) at += levelBytes(facts, l);
  const size = mipSize(facts.width, facts.height, level);
  const image = newImage(size.width, size.height);
  FORMATS[facts.format].decode(bytes.subarray(at, at + levelBytes(facts, level)), image);
  return image;
}

/** Every texture format that can be written or read; nothing else knows which there are. */
import { bc1 } from './bc1.ts';
import { bc1a } from './bc1a.ts';
import { bc2 } from './bc2.ts';
import { bc3 } from './bc3.ts';
import { bc4 } from './bc4.ts';
import { bc4s } from './bc4s.ts';
import { bc5 } from './bc5.ts';
import { bc5s } from './bc5s.ts';
import { bc7 } from './bc7.ts';
import { bgr8 } from './bgr8.ts';
import { bgra8 } from './bgra8.ts';
import type { TextureFormat } from './kind.ts';
import { rgb565 } from './rgb565.ts';
import { rgba8 } from './rgba8.ts';

/** Formats that are written and read, in the order in which they are offered. */
const WRITTEN_FORMATS = { bc1, bc1a, bc2, bc3, bc4, bc5, bc7, rgba8, bgra8, bgr8, rgb565 };
/** Formats that are read alone. */
const READ_FORMATS = { bc4s, bc5s };

export type WrittenFormat = keyof typeof WRITTEN_FORMATS;
export type FormatKey = WrittenFormat | keyof typeof READ_FORMATS;

/** By key. A file's codes stand for the first format that has them. */
export const FORMATS: Readonly<Record<FormatKey, TextureFormat>> = { ...WRITTEN_FORMATS, ...READ_FORMATS };

const keysOf = <K extends string>(formats: Record<K, unknown>) => Object.keys(formats) as K[];

export const FORMAT_KEYS: readonly FormatKey[] = keysOf(FORMATS);

export const WRITTEN: readonly WrittenFormat[] = keysOf(WRITTEN_FORMATS);

/** The formats that the proof offers beside the one that the spec asks for. */
export const TRIED: readonly WrittenFormat[] = WRITTEN.filter((key) => FORMATS[key].tried);

export const isWritten = (key: FormatKey): key is WrittenFormat => key in WRITTEN_FORMATS;

/** Whether the format's colour is two ends of 5-6-5 bits for each block. */
export function isCoarse(key: FormatKey): boolean {
  const format = FORMATS[key];
  return format.blockBytes > 0 && 'coarse' in format;
}

/** Rows that an encoding is counted by, for an image of this height: of blocks, or of texels. */
export function rowsOf(format: TextureFormat, height: number): number {
  return format.blockBytes ? Math.ceil(height / 4) : height;
}

/** Bytes of one such row. */
export function rowBytes(format: TextureFormat, width: number): number {
  return format.blockBytes ? Math.ceil(width / 4) * format.blockBytes : width * format.texelBytes;
}

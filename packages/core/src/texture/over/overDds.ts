/** Paint put into a DDS file that is there: blocks and texels that nobody changed keep their bytes, at every mip level. */
import { InputError } from '../../errors.ts';
import { newImage, type Image8 } from '../../raster/image.ts';
import { ddsLayout, ddsLevel, readDdsRows, writeMasked, type DdsLayout } from '../dds.ts';
import { encodeRows } from '../encode.ts';
import { FORMATS, isWritten, type FormatKey } from '../formats/index.ts';
import { filterBand, type MipOptions } from '../mips.ts';
import {
  anyChanged,
  disjointSpans,
  changedAt,
  changedBoxes,
  nothingChanged,
  type Changed,
  type TexelSpan,
} from './changed.ts';

/** What is to be encoded of a file, and where it goes. */
export interface DdsOver {
  /** The original's bytes, with uncompressed texels in their place already. */
  bytes: Uint8Array;
  format: FormatKey | 'masks';
  /** Changed blocks side by side, 4 x 4 texels each, row by row; null: none. */
  strip: Image8 | null;
  /** Where each of them belongs, in bytes. */
  places: Int32Array;
  /** Blocks (or texels, of uncompressed files) of all levels, and how many of them keep their bytes. */
  blocks: { kept: number; of: number };
}

/** Blocks in a row of the strip. */
const STRIP = 256;

/** How a texel and a block are told from each other in a file. */
export const canPutOver = (layout: Pick<DdsLayout, 'format'>): boolean =>
  layout.format === 'masks' || isWritten(layout.format);

/**
 * Finds what changes in a DDS file. Levels below the largest change where something under their filter's footprint did; there they are made
 * anew from the level above, and everything else of them is the original's. Alpha is made anew only where alpha changed.
 * @param painted straight RGBA8 of the file's size, rows as the file has them; looked at only where `changed`
 * @param make where the strip's texels are to lie
 */
export function putOverDds(
  original: Uint8Array,
  painted: Image8,
  changed: Changed,
  mips: MipOptions,
  make: (bytes: number) => Uint8Array = (bytes) => new Uint8Array(bytes),
): DdsOver {
  const layout = ddsLayout(original);
  const { width: w, height: h } = ddsLevel(layout, 0);
  if (w !== painted.width || h !== painted.height)
    throw new InputError(
      `The picture is ${painted.width} x ${painted.height}, the file that it goes over ${w} x ${h}.`,
    );
  const format = layout.format;
  const bytes = original.slice();
  const texelBytes = format === 'masks' ? layout.masks![0] / 8 : FORMATS[format].texelBytes;
  const blocks: { level: Level; x: number; y: number }[] = [];
  const places: number[] = [];
  let of = 0;
  let kept = 0;
  let above: Level | null = null;
  for (let n = 0; n < layout.mips; n++) {
    const level: Level = above
      ? levelBelow(original, layout, n, above, mips)
      : topLevel(original, layout, painted, changed);
    const { width, height, at, line, per } = ddsLevel(layout, n);
    let news = 0;
    for (const { left, top, right, bottom } of level.boxes) {
      for (let y = top - (top % per); y < bottom; y += per)
        for (let x = left - (left % per); x < right; x += per) {
          if (!anyChanged(level.changed, x, y, per)) continue;
          news++;
          if (per === 4) {
            blocks.push({ level, x, y });
            places.push(at + (y / 4) * line + (x / 4) * FORMATS[format as FormatKey].blockBytes);
            continue;
          }
          const texel = level.image.data.subarray((y * width + x) * 4, (y * width + x) * 4 + 4);
          const place = at + y * line + x * texelBytes;
          if (format === 'masks') writeMasked(texel, layout.masks!, bytes, place);
          else
            encodeRows(format, { width: 1, height: 1, data: texel }, 0, 1, bytes.subarray(place, place + texelBytes), {
              effort: 'normal',
            });
        }
    }
    const all = Math.ceil(width / per) * Math.ceil(height / per);
    of += all;
    kept += all - news;
    above = level;
  }
  return { bytes, format, strip: stripOf(blocks, make), places: Int32Array.from(places), blocks: { kept, of } };
}

/** A mip level of a file with the paint in it, and which of its texels change. */
export interface LevelOver {
  image: Image8;
  changed: Changed;
}

/**
 * Every level of the file as putOverDds has it encoded: what changes made anew, everything else as the file holds it (colour times alpha
 * where it is stored so).
 * @param painted,changed,mips as for putOverDds
 */
export function levelsOver(original: Uint8Array, painted: Image8, changed: Changed, mips: MipOptions): LevelOver[] {
  const layout = ddsLayout(original);
  const levels: Level[] = [];
  for (let n = 0; n < layout.mips; n++)
    levels.push(
      n === 0 ? topLevel(original, layout, painted, changed) : levelBelow(original, layout, n, levels[n - 1], mips),
    );
  return levels.map((level) => {
    bring(original, layout, level, 0, level.image.height);
    return { image: level.image, changed: level.changed };
  });
}

/** The file with its changed blocks. @param encoded of the strip, in the file's format */
export function placeBlocks({ bytes, format, places }: DdsOver, encoded: Uint8Array): Uint8Array {
  if (format === 'masks') return bytes;
  const size = FORMATS[format].blockBytes;
  places.forEach((place, i) => bytes.set(encoded.subarray(i * size, (i + 1) * size), place));
  return bytes;
}

/** A level as the file has it, colour times alpha where it is stored so; its rows are read as they are asked for. */
interface Level {
  n: number;
  image: Image8;
  /** Which rows of `image` are there, by their blocks' rows. */
  read: Uint8Array;
  changed: Changed;
  /** Where alpha did; null: where anything did. */
  alpha: Changed;
  boxes: TexelSpan[];
  /** What is laid over the rows that are read. */
  paint: (row: number) => void;
}

/** Brings rows `from` to `to` of a level. */
function bring(original: Uint8Array, layout: DdsLayout, level: Level, from: number, to: number): void {
  const { height, width } = level.image;
  for (let group = from >> 2; group * 4 < Math.min(to, height); group++) {
    if (level.read[group]) continue;
    let end = group;
    while (end * 4 < Math.min(to, height) && !level.read[end]) level.read[end++] = 1;
    const last = Math.min(height, end * 4);
    const rows = readDdsRows(original, layout, level.n, group * 4, last);
    level.image.data.set(rows.data, group * 4 * width * 4);
    for (let y = group * 4; y < last; y++) level.paint(y);
    group = end - 1;
  }
}

function topLevel(original: Uint8Array, layout: DdsLayout, painted: Image8, changed: Changed): Level {
  const { width, height } = layout;
  const alpha = nothingChanged(width, height);
  const image = newImage(width, height);
  const level: Level = {
    n: 0,
    image,
    read: new Uint8Array(Math.ceil(height / 4)),
    changed,
    alpha,
    boxes: changedBoxes(changed),
    paint(y) {
      for (let x = 0, i = y * width; x < width; x++, i++) {
        if (!changed.data[i]) continue;
        const o = i * 4;
        const a = painted.data[o + 3];
        if (a !== image.data[o + 3]) alpha.data[i] = 1;
        for (let c = o; c < o + 3; c++)
          image.data[c] = layout.premultiplied ? Math.floor((painted.data[c] * a) / 255 + 0.5) : painted.data[c];
        image.data[o + 3] = a;
      }
    },
  };
  for (const { top, bottom } of level.boxes) bring(original, layout, level, top, bottom);
  return level;
}

/** Texels that a filter looks beyond a box, rounded up to whole pairs. */
const BESIDE = 16;

function levelBelow(original: Uint8Array, layout: DdsLayout, n: number, above: Level, mips: MipOptions): Level {
  const { width, height } = ddsLevel(layout, n);
  const image = newImage(width, height);
  const filter = mips.filter;
  const changed = changedAt(above.changed, width, height, filter, above.boxes);
  const alpha = changedAt(above.alpha, width, height, filter, above.boxes);
  const boxes = changedBoxes(changed);
  const options: MipOptions = layout.premultiplied ? { ...mips, alpha: 'data' } : mips;
  const whole = above.image.width % 2 !== 0 || above.image.height % 2 !== 0 || width < 64 || height < 64;
  const wanted = whole && boxes.length > 0 ? [{ left: 0, top: 0, right: width, bottom: height }] : boxes;
  const made: { box: TexelSpan; left: number; top: number; image: Image8 }[] = [];
  for (const box of disjointSpans(wanted)) {
    const left = whole ? 0 : Math.max(0, box.left * 2 - BESIDE);
    const top = whole ? 0 : Math.max(0, box.top * 2 - BESIDE);
    const right = whole ? above.image.width : Math.min(above.image.width, box.right * 2 + BESIDE);
    const bottom = whole ? above.image.height : Math.min(above.image.height, box.bottom * 2 + BESIDE);
    bring(original, layout, above, top, bottom);
    const part = crop(above.image, left, top, right - left, bottom - top);
    const half = newImage(whole ? width : (right - left) / 2, whole ? height : (bottom - top) / 2);
    filterBand(part, options, 1, [part, half], 0, 1);
    made.push({ box, left: left / 2, top: top / 2, image: half });
  }
  const level: Level = {
    n,
    image,
    read: new Uint8Array(Math.ceil(height / 4)),
    changed,
    alpha,
    boxes,
    paint(y) {
      for (const part of made) {
        if (y < part.box.top || y >= part.box.bottom) continue;
        for (let x = part.box.left; x < part.box.right; x++) {
          const i = y * width + x;
          if (!changed.data[i]) continue;
          const from = ((y - part.top) * part.image.width + x - part.left) * 4;
          const was = image.data[i * 4 + 3];
          image.data.set(part.image.data.subarray(from, from + 4), i * 4);
          if (!alpha.data[i]) image.data[i * 4 + 3] = was;
        }
      }
    },
  };
  for (const { top, bottom } of boxes) bring(original, layout, level, top, bottom);
  return level;
}

/** A copy of a part, also where it is the whole. */
function crop(image: Image8, x: number, y: number, width: number, height: number): Image8 {
  const out = newImage(width, height);
  for (let row = 0; row < height; row++) {
    const from = ((y + row) * image.width + x) * 4;
    out.data.set(image.data.subarray(from, from + width * 4), row * width * 4);
  }
  return out;
}

/** Blocks side by side; past a level's edges the last texels repeat. */
function stripOf(
  blocks: readonly { level: Level; x: number; y: number }[],
  make: (bytes: number) => Uint8Array,
): Image8 | null {
  if (blocks.length === 0) return null;
  const width = Math.min(STRIP, blocks.length) * 4;
  const height = Math.ceil(blocks.length / STRIP) * 4;
  const data = make(width * height * 4);
  blocks.forEach(({ level: { image }, x, y }, i) => {
    const at = (Math.floor(i / STRIP) * 4 * width + (i % STRIP) * 4) * 4;
    for (let row = 0; row < 4; row++) {
      const line = Math.min(image.height - 1, y + row) * image.width;
      for (let column = 0; column < 4; column++) {
        const from = (line + Math.min(image.width - 1, x + column)) * 4;
        const to = at + (row * width + column) * 4;
        for (let c = 0; c < 4; c++) data[to + c] = image.data[from + c];
      }
    }
  });
  return { width, height, data };
}

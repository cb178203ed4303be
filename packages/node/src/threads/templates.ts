/** What is made of templates as a whole; runs in threads. */
import { InputError } from '@wet-lacquer/core/errors.ts';
import { readTemplatePackage, writeTemplatePackage } from '@wet-lacquer/core/files/templatePackage.ts';
import { packPixels, unpackPixels } from '@wet-lacquer/core/files/pixels.ts';
import type { FieldKey } from '@wet-lacquer/core/livery/fields.ts';
import { beginField } from '@wet-lacquer/core/surface/baked/index.ts';
import type { Template, TemplateOutline, TemplateSheet } from '@wet-lacquer/core/livery/template.ts';
import { rgbOfHex } from '@wet-lacquer/core/colour/hex.ts';
import { newImage, wordsOf } from '@wet-lacquer/core/raster/image.ts';
import { islandsOf } from '@wet-lacquer/core/surface/islands.ts';
import { sheetCover } from '@wet-lacquer/core/surface/layout.ts';
import { freeKey, reviseTemplate, type TemplateChange } from '@wet-lacquer/core/surface/reviseTemplate.ts';
import { nearestInside } from '@wet-lacquer/core/raster/nearest.ts';
import { layoutOf, type TemplateLayout } from '@wet-lacquer/core/surface/templateLayout.ts';
import { traceOutline } from '@wet-lacquer/core/surface/traceOutline.ts';
import { decodePicture, png } from './pictures.ts';

const MOST = 16384;

/** Corners that a thread takes at a time. */
const PIECE = 256;

/**
 * A thread's share of a field of a template's model: every `of`-th piece of its corners from the `index`-th on, as 32-bit numbers; see surface/baked.
 * @param gauge shared: corners done over all threads, and how many there are
 */
export function fieldPart(task: {
  template: Template;
  name: FieldKey;
  part: { index: number; of: number };
  gauge: SharedArrayBuffer;
}): Float32Array[] {
  const { corners, bake } = beginField(task.template, task.name);
  const gauge = new Int32Array(task.gauge);
  Atomics.store(gauge, 1, corners);
  const pieces: Float32Array[] = [];
  for (let from = task.part.index * PIECE; from < corners; from += task.part.of * PIECE) {
    const to = Math.min(corners, from + PIECE);
    pieces.push(bake(from, to));
    Atomics.add(gauge, 0, to - from);
  }
  return pieces;
}

export function revise(task: { template: Template; hash: string; changes: TemplateChange[] }): Template {
  return reviseTemplate(task.template, task.hash, task.changes);
}

/** A picture of a template that shows outlines: a guide, or a layer that new liveries begin with. */
export interface OutlinePicture {
  name: string;
  sheet: string;
  left: number;
  top: number;
  /** Stored pixels. */
  bytes: Uint8Array;
}

/** More shapes in one picture are art, not frames. */
const MOST_SHAPES = 100;

/** Each shape of some pictures becomes an outline of its own. @throws InputError when one has none, or too many */
export function outlinesOfPictures(task: {
  template: Template;
  hash: string;
  pictures: OutlinePicture[];
  role: TemplateOutline['role'];
}): Template {
  const { template, role } = task;
  const outlines = [...(template.outlines ?? [])];
  const before = outlines.length;
  const known = new Set(outlines.map(({ sheet, role: as, rings }) => JSON.stringify([sheet, as, rings])));
  const keys = new Set(outlines.map(({ key }) => key));
  for (const { name, sheet, left, top, bytes } of task.pictures) {
    const rings = traceOutline(unpackPixels(bytes), left, top);
    if (rings.length > MOST_SHAPES)
      throw new InputError(`"${name}" has ${rings.length} shapes: more than ${MOST_SHAPES} are art, not frames.`);
    const [x, y] = [
      (ring: number[]) => Math.min(...ring.filter((_, i) => i % 2 === 0)),
      (ring: number[]) => Math.min(...ring.filter((_, i) => i % 2 === 1)),
    ];
    // Numbered as one reads.
    rings.sort((p, q) => y(p) - y(q) || x(p) - x(q));
    rings.forEach((ring, i) => {
      if (known.has(JSON.stringify([sheet, role, [ring]]))) return;
      const stem = name.trim().slice(0, 54) || 'Outline';
      const called = rings.length > 1 ? `${stem} ${i + 1}` : stem;
      const key = freeKey(called, keys);
      keys.add(key);
      outlines.push({ key, name: called, sheet, role, rings: [ring] });
    });
  }
  if (outlines.length === before) throw new InputError('These outlines are there already.');
  return reviseTemplate(template, task.hash, [{ do: 'set-outlines', outlines }]);
}

export const packTemplate = (task: { template: Template; blobs: Map<string, Uint8Array> }): Promise<Uint8Array> =>
  writeTemplatePackage(task.template, task.blobs, (image) => png(image));

export const openTemplate = (task: { bytes: Uint8Array }): ReturnType<typeof readTemplatePackage> =>
  readTemplatePackage(task.bytes, (bytes) => decodePicture(bytes, MOST));

interface LocatorPicture {
  sheet: string;
  bytes: Uint8Array;
  width: number;
  height: number;
}

function cellPicture({ key, width, height }: TemplateSheet, { islands }: TemplateLayout): LocatorPicture {
  const image = newImage(width, height);
  const words = wordsOf(image.data);
  for (const { sheet, colour, box } of islands) {
    if (sheet !== key) continue;
    const [word] = wordsOf(Uint8Array.of(...rgbOfHex(colour), 255));
    for (let y = box.top; y < box.bottom; y++) words.fill(word, y * width + box.left, y * width + box.right);
  }
  return { sheet: key, bytes: packPixels(image), width, height };
}

/** Every sheet's islands in their locator colours as stored pictures, opaque, at the sheet's size; and the layout. */
export function locatorPictures({ template }: { template: Template }): {
  layout: TemplateLayout;
  pictures: LocatorPicture[];
} {
  const layout = layoutOf(template);
  if (template.boards) return { layout, pictures: template.sheets.map((sheet) => cellPicture(sheet, layout)) };
  const islands = islandsOf(template);
  if (islands.length === 0) throw new InputError('This subject has no islands to number.');
  const colours = new Map(layout.islands.map((island) => [island.number, rgbOfHex(island.colour)]));
  const pictures = template.sheets.map((sheet) => {
    const cover = sheetCover(template, islands, sheet.key, Math.max(sheet.width, sheet.height));
    const { width, height } = cover;
    const image = newImage(width, height);
    // Gutters take the colour of the island beside them, so that filtering finds no other.
    const nearest = nearestInside(
      Uint8Array.from(cover.island, (n) => (n > 0 ? 1 : 0)),
      width,
      height,
    );
    for (let i = 0; i < width * height; i++) {
      const number = nearest[i] < 0 ? 0 : cover.island[nearest[i]];
      image.data.set([...(colours.get(number) ?? [128, 128, 128]), 255], i * 4);
    }
    return { sheet: sheet.key, bytes: packPixels(image), width, height };
  });
  return { layout, pictures };
}

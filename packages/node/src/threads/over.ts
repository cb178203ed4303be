/** Over a file of the game's own: what was painted, and everything else as the file has it; runs in threads. */
import { deflateSync, inflateSync } from 'node:zlib';
import sharp from 'sharp';
import { lightRelation, paintInLight } from '@wet-lacquer/core/delivery/light.ts';
import {
  finishPainted,
  isUntouched,
  looksBeyond,
  putOverRegion,
  turnedChanged,
  type OverPlace,
} from '@wet-lacquer/core/delivery/overOriginal.ts';
import { carriesEdges } from '@wet-lacquer/core/delivery/preparedSheet.ts';
import { unpackPixels } from '@wet-lacquer/core/files/pixels.ts';
import type { SpecFile } from '@wet-lacquer/core/livery/spec.ts';
import { holdsIn, type OriginalFile, type ParameterBox, sheetNamed } from '@wet-lacquer/core/livery/template.ts';
import { flipRows, newImage, TILE, wordsOf, type Image8 } from '@wet-lacquer/core/raster/image.ts';
import { mirrorImage } from '@wet-lacquer/core/raster/mirror.ts';
import { ddsLayout, readDdsRows, unpremultiply } from '@wet-lacquer/core/texture/dds.ts';
import { putOverJpeg } from '@wet-lacquer/core/texture/jpeg.ts';
import type { MipOptions } from '@wet-lacquer/core/texture/mips.ts';
import { changedAt, type Changed } from '@wet-lacquer/core/texture/over/changed.ts';
import { putOverDds, type DdsOver } from '@wet-lacquer/core/texture/over/overDds.ts';
import { putOverPng } from '@wet-lacquer/core/texture/png.ts';
import { resample } from '@wet-lacquer/core/texture/resample.ts';
import { putOverTga } from '@wet-lacquer/core/texture/tga.ts';
import { texelsOf, textureKindOf } from '../textures/index.ts';
import { sourcesOf, type Scene } from './scene.ts';
import { sharedBytes, sharedCopy, sharedImage } from './shared.ts';

/** zlib as Node has it. */
const ZLIB = {
  inflate: (bytes: Uint8Array, length: number) => new Uint8Array(inflateSync(bytes, { maxOutputLength: length })),
  deflate: (bytes: Uint8Array) => new Uint8Array(deflateSync(bytes, { level: 6 })),
};

/** A game's own file with its bytes, which all threads see. */
export interface HeldFile {
  original: OriginalFile;
  bytes: Uint8Array;
}

/** Texels of a game's own file as its template shows them, in shared memory: straight RGBA8, upright. */
export async function originalTexels({ original, bytes }: HeldFile): Promise<Image8> {
  const read = await texelsOf(bytes, textureKindOf(bytes, original.name));
  return sharedImage(original.upsideDown ? flipRows(read) : read);
}

/** Rows of a block-compressed or uncompressed DDS file, upright, into their place of the whole. */
function bringRows({ original, bytes }: HeldFile, from: number, to: number, into: Uint8Array): void {
  const layout = ddsLayout(bytes);
  const { width, height } = layout;
  const [first, last] = original.upsideDown ? [height - to, height - from] : [from, to];
  // Blocks hold four rows: those about the wanted ones come along.
  const top = first - (first % 4);
  const bottom = Math.min(height, Math.ceil(last / 4) * 4);
  const rows = readDdsRows(bytes, layout, 0, top, bottom);
  if (layout.premultiplied) unpremultiply(rows.data);
  for (let y = first; y < last; y++) {
    const row = rows.data.subarray((y - top) * width * 4, (y - top + 1) * width * 4);
    into.set(row, (original.upsideDown ? height - 1 - y : y) * width * 4);
  }
}

/**
 * Tile rows `from` to `to` (exclusive) of a map over its original: the picture, and which texels were painted, into their place of the wholes.
 * @param texels of the original at the sheet's size where they are there already; null: they are read from its DDS file as far as they are needed
 * @param sparse only what was painted is asked for: where nothing was, `into` is left alone
 */
export async function overRows(task: {
  scene: Scene;
  place: OverPlace;
  held: HeldFile;
  texels: Image8 | null;
  from: number;
  to: number;
  into: Uint8Array;
  changed: Uint8Array;
  sparse: boolean;
}): Promise<void> {
  const { scene, place, held, texels, from, to, into, changed, sparse } = task;
  const { width, height } = place.size;
  const read = await sourcesOf(scene, new Set([place.pixels]));
  let brought: Image8 | null = texels;
  const whole = () => (brought ??= bring());
  const bring = () => {
    const image = newImage(width, height);
    if (looksBeyond(place.livery, place.sheet, place.map)) bringRows(held, 0, height, image.data);
    else bringRows(held, from * TILE, Math.min(height, to * TILE), image.data);
    return image;
  };
  const sources: typeof read = { ...read, image: (blob) => (blob === place.pixels ? whole() : read.image(blob)) };
  for (let y = from * TILE; y < Math.min(height, to * TILE); y += TILE)
    for (let x = 0; x < width; x += TILE) {
      const region = { x, y, width: Math.min(TILE, width - x), height: Math.min(TILE, height - y), step: 1 };
      const untouched = isUntouched(place, region, sources);
      if (untouched && sparse) continue;
      const { data } = whole();
      if (untouched) {
        for (let at = (y * width + x) * 4, line = 0; line < region.height; line++, at += width * 4)
          into.set(data.subarray(at, at + region.width * 4), at);
        continue;
      }
      const own = { width, height: region.height, data: data.subarray(y * width * 4, (y + region.height) * width * 4) };
      putOverRegion(place, region, sources, own, into, changed);
    }
}

/** A picture and what of it was painted, as a file has it; both in shared memory. */
export interface Over {
  image: Image8;
  changed: Changed;
}

/**
 * From the painted sheet to what a file shows: edges, ground, hand, size, and the light of a copy.
 * @param over upright and of the sheet's size; changed in place
 * @param own the file's own original, where it is not the sheet's
 * @param lit of a copy in another light: the texels of the sheet's original, and the strength of its light
 */
export async function finishOver(task: {
  scene: Scene | null;
  over: Over;
  spec: SpecFile;
  sheet: string;
  mirror: 'none' | 'across' | 'down';
  size: { width: number; height: number };
  ground: string;
  boxes: readonly ParameterBox[];
  own: HeldFile | null;
  lit: { before: Image8; strength: number } | null;
}): Promise<Over> {
  const { scene, spec, sheet, mirror, size, ground, boxes, own, lit } = task;
  const { image, changed } = task.over;
  const surface =
    scene && carriesEdges(spec, holdsIn(sheetNamed(scene.template, sheet), spec.map)) && !scene.template.boards
      ? (await sourcesOf(scene)).surface(sheet)
      : null;
  finishPainted(image, changed, spec, surface, ground, boxes);
  const turned = (picture: Image8) => mirrorImage(spec.flip ? flipRows(picture) : picture, mirror);
  const fitted = (picture: Image8) =>
    resample(turned(picture), size.width, size.height, spec.colourSpace === 'srgb' ? 'srgb' : 'linear');
  let out: Over = {
    image: fitted(image),
    changed: changedAt(turnedChanged(changed, spec.flip, mirror), size.width, size.height, 'fit'),
  };
  if (own) {
    const upright = await originalTexels(own);
    const copy = spec.flip ? flipRows(upright) : upright;
    if (copy.width === size.width && copy.height === size.height) {
      const base = { ...copy, data: copy.data.slice() };
      if (lit) {
        const before = fitted(lit.before);
        const relation = lightRelation(before, copy);
        paintInLight(base, out.image, before, out.changed.data, relation, lit.strength);
      } else overlay(base, out.image, out.changed.data);
      out = { image: base, changed: out.changed };
    }
  }
  return { image: sharedImage(out.image), changed: { ...out.changed, data: sharedCopy(out.changed.data) } };
}

/** Puts the texels that changed over others, of the same size. @param changed one byte a texel, not 0 where it changed */
export function overlay(base: Image8, painted: Image8, changed: Uint8Array): void {
  const [to, from] = [wordsOf(base.data), wordsOf(painted.data)];
  for (let i = 0; i < changed.length; i++) if (changed[i]) to[i] = from[i];
}

/** A DDS file with the paint in it, but for its blocks, which are still to be encoded; see placeBlocks. */
export function overDds(task: { bytes: Uint8Array; over: Over; mips: MipOptions }): DdsOver {
  const { bytes, over, mips } = task;
  return putOverDds(bytes, over.image, over.changed, mips, sharedBytes);
}

/** What a file became, and how many of its texels could not take their own colour. */
export interface PutOver {
  bytes: Uint8Array;
  nearest: number;
}

/** A TGA, PNG, JPEG or WebP file with the paint in it. */
export async function overPicture(task: {
  container: 'tga' | 'png' | 'jpg' | 'webp';
  bytes: Uint8Array;
  over: Over;
}): Promise<PutOver> {
  const { container, over } = task;
  // What is kept of the file may not lie in memory that others write to.
  const bytes = task.bytes.slice();
  const { image, changed } = over;
  if (container === 'jpg') return { bytes: putOverJpeg(bytes, image, changed.data), nearest: 0 };
  if (container === 'webp') return { bytes: await fileWebp({ image, quality: null }), nearest: 0 };
  const made =
    container === 'tga' ? putOverTga(bytes, image, changed.data) : putOverPng(bytes, image, changed.data, ZLIB);
  return { bytes: made.bytes, nearest: made.loss.nearest };
}

/** A WebP file, colour under alpha 0 kept. @param quality of 100; null: without loss */
export async function fileWebp({ image, quality }: { image: Image8; quality: number | null }): Promise<Uint8Array> {
  const { width, height, data } = image;
  const picture = sharp(data, { raw: { width, height, channels: 4 } }).webp(
    quality === null ? { lossless: true, exact: true, effort: 4 } : { quality, exact: true },
  );
  return new Uint8Array(await picture.toBuffer());
}

/** Stored pixels of a picture, in shared memory. */
export function storedTexels({ bytes }: { bytes: Uint8Array }): Image8 {
  return sharedImage(unpackPixels(bytes));
}

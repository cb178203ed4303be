/** How files that came are stored, and their texels as they stand in them. */
import type { Metadata, Sharp } from 'sharp';
import { InputError } from '@wet-lacquer/core/errors.ts';
import type { StoredAs } from '@wet-lacquer/core/livery/template.ts';
import { alphaKind, cropImage, type Image8 } from '@wet-lacquer/core/raster/image.ts';
import { MAX_SIDE, readDdsFacts, readDdsLevel } from '@wet-lacquer/core/texture/dds.ts';
import { readJpegFacts } from '@wet-lacquer/core/texture/jpeg.ts';
import { mipChain, mipSize } from '@wet-lacquer/core/texture/mips.ts';
import { readPngFacts } from '@wet-lacquer/core/texture/png.ts';
import { readTga, readTgaFacts } from '@wet-lacquer/core/texture/tga.ts';

/** The picture library takes a third of a second to load: DDS and TGA files need none of it. */
export const pictures = async () => (await import('sharp')).default;

/** Kinds of finished textures. */
export type TextureKind = 'dds' | 'tga' | 'picture';

/** Straight RGBA8 of a finished texture, its values as a game takes them: no profile is applied, nothing is turned. @throws InputError */
export async function texelsOf(bytes: Uint8Array, kind: TextureKind): Promise<Image8> {
  if (kind === 'dds') return readDdsLevel(bytes, 0);
  if (kind === 'tga') return readTga(bytes);
  const sharp = await pictures();
  const meta = await pictureFacts(sharp(bytes));
  if (!meta) throw new InputError('This file is not a picture that can be read; PNG, JPEG and WebP are.');
  if (meta.width > MAX_SIDE || meta.height > MAX_SIDE)
    throw new InputError(`This picture is ${meta.width} x ${meta.height}; up to ${MAX_SIDE} a side can be read.`);
  // Four inks mean nothing without their profile.
  const ignoreIcc = meta.space !== 'cmyk';
  return pictureTexels(sharp(bytes, { failOn: 'truncated', ignoreIcc }));
}

/** What the picture library says of a PNG, JPEG or WebP; null: it is none. */
export async function pictureFacts(picture: Sharp): Promise<Metadata | null> {
  const meta = await picture.metadata().catch(() => null);
  return meta && ['png', 'jpeg', 'webp'].includes(meta.format ?? '') ? meta : null;
}

/** Straight RGBA8 in sRGB of a picture that is opened. @throws InputError in one sentence */
export async function pictureTexels(picture: Sharp): Promise<Image8> {
  try {
    const { data, info } = await picture
      .toColourspace('srgb')
      .ensureAlpha()
      .raw()
      .toBuffer({ resolveWithObject: true });
    return { width: info.width, height: info.height, data: new Uint8Array(data.buffer, data.byteOffset, data.length) };
  } catch {
    throw new InputError('This picture is damaged or cut off, so it was not taken in.');
  }
}

/** What is followed of a file where its like is written. @param image its texels */
export async function storedAs(bytes: Uint8Array, kind: TextureKind, image: Image8): Promise<StoredAs> {
  const common = { width: image.width, height: image.height, alpha: alphaKind(image) };
  if (kind === 'dds') {
    const { format, header, mips, premultiplied } = readDdsFacts(bytes);
    return { ...common, container: 'dds', format, header, mips, ...(premultiplied && { premultiplied }) };
  }
  if (kind === 'tga') {
    const { rle, bits, alphaBits, topDown, rightToLeft, colours } = readTgaFacts(bytes);
    return {
      ...common,
      container: 'tga',
      format: alphaBits > 0 ? 'bgra8' : 'bgr8',
      runs: rle,
      bits,
      alphaBits,
      bottomUp: !topDown,
      rightToLeft,
      mapped: colours === 'colour-mapped',
      colours,
    };
  }
  const meta = await (await pictures())(bytes).metadata();
  const format = meta.hasAlpha ? 'rgba8' : 'bgr8';
  const turned = meta.orientation && meta.orientation > 1 ? { turned: meta.orientation } : {};
  if (meta.format === 'png') {
    const { colours, depth, interlaced, profile, gamma } = readPngFacts(bytes);
    return {
      ...common,
      ...turned,
      container: 'png',
      format,
      colours,
      depth,
      interlaced,
      ...(profile !== null && { profile: profile.slice(0, 200) || 'unnamed' }),
      ...(gamma !== null && { gamma }),
    };
  }
  if (meta.format === 'jpeg') {
    const { quality, sampling, progressive, colours } = readJpegFacts(bytes);
    const profile = meta.icc ? { profile: 'embedded' } : {};
    return {
      ...common,
      ...turned,
      ...profile,
      container: 'jpg',
      format,
      colours,
      quality,
      progressive,
      ...(sampling && { sampling }),
    };
  }
  return { ...common, ...turned, container: 'webp', format, lossless: isLossless(bytes) };
}

/** Whether a WebP file holds its picture without loss: its picture is a VP8L chunk (WebP container specification, "Simple file format"). */
function isLossless(bytes: Uint8Array): boolean {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  for (let at = 12; at + 8 <= bytes.length;) {
    const type = String.fromCharCode(...bytes.subarray(at, at + 4));
    if (type === 'VP8L') return true;
    if (type === 'VP8 ') return false;
    at += 8 + view.getUint32(at + 4, true) + (view.getUint32(at + 4, true) & 1);
  }
  return false;
}

/** Side of the piece in which the filters are compared. */
const PIECE = 256;

/** Which of the two filters made a file's second level, where one is clearly nearer. */
export function mipFilterOf(
  bytes: Uint8Array,
  top: Image8,
  kind: 'srgb' | 'linear' | 'normal',
): 'box' | 'kaiser' | null {
  const { mips, width, height, premultiplied } = readDdsFacts(bytes);
  if (mips < 2 || width % 2 !== 0 || height % 2 !== 0 || premultiplied) return null;
  const [w, h] = [Math.min(PIECE, width), Math.min(PIECE, height)];
  const [left, up] = [((width - w) >> 2) << 1, ((height - h) >> 2) << 1];
  const piece = cropImage(top, left, up, w, h);
  const below = cropImage(readDdsLevel(bytes, 1), left / 2, up / 2, w / 2, h / 2);
  const margin = w === width ? 0 : 8;
  const apart = (filter: 'box' | 'kaiser') => {
    const [, made] = mipChain(piece, { kind, filter, count: 2 });
    let sum = 0;
    const { width: mw, height: mh } = mipSize(w, h, 1);
    for (let y = margin; y < mh - margin; y++)
      for (let x = margin; x < mw - margin; x++)
        for (let c = 0; c < 3; c++) sum += (made.data[(y * mw + x) * 4 + c] - below.data[(y * mw + x) * 4 + c]) ** 2;
    return sum;
  };
  const [box, kaiser] = [apart('box'), apart('kaiser')];
  return box < kaiser * 0.9 ? 'box' : kaiser < box * 0.9 ? 'kaiser' : null;
}

/** Pictures through the library that reads and writes them. */
import sharp from 'sharp';
import { InputError } from '@wet-lacquer/core/errors.ts';
import type { Image8 } from '@wet-lacquer/core/raster/image.ts';
import { pictureFacts, pictureTexels } from '../textures/picture.ts';

// Every picture is read once: what the reader would keep for a second time only takes memory.
sharp.cache(false);

/** A PNG, marked as sRGB with the profile of that name unless it holds something else. */
export async function png(image: Image8, colourSpace: 'srgb' | 'linear' = 'srgb'): Promise<Uint8Array> {
  const { width, height, data } = image;
  const picture = sharp(data, { raw: { width, height, channels: 4 } }).png({ compressionLevel: 6 });
  return new Uint8Array(await (colourSpace === 'srgb' ? picture.withIccProfile('srgb') : picture).toBuffer());
}

/** The same as a task, for a file of a delivery. */
export const filePng = ({ image, space }: { image: Image8; space: 'srgb' | 'linear' }): Promise<Uint8Array> =>
  png(image, space);

/** A JPEG (ITU-T T.81); alpha is dropped. @param quality of 100 @param sampling of colour; full unless it says otherwise */
export async function fileJpeg({
  image,
  space,
  quality = 92,
  sampling = '4:4:4',
}: {
  image: Image8;
  space: 'srgb' | 'linear';
  quality?: number;
  sampling?: '4:4:4' | '4:2:2' | '4:2:0';
}): Promise<Uint8Array> {
  const { width, height, data } = image;
  const picture = sharp(data, { raw: { width, height, channels: 4 } })
    .removeAlpha()
    .jpeg({ quality, chromaSubsampling: sampling });
  return new Uint8Array(await (space === 'srgb' ? picture.withIccProfile('srgb') : picture).toBuffer());
}

/** PNG, JPEG or WebP to straight RGBA8 in sRGB, turned upright. @throws InputError in one sentence */
export async function decodePicture(bytes: Uint8Array, maxSide: number): Promise<Image8> {
  const meta = bytes.length > 0 ? await pictureFacts(sharp(bytes)) : null;
  if (!meta) {
    throw new InputError('This file is not a picture that can be read; PNG, JPEG, WebP and SVG are.');
  }
  if (meta.width > maxSide || meta.height > maxSide) {
    throw new InputError(`This picture is ${meta.width} x ${meta.height}; up to ${maxSide} a side can be placed.`);
  }
  return pictureTexels(sharp(bytes, { failOn: 'truncated' }).autoOrient());
}

/** A small PNG, its longer side at most `side`. */
export async function thumb(image: Image8, side = 256): Promise<Uint8Array> {
  const { width, height, data } = image;
  if (Math.max(width, height) <= side) return png(image);
  const small = sharp(data, { raw: { width, height, channels: 4 } }).resize(side, side, { fit: 'inside' });
  return new Uint8Array(await small.png().toBuffer());
}

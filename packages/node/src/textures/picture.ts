/** PNG, JPEG and WebP, by the library that reads them. */
import type { Metadata, Sharp } from 'sharp';
import { InputError } from '@wet-lacquer/core/errors.ts';
import type { Image8 } from '@wet-lacquer/core/raster/image.ts';
import { MAX_SIDE } from '@wet-lacquer/core/texture/dds.ts';
import { readJpegFacts } from '@wet-lacquer/core/texture/jpeg.ts';
import { fullMipCount } from '@wet-lacquer/core/texture/mips.ts';
import { readPngFacts } from '@wet-lacquer/core/texture/png.ts';
import type { TextureReader } from './kind.ts';

/** The library takes a third of a second to load: DDS and TGA files need none of it. */
const library = async () => (await import('sharp')).default;

/** What the library says of a PNG, JPEG or WebP; null: it is none. */
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

export const picture: TextureReader = {
  async texels(bytes) {
    const sharp = await library();
    const meta = await pictureFacts(sharp(bytes));
    if (!meta) throw new InputError('This file is not a picture that can be read; PNG, JPEG and WebP are.');
    if (meta.width > MAX_SIDE || meta.height > MAX_SIDE)
      throw new InputError(`This picture is ${meta.width} x ${meta.height}; up to ${MAX_SIDE} a side can be read.`);
    // Four inks mean nothing without their profile.
    const ignoreIcc = meta.space !== 'cmyk';
    return pictureTexels(sharp(bytes, { failOn: 'truncated', ignoreIcc }));
  },
  async stored(bytes, measured) {
    const meta = await (await library())(bytes).metadata();
    const format = meta.hasAlpha ? 'rgba8' : 'bgr8';
    const turned = meta.orientation && meta.orientation > 1 ? { turned: meta.orientation } : {};
    if (meta.format === 'png') {
      const { colours, depth, interlaced, profile, gamma } = readPngFacts(bytes);
      return {
        ...measured,
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
        ...measured,
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
    return { ...measured, ...turned, container: 'webp', format, lossless: isLossless(bytes) };
  },
  async said(bytes, { width, height }, stored) {
    const meta = await (await library())(bytes).metadata();
    const container = meta.format as 'png' | 'jpeg' | 'webp';
    const turned = stored.turned ? ', marked to be turned, as games do not' : '';
    const how = {
      jpeg: `quality ${stored.quality}, colour ${stored.sampling ?? 'sampled in a way of its own'}${stored.progressive ? ', progressive' : ''}`,
      png: `${stored.colours}, ${stored.depth} bits${stored.interlaced ? ', interlaced' : ''}`,
      webp: stored.lossless ? 'without loss' : 'with loss',
    }[container];
    return {
      container,
      format: stored.format,
      compression: how + turned,
      header: null,
      colourSpace: stored.profile
        ? `with a profile (${stored.profile}), which games do not apply`
        : (meta.space ?? 'unknown'),
      mips: 1,
      mipsExpected: fullMipCount(width, height),
    };
  },
};

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

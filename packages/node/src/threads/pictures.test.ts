/** PNG, JPEG and WebP written by ImageMagick and Pillow, read by us and by them. */
import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { afterAll, describe, expect, test } from 'vitest';
import { unpackPixels } from '@wet-lacquer/core/files/pixels.ts';
import { compareImages } from '@wet-lacquer/core/texture/compare.ts';
import type { Image8 } from '@wet-lacquer/core/raster/image.ts';
import { picture } from '@wet-lacquer/core/testing/images.ts';
import {
  readWithImageMagick,
  readWithPillow,
  uprightByPillow,
  writtenByImageMagick,
  writtenByPillow,
} from '@wet-lacquer/core/testing/independent.ts';
import { decodePicture } from './pictures.ts';
import { importDecal, importPicture } from './tasks.ts';
import { texture } from '../textures/index.ts';

const [W, H] = [37, 22];
const soft = picture(W, H, (x, y) => [(x * 7) % 256, (y * 11) % 256, (x * y) % 256, 40 + ((x * 5 + y * 3) % 216)]);
const opaque: Image8 = { ...soft, data: soft.data.map((value, i) => (i % 4 === 3 ? 255 : value)) };
const decode = (bytes: Uint8Array) => decodePicture(bytes, 16384);
const apart = async (bytes: Uint8Array, theirs: Image8) => {
  const ours = await decode(bytes);
  expect([ours.width, ours.height]).toEqual([theirs.width, theirs.height]);
  return compareImages(ours, theirs);
};

describe('PNG (ISO/IEC 15948, table 11.1: every colour type at every depth)', () => {
  const types: [name: string, code: number, depths: number[]][] = [
    ['grey', 0, [1, 2, 4, 8, 16]],
    ['colour', 2, [8, 16]],
    ['palette', 3, [2, 4, 8]],
    ['grey with alpha', 4, [8, 16]],
    ['colour with alpha', 6, [8, 16]],
  ];
  const cases = types.flatMap(([name, code, depths]) =>
    depths.flatMap((depth) => [false, true].map((interlaced) => ({ name, code, depth, interlaced }))),
  );
  test.each(cases)('$name, $depth bits, interlaced: $interlaced', async ({ code, depth, interlaced }) => {
    const operators = [
      ...(code === 3 ? ['-alpha', 'off', '+dither', '-colors', String(Math.min(200, 2 ** depth - 1))] : []),
      ...(code === 0 || code === 4 ? ['-colorspace', 'Gray'] : []),
      ...(code === 0 || code === 2 ? ['-alpha', 'off'] : []),
      ...(interlaced ? ['-interlace', 'PNG'] : []),
      '-define',
      `png:color-type=${code}`,
      '-define',
      `png:bit-depth=${depth}`,
      '-define',
      'png:exclude-chunks=gAMA,cHRM',
    ];
    const bytes = writtenByImageMagick(soft, operators, 'png');
    // The header says what was asked for: bit depth, colour type, interlace method (11.2.2).
    expect([bytes[24], bytes[25], bytes[28]]).toEqual([depth, code, interlaced ? 1 : 0]);
    // 16 bits are brought to 8 by rounding here and by cutting there.
    const theirs = readWithImageMagick(bytes, 'png', W, H);
    expect((await apart(bytes, theirs)).largest).toBeLessThanOrEqual(depth === 16 ? 1 : 0);
  });

  test('a palette of two colours, a bit a texel', async () => {
    const bytes = writtenByPillow(opaque, "im.convert('RGB').quantize(2).save('out', 'PNG', bits=1)");
    expect([bytes[24], bytes[25]]).toEqual([1, 3]);
    expect((await apart(bytes, readWithPillow(bytes, 'png'))).largest).toBe(0);
  });

  test('a clear colour of a palette (tRNS) is clear, and a profile is noted', async () => {
    const bytes = writtenByPillow(opaque, "im = im.convert('RGB').quantize(8); im.save('out', 'PNG', transparency=2)");
    expect((await apart(bytes, readWithPillow(bytes, 'png'))).largest).toBe(0);
    expect((await decode(bytes)).data.some((v, i) => i % 4 === 3 && v === 0)).toBe(true);
    const withProfile = writtenByPillow(
      opaque,
      "from PIL import ImageCms\nim.save('out', 'PNG', icc_profile=ImageCms.ImageCmsProfile(ImageCms.createProfile('sRGB')).tobytes())",
    );
    expect((await texture(withProfile, 'picture')).facts.colourSpace).toMatch(/with a profile/);
    expect((await apart(withProfile, opaque)).largest).toBeLessThanOrEqual(1);
  });

  test('colour under alpha 0 comes through', async () => {
    const clear: Image8 = { ...soft, data: soft.data.map((value, i) => (i % 4 === 3 ? 0 : value)) };
    const bytes = writtenByPillow(clear, "im.save('out', 'PNG')");
    expect((await decode(bytes)).data).toEqual(clear.data);
  });
});

describe('JPEG (ITU-T T.81)', () => {
  const save = (more: string, before = '') =>
    writtenByPillow(opaque, `im = im.convert('RGB')\n${before}\nim.save('out', 'JPEG', quality=92, ${more})`);

  test.each([
    ['baseline', 'subsampling=0'],
    ['progressive', 'subsampling=0, progressive=True'],
    ['colour at half size', 'subsampling=2'],
  ])('%s', async (name, more) => {
    const bytes = save(more);
    expect((await apart(bytes, readWithPillow(bytes, 'jpg'))).largest).toBeLessThanOrEqual(
      name.includes('half') ? 8 : 3,
    );
    const { facts } = await texture(bytes, 'picture');
    expect(facts).toMatchObject({ container: 'jpeg', alpha: 'none', mips: 1 });
    expect(facts.compression.includes('progressive')).toBe(name === 'progressive');
  });

  test.each([1, 2, 3, 4, 5, 6, 7, 8])('is turned upright as EXIF orientation %i says', async (orientation) => {
    const bytes = save('subsampling=0, exif=exif', `exif = Image.Exif(); exif[274] = ${orientation}`);
    const theirs = uprightByPillow(bytes);
    expect([theirs.width, theirs.height]).toEqual(orientation > 4 ? [H, W] : [W, H]);
    expect((await apart(bytes, theirs)).largest).toBeLessThanOrEqual(3);
  });

  test('grey, and CMYK brought to RGB as ImageMagick does it, roughly: neither file says which inks are meant', async () => {
    const grey = writtenByPillow(opaque, "im.convert('L').save('out', 'JPEG', quality=95)");
    expect((await apart(grey, readWithPillow(grey, 'jpg'))).largest).toBeLessThanOrEqual(1);
    const cmyk = writtenByPillow(opaque, "im.convert('RGB').convert('CMYK').save('out', 'JPEG', quality=95)");
    expect((await apart(cmyk, readWithPillow(cmyk, 'jpg'))).psnrRgb).toBeGreaterThan(12);
    expect((await texture(cmyk, 'picture')).facts).toMatchObject({ container: 'jpeg', alpha: 'none' });
  });
});

describe('WebP', () => {
  test('lossless is exact, alpha and all', async () => {
    const bytes = writtenByPillow(soft, "im.save('out', 'WEBP', lossless=True, exact=True)");
    expect((await apart(bytes, soft)).largest).toBe(0);
  });

  test('lossy is what Pillow reads', async () => {
    const bytes = writtenByPillow(opaque, "im.convert('RGB').save('out', 'WEBP', quality=90)");
    expect((await apart(bytes, readWithPillow(bytes, 'webp'))).largest).toBeLessThanOrEqual(3);
    expect((await texture(bytes, 'picture')).facts.container).toBe('webp');
  });
});

describe('decals and pinned pictures', () => {
  const folder = mkdtempSync(path.join(os.tmpdir(), 'wl-decals-'));
  afterAll(() => rmSync(folder, { recursive: true }));
  const by = (name: string, ...how: string[]) => {
    const file = path.join(folder, name);
    execFileSync('convert', ['-size', '96x64', 'gradient:red-blue', '-depth', '8', ...how, file]);
    return new Uint8Array(readFileSync(file));
  };

  test.each([
    ['a.tga', ['-type', 'TrueColor', '-orient', 'TopLeft', '-compress', 'none'], 0],
    ['b.tga', ['-type', 'TrueColor', '-orient', 'TopLeft', '-compress', 'RLE'], 0],
    ['c.dds', ['-type', 'TrueColor', '-define', 'dds:compression=none'], 0],
    ['d.dds', ['-type', 'TrueColor', '-define', 'dds:compression=dxt1'], 20],
    ['e.webp', ['-define', 'webp:lossless=true'], 0],
  ] as const)('%s by ImageMagick is taken as the PNG of it is', async (name, how, most) => {
    const plain = unpackPixels((await importDecal({ bytes: by(`${name}.png`) })).bytes);
    const made = await importDecal({ bytes: by(name, ...how) });
    expect([made.source, made.ratio]).toEqual(['pixels', 1.5]);
    const got = unpackPixels(made.bytes);
    expect(Math.max(...got.data.map((value, i) => Math.abs(value - plain.data[i])))).toBeLessThanOrEqual(most);
    expect(await importPicture({ bytes: by(name, ...how) })).toMatchObject({ width: 96, height: 64 });
  });

  test('what is none of them is refused in a sentence', async () => {
    for (const bytes of [new Uint8Array(0), new Uint8Array(40), new TextEncoder().encode('hello, hello, hello')])
      await expect(importDecal({ bytes })).rejects.toThrow(/not a picture|damaged|cut off/);
    const wide = by('w.tga', '-resize', '9000x2!', '-type', 'TrueColor', '-compress', 'none');
    await expect(importDecal({ bytes: wide })).rejects.toThrow(/9000 x 2/);
  });
});

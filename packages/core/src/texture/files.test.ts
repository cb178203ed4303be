import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { InputError } from '../errors.ts';
import { alphaKind, flipRows, newImage } from '../raster/image.ts';
import { readWithImageMagick, readWithPillow, throughImageMagick } from '../testing/independent.ts';
import { liveryLike, picture } from '../testing/images.ts';
import { compareImages } from './compare.ts';
import { headerCan, readDdsFacts, readDdsLevel, writeDds } from './dds.ts';
import { encodeImage } from './formats.ts';
import { fullMipCount, mipChain, mipSize } from './mips.ts';
import { padEdges } from './padding.ts';
import { readTga, readTgaFacts, writeTga } from './tga.ts';

const word = (bytes: Uint8Array, at: number) => new DataView(bytes.buffer, bytes.byteOffset).getUint32(at, true);

describe('DDS headers, field by field ("Programming Guide for DDS": DDS_HEADER, DDS_PIXELFORMAT, DDS_HEADER_DXT10)', () => {
  const image = liveryLike(64);
  const chain = mipChain(image, { kind: 'srgb', filter: 'box' });

  test('BC7 sRGB with DX10 header', () => {
    const levels = chain.map((level) => encodeImage(level, 'bc7', { effort: 'fast' }));
    const file = writeDds({ width: 64, height: 64, format: 'bc7', header: 'dx10', colourSpace: 'srgb' }, levels);
    expect(new TextDecoder().decode(file.subarray(0, 4))).toBe('DDS ');
    const fields = {
      dwSize: word(file, 4),
      dwFlags: word(file, 8),
      dwHeight: word(file, 12),
      dwWidth: word(file, 16),
      dwPitchOrLinearSize: word(file, 20),
      dwMipMapCount: word(file, 28),
      'ddspf.dwSize': word(file, 76),
      'ddspf.dwFlags': word(file, 80),
      dwCaps: word(file, 108),
      dxgiFormat: word(file, 128),
      resourceDimension: word(file, 132),
      arraySize: word(file, 140),
    };
    expect(fields).toEqual({
      dwSize: 124,
      // DDSD_CAPS | DDSD_HEIGHT | DDSD_WIDTH | DDSD_PIXELFORMAT | DDSD_MIPMAPCOUNT | DDSD_LINEARSIZE
      dwFlags: 0x1 | 0x2 | 0x4 | 0x1000 | 0x20000 | 0x80000,
      dwHeight: 64,
      dwWidth: 64,
      dwPitchOrLinearSize: 16 * 16 * 16,
      dwMipMapCount: 7,
      'ddspf.dwSize': 32,
      'ddspf.dwFlags': 0x4, // DDPF_FOURCC
      dwCaps: 0x8 | 0x1000 | 0x400000, // COMPLEX | TEXTURE | MIPMAP
      dxgiFormat: 99, // DXGI_FORMAT_BC7_UNORM_SRGB
      resourceDimension: 3, // D3D10_RESOURCE_DIMENSION_TEXTURE2D
      arraySize: 1,
    });
    expect(new TextDecoder().decode(file.subarray(84, 88))).toBe('DX10');
    expect(file.length).toBe(148 + levels.reduce((n, level) => n + level.length, 0));
  });

  test('BC1 and BC3 with the legacy header carry DXT1 and DXT5', () => {
    for (const [format, code] of [
      ['bc1', 'DXT1'],
      ['bc3', 'DXT5'],
    ] as const) {
      const file = writeDds({ width: 64, height: 64, format, header: 'legacy', colourSpace: 'srgb' }, [
        encodeImage(image, format, { effort: 'fast' }),
      ]);
      expect(new TextDecoder().decode(file.subarray(84, 88))).toBe(code);
      expect(word(file, 8) & 0x20000).toBe(0);
      expect(readDdsFacts(file)).toMatchObject({
        format,
        header: 'legacy',
        colourSpace: 'unknown',
        mips: 1,
        mipsExpected: 7,
      });
    }
  });

  test('uncompressed by masks, as Pillow and ImageMagick read it too', () => {
    const soft = liveryLike(32, 5, true);
    for (const format of ['bgra8', 'rgba8'] as const) {
      const file = writeDds({ width: 32, height: 32, format, header: 'legacy', colourSpace: 'srgb' }, [
        encodeImage(soft, format, { effort: 'fast' }),
      ]);
      expect(word(file, 88)).toBe(32);
      expect(word(file, 104)).toBe(0xff000000);
      expect(compareImages(soft, readDdsLevel(file, 0)).largest).toBe(0);
      if (format === 'bgra8') expect(compareImages(soft, readWithImageMagick(file, 'dds', 32, 32)).largest).toBe(0);
    }
  });

  test('BC7 cannot stand behind a legacy header', () => {
    expect(headerCan('legacy', 'bc7')).toBe(false);
    expect(() =>
      writeDds({ width: 4, height: 4, format: 'bc7', header: 'legacy', colourSpace: 'srgb' }, [new Uint8Array(16)]),
    ).toThrow(/needs the DX10 header/);
  });

  test('every level comes back at its own size', () => {
    const levels = chain.map((level) => encodeImage(level, 'bc7', { effort: 'normal' }));
    const file = writeDds({ width: 64, height: 64, format: 'bc7', header: 'dx10', colourSpace: 'srgb' }, levels);
    chain.forEach((level, i) => {
      const back = readDdsLevel(file, i);
      expect([back.width, back.height]).toEqual([level.width, level.height]);
      expect(compareImages(level, back).psnrRgb).toBeGreaterThan(30);
    });
    expect(() => readDdsLevel(file, 7)).toThrow(/levels 0 to 6/);
  });
});

describe('damaged files', () => {
  const file = writeDds({ width: 16, height: 16, format: 'bc7', header: 'dx10', colourSpace: 'srgb' }, [
    encodeImage(liveryLike(16), 'bc7', { effort: 'fast' }),
  ]);

  test('a DDS that is cut off anywhere says so, in one sentence', () => {
    for (let length = 0; length < file.length; length += 7)
      expect(() => readDdsLevel(file.subarray(0, length), 0)).toThrow(InputError);
  });

  test('a huge declared size takes no memory', () => {
    const huge = file.slice();
    new DataView(huge.buffer).setUint32(12, 16384, true);
    new DataView(huge.buffer).setUint32(16, 16384, true);
    const before = process.memoryUsage().arrayBuffers;
    expect(() => readDdsLevel(huge, 0)).toThrow(/cut off/);
    expect(process.memoryUsage().arrayBuffers - before).toBeLessThan(32 * 1024 * 1024);
    new DataView(huge.buffer).setUint32(12, 4_000_000_000, true);
    expect(() => readDdsFacts(huge)).toThrow(/1 to 16384/);
  });

  test('any damaged byte is either read or refused, never a crash', () => {
    fc.assert(
      fc.property(fc.nat(file.length - 1), fc.nat(255), (at, value) => {
        const damaged = file.slice();
        damaged[at] = value;
        try {
          readDdsLevel(damaged, 0);
        } catch (error) {
          expect(error).toBeInstanceOf(InputError);
        }
      }),
      { numRuns: 400 },
    );
  });

  test('a TGA that is cut off says so', () => {
    const tga = writeTga(liveryLike(8), { alpha: true, rle: true });
    for (let length = 0; length < 60; length += 5) expect(() => readTga(tga.subarray(0, length))).toThrow(InputError);
  });
});

describe('TGA 2.0', () => {
  const soft = liveryLike(40, 9, true);

  test.each([
    [true, true],
    [true, false],
    [false, true],
    [false, false],
  ])('alpha %s, run lengths %s: read alike by us, Pillow and ImageMagick', (alpha, rle) => {
    const file = writeTga(soft, { alpha, rle });
    const wanted = alpha
      ? soft
      : picture(40, 40, (x, y) => [...soft.data.subarray((y * 40 + x) * 4, (y * 40 + x) * 4 + 3), 255]);
    expect(compareImages(wanted, readTga(file)).largest).toBe(0);
    expect(compareImages(wanted, readWithPillow(file, 'tga')).largest).toBe(0);
    expect(compareImages(wanted, readWithImageMagick(file, 'tga', 40, 40)).largest).toBe(0);
    expect(readTgaFacts(file)).toEqual({
      width: 40,
      height: 40,
      bits: alpha ? 32 : 24,
      rle,
      topDown: true,
      alphaBits: alpha ? 8 : 0,
    });
    // The footer of version 2.0 (published specification, "TGA file footer").
    expect(new TextDecoder().decode(file.subarray(-18))).toBe('TRUEVISION-XFILE.\0');
  });

  test('a file that Pillow wrote from the bottom up comes out upright', () => {
    const upright = liveryLike(12);
    const file = writeTga(flipRows(upright), { alpha: true, rle: false }).slice();
    file[17] &= ~0x20;
    expect(compareImages(upright, readTga(file)).largest).toBe(0);
  });
});

describe('mip levels', () => {
  test('counts and sizes: floor(log2(longer side)) + 1, halves rounded down (Direct3D 11 functional specification, 5.7)', () => {
    expect([1, 2, 3, 512, 1000, 1024, 2048].map((side) => fullMipCount(side, 1))).toEqual([1, 2, 2, 10, 10, 11, 12]);
    expect(mipSize(1000, 3, 3)).toEqual({ width: 125, height: 1 });
  });

  test('black and white texels in turn average to sRGB 188 in linear light, and to 128 as plain values', () => {
    const checker = picture(8, 8, (x, y) => ((x + y) % 2 ? [255, 255, 255, 255] : [0, 0, 0, 255]));
    expect([...mipChain(checker, { kind: 'srgb', filter: 'box' })[1].data.subarray(0, 4)]).toEqual([
      188, 188, 188, 255,
    ]);
    expect([...mipChain(checker, { kind: 'linear', filter: 'box' })[1].data.subarray(0, 4)]).toEqual([
      128, 128, 128, 255,
    ]);
  });

  test('box levels are ImageMagick’s, resampled in linear light: mean difference under half a step', () => {
    const image = liveryLike(128, 21);
    const chain = mipChain(image, { kind: 'srgb', filter: 'box' });
    for (const level of [1, 2, 3]) {
      const side = 128 >> level;
      const theirs = throughImageMagick(
        image,
        ['-colorspace', 'RGB', '-filter', 'box', '-resize', `${side}x${side}!`, '-colorspace', 'sRGB'],
        side,
        side,
      );
      let sum = 0;
      for (let i = 0; i < theirs.data.length; i++) sum += Math.abs(theirs.data[i] - chain[level].data[i]);
      expect(sum / theirs.data.length).toBeLessThan(0.5);
    }
  });

  test('clear texels lend no colour to their neighbours', () => {
    const half = picture(4, 4, (x) => (x < 2 ? [200, 40, 40, 255] : [0, 255, 0, 0]));
    const small = mipChain(half, { kind: 'srgb', filter: 'box' }).at(-1)!;
    expect([...small.data]).toEqual([200, 40, 40, 128]);
  });

  test('a flat picture stays flat through both filters', () => {
    const flat = picture(32, 16, () => [77, 130, 201, 255]);
    for (const filter of ['box', 'kaiser'] as const)
      for (const level of mipChain(flat, { kind: 'srgb', filter }))
        for (let i = 0; i < level.data.length; i += 4)
          expect([...level.data.subarray(i, i + 4)]).toEqual([77, 130, 201, 255]);
  });
});

test('edge padding carries the island outwards, to its distance and no further', () => {
  const image = picture(16, 16, (x, y) =>
    x >= 6 && x < 10 && y >= 6 && y < 10 ? [x * 10, y * 10, 9, 255] : [0, 0, 0, 0],
  );
  const inside = new Uint8Array(256);
  const nearest = new Int32Array(256);
  const clamp = (v: number) => Math.max(6, Math.min(9, v));
  for (let i = 0; i < 256; i++) {
    const [x, y] = [i % 16, i >> 4];
    inside[i] = x === clamp(x) && y === clamp(y) ? 1 : 0;
    nearest[i] = clamp(y) * 16 + clamp(x);
  }
  padEdges(image, { width: 16, inside, nearest }, 3);
  const at = (x: number, y: number) => [...image.data.subarray((y * 16 + x) * 4, (y * 16 + x) * 4 + 4)];
  expect(at(3, 7)).toEqual([60, 70, 9, 255]);
  expect(at(2, 7)).toEqual([0, 0, 0, 0]);
  expect(at(7, 7)).toEqual([70, 70, 9, 255]);
});

test('what alpha carries is told apart', () => {
  expect(alphaKind(picture(2, 2, () => [1, 2, 3, 255]))).toBe('none');
  expect(alphaKind(picture(2, 2, (x) => [1, 2, 3, x * 255]))).toBe('cutout');
  expect(alphaKind(picture(2, 2, () => [1, 2, 3, 128]))).toBe('soft');
});

test('PSNR is that of a known error: every value off by 16 is 24.05 dB', () => {
  const [a, b] = [newImage(8, 8), newImage(8, 8)];
  b.data.fill(16);
  // 10 log10(255^2 / 16^2)
  expect(compareImages(a, b).psnrRgb).toBeCloseTo(24.0484, 3);
});

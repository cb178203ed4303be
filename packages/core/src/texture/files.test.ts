import { describe, expect, test } from 'vitest';
import fc from '../testing/property.ts';
import { InputError } from '../errors.ts';
import { alphaKind, flipRows, newImage } from '../raster/image.ts';
import { readWithFfmpeg, readWithImageMagick, readWithPillow, throughImageMagick } from '../testing/independent.ts';
import { liveryLike, picture } from '../testing/images.ts';
import { compareImages } from './compare.ts';
import { headerCan, readDdsFacts, readDdsLevel, srgbCan, writeDds } from './dds.ts';
import { decodeImage, encodeImage } from './encode.ts';
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

  test.each([
    ['bc2', 'legacy', 'DXT3', null],
    ['bc4', 'legacy', 'ATI1', null],
    ['bc5', 'legacy', 'ATI2', null],
    ['bc1', 'dx10', 'DX10', 72], // DXGI_FORMAT_BC1_UNORM_SRGB
    ['bc2', 'dx10', 'DX10', 75], // DXGI_FORMAT_BC2_UNORM_SRGB
    ['bc3', 'dx10', 'DX10', 78], // DXGI_FORMAT_BC3_UNORM_SRGB
    ['bc4', 'dx10', 'DX10', 80], // DXGI_FORMAT_BC4_UNORM
    ['bc5', 'dx10', 'DX10', 83], // DXGI_FORMAT_BC5_UNORM
    ['rgba8', 'dx10', 'DX10', 29], // DXGI_FORMAT_R8G8B8A8_UNORM_SRGB
    ['bgra8', 'dx10', 'DX10', 91], // DXGI_FORMAT_B8G8R8A8_UNORM_SRGB
    ['rgb565', 'dx10', 'DX10', 85], // DXGI_FORMAT_B5G6R5_UNORM
  ] as const)('%s behind a %s header is %s %s, and is read back as that', (format, header, code, number) => {
    const colourSpace = srgbCan(format) ? 'srgb' : 'linear';
    const bytes = encodeImage(image, format, { effort: 'fast' });
    const file = writeDds({ width: 64, height: 64, format, header, colourSpace }, [bytes]);
    expect(new TextDecoder().decode(file.subarray(84, 88))).toBe(code);
    if (number) expect(word(file, 128)).toBe(number);
    const facts = { format, header, colourSpace: header === 'dx10' ? colourSpace : 'unknown' };
    expect(readDdsFacts(file)).toMatchObject(facts);
    expect(compareImages(readDdsLevel(file, 0), decodeImage(bytes, format, 64, 64)).largest).toBe(0);
  });

  test.each([
    ['bc1', 71, 70], // DXGI_FORMAT_BC1_TYPELESS
    ['bc3', 77, 76], // DXGI_FORMAT_BC3_TYPELESS
    ['bc7', 98, 97], // DXGI_FORMAT_BC7_TYPELESS
    ['rgba8', 28, 27], // DXGI_FORMAT_R8G8B8A8_TYPELESS
    ['bgra8', 87, 90], // DXGI_FORMAT_B8G8R8A8_TYPELESS
  ] as const)('%s as a typeless format is read as its plain kind, and said', (format, plain, typeless) => {
    const bytes = encodeImage(image, format, { effort: 'fast' });
    const file = writeDds({ width: 64, height: 64, format, header: 'dx10', colourSpace: 'linear' }, [bytes]);
    expect(word(file, 128)).toBe(plain);
    new DataView(file.buffer).setUint32(128, typeless, true);
    expect(readDdsFacts(file)).toMatchObject({ format, colourSpace: 'unknown' });
    expect(readDdsFacts(file).compression).toMatch(/typeless/);
    expect(compareImages(readDdsLevel(file, 0), decodeImage(bytes, format, 64, 64)).largest).toBe(0);
  });

  test('1-bit alpha is BC1 with DDPF_ALPHAPIXELS; clear texels come back clear, the others opaque', () => {
    const cut = picture(32, 32, (x, y) => [x * 8, y * 8, 90, (x + y) % 7 < 3 ? 0 : 255]);
    const bytes = encodeImage(cut, 'bc1a', { effort: 'normal' });
    const file = writeDds({ width: 32, height: 32, format: 'bc1a', header: 'legacy', colourSpace: 'srgb' }, [bytes]);
    expect(word(file, 80)).toBe(0x4 | 0x1);
    expect(readDdsFacts(file).format).toBe('bc1a');
    for (const back of [readDdsLevel(file, 0), readWithPillow(file, 'dds')])
      expect(compareImages(cut, back).psnrAlpha).toBe(Infinity);
  });

  test('24 and 16 bits by masks are read alike by us, ImageMagick and ffmpeg; 5-6-5 is within half a step, dithered or not', () => {
    const soft = liveryLike(32);
    for (const format of ['bgr8', 'rgb565'] as const) {
      for (const dither of format === 'rgb565' ? [false, true] : [false]) {
        const bytes = encodeImage(soft, format, { effort: 'fast', dither });
        const file = writeDds({ width: 32, height: 32, format, header: 'legacy', colourSpace: 'srgb' }, [bytes]);
        const ours = readDdsLevel(file, 0);
        expect(compareImages(ours, readWithImageMagick(file, 'dds', 32, 32)).largest).toBeLessThanOrEqual(1);
        expect(compareImages(ours, readWithFfmpeg(file, 'dds', 32, 32)).largest).toBeLessThanOrEqual(1);
        expect(compareImages(ours, soft).largest).toBeLessThanOrEqual(format === 'bgr8' ? 0 : dither ? 9 : 5);
      }
    }
    // The mean of a flat area that 5-6-5 cannot hold is kept by dither, to under a sixth of a step.
    const flat = picture(32, 32, () => [101, 101, 101, 255]);
    const back = decodeImage(encodeImage(flat, 'rgb565', { effort: 'fast', dither: true }), 'rgb565', 32, 32);
    const mean = back.data.reduce((n, v, i) => (i % 4 === 0 ? n + v : n), 0) / 1024;
    expect(Math.abs(mean - 101)).toBeLessThan(1.3);
  });

  test('other masks, grey and alpha alone are read as the header says', () => {
    const make = (bits: number, flags: number, masks: number[], texel: number) => {
      const file = new Uint8Array(128 + (16 * bits) / 8);
      const view = new DataView(file.buffer);
      const put = (at: number, value: number) => view.setUint32(at, value, true);
      [
        [0, 0x20534444],
        [4, 124],
        [8, 0x1007],
        [12, 4],
        [16, 4],
        [76, 32],
        [80, flags],
        [88, bits],
      ].forEach(([at, value]) => put(at, value));
      masks.forEach((mask, i) => put(92 + i * 4, mask));
      for (let i = 0; i < 16; i++)
        for (let b = 0; b < bits / 8; b++) file[128 + (i * bits) / 8 + b] = texel >>> (b * 8);
      return file;
    };
    const first = (file: Uint8Array) => [...readDdsLevel(file, 0).data.subarray(0, 4)];
    // DDPF_RGB | DDPF_ALPHAPIXELS, 1-5-5-5: all red, half clear.
    expect(first(make(16, 0x41, [0x7c00, 0x3e0, 0x1f, 0x8000], 0x7c00))).toEqual([255, 0, 0, 0]);
    expect(first(make(16, 0x41, [0xf00, 0xf0, 0xf, 0xf000], 0x8f0f))).toEqual([255, 0, 255, 136]);
    // DDPF_RGB without alpha is opaque; DDPF_LUMINANCE is grey; DDPF_ALPHA is alpha alone.
    expect(first(make(32, 0x40, [0xff0000, 0xff00, 0xff, 0xff000000], 0x00123456))).toEqual([0x12, 0x34, 0x56, 255]);
    expect(first(make(8, 0x20000, [0xff, 0, 0, 0], 77))).toEqual([77, 77, 77, 255]);
    expect(first(make(8, 0x2, [0, 0, 0, 0xff], 77))).toEqual([0, 0, 0, 77]);
    expect(readDdsFacts(make(8, 0x20000, [0xff, 0, 0, 0], 77)).compression).toBe('uncompressed grey, 8 bits');
  });

  test('sides that are no multiples of four: sizes of all levels add up, and others read them', () => {
    const odd = picture(50, 23, (x, y) => [x * 5, y * 11, 60, 255]);
    const levels = mipChain(odd, { kind: 'srgb', filter: 'box' });
    for (const format of ['bc1', 'bc3', 'bc7'] as const) {
      const header = format === 'bc7' ? 'dx10' : 'legacy';
      const encoded = levels.map((level) => encodeImage(level, format, { effort: 'normal' }));
      const file = writeDds({ width: 50, height: 23, format, header, colourSpace: 'linear' }, encoded);
      // dwPitchOrLinearSize: bytes of the top level, blocks rounded up.
      expect(word(file, 20)).toBe(13 * 6 * (format === 'bc1' ? 8 : 16));
      const size = levels.reduce(
        (n, { width, height }) => n + Math.ceil(width / 4) * Math.ceil(height / 4) * (format === 'bc1' ? 8 : 16),
        0,
      );
      expect(file.length).toBe((header === 'dx10' ? 148 : 128) + size);
      const top = readDdsLevel(file, 0);
      expect(compareImages(odd, top).psnrRgb).toBeGreaterThan(36);
      expect(compareImages(top, readWithPillow(file, 'dds')).largest).toBe(0);
      expect([readDdsLevel(file, 5).width, readDdsLevel(file, 5).height]).toEqual([1, 1]);
    }
  });

  test('what cannot be read is named kindly: cubes, volumes, arrays, other compressions', () => {
    const good = writeDds({ width: 16, height: 16, format: 'bc7', header: 'dx10', colourSpace: 'srgb' }, [
      new Uint8Array(256),
    ]);
    const with_ = (at: number, value: number) => {
      const file = good.slice();
      new DataView(file.buffer).setUint32(at, value, true);
      return () => readDdsFacts(file);
    };
    expect(with_(112, 0xfe00)).toThrow(/cube map of six faces/);
    expect(with_(112, 0x200000)).toThrow(/a volume/);
    expect(with_(140, 6)).toThrow(/array of 6 textures/);
    expect(with_(128, 95)).toThrow(/DXGI format 95/);
    expect(with_(84, 0x30315844 + 1)).toThrow(/The compression "/);
    expect(() => encodeImage(image, 'bc4s', { effort: 'fast' })).toThrow(/can be read, not written/);
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
      colours: 'true-colour',
      bits: alpha ? 32 : 24,
      rle,
      topDown: true,
      rightToLeft: false,
      alphaBits: alpha ? 8 : 0,
    });
    // The footer of version 2.0 (published specification, "TGA file footer").
    expect(new TextDecoder().decode(file.subarray(-18))).toBe('TRUEVISION-XFILE.\0');
  });

  /** A TGA by hand, as the specification lays its fields out. */
  const byHand = (
    type: number,
    bits: number,
    descriptor: number,
    body: number[],
    map?: { first: number; bits: number; bytes: number[] },
  ) => {
    const entries = map ? map.bytes.length / Math.ceil(map.bits / 8) : 0;
    const head = [
      0,
      map ? 1 : 0,
      type,
      map?.first ?? 0,
      0,
      entries,
      0,
      map?.bits ?? 0,
      0,
      0,
      0,
      0,
      4,
      0,
      4,
      0,
      bits,
      descriptor,
    ];
    return Uint8Array.from([...head, ...(map?.bytes ?? []), ...body]);
  };
  const indices = Array.from({ length: 16 }, (_, i) => i % 3);

  test.each([
    [
      'grey',
      byHand(
        3,
        8,
        0x20,
        Array.from({ length: 16 }, (_, i) => i * 16),
      ),
      'grey',
    ],
    ['grey in run lengths', byHand(11, 8, 0, [0x83, 40, 0x83, 200, 0x83, 7, 0x83, 90]), 'grey'],
    [
      '16 bits',
      byHand(
        2,
        16,
        0x20,
        Array.from({ length: 32 }, (_, i) => (i % 2 ? (i * 3) & 0x7f : (i * 29) & 255)),
      ),
      'true-colour',
    ],
    [
      'colour-mapped, 24 bits',
      byHand(1, 8, 0x20, indices, { first: 0, bits: 24, bytes: [0, 0, 255, 0, 255, 0, 255, 0, 0] }),
      'colour-mapped',
    ],
    [
      'colour-mapped from the bottom',
      byHand(1, 8, 0, indices, { first: 0, bits: 24, bytes: [9, 8, 7, 60, 70, 80, 200, 100, 50] }),
      'colour-mapped',
    ],
    [
      'colour-mapped in run lengths',
      byHand(9, 8, 0x20, [0x83, 1, 0x83, 2, 0x83, 0, 0x83, 1], {
        first: 0,
        bits: 24,
        bytes: [1, 2, 3, 4, 5, 6, 7, 8, 9],
      }),
      'colour-mapped',
    ],
  ] as const)('%s is read as Pillow and ImageMagick read it', (_name, file, colours) => {
    expect(readTgaFacts(file).colours).toBe(colours);
    const ours = readTga(file);
    // 5 bits are widened by repeating them here, by others by their share of 31: one apart.
    expect(compareImages(ours, readWithPillow(file, 'tga')).largest).toBeLessThanOrEqual(1);
    // ImageMagick notes that a file begins at the bottom and leaves it so.
    const theirs = readWithImageMagick(file, 'tga', 4, 4);
    const upright = file[17] & 0x20 ? theirs : flipRows(theirs);
    expect(compareImages(ours, upright).largest).toBeLessThanOrEqual(1);
  });

  test('from the right a row comes out mirrored; a map may begin at another index', () => {
    const row = Array.from({ length: 16 }, (_, i) => (i % 4) * 60);
    expect([...readTga(byHand(3, 8, 0x30, row)).data.subarray(0, 4)]).toEqual([180, 180, 180, 255]);
    const map = { first: 5, bits: 32, bytes: [1, 2, 3, 4, 10, 20, 30, 40] };
    const file = byHand(
      1,
      8,
      0x20,
      Array.from({ length: 16 }, (_, i) => 5 + (i % 2)),
      map,
    );
    expect([...readTga(file).data.subarray(0, 8)]).toEqual([3, 2, 1, 4, 30, 20, 10, 40]);
    expect(() => readTga(byHand(1, 8, 0x20, indices, map))).toThrow(/does not have/);
  });

  test('a small file that declares a huge picture in run lengths takes no memory', () => {
    const file = byHand(10, 32, 0x20, [0xff, 1, 2, 3, 4]);
    file.set([0, 0x40, 0, 0x40], 12);
    const before = process.memoryUsage().arrayBuffers;
    expect(() => readTga(file)).toThrow(/cut off/);
    expect(process.memoryUsage().arrayBuffers - before).toBeLessThan(1 << 20);
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
  const clamp = (v: number) => Math.max(6, Math.min(9, v));
  for (let i = 0; i < 256; i++) {
    const [x, y] = [i % 16, i >> 4];
    inside[i] = x === clamp(x) && y === clamp(y) ? 1 : 0;
  }
  padEdges(image, { width: 16, height: 16, insideIn: ({ top, bottom }) => inside.slice(top * 16, bottom * 16) }, 3);
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

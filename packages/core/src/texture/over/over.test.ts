/** Paint put into files that independent tools wrote: everything that nobody painted keeps its bytes or its samples. */
import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { describe, expect, it } from 'vitest';
import fc from '../../testing/property.ts';
import { newImage, type Image8 } from '../../raster/image.ts';
import {
  readWithImageMagick,
  readWithPillow,
  writtenByCjpeg,
  writtenByImageMagick,
  writtenByPillow,
} from '../../testing/independent.ts';
import { colourSheet } from '../../testing/textures.ts';
import { readDdsFacts, readDdsLevel, writeDds } from '../dds.ts';
import { encodeImage } from '../encode.ts';
import { type FormatKey } from '../formats/index.ts';
import { canPutOverJpeg, putOverJpeg, readJpegFacts } from '../jpeg.ts';
import { mipChain, mipSize } from '../mips.ts';
import { putOverPng, readPngFacts } from '../png.ts';
import { putOverTga, readTga, readTgaFacts } from '../tga.ts';
import { changedAt, changedBoxes, nothingChanged } from './changed.ts';
import { placeBlocks, putOverDds } from './overDds.ts';

/** A picture with soft alpha, colour under alpha 0, and no two rows alike. */
function picture(width: number, height: number, alpha: 'soft' | 'cut' | 'none' = 'soft'): Image8 {
  const image = colourSheet(7, width, height);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const i = (y * width + x) * 4;
      const a = Math.max(0, Math.min(255, Math.round(260 - Math.hypot(x - width / 2, y - height / 2) * 6)));
      if (alpha !== 'none') image.data[i + 3] = alpha === 'soft' ? a : a > 100 ? 255 : 0;
      image.data[i] ^= y & 7;
    }
  return image;
}

/** One dab of a colour in a box of a decoded picture. */
function dabbed(image: Image8, [left, top, wide, high]: number[], colour: number[]) {
  const painted: Image8 = { ...image, data: image.data.slice() };
  const changed = new Uint8Array(image.width * image.height);
  for (let y = top; y < top + high; y++)
    for (let x = left; x < left + wide; x++) {
      changed[y * image.width + x] = 1;
      painted.data.set(colour, (y * image.width + x) * 4);
    }
  return { painted, changed };
}

/** Texels that differ between two pictures, each as [x, y]. */
function differing(a: Image8, b: Image8): [number, number][] {
  const out: [number, number][] = [];
  for (let i = 0; i < a.data.length; i += 4)
    if ([0, 1, 2, 3].some((c) => a.data[i + c] !== b.data[i + c]))
      out.push([(i / 4) % a.width, Math.floor(i / 4 / a.width)]);
  return out;
}

const DAB = [20, 12, 9, 7];
const inDab = ([x, y]: [number, number]) => x >= 20 && x < 29 && y >= 12 && y < 19;

describe('TGA', () => {
  const files: [string, Uint8Array][] = [];
  for (const rle of [false, true])
    for (const mode of ['RGBA', 'RGB', 'L', 'P'])
      for (const orientation of [1, -1])
        files.push([
          `Pillow ${mode}${rle ? ' run lengths' : ''} ${orientation}`,
          writtenByPillow(
            picture(61, 40),
            `im.convert('${mode}').save('out', 'TGA', compression=${rle ? "'tga_rle'" : 'None'}, orientation=${orientation}, id_section=b'from elsewhere')`,
          ),
        ]);
  files.push(['ImageMagick', writtenByImageMagick(picture(61, 40), [], 'tga')]);
  files.push(['ImageMagick run lengths', writtenByImageMagick(picture(61, 40), ['-compress', 'RLE'], 'tga')]);

  it.each(files)('%s: one dab changes its own texels alone', (_name, file) => {
    const was = readTga(file);
    const { painted, changed } = dabbed(was, DAB, [200, 30, 90, 255]);
    const { bytes } = putOverTga(file, painted, changed);
    const facts = readTgaFacts(file);
    expect(readTgaFacts(bytes)).toEqual(facts);
    // Seen by Pillow, which shares nothing with us.
    const [before, after] = [readWithPillow(file, 'tga'), readWithPillow(bytes, 'tga')];
    const apart = differing(before, after);
    expect(apart.length).toBeGreaterThan(40);
    expect(apart.every(inDab)).toBe(true);
    if (facts.colours === 'true-colour')
      expect([...after.data.subarray((15 * 61 + 24) * 4, (15 * 61 + 24) * 4 + 3)]).toEqual([200, 30, 90]);
    // Identification and all that lies behind the picture.
    expect(bytes.subarray(0, 18 + file[0])).toEqual(file.subarray(0, 18 + file[0]));
    if (!facts.rle) {
      expect(bytes.length).toBe(file.length);
      const at = bytes.findIndex((byte, i) => byte !== file[i]);
      expect(at).toBeGreaterThan(18 + file[0]);
    }
    // Nothing painted: the very file.
    expect(putOverTga(file, painted, new Uint8Array(changed.length)).bytes).toEqual(file);
  });

  it('keeps attribute bits that are not alpha, 16 bits, and rows that begin at the right', () => {
    const make = (bits: number, descriptor: number, texels: number[]) =>
      Uint8Array.of(3, 0, 2, 0, 0, 0, 0, 0, 0, 0, 0, 0, 2, 0, 2, 0, bits, descriptor, 9, 8, 7, ...texels, 1, 2, 3, 4);
    const plain = make(32, 0x20, [...Array(16).keys()]);
    const painted = { width: 2, height: 2, data: Uint8Array.from({ length: 16 }, () => 255) };
    const one = putOverTga(plain, painted, Uint8Array.of(0, 1, 0, 0)).bytes;
    expect([...one.subarray(21)]).toEqual([0, 1, 2, 3, 255, 255, 255, 7, 8, 9, 10, 11, 12, 13, 14, 15, 1, 2, 3, 4]);
    const short = make(16, 0x30, [1, 0x80, 2, 0x80, 3, 0, 4, 0]);
    const two = putOverTga(short, painted, Uint8Array.of(0, 1, 0, 0)).bytes;
    // The second from the left is stored first; its highest bit stays.
    expect([...two.subarray(21)]).toEqual([0xff, 0xff, 2, 0x80, 3, 0, 4, 0, 1, 2, 3, 4]);
  });

  it('moves the areas that the footer names', () => {
    const file = writtenByPillow(picture(61, 40), `im.save('out', 'TGA', compression='tga_rle')`);
    const body = file.subarray(0, file.length - 26);
    const table = body.length + 495;
    const withArea = new Uint8Array(table + 40 * 4 + 26);
    withArea.set(body);
    const view = new DataView(withArea.buffer);
    view.setUint16(body.length, 495, true);
    view.setUint32(body.length + 486, body.length + 3, true);
    view.setUint32(body.length + 490, table, true);
    withArea.set(file.subarray(file.length - 26), table + 40 * 4);
    view.setUint32(table + 40 * 4, body.length, true);
    const was = readTga(withArea);
    const noisy = dabbed(was, [0, 3, 61, 30], [0, 0, 0, 255]);
    const { bytes } = putOverTga(withArea, noisy.painted, noisy.changed);
    expect(bytes.length).toBeLessThan(withArea.length);
    const out = new DataView(bytes.buffer);
    const area = out.getUint32(bytes.length - 26, true);
    expect(out.getUint16(area, true)).toBe(495);
    expect(out.getUint32(area + 486, true)).toBe(area + 3);
    // Each line of the table is where that row's packets begin: 61 texels of 4 bytes from there lies the next (Truevision TGA 2.0, fields 8 and 25).
    const lines = Array.from({ length: 40 }, (_, i) => out.getUint32(out.getUint32(area + 490, true) + i * 4, true));
    expect(lines[0]).toBe(18);
    lines.forEach((line, i) => {
      let at = line;
      for (let texels = 0; texels < 61;) {
        const packet = bytes[at];
        texels += (packet & 127) + 1;
        at += 1 + (packet & 128 ? 4 : ((packet & 127) + 1) * 4);
      }
      expect(at).toBe(lines[i + 1] ?? area);
    });
  });
});

describe('PNG', () => {
  const modes = ['RGBA', 'RGB', 'L', 'LA', 'P', '1'].map((mode): [string, Uint8Array] => [
    `Pillow ${mode}`,
    writtenByPillow(picture(61, 40), `im.convert('${mode}').save('out', 'PNG')`),
  ]);
  const kinds: [string, Uint8Array][] = [
    ...modes,
    ...(
      [
        ['16 bits', ['-depth', '16', '-define', 'png:bit-depth=16']],
        ['interlaced', ['-interlace', 'PNG']],
        ['2 bits of grey', ['-colorspace', 'Gray', '-define', 'png:color-type=0', '-define', 'png:bit-depth=2']],
        ['palette of 4 bits, interlaced', ['-interlace', 'PNG', '-colors', '13', '-type', 'Palette', '-alpha', 'off']],
        ['gamma and text', ['-define', 'png:include-chunk=gama', '-gamma', '0.45455', '-set', 'comment', 'of its own']],
      ] as const
    ).map(([name, operators]): [string, Uint8Array] => [name, writtenByImageMagick(picture(61, 40), operators, 'png')]),
  ];

  it.each(kinds)('%s: one dab changes its own texels alone, and no chunk but the picture', (_name, file) => {
    const facts = readPngFacts(file);
    const was = readWithPillow(file, 'png');
    const { painted, changed } = dabbed(was, DAB, [200, 30, 90, 255]);
    const { bytes } = putOverPng(file, painted, changed);
    expect(readPngFacts(bytes)).toEqual(facts);
    const apart = differing(readWithPillow(file, 'png'), readWithPillow(bytes, 'png'));
    expect(apart.length).toBeGreaterThan(10);
    expect(apart.every(inDab)).toBe(true);
    const others = (png: Uint8Array) => chunksOf(png).filter(({ type }) => !['IDAT', 'PLTE', 'tRNS'].includes(type));
    expect(others(bytes)).toEqual(others(file));
    expect(readWithImageMagick(bytes, 'png', 61, 40).data.length).toBe(61 * 40 * 4);
  });

  it('keeps samples of 16 bits outside the dab', () => {
    const file = writtenByImageMagick(
      picture(61, 40),
      ['-evaluate', 'Add', '0.3%', '-depth', '16', '-define', 'png:bit-depth=16'],
      'png',
    );
    expect(readPngFacts(file).depth).toBe(16);
    const { painted, changed } = dabbed(readWithPillow(file, 'png'), DAB, [200, 30, 90, 255]);
    const sixteen = (png: Uint8Array) => rawOf(png, 'RGBA', 16);
    const [before, after] = [sixteen(file), sixteen(putOverPng(file, painted, changed).bytes)];
    let apart = 0;
    for (let i = 0; i < before.length; i += 8) {
      const same = before.subarray(i, i + 8).equals(after.subarray(i, i + 8));
      const at: [number, number] = [(i / 8) % 61, Math.floor(i / 8 / 61)];
      if (!same) expect(inDab(at)).toBe(true);
      if (!same) apart++;
    }
    expect(apart).toBe(63);
    expect(before.some((byte, i) => i % 2 === 0 && byte !== before[i + 1])).toBe(true);
  });

  it('takes free entries of a palette, then its nearest colours, and says how many', () => {
    const full = writtenByImageMagick(picture(61, 40, 'none'), ['-colors', '256', '-type', 'Palette'], 'png');
    const { painted, changed } = dabbed(readWithPillow(full, 'png'), DAB, [1, 254, 3, 255]);
    const small = writtenByImageMagick(picture(61, 40, 'none'), ['-colors', '5', '-type', 'Palette'], 'png');
    expect(putOverPng(small, painted, changed).loss.nearest).toBe(0);
    const seen = readWithPillow(putOverPng(small, painted, changed).bytes, 'png');
    expect([...seen.data.subarray((14 * 61 + 22) * 4, (14 * 61 + 22) * 4 + 4)]).toEqual([1, 254, 3, 255]);
    for (let i = 0; i < painted.data.length; i += 4) painted.data[i + 2] = i >> 2;
    changed.fill(1);
    expect(putOverPng(full, painted, changed).loss.nearest).toBeGreaterThan(1000);
  });
});

describe('JPEG', () => {
  const written = (options: string) =>
    writtenByPillow(picture(77, 50, 'none'), `im.convert('RGB').save('out', 'JPEG', ${options})`);
  const files: [name: string, file: Uint8Array, widest?: number][] = [
    ['4:2:0', written('quality=85')],
    ['4:2:2', written('quality=70, subsampling=1')],
    ['4:4:4', written('quality=95, subsampling=0')],
    ['tables of its own', written('quality=60, optimize=True')],
    ['grey', writtenByPillow(picture(77, 50, 'none'), `im.convert('L').save('out', 'JPEG', quality=80)`)],
    [
      'ImageMagick',
      writtenByImageMagick(picture(77, 50, 'none'), ['-quality', '88', '-sampling-factor', '1x2'], 'jpg'),
    ],
    ['restart marks', writtenByCjpeg(picture(77, 50, 'none'), ['-quality', '85', '-restart', '3B'])],
    ['a mark a row, grey', writtenByCjpeg(picture(77, 50, 'none'), ['-grayscale', '-restart', '1'])],
    ['4:1:1', writtenByCjpeg(picture(77, 50, 'none'), ['-sample', '4x1']), 32],
    ['brightness in halves', writtenByCjpeg(picture(77, 50, 'none'), ['-sample', '1x1,2x2,2x1'])],
    ['colours as they are', writtenByCjpeg(picture(77, 50, 'none'), ['-rgb', '-quality', '90'])],
  ];

  it.each(files)('%s: blocks without paint keep their coefficients', (_name, file, widest = 16) => {
    const was = readWithPillow(file, 'jpg');
    const { painted, changed } = dabbed(was, DAB, [200, 30, 90, 255]);
    expect(canPutOverJpeg(file)).toBe(true);
    const bytes = putOverJpeg(file, painted, changed);
    expect(readJpegFacts(bytes)).toEqual(readJpegFacts(file));
    const after = readWithPillow(bytes, 'jpg');
    const apart = differing(was, after);
    expect(apart.length).toBeGreaterThan(40);
    // Blocks of 16 x 16, or 32 wide, at most around the dab; decoders mix colour of neighbouring blocks one texel further.
    expect(apart.every(([x, y]) => x >= 16 - (16 % widest) - 1 && x <= 32 && y >= -1 && y <= 32)).toBe(true);
    if (readJpegFacts(file).colours !== 'grey') {
      const at = (15 * 77 + 24) * 4;
      for (const [c, v] of [200, 30, 90].entries()) expect(Math.abs(after.data[at + c] - v)).toBeLessThan(60);
    }
    // Nothing painted: the same coefficients give the same picture, however they are coded.
    expect(differing(was, readWithPillow(putOverJpeg(file, painted, new Uint8Array(changed.length)), 'jpg'))).toEqual(
      [],
    );
  });

  it('marks where the buffer ends: one byte and a mark for each of 44,100 blocks', () => {
    const grey = newImage(1680, 1680);
    for (let i = 0; i < grey.data.length; i += 4) grey.data.set([128, 128, 128, 255], i);
    const file = writtenByCjpeg(grey, ['-grayscale', '-restart', '1B']);
    const bytes = putOverJpeg(file, grey, new Uint8Array(1680 * 1680));
    expect(Buffer.compare(bytes, file)).toBe(0);
  });

  it('tells quality and sampling', () => {
    // Quality as the Independent JPEG Group's library scales the tables of annex K; Pillow writes by that library.
    for (const quality of [30, 75, 92]) expect(readJpegFacts(written(`quality=${quality}`)).quality).toBe(quality);
    expect(files.slice(0, 3).map(([, file]) => readJpegFacts(file).sampling)).toEqual(['4:2:0', '4:2:2', '4:4:4']);
    const progressive = written('quality=85, progressive=True');
    expect(readJpegFacts(progressive).progressive).toBe(true);
    expect(canPutOverJpeg(progressive)).toBe(false);
  });
});

describe('DDS', () => {
  /** Blocks of a level that differ, counted on the bytes alone. */
  function blocksApart(
    a: Uint8Array,
    b: Uint8Array,
    start: number,
    size: number,
    width: number,
    height: number,
    levels: number,
  ) {
    let at = start;
    return Array.from({ length: levels }, (_, level) => {
      const [w, h] = [Math.max(1, width >> level), Math.max(1, height >> level)];
      const [columns, rows] = [Math.ceil(w / 4), Math.ceil(h / 4)];
      const apart: [number, number][] = [];
      for (let i = 0; i < columns * rows; i++, at += size)
        if (!Buffer.from(a.subarray(at, at + size)).equals(Buffer.from(b.subarray(at, at + size))))
          apart.push([i % columns, Math.floor(i / columns)]);
      return apart;
    });
  }

  const blocked = ['bc1', 'bc2', 'bc3', 'bc5', 'bc7'] as const;
  it.each(blocked)('%s: a dab changes its own blocks, at every level those under it', (format) => {
    const image = picture(256, 192, format === 'bc1' ? 'none' : 'soft');
    const options = { kind: 'srgb', filter: 'box' } as const;
    const file = writeDds(
      { width: 256, height: 192, format, header: 'dx10', colourSpace: format === 'bc5' ? 'linear' : 'srgb' },
      mipChain(image, options).map((level) => encodeImage(level, format, { effort: 'fast' })),
    );
    // What stands in reserved fields and behind the picture is the game's own business.
    const own = new Uint8Array(file.length + 5);
    own.set(file);
    own.set([1, 2, 3], 40);
    own.set([9, 9, 9, 9, 9], file.length);
    const was = readDdsLevel(own, 0);
    const { painted, changed } = dabbed(was, [100, 60, 20, 12], [200, 30, 90, 255]);
    const over = putOverDds(own, painted, { width: 256, height: 192, data: changed }, { kind: 'srgb', filter: 'box' });
    const bytes = placeBlocks(over, encodeImage(over.strip!, format, { effort: 'normal' }));
    expect(bytes.length).toBe(own.length);
    expect(bytes.subarray(0, 148)).toEqual(own.subarray(0, 148));
    expect(bytes.subarray(file.length)).toEqual(own.subarray(file.length));
    const size = format === 'bc1' ? 8 : 16;
    const apart = blocksApart(own, bytes, 148, size, 256, 192, readDdsFacts(own).mips);
    expect(apart.flat().length).toBe(over.blocks.of - over.blocks.kept);
    apart.forEach((blocks, level) => {
      // A box filter looks at two texels: a changed one reaches the one beneath it, and no further.
      const side = 4 * 2 ** level;
      expect(blocks.length).toBeGreaterThan(0);
      for (const [x, y] of blocks)
        expect(x * side < 120 && (x + 1) * side > 100 && y * side < 72 && (y + 1) * side > 60).toBe(true);
    });
    // The first level shows the paint.
    const seen = readDdsLevel(bytes, 0).data;
    const at = (66 * 256 + 110) * 4;
    expect(Math.abs(seen[at] - 200) + Math.abs(seen[at + 1] - 30)).toBeLessThan(24);
    const second = readDdsLevel(bytes, 1).data;
    expect(Math.abs(second[(33 * 128 + 55) * 4] - 200)).toBeLessThan(12);
  });

  it('BC1 with clear texels behind a header that says nothing of alpha: beside a dab they stay clear, by Pillow’s reading too', () => {
    const image = picture(64, 64, 'cut');
    const file = writeDds({ width: 64, height: 64, format: 'bc1', header: 'legacy', colourSpace: 'srgb' }, [
      encodeImage(image, 'bc1a', { effort: 'fast' }),
    ]);
    const was = readDdsLevel(file, 0);
    const clear = [...was.data.keys()].filter((i) => i % 4 === 3 && was.data[i] === 0);
    expect(clear.length).toBeGreaterThan(500);
    expect(readDdsFacts(file)).toMatchObject({ format: 'bc1a' });
    // A dab where opaque and clear meet.
    const { painted, changed } = dabbed(was, [14, 26, 4, 3], [200, 30, 90, 255]);
    const over = putOverDds(file, painted, { width: 64, height: 64, data: changed }, { kind: 'srgb', filter: 'box' });
    const bytes = placeBlocks(over, encodeImage(over.strip!, over.format as FormatKey, { effort: 'normal' }));
    const seen = readWithPillow(bytes, 'dds');
    for (const i of clear) if (!changed[(i - 3) / 4]) expect(seen.data[i]).toBe(0);
    changed.forEach((is, i) => is && expect(seen.data[i * 4 + 3]).toBe(255));
  });

  it('a hundred times over, each from the last: the rest keeps its first bytes', () => {
    const image = picture(128, 128);
    const levels = mipChain(image, { kind: 'srgb', filter: 'kaiser' });
    const first = writeDds(
      { width: 128, height: 128, format: 'bc7', header: 'dx10', colourSpace: 'srgb' },
      levels.map((level) => encodeImage(level, 'bc7', { effort: 'fast' })),
    );
    let last = first;
    const touched = new Set<number>();
    for (let turn = 0; turn < 100; turn++) {
      const [x, y] = [(turn * 37) % 120, (turn * 53) % 60];
      const { painted, changed } = dabbed(readDdsLevel(last, 0), [x, y, 6, 5], [turn * 2, 80, 200 - turn, 255]);
      for (let by = y >> 2; by <= (y + 4) >> 2; by++)
        for (let bx = x >> 2; bx <= (x + 5) >> 2; bx++) touched.add(by * 32 + bx);
      const over = putOverDds(
        last,
        painted,
        { width: 128, height: 128, data: changed },
        { kind: 'srgb', filter: 'kaiser' },
      );
      last = placeBlocks(over, encodeImage(over.strip!, 'bc7', { effort: 'fast' }));
    }
    const [top] = blocksApart(first, last, 148, 16, 128, 128, 1);
    expect(top.filter(([x, y]) => !touched.has(y * 32 + x))).toEqual([]);
    expect(top.length).toBeGreaterThan(100);
  });

  it('leaves the whole file alone when nothing changed', () => {
    const image = picture(64, 64);
    const file = writeDds({ width: 64, height: 64, format: 'bc7', header: 'dx10', colourSpace: 'srgb' }, [
      encodeImage(image, 'bc7', { effort: 'fast' }),
    ]);
    const over = putOverDds(file, image, nothingChanged(64, 64), { kind: 'srgb', filter: 'kaiser' });
    expect([over.strip, over.bytes]).toEqual([null, file]);
  });

  it('alpha stays the original’s at every level where only colour was painted', () => {
    const image = picture(128, 128);
    const levels = mipChain(image, { kind: 'srgb', filter: 'box' });
    // A game's own levels keep their coverage in a way of their own.
    for (const level of levels.slice(1))
      for (let i = 3; i < level.data.length; i += 4) level.data[i] = Math.min(255, level.data[i] * 1.3);
    const file = writeDds(
      { width: 128, height: 128, format: 'rgba8', header: 'legacy', colourSpace: 'srgb' },
      levels.map((level) => level.data),
    );
    const changed = nothingChanged(128, 128);
    const painted: Image8 = { ...image, data: image.data.slice() };
    for (let i = 0; i < 128 * 128; i++) {
      changed.data[i] = 1;
      painted.data.set([10, 200, 40], i * 4);
    }
    const { bytes } = putOverDds(file, painted, changed, { kind: 'srgb', filter: 'kaiser' });
    levels.forEach((level, n) => {
      const seen = readDdsLevel(bytes, n).data;
      expect([...seen].filter((_, i) => i % 4 === 3)).toEqual([...level.data].filter((_, i) => i % 4 === 3));
    });
  });

  it('texels of any masks, with bits that no mask names', () => {
    const file = writtenByImageMagick(picture(16, 16), [], 'dds');
    expect(file.length).toBeGreaterThan(128);
    // X8R8G8B8 by hand: the published masks, and a fourth byte that is nobody's.
    const own = new Uint8Array(128 + 16 * 16 * 4).fill(0x5a);
    own.set(file.subarray(0, 128));
    const view = new DataView(own.buffer);
    [16, 16].forEach((side, k) => view.setUint32(12 + k * 4, side, true));
    view.setUint32(8, 0x100f, true);
    [0x40, 0, 32, 0xff0000, 0xff00, 0xff, 0].forEach((value, k) => view.setUint32(80 + k * 4, value, true));
    const was = readDdsLevel(own, 0);
    const { painted, changed } = dabbed(was, [3, 4, 1, 1], [1, 2, 3, 255]);
    const { bytes } = putOverDds(
      own,
      painted,
      { width: 16, height: 16, data: changed },
      { kind: 'srgb', filter: 'box' },
    );
    const at = 128 + (4 * 16 + 3) * 4;
    expect([...bytes.subarray(at, at + 4)]).toEqual([3, 2, 1, 0x5a]);
    expect(bytes.filter((byte, i) => byte !== own[i]).length).toBe(3);
  });

  it('colour that is stored times alpha is read free of it and stored times it again', () => {
    const soft = newImage(8, 8);
    for (let i = 0; i < 64; i++) soft.data.set([100, 50, 20, 128], i * 4);
    const file = writeDds({ width: 8, height: 8, format: 'rgba8', header: 'dx10', colourSpace: 'srgb' }, [soft.data]);
    new DataView(file.buffer).setUint32(144, 2, true);
    expect(readDdsFacts(file).premultiplied).toBe(true);
    const was = readDdsLevel(file, 0);
    expect([...was.data.subarray(0, 4)]).toEqual([199, 100, 40, 128]);
    const { painted, changed } = dabbed(was, [2, 2, 1, 1], [255, 0, 0, 64]);
    const { bytes } = putOverDds(
      file,
      painted,
      { width: 8, height: 8, data: changed },
      { kind: 'srgb', filter: 'box' },
    );
    expect([...bytes.subarray(148 + 18 * 4, 148 + 19 * 4)]).toEqual([64, 0, 0, 64]);
  });
});

describe('what changed', () => {
  it('a smaller level changes where, and only where, something under its filter did', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 2, max: 90 }),
        fc.integer({ min: 2, max: 90 }),
        fc.array(fc.tuple(fc.nat(89), fc.nat(89)), { minLength: 1, maxLength: 4 }),
        fc.constantFrom('box' as const, 'kaiser' as const),
        (width, height, spots, filter) => {
          const changed = nothingChanged(width, height);
          const image = newImage(width, height).data.fill(255);
          for (const [x, y] of spots) {
            changed.data[(y % height) * width + (x % width)] = 1;
          }
          const painted = image.slice();
          for (let i = 0; i < changed.data.length; i++) if (changed.data[i]) painted.fill(0, i * 4, i * 4 + 3);
          const options = { kind: 'linear', filter, count: 2 } as const;
          const [, before] = mipChain({ width, height, data: image }, options);
          const [, after] = mipChain({ width, height, data: painted }, options);
          const half = mipSize(width, height, 1);
          const marked = changedAt(changed, half.width, half.height, filter);
          for (let i = 0; i < marked.data.length; i++)
            if (!marked.data[i])
              expect(after.data.subarray(i * 4, i * 4 + 4)).toEqual(before.data.subarray(i * 4, i * 4 + 4));
          // Black on white under a box filter always shows, where each texel weighs the same.
          if (filter === 'box' && width % 2 === 0 && height % 2 === 0)
            for (let i = 0; i < marked.data.length; i++)
              if (marked.data[i]) expect(after.data[i * 4]).toBeLessThan(255);
        },
      ),
      { numRuns: 300 },
    );
  });

  it('boxes hold every changed texel and do not touch', () => {
    fc.assert(
      fc.property(fc.array(fc.tuple(fc.nat(699), fc.nat(399)), { maxLength: 30 }), (spots) => {
        const changed = nothingChanged(700, 400);
        for (const [x, y] of spots) changed.data[y * 700 + x] = 1;
        const boxes = changedBoxes(changed);
        for (const [x, y] of spots)
          expect(boxes.filter((b) => x >= b.left && x < b.right && y >= b.top && y < b.bottom).length).toBe(1);
        if (spots.length === 0) expect(boxes).toEqual([]);
      }),
      { numRuns: 100 },
    );
  });
});

/** Chunks of a PNG, read here by hand: type and bytes. */
function chunksOf(png: Uint8Array): { type: string; bytes: string }[] {
  const view = new DataView(png.buffer, png.byteOffset, png.byteLength);
  const out: { type: string; bytes: string }[] = [];
  for (let at = 8; at < png.length;) {
    const length = view.getUint32(at);
    const type = Buffer.from(png.subarray(at + 4, at + 8)).toString('latin1');
    out.push({ type, bytes: Buffer.from(png.subarray(at + 8, at + 8 + length)).toString('hex') });
    at += 12 + length;
  }
  return out;
}

/** Samples of a picture through ImageMagick, at a depth. */
function rawOf(png: Uint8Array, channels: string, depth: number): Buffer {
  const folder = mkdtempSync(path.join(os.tmpdir(), 'wl-over-'));
  writeFileSync(path.join(folder, 'in.png'), png);
  execFileSync('convert', [
    path.join(folder, 'in.png'),
    '-depth',
    String(depth),
    `${channels}:${path.join(folder, 'out')}`,
  ]);
  return readFileSync(path.join(folder, 'out'));
}

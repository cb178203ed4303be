/** Damaged and hostile textures: each is read or refused in one sentence, at once and without much memory. `npm run fuzz` runs this for long. */
import { describe, expect, test } from 'vitest';
import fc from '../testing/property.ts';
import { InputError } from '../errors.ts';
import { damage, damaged } from '../testing/damage.ts';
import { liveryLike } from '../testing/images.ts';
import { writtenByCjpeg, writtenByImageMagick, writtenByPillow } from '../testing/independent.ts';
import { headerCan, readDdsFacts, readDdsLevel, srgbCan, writeDds } from './dds.ts';
import { encodeImage } from './encode.ts';
import { WRITTEN } from './formats/index.ts';
import { putOverJpeg, readJpegFacts } from './jpeg.ts';
import { mipChain } from './mips.ts';
import { placeBlocks, putOverDds } from './over/overDds.ts';
import { putOverPng, readPngFacts } from './png.ts';
import { putOverTga, readTga, readTgaFacts, writeTga } from './tga.ts';

const RUNS = Number(process.env.FUZZ_RUNS ?? 150);
/** What a file of a few kilobytes may cost at most: 65 MB and 5 s would be a hang for whoever opens a folder of them. */
const [MEMORY, SECONDS] = [64 * 1024 * 1024, 5];

const image = liveryLike(20, 3, true);
const levels = mipChain(image, { kind: 'srgb', filter: 'box' });
const FILES: [string, Uint8Array, (bytes: Uint8Array) => void][] = [];
for (const format of WRITTEN) {
  for (const header of ['legacy', 'dx10'] as const) {
    if (!headerCan(header, format)) continue;
    const encoded = levels.map((level) => encodeImage(level, format, { effort: 'fast' }));
    const wanted = { width: 20, height: 20, format, header, colourSpace: srgbCan(format) ? 'srgb' : 'linear' } as const;
    FILES.push([`${format} ${header}`, writeDds(wanted, encoded), readAllLevels]);
  }
}
for (const rle of [true, false]) {
  for (const alpha of [true, false]) {
    FILES.push([`TGA ${rle ? 'run lengths' : 'raw'} ${alpha ? 32 : 24}`, writeTga(image, { alpha, rle }), readBoth]);
  }
}
for (const [name, file] of [
  ['Pillow, tables of its own', writtenByPillow(image, "im.convert('RGB').save('out', 'JPEG', optimize=True)")],
  ['libjpeg, marks', writtenByCjpeg(image, ['-restart', '1B'])],
  ['ImageMagick, grey', writtenByImageMagick(image, ['-colorspace', 'Gray'], 'jpg')],
] as const) {
  FILES.push([`JPEG of ${name}`, file, paintJpeg]);
}
for (const mode of ['RGBA', 'P', '1'])
  FILES.push([`PNG ${mode}`, writtenByPillow(image, `im.convert('${mode}').save('out', 'PNG')`), paintPng]);
FILES.push(['PNG interlaced', writtenByImageMagick(image, ['-interlace', 'PNG'], 'png'), paintPng]);

/** Paint over every third texel of the undamaged size: what a damaged file says of its own size is its own affair. */
const changed = Uint8Array.from({ length: image.width * image.height }, (_, i) => Number(i % 3 === 0));
function paintJpeg(bytes: Uint8Array): void {
  readJpegFacts(bytes);
  putOverJpeg(bytes, image, changed);
}
function paintPng(bytes: Uint8Array): void {
  readPngFacts(bytes);
  putOverPng(bytes, image, changed);
}
function paintDds(bytes: Uint8Array): void {
  const { width, height } = readDdsFacts(bytes);
  // Of the size that the damaged file says, as long as that is one to paint on in a test; otherwise it is refused.
  const own = width * height <= 4096 ? liveryLike(width, height, true) : image;
  const all = Uint8Array.from({ length: own.width * own.height }, (_, i) => Number(i % 3 === 0));
  const over = putOverDds(
    bytes,
    own,
    { width: own.width, height: own.height, data: all },
    { kind: 'srgb', filter: 'kaiser' },
  );
  if (over.format === 'masks') return;
  placeBlocks(over, over.strip ? encodeImage(over.strip, over.format, { effort: 'fast' }) : new Uint8Array(0));
}

function readAllLevels(bytes: Uint8Array): void {
  const facts = readDdsFacts(bytes);
  for (let level = 0; level < facts.mips; level++) readDdsLevel(bytes, level);
  paintDds(bytes);
}
function readBoth(bytes: Uint8Array): void {
  readTgaFacts(bytes);
  readTga(bytes);
  putOverTga(bytes, image, changed);
}

describe('damaged in up to four places', () => {
  test.each(FILES)('%s', (_name, file, read) => {
    read(file);
    fc.assert(
      fc.property(fc.array(damage, { minLength: 1, maxLength: 4 }), (all) => {
        const bytes = damaged(file, all);
        const [before, began] = [process.memoryUsage().arrayBuffers, performance.now()];
        try {
          read(bytes);
        } catch (error) {
          expect(error).toBeInstanceOf(InputError);
          // One sentence: it begins with a capital, ends with a full stop, and has no line breaks.
          expect((error as Error).message).toMatch(/^[A-Z0-9][^\n]*\.$/);
        }
        expect(process.memoryUsage().arrayBuffers - before).toBeLessThan(MEMORY);
        expect(performance.now() - began).toBeLessThan(SECONDS * 1000);
      }),
      { numRuns: RUNS },
    );
  });

  test.each(FILES)('%s: cut off after any byte', (_name, file, read) => {
    for (let length = 0; length < file.length; length++) {
      try {
        read(file.subarray(0, length));
      } catch (error) {
        expect(error).toBeInstanceOf(InputError);
      }
    }
  });
});

test('something else altogether is no texture', () => {
  for (const text of ['', 'DDS ', 'not a texture', '<svg/>', 'DDS '.padEnd(200, 'x')]) {
    expect(() => readDdsFacts(new TextEncoder().encode(text))).toThrow(InputError);
  }
});

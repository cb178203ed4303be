import { describe, expect, test } from 'vitest';
import { readBc7 } from '../bay/bc7Reader.ts';
import { ANCHOR_2, ANCHOR_3A, ANCHOR_3B, MODES, PARTITIONS_2, PARTITIONS_3, WEIGHTS } from '../published/bc7.ts';
import { newImage, type Image8 } from '../raster/image.ts';
import { readWithFfmpeg, readWithImageMagick, readWithOpenImageIO, readWithPillow } from '../testing/independent.ts';
import { liveryLike, picture, randomFrom } from '../testing/images.ts';
import { compareImages } from './compare.ts';
import { readDdsFacts, readDdsLevel, writeDds } from './dds.ts';
import { decodeImage, encodeImage, encodeRows } from './encode.ts';
import { FORMATS, rowBytes, rowsOf, type FormatKey } from './formats/index.ts';

const dds = (
  image: Image8,
  format: FormatKey,
  bytes = encodeImage(image, format, { effort: 'normal' }),
  colourSpace: 'srgb' | 'linear' = 'srgb',
) =>
  writeDds(
    { width: image.width, height: image.height, format, header: format === 'bc7' ? 'dx10' : 'legacy', colourSpace },
    [bytes],
  );

const decoded = (image: Image8, format: FormatKey, bytes: Uint8Array): Image8 =>
  decodeImage(bytes, format, image.width, image.height);

/** Blocks of random bits as one picture. */
function randomBlocks(format: FormatKey, side: number, seed: number): Uint8Array {
  const random = randomFrom(seed);
  return Uint8Array.from({ length: rowsOf(FORMATS[format], side) * rowBytes(FORMATS[format], side) }, () =>
    Math.floor(random() * 256),
  );
}

/** Random BC7 blocks with every mode as often as the others. */
function bc7OfEveryMode(side: number, seed: number): Uint8Array {
  const bytes = randomBlocks('bc7', side, seed);
  for (let block = 0; block * 16 < bytes.length; block++) {
    const mode = block % 8;
    bytes[block * 16] = (bytes[block * 16] & ~((2 << mode) - 1)) | (1 << mode);
  }
  return bytes;
}

describe('decoders against Pillow, ImageMagick, OpenImageIO and ffmpeg', () => {
  const side = 256;
  const empty = newImage(side, side);

  test('BC7: 1,048,576 random blocks of all eight modes are equal to Pillow’s', () => {
    const large = newImage(4096, 4096);
    const bytes = bc7OfEveryMode(4096, 1);
    const theirs = readWithPillow(dds(large, 'bc7', bytes), 'dds').data;
    expect(Buffer.compare(Buffer.from(decoded(large, 'bc7', bytes).data), Buffer.from(theirs))).toBe(0);
  });

  test('BC7: random blocks of all eight modes are equal to OpenImageIO’s, and the test bay’s own reader agrees', () => {
    const bytes = bc7OfEveryMode(side, 2);
    const ours = Buffer.from(decoded(empty, 'bc7', bytes).data);
    const file = dds(empty, 'bc7', bytes, 'linear');
    expect(Buffer.compare(ours, Buffer.from(readWithOpenImageIO(file, 'dds', ['R', 'G', 'B', 'A'])))).toBe(0);
    expect(Buffer.compare(ours, Buffer.from(readBc7(bytes, side, side)))).toBe(0);
  });

  // One third, one fifth and one seventh are not fixed to the bit by the specification.
  test.each(['bc1', 'bc2', 'bc3'] as const)(
    '%s: random blocks are within one of Pillow’s, ImageMagick’s and ffmpeg’s',
    (format) => {
      const bytes = randomBlocks(format, side, 5);
      const ours = decoded(empty, format, bytes);
      const file = dds(empty, format, bytes);
      expect(compareImages(ours, readWithPillow(file, 'dds')).largest).toBeLessThanOrEqual(1);
      expect(compareImages(ours, readWithImageMagick(file, 'dds', side, side)).largest).toBeLessThanOrEqual(1);
      const theirs = readWithFfmpeg(file, 'dds', side, side);
      // ffmpeg gives the fourth colour of three as opaque black in BC1 without the alpha flag: alpha is left out there.
      if (format === 'bc1') for (let i = 3; i < theirs.data.length; i += 4) theirs.data[i] = ours.data[i];
      expect(compareImages(ours, theirs).largest).toBeLessThanOrEqual(1);
    },
  );

  test.each([
    // OpenImageIO calls the single channel Y.
    ['bc4', ['Y']],
    ['bc5', ['R', 'G']],
  ] as const)('%s: random blocks are within one of OpenImageIO’s and Pillow’s', (format, channels) => {
    const bytes = randomBlocks(format, side, 6);
    const ours = decoded(empty, format, bytes);
    const file = dds(empty, format, bytes, 'linear');
    const theirs = readWithOpenImageIO(file, 'dds', channels);
    const pillow = readWithPillow(file, 'dds');
    const off = { openImageIO: 0, pillow: 0 };
    for (let i = 0; i < side * side; i++) {
      channels.forEach((_, c) => {
        off.openImageIO = Math.max(off.openImageIO, Math.abs(theirs[i * channels.length + c] - ours.data[i * 4 + c]));
        off.pillow = Math.max(off.pillow, Math.abs(pillow.data[i * 4 + c] - ours.data[i * 4 + c]));
      });
    }
    expect(off.openImageIO).toBeLessThanOrEqual(1);
    expect(off.pillow).toBeLessThanOrEqual(1);
  });

  test('BC5 signed: -127 to 127 about 128, mixed as the specification says (Khronos Data Format Specification 1.3, section 19.2)', () => {
    const bytes = randomBlocks('bc5s', 64, 7);
    const file = dds(newImage(64, 64), 'bc5', bytes, 'linear').slice();
    file.set(new TextEncoder().encode('BC5S'), 84);
    expect(readDdsFacts(file).format).toBe('bc5s');
    const ours = readDdsLevel(file, 0);
    const signed = (byte: number) => Math.max(-127, byte > 127 ? byte - 256 : byte);
    let off = 0;
    for (let block = 0; block < 256; block++) {
      for (let half = 0; half < 2; half++) {
        const at = block * 16 + half * 8;
        const [a, b] = [signed(bytes[at]), signed(bytes[at + 1])];
        const mixed = (of: number, extra: number[]) => [
          a,
          b,
          ...Array.from({ length: of - 1 }, (_, k) => ((of - 1 - k) * a + (k + 1) * b) / of),
          ...extra,
        ];
        const palette = a > b ? mixed(7, []) : mixed(5, [-127, 127]);
        for (let i = 0; i < 16; i++) {
          let code = 0;
          for (let k = 0; k < 3; k++) code |= ((bytes[at + 2 + ((i * 3 + k) >> 3)] >> ((i * 3 + k) & 7)) & 1) << k;
          const texel = ((block >> 4) * 4 + (i >> 2)) * 64 + (block & 15) * 4 + (i & 3);
          off = Math.max(off, Math.abs(ours.data[texel * 4 + half] - 128 - palette[code]));
        }
      }
    }
    expect(off).toBeLessThan(1);
  });

  test('a BC7 block without a mode bit decodes to zeros, as the specification asks', () => {
    expect([...decoded(newImage(4, 4), 'bc7', new Uint8Array(16)).data]).toEqual(new Array(64).fill(0));
  });
});

describe('encoders', () => {
  const sheet = liveryLike(128);
  const soft = liveryLike(128, 3, true);

  test.each([
    ['bc7', 38],
    ['bc3', 33],
    ['bc1', 33],
  ] as const)('%s of a livery-like sheet is at least %i dB as Pillow decodes it', (format, least) => {
    const result = compareImages(sheet, readWithPillow(dds(sheet, format), 'dds'));
    expect(result.psnrRgb).toBeGreaterThanOrEqual(least);
    expect(result.psnrAlpha).toBe(Infinity);
  });

  test.each(['bc7', 'bc3'] as const)(
    '%s keeps soft alpha: at least 36 dB, and opaque texels stay exactly opaque',
    (format) => {
      const back = decoded(soft, format, encodeImage(soft, format, { effort: 'normal' }));
      expect(compareImages(soft, back).psnrAlpha).toBeGreaterThan(36);
      for (let i = 3; i < soft.data.length; i += 4) if (soft.data[i] === 255) expect(back.data[i]).toBe(255);
    },
  );

  test('ImageMagick reads BC1 and BC3 of ours as we do', () => {
    for (const format of ['bc1', 'bc3'] as const) {
      const bytes = encodeImage(sheet, format, { effort: 'normal' });
      const theirs = readWithImageMagick(dds(sheet, format, bytes), 'dds', 128, 128);
      expect(compareImages(decoded(sheet, format, bytes), theirs).largest).toBeLessThanOrEqual(1);
    }
  });

  test('a flat block is exact in BC7, for every grey and for alpha', () => {
    for (let v = 0; v < 256; v += 5) {
      const flat = picture(4, 4, () => [v, 255 - v, (v * 7) % 256, v]);
      expect([...decoded(flat, 'bc7', encodeImage(flat, 'bc7', { effort: 'normal' })).data]).toEqual([...flat.data]);
    }
  });

  test('saturated red lettering on white does not collapse at any effort', () => {
    const red = picture(64, 64, (x, y) => ((x * 3 + y) % 11 < 3 ? [230, 0, 10, 255] : [255, 255, 255, 255]));
    for (const format of ['bc1', 'bc7'] as const) {
      for (const effort of ['fast', 'normal', 'best'] as const)
        expect(compareImages(red, decoded(red, format, encodeImage(red, format, { effort }))).psnrRgb).toBeGreaterThan(
          33,
        );
    }
  });

  test('more effort is never worse', () => {
    for (const format of ['bc1', 'bc7'] as const) {
      const [fast, normal, best] = (['fast', 'normal', 'best'] as const).map(
        (effort) => compareImages(sheet, decoded(sheet, format, encodeImage(sheet, format, { effort }))).psnrRgb,
      );
      expect(normal).toBeGreaterThanOrEqual(fast);
      expect(best).toBeGreaterThanOrEqual(normal);
    }
  });

  test('rows encoded apart are the same bytes as the whole: any number of threads gives one file', () => {
    for (const key of ['bc1', 'bc3', 'bc7'] as const) {
      const whole = encodeImage(sheet, key, { effort: 'normal' });
      const format = FORMATS[key];
      const stride = rowBytes(format, 128);
      const parts = [
        [0, 5],
        [5, 6],
        [6, 32],
      ].map(([from, to]) => {
        const out = new Uint8Array((to - from) * stride);
        encodeRows(key, sheet, from, to, out, { effort: 'normal' });
        return out;
      });
      expect(Buffer.compare(Buffer.concat(parts), Buffer.from(whole))).toBe(0);
    }
  });

  test('sides that are not multiples of four are encoded and come back', () => {
    for (const [width, height] of [
      [1, 1],
      [2, 5],
      [7, 3],
    ]) {
      const odd = picture(width, height, (x, y) => [x * 30, y * 40, 200, 255]);
      expect(decoded(odd, 'bc7', encodeImage(odd, 'bc7', { effort: 'normal' })).data).toHaveLength(width * height * 4);
      expect(compareImages(odd, decoded(odd, 'rgba8', encodeImage(odd, 'rgba8', { effort: 'normal' }))).largest).toBe(
        0,
      );
      expect(compareImages(odd, decoded(odd, 'bgra8', encodeImage(odd, 'bgra8', { effort: 'normal' }))).largest).toBe(
        0,
      );
    }
  });
});

describe('the published tables of BC7 (Khronos Data Format Specification 1.3, section 20)', () => {
  test('weights are symmetric and end at 0 and 64', () => {
    for (const bits of [2, 3, 4]) {
      const w = [...WEIGHTS[bits]];
      expect([w[0], w.at(-1)]).toEqual([0, 64]);
      expect(w.map((v) => 64 - v).toReversed()).toEqual(w);
    }
  });

  test('every mode fills 128 bits', () => {
    MODES.forEach((m, i) => {
      const ends = m.subsets * 2;
      const pBits = m.pBits === 'each' ? ends : m.pBits === 'shared' ? 2 : 0;
      const indices = 16 * m.indexBits - m.subsets + (m.secondIndexBits ? 16 * m.secondIndexBits - 1 : 0);
      expect(
        i +
          1 +
          m.partitionBits +
          m.rotationBits +
          m.selectorBits +
          ends * (m.colourBits * 3 + m.alphaBits) +
          pBits +
          indices,
        `mode ${i}`,
      ).toBe(128);
    });
  });

  test('anchors lie in the subset that they are for', () => {
    for (let p = 0; p < 64; p++) {
      expect([PARTITIONS_2[p][0], PARTITIONS_2[p][ANCHOR_2[p]]]).toEqual([0, 1]);
      expect([PARTITIONS_3[p][0], PARTITIONS_3[p][ANCHOR_3A[p]], PARTITIONS_3[p][ANCHOR_3B[p]]]).toEqual([0, 1, 2]);
    }
  });
});

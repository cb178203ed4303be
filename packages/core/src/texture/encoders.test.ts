/** What the encoders are to be good at, beyond carrying a picture: each place where block encoders are known to fail. */
import { describe, expect, test } from 'vitest';
import type { Image8 } from '../raster/image.ts';
import { liveryLike, picture, randomFrom } from '../testing/images.ts';
import { compareImages, psnrOf, psnrOver, rowErrors, squaredErrors } from './compare.ts';
import type { Effort, Encoding } from './encoding.ts';
import { decodeImage, encodeImage, encodeRows } from './encode.ts';
import { FORMATS, rowBytes, rowsOf, WRITTEN, type FormatKey } from './formats/index.ts';

const EFFORTS = ['fast', 'normal', 'best'] as const;
const through = (image: Image8, format: FormatKey, encoding: Encoding = { effort: 'normal' }) =>
  decodeImage(encodeImage(image, format, encoding), format, image.width, image.height);
const rgb = (image: Image8, format: FormatKey, effort: Effort) =>
  compareImages(image, through(image, format, { effort })).psnrRgb;
const modesOf = (bytes: Uint8Array) =>
  Array.from({ length: bytes.length / 16 }, (_, i) => 31 - Math.clz32(bytes[i * 16] & -bytes[i * 16]));

describe('flat ground', () => {
  test('every colour of a coarse cube is exact in BC7 and within the steps of 5-6-5 mixes in BC1', () => {
    for (let r = 0; r < 256; r += 51) {
      for (let g = 0; g < 256; g += 37) {
        for (let b = 0; b < 256; b += 43) {
          const flat = picture(4, 4, () => [r, g, b, 255]);
          expect(compareImages(flat, through(flat, 'bc7', { effort: 'fast' })).largest).toBe(0);
          expect(compareImages(flat, through(flat, 'bc1', { effort: 'fast' })).largest).toBeLessThanOrEqual(2);
        }
      }
    }
  });

  test('a single value is exact in BC4 and in both channels of BC5', () => {
    for (let v = 0; v < 256; v += 15) {
      const flat = picture(4, 4, () => [v, 255 - v, 0, 255]);
      expect(squaredErrors(flat, through(flat, 'bc4'))[0]).toBe(0);
      expect(squaredErrors(flat, through(flat, 'bc5')).slice(0, 2)).toEqual([0, 0]);
    }
  });
});

describe('two colours', () => {
  /** Hard and softened edges of a saturated colour on white, at many angles. */
  const edges = (soft: boolean, hex: readonly number[]) =>
    picture(128, 128, (x, y) => {
      const d = Math.sin((x >> 4) + (y >> 4)) * ((x & 15) - 8) + Math.cos((x >> 4) * 2 + 1) * ((y & 15) - 8);
      const cover = soft ? Math.max(0, Math.min(1, d / 1.4 + 0.5)) : d > 0 ? 1 : 0;
      return [0, 1, 2].map((c) => Math.round(hex[c] * cover + 255 * (1 - cover))).concat(255);
    });

  test.each([
    ['red', [220, 10, 20]],
    ['blue', [10, 36, 220]],
    ['green', [0, 150, 60]],
  ] as const)('%s lettering on white never collapses: no effort loses what another keeps', (_name, colour) => {
    for (const soft of [false, true]) {
      const image = edges(soft, colour);
      const bc1 = EFFORTS.map((effort) => rgb(image, 'bc1', effort));
      // Hard edges are two colours, which a block holds up to the rounding of its ends; softened ones add mixes along the same line.
      for (const db of bc1) expect(db).toBeGreaterThan(soft ? 34 : 38);
      expect(Math.max(...bc1) - bc1[0]).toBeLessThan(2);
      for (const effort of EFFORTS) expect(rgb(image, 'bc7', effort)).toBeGreaterThan(soft ? 44 : 48);
    }
  });

  test('black and white texels in turn are exact in every format that holds colour; BC7 in haste gives 1 for black', () => {
    const bars = picture(32, 32, (x, y) => ((x + y) % 2 ? [255, 255, 255, 255] : [0, 0, 0, 255]));
    for (const format of ['bc1', 'bc1a', 'bc2', 'bc3', 'bc7'] as const) {
      for (const effort of EFFORTS) {
        const { largest } = compareImages(bars, through(bars, format, { effort }));
        expect(largest).toBeLessThanOrEqual(format === 'bc7' && effort === 'fast' ? 1 : 0);
      }
    }
  });
});

describe('smooth ground', () => {
  const ramp = picture(256, 64, (x, y) => [40 + x / 8, 90 + x / 12 + y / 32, 120 - x / 16, 255].map(Math.round));

  test('ends far apart meet values between the steps of 5-6-5: at least 44 dB in BC1, where nearest ends alone give 42', () => {
    for (const effort of EFFORTS) expect(rgb(ramp, 'bc1', effort)).toBeGreaterThan(44);
    // Nearest ends: each channel rounded to its own bits (Direct3D 11 functional specification, 19.5.3: 5, 6 and 5).
    const nearest = picture(256, 64, (x, y) => {
      const at = (y * 256 + x) * 4;
      const q = (v: number, top: number) => Math.round((Math.round((v * top) / 255) * 255) / top);
      return [q(ramp.data[at], 31), q(ramp.data[at + 1], 63), q(ramp.data[at + 2], 31), 255];
    });
    expect(compareImages(ramp, nearest).psnrRgb).toBeLessThan(43);
  });

  test('BC7 is within two of every value', () => {
    expect(compareImages(ramp, through(ramp, 'bc7')).largest).toBeLessThanOrEqual(2);
  });
});

describe('alpha', () => {
  const random = randomFrom(12);
  const strands = picture(128, 128, (x, y) => {
    const cover = Math.max(0, Math.sin(x * 1.7 + y * 0.3) * 1.3 - 0.2);
    return [70 + (x % 5) * 6, 46, 30, Math.min(255, Math.round(cover * 255))];
  });

  test('opaque texels decode to 255 exactly in every format with full alpha, at every effort', () => {
    const mixed = picture(64, 64, () =>
      [random() * 256, random() * 256, random() * 256, random() < 0.4 ? 255 : random() * 256].map(Math.floor),
    );
    for (const image of [mixed, strands, liveryLike(64, 2, true)]) {
      for (const format of ['bc2', 'bc3', 'bc7'] as const) {
        for (const effort of EFFORTS) {
          const back = through(image, format, { effort });
          let wrong = 0;
          for (let i = 3; i < image.data.length; i += 4) if (image.data[i] === 255 && back.data[i] !== 255) wrong++;
          expect(wrong).toBe(0);
        }
      }
    }
  });

  test('soft strands over a busy colour come through BC3 and BC7 with at least 36 dB, colour and alpha together', () => {
    const all = (format: FormatKey) => psnrOver(squaredErrors(strands, through(strands, format)), 128 * 128, 'rgba');
    for (const format of ['bc3', 'bc7'] as const) expect(all(format)).toBeGreaterThan(36);
  });

  test('BC2 rounds alpha to the nearest of sixteen', () => {
    const steps = picture(16, 16, (x, y) => [0, 0, 0, y * 16 + x]);
    const back = through(steps, 'bc2');
    for (let i = 3; i < 1024; i += 4) expect(Math.abs(back.data[i] - steps.data[i])).toBeLessThanOrEqual(9);
  });

  test('BC7: where outlines meet over clear, opaque texels of several colours stay opaque, and keep their colours', () => {
    // Thin rings of three colours, over one another and over clear, their edges by coverage.
    const rings = Array.from({ length: 40 }, (_, i) => ({
      x: (i * 37) % 128,
      y: (i * 53) % 128,
      r: 8 + ((i * 7) % 40),
      half: 0.5 + (i % 4) / 2,
      colour: [
        [220, 10, 20],
        [255, 212, 0],
        [255, 255, 255],
      ][i % 3],
    }));
    const image = picture(128, 128, (x, y) => {
      let [r, g, b, a] = [0, 0, 0, 0];
      for (const ring of rings) {
        const off = Math.abs(Math.hypot(x + 0.5 - ring.x, y + 0.5 - ring.y) - ring.r) - ring.half;
        const cover = Math.max(0, Math.min(1, 0.5 - off));
        const out = cover + a * (1 - cover);
        if (out === 0) continue;
        [r, g, b] = [r, g, b].map((under, c) => (ring.colour[c] * cover + under * a * (1 - cover)) / out);
        a = out;
      }
      return [r, g, b, a * 255].map(Math.round);
    });
    const back = through(image, 'bc7');
    const squares = squaredErrors(image, back).reduce((p, q) => p + q, 0);
    // Without a line of alpha 255 for what is nearly opaque it was 26.1.
    expect(psnrOf(squares, image.data.length)).toBeGreaterThan(26.4);
    for (let i = 3; i < image.data.length; i += 4) if (image.data[i] === 255) expect(back.data[i]).toBe(255);
  });

  test('BC1 with one bit clears what is under half and keeps the rest opaque', () => {
    const back = through(strands, 'bc1a');
    for (let i = 3; i < strands.data.length; i += 4) expect(back.data[i]).toBe(strands.data[i] >= 128 ? 255 : 0);
  });

  test('free colour under clear texels helps what is seen, and is only taken when it is given', () => {
    const noisy = picture(64, 64, (x, y) => {
      const clear = (x * 5 + y * 3) % 7 < 3;
      return clear
        ? [random() * 256, random() * 256, random() * 256, 0].map(Math.floor)
        : [200 - x, 60 + y, 40 + x, 255];
    });
    const seen = (back: Image8) => {
      let [sum, n] = [0, 0];
      for (let i = 0; i < noisy.data.length; i += 4) {
        if (noisy.data[i + 3] === 0) continue;
        n += 3;
        for (let c = 0; c < 3; c++) sum += (noisy.data[i + c] - back.data[i + c]) ** 2;
      }
      return psnrOf(sum, n);
    };
    for (const format of ['bc3', 'bc7'] as const) {
      const [kept, free] = [false, true].map((freeClear) => through(noisy, format, { effort: 'normal', freeClear }));
      expect(seen(free)).toBeGreaterThan(seen(kept) + 3);
      // Not given: what lies under clear texels is carried like everything else.
      const under = (back: Image8) =>
        squaredErrors(noisy, back)
          .slice(0, 3)
          .reduce((a, b) => a + b, 0);
      expect(under(kept)).toBeLessThan(under(free));
      for (let i = 3; i < noisy.data.length; i += 4) if (noisy.data[i] === 255) expect(free.data[i]).toBe(255);
    }
  });
});

describe('data maps', () => {
  const random = randomFrom(31);
  const packed = picture(64, 64, (x, y) => [
    120 + ((x * 13) % 130),
    Math.round(60 + 60 * random()),
    y % 16 < 8 ? 230 : 0,
    255,
  ]);

  test('channels that have nothing to do with one another take modes with one channel apart, or two subsets', () => {
    const modes = new Set(modesOf(encodeImage(packed, 'bc7', { effort: 'best' })));
    expect([4, 5].some((mode) => modes.has(mode))).toBe(true);
    expect(rgb(packed, 'bc7', 'best')).toBeGreaterThan(rgb(packed, 'bc7', 'fast'));
  });

  test('three subsets are used where three colours meet, by the patient', () => {
    const three = picture(64, 64, (x, y) => {
      const at = ((x & 3) + (y & 3) * 2) % 5;
      return at < 2 ? [230, 20, 30, 255] : at < 4 ? [20, 200, 60, 255] : [30, 40, 220, 255];
    });
    const modes = new Set(modesOf(encodeImage(three, 'bc7', { effort: 'best' })));
    expect(modes.has(0) || modes.has(2)).toBe(true);
  });

  test('few values far apart are met exactly by ends beyond their range', () => {
    const steps = picture(16, 16, (x) => [120 + (x & 3) * 13, 0, 0, 255]);
    expect(squaredErrors(steps, through(steps, 'bc4'))[0]).toBe(0);
  });

  test('0 and 255 beside a narrow range come for nothing in BC4', () => {
    const cut = picture(16, 16, (x, y) => [x % 4 === 0 ? 0 : x % 4 === 3 ? 255 : 140 + ((x + y) % 6), 0, 0, 255]);
    const errors = squaredErrors(cut, through(cut, 'bc4'))[0];
    expect(psnrOf(errors, 256)).toBeGreaterThan(50);
  });
});

describe('weights', () => {
  test('perceptual ones give green what they take from blue, in BC1 and BC7', () => {
    const random = randomFrom(77);
    const noise = picture(64, 64, () => [random() * 256, random() * 256, random() * 256, 255].map(Math.floor));
    for (const format of ['bc1', 'bc7'] as const) {
      const [uniform, perceptual] = (['uniform', 'perceptual'] as const).map((weights) =>
        squaredErrors(noise, through(noise, format, { effort: 'normal', weights })),
      );
      expect(perceptual[1]).toBeLessThan(uniform[1]);
      expect(perceptual[2]).toBeGreaterThan(uniform[2]);
      // Uniform is the better one where all count alike.
      const sum = (squares: number[]) => squares[0] + squares[1] + squares[2];
      expect(sum(uniform)).toBeLessThan(sum(perceptual));
    }
  });
});

describe('every format', () => {
  const image = liveryLike(52, 3, true);

  test.each(WRITTEN)('%s: bands of rows add up to the whole, twice over, in any order', (format) => {
    const whole = encodeImage(image, format, { effort: 'fast' });
    const rows = rowsOf(FORMATS[format], image.height);
    const stride = rowBytes(FORMATS[format], image.width);
    const again = new Uint8Array(whole.length);
    for (const [from, to] of [
      [7, rows],
      [0, 3],
      [3, 7],
    ]) {
      encodeRows(format, image, from, to, again.subarray(from * stride, to * stride), { effort: 'fast' });
    }
    expect(Buffer.compare(Buffer.from(again), Buffer.from(whole))).toBe(0);
    // Another format between leaves no trace in what follows.
    encodeImage(image, format === 'bc7' ? 'bc1' : 'bc7', { effort: 'best' });
    expect(Buffer.compare(Buffer.from(encodeImage(image, format, { effort: 'fast' })), Buffer.from(whole))).toBe(0);
  });

  test.each(WRITTEN)('%s: errors by rows add up to those of the whole picture', (format) => {
    const bytes = encodeImage(image, format, { effort: 'fast' });
    const rows = rowsOf(FORMATS[format], image.height);
    const stride = rowBytes(FORMATS[format], image.width);
    const sums = [0, 0, 0, 0];
    for (let from = 0; from < rows; from += 5) {
      const to = Math.min(rows, from + 5);
      rowErrors(image, format, from, to, bytes.subarray(from * stride, to * stride)).forEach((v, c) => (sums[c] += v));
    }
    const back = decodeImage(bytes, format, image.width, image.height);
    expect(sums).toEqual(squaredErrors(image, back));
    const texels = image.width * image.height;
    expect(psnrOver(sums, texels, 'rgb')).toBeCloseTo(compareImages(image, back).psnrRgb, 9);
  });

  test('blocks that are too few are refused', () => {
    expect(() => decodeImage(new Uint8Array(15), 'bc7', 4, 4)).toThrow(/fewer blocks/);
  });

  test('1 x 1, 1 x 9 and 9 x 1 go through all of them', () => {
    for (const [width, height] of [
      [1, 1],
      [1, 9],
      [9, 1],
    ]) {
      const thin = picture(width, height, (x, y) => [200, 40 + x * 20, 30 + y * 20, 255]);
      for (const format of WRITTEN) {
        const squares = squaredErrors(thin, through(thin, format, { effort: 'normal' }));
        expect(psnrOver(squares, width * height, FORMATS[format].channels)).toBeGreaterThan(30);
      }
    }
  });
});

/** The kernels against their plain TypeScript twin: the same bytes for everything that they do. */
import { beforeAll, describe, expect, test } from 'vitest';
import { makeTwin } from '../testing/twin.ts';
import { randomFrom } from '../testing/images.ts';
import { settingsOf, type BlockKernel, type Effort } from '../texture/encoding.ts';
import { FORMATS, WRITTEN } from '../texture/formats/index.ts';
import { kernel, ROOM, SETTINGS, type Kernel } from './kernel.ts';

/** What the kernels are told of each format that they write. */
const KERNELS = WRITTEN.flatMap((key): [string, BlockKernel][] => {
  const format = FORMATS[key];
  return format.blockBytes ? [[key, format.kernel]] : [];
});
const COLUMNS = 8;
const STRIDE = COLUMNS * 16;
const OUT = ROOM + 4 * STRIDE;

let twin: Kernel;
beforeAll(async () => {
  twin = await makeTwin();
});

/** Rows of blocks of many sorts: flat, two colours, ramps, noise, soft alpha, clear beside opaque. */
function texels(seed: number, alpha: boolean): Uint8Array {
  const random = randomFrom(seed);
  const out = new Uint8Array(4 * STRIDE);
  for (let bx = 0; bx < COLUMNS; bx++) {
    const a = [random() * 256, random() * 256, random() * 256];
    const b = [random() * 256, random() * 256, random() * 256];
    const rough = [0, 2, 12, 90][bx & 3];
    const slope = random() * 2 - 1;
    for (let i = 0; i < 16; i++) {
      const [x, y] = [i & 3, i >> 2];
      const t = bx % 3 === 0 ? (x + slope * y > 1.6 ? 1 : 0) : (x + y) / 6;
      const at = y * STRIDE + bx * 16 + x * 4;
      for (let c = 0; c < 3; c++)
        out[at + c] = Math.max(0, Math.min(255, a[c] * (1 - t) + b[c] * t + (random() - 0.5) * rough));
      out[at + 3] = !alpha || bx % 4 === 0 ? 255 : bx % 4 === 1 ? (random() < 0.5 ? 0 : 255) : random() * 256;
    }
  }
  return out;
}

function encoded(k: Kernel, format: number, source: Uint8Array, settings: ReturnType<typeof settingsOf>): number[] {
  const view = new DataView(k.memory.buffer);
  for (let i = 0; i < 8; i++) view.setInt16(SETTINGS + i * 2, settings.weights[i & 3], true);
  settings.numbers.forEach((value, i) => view.setInt32(SETTINGS + 16 + i * 4, value, true));
  k.forget();
  new Uint8Array(k.memory.buffer).set(source, ROOM);
  k.row(format, ROOM, STRIDE, COLUMNS, OUT);
  const size = format === 1 || format === 4 ? 8 : 16;
  return [...new Uint8Array(k.memory.buffer, OUT, COLUMNS * size)];
}

describe('encoders give the bytes of their twin', () => {
  const cases = KERNELS.flatMap(([key, told]) =>
    (key === 'bc5' ? (['fast'] as const) : (['fast', 'normal', 'best'] as const)).map(
      (effort): [string, Effort, BlockKernel] => [key, effort, told],
    ),
  );
  test.each(cases)('%s, %s', (_key, effort, told) => {
    for (const [seed, alpha] of [
      [1, false],
      [2, true],
    ] as const) {
      const source = texels(seed, alpha);
      const settings = settingsOf(told, { effort, weights: seed === 1 ? 'uniform' : 'perceptual', freeClear: alpha });
      expect(encoded(kernel(), told.number, source, settings)).toEqual(encoded(twin, told.number, source, settings));
    }
  });
});

test.each([1, 2, 3, 4, 5, 7, 14, 15])('decoder number %i gives the texels of its twin', (format) => {
  const random = randomFrom(format);
  const blocks = Uint8Array.from({ length: COLUMNS * 16 }, () => random() * 256);
  const results = [kernel(), twin].map((k) => {
    new Uint8Array(k.memory.buffer).set(blocks, ROOM);
    k.unrow(format, ROOM, COLUMNS, OUT, STRIDE);
    return [...new Uint8Array(k.memory.buffer, OUT, 4 * STRIDE)];
  });
  expect(results[0]).toEqual(results[1]);
});

test('rows of mip levels are those of the twin, colour and normals', () => {
  const random = randomFrom(9);
  const [source, floats, windows, across, sum, bytes] = [0x230000, 0x231000, 0x232000, 0x233000, 0x234000, 0x235000];
  const rows = 0x236000;
  for (const kind of [0, 1, 2]) {
    const row = Uint8Array.from({ length: 64 }, () => random() * 256);
    const results = [kernel(), twin].map((k) => {
      const { buffer } = k.memory;
      const view = new DataView(buffer);
      for (let i = 0; i < 256; i++)
        view.setFloat32(0x200000 + i * 4, kind === 2 ? i / 127.5 - 1 : (i / 255) ** 2, true);
      for (let i = 0; i < 256; i++) view.setFloat32(0x200400 + i * 4, i / 255, true);
      for (let i = 0; i < 65536; i++) view.setUint8(0x201000 + i, Math.sqrt(i / 65535) * 255);
      new Uint8Array(buffer).set(row, source);
      // Five: four side by side and one by itself.
      for (let x = 0; x < 5; x++) {
        view.setInt32(windows + x * 20, x * 3, true);
        for (let t = 0; t < 4; t++) view.setFloat32(windows + x * 20 + 4 + t * 4, [0.1, 0.4, 0.3, 0.2][t], true);
      }
      k.meanRow(source, 16, floats, kind === 1 ? 1 : 0);
      k.acrossRow(floats, windows, 4, across, 5);
      [across, floats].forEach((address, i) => {
        view.setInt32(rows + i * 8, address, true);
        view.setFloat32(rows + i * 8 + 4, [0.7, 0.3][i], true);
      });
      k.sumRows(rows, 2, sum, 5);
      k.byteRow(sum, 5, bytes, kind, 1);
      return [...new Uint8Array(buffer, bytes, 20)];
    });
    expect(results[0]).toEqual(results[1]);
  }
});

/** Compositing by kernel, by its TypeScript definition and by the kernel's own source without WebAssembly: the same bits. */
import { beforeAll, describe, expect, test } from 'vitest';
import { makeTwin } from '../testing/twin.ts';
import { randomFrom } from '../testing/images.ts';
import { inArena, kernelOf, scoped, zeroedTile, taken } from '../raster/arena.ts';
import { blendOver, fadeAll, fadeEach, fill, fillRun, overAll, tint } from '../raster/blend.ts';
import { BLEND_MODES } from '../raster/modes.ts';
import { halve16, toStraight8 } from '../raster/tile16.ts';
import { kernel as newOne, ROOM, type Kernel } from './kernel.ts';

const COUNT = 256;
let twin: Kernel;
beforeAll(async () => {
  twin = await makeTwin();
});

/** Premultiplied texels: clear, opaque, soft, at the ends of the range, and runs of each. */
function texels(seed: number, count = COUNT): Uint16Array {
  const random = randomFrom(seed);
  const out = new Uint16Array(count * 4);
  for (let i = 0; i < count; i++) {
    const kind = (i >> 2) % 5;
    const a = kind === 0 ? 0 : kind < 3 ? 65535 : random() < 0.1 ? 1 : Math.floor(random() * 65536);
    for (let c = 0; c < 3; c++) {
      const share = random() < 0.15 ? 0 : random() < 0.15 ? 1 : random();
      out[i * 4 + c] = Math.round(a * share);
    }
    out[i * 4 + 3] = a;
  }
  return out;
}

/** Runs something on plain memory and in the arena, and expects the same. @returns the outcome */
function alike(run: (a: Uint16Array, b: Uint16Array) => void, a: Uint16Array, b: Uint16Array): Uint16Array {
  const plain = a.slice();
  run(plain, b.slice());
  const quick = scoped(() => {
    const [x, y] = [taken(a), taken(b)];
    expect(inArena(x)).toBe(true);
    run(x, y);
    return x.slice();
  });
  expect(quick).toEqual(plain);
  return plain;
}

describe.each([...BLEND_MODES])('%s', (mode) => {
  test('over and atop are the same in both', () => {
    for (let seed = 1; seed < 12; seed++) {
      const [b, s] = [texels(seed), texels(seed + 100)];
      alike((x, y) => blendOver(x, y, mode), b, s);
      alike((x, y) => blendOver(x, y, mode, true), b, s);
    }
  });

  test('never leaves what premultiplied colour can be', () => {
    for (let seed = 30; seed < 36; seed++) {
      const out = alike((x, y) => blendOver(x, y, mode), texels(seed), texels(seed + 100));
      expect(out.every((v, i) => v <= out[i | 3])).toBe(true);
    }
  });
});

test('runs of one colour on opaque paint are the same in both, in every mode', () => {
  const random = randomFrom(71);
  for (const mode of BLEND_MODES) {
    for (let k = 0; k < 4; k++) {
      const a = k === 0 ? 65535 : 1 + Math.floor(random() * 65535);
      // Dark, light and mixed colours.
      const colour = [0, 1, 2].map(() =>
        Math.floor(a * (k % 2 ? random() : random() < 0.5 ? random() / 2.2 : 0.6 + random() * 0.4)),
      );
      const source = Uint16Array.from({ length: COUNT * 4 }, (_, i) =>
        (i >> 5) % 3 === 0 ? 0 : i % 4 === 3 ? a : colour[i % 4],
      );
      const ground = texels(k + 400).map((v, i) => (i % 4 === 3 ? 65535 : v));
      alike((x, y) => blendOver(x, y, mode), ground, source);
      alike((x, y) => blendOver(x, y, mode, true), ground, source);
    }
  }
});

test('fading, tinting and filling are the same in both', () => {
  const shares = Uint16Array.from({ length: COUNT }, (_, i) => (i % 3 === 0 ? 65535 : i % 3 === 1 ? 0 : i * 255));
  for (const share of [0, 1, 32768, 65534, 65535]) alike((x) => fadeAll(x, share), texels(3), texels(4));
  const each = alike(
    (x, y) => fadeEach(x, y.subarray(0, COUNT)),
    texels(5),
    Uint16Array.from({ length: COUNT * 4 }, (_, i) => shares[i] ?? 0),
  );
  expect(each[7]).toBe(0);
  alike(
    (x, y) => tint(x, y.subarray(0, COUNT), [200, 100, 7]),
    texels(6),
    Uint16Array.from({ length: COUNT * 4 }, (_, i) => shares[i] ?? 0),
  );
  for (const alpha of [0, 1, 30000, 65534, 65535])
    alike((x) => overAll(x, [alpha >> 1, 0, alpha, alpha]), texels(12), texels(13));
  for (const [from, to] of [
    [0, 8],
    [1, 10],
    [3, 14],
    [0, COUNT],
  ] as const) {
    const filled = alike((x) => fillRun(x, [1, 2, 3, 65535], from, to), texels(14), texels(15));
    expect([...filled.subarray(to * 4 - 4, to * 4)]).toEqual([1, 2, 3, 65535]);
    expect([...filled.subarray(to * 4, to * 4 + 4)]).toEqual([...texels(14).subarray(to * 4, to * 4 + 4)]);
  }
  expect([...alike((x) => fill(x, [257, 514, 65535, 65535]), texels(7), texels(8)).subarray(0, 4)]).toEqual([
    257, 514, 65535, 65535,
  ]);
});

test('rounding to straight 8 bits is the same in both, wherever the rectangle lies', () => {
  const random = randomFrom(2);
  for (let k = 0; k < 30; k++) {
    const [x, y] = [Math.floor(random() * 300), Math.floor(random() * 300)];
    const source = texels(k, 24 * 8);
    const plain = toStraight8(source, 24, 8, x, y);
    expect(scoped(() => toStraight8(taken(source), 24, 8, x, y))).toEqual(plain);
  }
});

test('a value that is exactly an 8-bit one stays, at every place of the pattern and every alpha that is opaque', () => {
  for (let v = 0; v < 256; v++) {
    const source = Uint16Array.from({ length: 64 * 4 }, (_, i) => (i % 4 === 3 ? 65535 : v * 257));
    const out = scoped(() => toStraight8(taken(source), 8, 8, 0, 0));
    for (let i = 0; i < 64; i++) expect(out[i * 4]).toBe(v);
  }
});

test('halving is the same in both', () => {
  const source = texels(9, 64 * 64);
  expect(scoped(() => halve16(taken(source), 64, 64).slice())).toEqual(halve16(source, 64, 64));
});

test('the kernels’ own source, run without vectors, gives the same bytes', () => {
  const real = newOne();
  for (let mode = 0; mode < BLEND_MODES.length; mode++) {
    for (const atop of [0, 1]) {
      const [b, s] = [texels(mode + 50, 64), texels(mode + 90, 64)];
      const outcome = [real, twin].map((k) => {
        const values = new Uint16Array(k.memory.buffer);
        values.set(b, ROOM / 2);
        values.set(s, ROOM / 2 + 1024);
        k.blend(mode, atop, ROOM, ROOM + 2048, 64);
        return values.slice(ROOM / 2, ROOM / 2 + 256);
      });
      expect(outcome[1]).toEqual(outcome[0]);
    }
  }
  const rest = [real, twin].map((k) => {
    const values = new Uint16Array(k.memory.buffer);
    const bytes = new Uint8Array(k.memory.buffer);
    values.set(texels(77, 64), ROOM / 2);
    new Float32Array(k.memory.buffer, ROOM + 4096, 32).fill(0.25);
    k.straightRow(ROOM, 64, ROOM + 8192, ROOM + 4096, 3);
    for (let i = 0; i < 256; i++) bytes[ROOM + 16384 + i] = (i * 37) & 255;
    k.premultiply(ROOM + 16384, 64, ROOM + 20480);
    k.rampRow(ROOM + 24576, 31, ROOM, 170_000, 120_000);
    k.rampRow(ROOM + 26000, 8, ROOM, 4_000_000, -500_000);
    k.radialRow(ROOM + 28672, 32, ROOM, 63, -8, 1, 30, 2);
    k.fadeAll(ROOM, 64, 12345);
    return bytes.slice(ROOM, ROOM + 30000);
  });
  expect(rest[1]).toEqual(rest[0]);
});

test('room is free again after a scope, and what does not fit is taken elsewhere', () => {
  const places = [0, 1].map(() => scoped(() => zeroedTile(16).byteOffset));
  expect(places[0]).toBe(places[1]);
  scoped(() => {
    const all = Array.from({ length: 60 }, () => zeroedTile(64));
    expect(all.some((one) => !inArena(one))).toBe(true);
    expect(new Set(all.filter(inArena).map((one) => one.byteOffset)).size).toBe(all.filter(inArena).length);
    expect(inArena(zeroedTile(kernelOf().memory.buffer.byteLength))).toBe(false);
  });
});

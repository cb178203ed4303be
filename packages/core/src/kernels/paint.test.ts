/** Coverage by kernel, by its TypeScript definition and by the kernel's own source without WebAssembly: the same bits. */
import { beforeAll, describe, expect, test } from 'vitest';
import { randomFrom } from '../testing/images.ts';
import { makeTwin } from '../testing/twin.ts';
import { cover, coverPlainly, type Stamp, type TexelBox } from '../raster/cover.ts';
import { TILE } from '../raster/image.ts';
import { ROOM, type Kernel } from './kernel.ts';

let twin: Kernel;
beforeAll(async () => {
  twin = await makeTwin();
});

const digest = (values: Uint16Array) => Buffer.from(values.buffer, values.byteOffset, values.byteLength);
const sameBytes = (a: Uint16Array, b: Uint16Array) => Buffer.compare(digest(a), digest(b)) === 0;

/** Shares at the ends of the range, between, and none. */
function shares(random: () => number, count: number): Uint16Array {
  const one = () => (random() < 0.3 ? 0 : random() < 0.3 ? 65535 : Math.floor(random() * 65536));
  return Uint16Array.from({ length: count }, one);
}

function scene(seed: number) {
  const random = randomFrom(seed);
  const whole = (from: number, to: number) => from + Math.floor(random() * (to - from));
  const side = whole(1, 90) * 2 + 1;
  const stamp: Stamp = { side, values: shares(random, side * side) };
  const [left, top] = [whole(-side + 1, TILE), whole(-side + 1, TILE)];
  const within: TexelBox = {
    left: Math.max(0, left + whole(0, 4)),
    top: Math.max(0, top),
    right: Math.min(TILE, left + side - whole(0, 4)),
    bottom: Math.min(TILE, top + side),
  };
  const share = random() < 0.4 ? 65535 : whole(1, 65536);
  return { tile: shares(random, TILE * TILE), stamp, left, top, within, share };
}

describe('a stamp on a tile', () => {
  test('comes out the same by kernel and texel by texel, and says where it changed', () => {
    for (let seed = 1; seed < 120; seed++) {
      const { tile, stamp, left, top, within, share } = scene(seed);
      if (within.left >= within.right) continue;
      const [quick, plain] = [tile.slice(), tile.slice()];
      const told = cover(quick, stamp, left, top, within, share);
      const exact = coverPlainly(plain, stamp, left, top, within, share);
      expect(sameBytes(quick, plain)).toBe(true);
      if (!exact || !told) {
        expect(told).toBe(exact);
        continue;
      }
      expect([told.top, told.bottom]).toEqual([exact.top, exact.bottom]);
      // Columns are told in eights.
      expect(told.left).toBe(Math.max(within.left, exact.left & -8));
      expect(told.right).toBe(Math.min(within.right, (exact.right + 7) & -8));
    }
  });

  test('the kernel’s source gives the same without WebAssembly', () => {
    for (let seed = 200; seed < 206; seed++) {
      const { tile, stamp, left, top, within, share } = scene(seed);
      if (within.left >= within.right) continue;
      const plain = tile.slice();
      coverPlainly(plain, stamp, left, top, within, share);
      const { buffer } = twin.memory;
      const at = ROOM + 64;
      const stampAt = at + TILE * TILE * 2 + 64;
      new Uint16Array(buffer, at, tile.length).set(tile);
      new Uint16Array(buffer, stampAt, stamp.values.length).set(stamp.values);
      const first = stampAt + ((within.top - top) * stamp.side - left) * 2;
      const rows = within.bottom - within.top;
      const [from, stride] = [at + within.top * TILE * 2, stamp.side * 2];
      twin.cover(from, rows, first, stride, within.left, within.right, share, ROOM);
      expect(sameBytes(new Uint16Array(buffer, at, tile.length), plain)).toBe(true);
    }
  });

  test('dabs of one share add up as the product of what they leave, and reach everything', () => {
    // 1 - (1 - a)^n: compositing of W3C "Compositing and Blending Level 1", section 5.1, the same colour over itself n times.
    const stamp: Stamp = { side: 9, values: new Uint16Array(81).fill(65535) };
    const whole = { left: 0, top: 0, right: 9, bottom: 9 };
    const tile = new Uint16Array(TILE * TILE);
    const share = 3277;
    for (let n = 1; n <= 40; n++) {
      cover(tile, stamp, 0, 0, whole, share);
      expect(Math.abs(tile[0] / 65535 - (1 - (1 - share / 65535) ** n))).toBeLessThan(n / 65535);
    }
    for (let n = 0; n < 400; n++) cover(tile, stamp, 0, 0, whole, share);
    // It stalls where a twentieth of what is left rounds to nothing: within ten of 65535.
    expect(tile[0]).toBeGreaterThan(65525 - 1);
    expect(cover(tile, stamp, 0, 0, whole, 65535)).not.toBeNull();
    expect(tile[0]).toBe(65535);
    expect(cover(tile, stamp, 0, 0, whole, 65535)).toBeNull();
  });
});

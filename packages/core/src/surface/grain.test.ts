/** How fine texels are on the model, by formula. */
import { describe, expect, test } from 'vitest';
import { body, cube, flat, turnedBody } from '../testing/bodies.ts';
import { grainAt, grainUnder, sideFor } from './grain.ts';
import { spotOfTexel, surfaceOf } from './locate.ts';

describe('the texels of', () => {
  test('a square wall of two metres on 256 texels are squares of 2/256', () => {
    const wall = flat(256, 2);
    for (const t of [0, 1]) {
      expect(grainAt(wall, t)!.size).toBeCloseTo(2 / 256, 12);
      expect(grainAt(wall, t)!.stretch).toBeCloseTo(1, 9);
    }
  });

  test('a wall that is laid out three times as wide as it is high are three times as high', () => {
    const tall = body(
      120,
      ['face'],
      [
        {
          ...{ sheet: 'face', box: [0, 0, 0.9, 0.3], columns: 1, rows: 1 },
          at: (u, v) => [u, 0, v],
          normal: () => [0, 1, 0],
        },
      ],
    );
    expect(grainAt(tall, 0)!.stretch).toBeCloseTo(3, 9);
    expect(grainAt(tall, 0)!.size).toBeCloseTo(Math.sqrt(1 / (108 * 36)), 12);
  });

  test('a barrel are its circumference by the width of its island, and its height by the height', () => {
    const lie = turnedBody(
      () => 0.5,
      (v) => 1 - v,
    );
    const barrel = body(512, ['face'], [{ sheet: 'face', box: [0, 0, 1, 0.5], ...lie, columns: 256, rows: 4 }]);
    const [wide, high] = [Math.PI / 512, 1 / 256];
    const grain = grainAt(barrel, 10)!;
    expect(grain.size).toBeCloseTo(Math.sqrt(wide * high), 5);
    expect(grain.stretch).toBeCloseTo(wide / high, 3);
  });

  test('any place are as large as the place says that a texel is', () => {
    const box = cube(256);
    const surface = surfaceOf(box, 'face');
    for (let y = 5; y < 256; y += 23)
      for (let x = 5; x < 256; x += 23) {
        const rank = surface.rankUnder(x, y);
        if (rank < 0) continue;
        expect(grainAt(box, surface.laid.triangle[rank])!.size).toBeCloseTo(spotOfTexel(surface, x, y)!.size, 9);
      }
  });
});

test('a mark aslant to the surface is stretched by one over the cosine; of two sheets that counts which has more of it', () => {
  const two = flat(128, 1, 'one', 'two');
  const spot = (triangle: number, weight: number) => ({
    ...{ triangle, weight, normal: [0, 1, 0] as const },
    facing: [0, Math.cos(1), Math.sin(1)] as const,
  });
  const found = grainUnder(two, [spot(0, 1), spot(2, 3)])!;
  expect(found.sheet).toBe('two');
  expect(found.stretch).toBeCloseTo(1 / Math.cos(1), 9);
  expect(grainUnder(two, [])).toBeNull();
});

test('the sheet that would do is the least power of two', () => {
  expect(sideFor(2048, 8, 10)).toBe(4096);
  expect(sideFor(2048, 5, 10)).toBe(4096);
  expect(sideFor(2048, 4.9, 10)).toBe(8192);
  expect(sideFor(2000, 10, 10)).toBe(2048);
});

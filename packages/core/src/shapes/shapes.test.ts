import fc from '../testing/property.ts';
import { describe, expect, test } from 'vitest';
import { fontBytes } from '../testing/scenes.ts';
import { fillCoverage, halfPlaneCoverage, strokeCoverage } from './coverage.ts';
import { readFont } from './font.ts';
import { turnOf } from '../raster/turn.ts';

const sum = (values: Float64Array) => values.reduce((a, b) => a + b, 0);

describe('coverage', () => {
  test('a rectangle between texels covers by area', () => {
    const c = fillCoverage([Float64Array.of(1.25, 1, 3.5, 1, 3.5, 2.5, 1.25, 2.5)], 5, 4);
    expect([...c.subarray(5, 10)]).toEqual([0, 0.75, 1, 0.5, 0]);
    expect([...c.subarray(10, 15)].map((v) => Number(v.toFixed(6)))).toEqual([0, 0.375, 0.5, 0.25, 0]);
  });

  test('any convex polygon inside the picture covers exactly its area (shoelace formula)', () => {
    const angles = fc.uniqueArray(fc.double({ min: 0, max: 6.28, noNaN: true }), { minLength: 3, maxLength: 8 });
    fc.assert(
      fc.property(angles, fc.double({ min: 2, max: 14, noNaN: true }), (turns, radius) => {
        const points = turns.sort((a, b) => a - b).map((t) => [16 + Math.cos(t) * radius, 16 + Math.sin(t) * radius]);
        const area =
          points.reduce(
            (n, [x, y], i) => n + x * points[(i + 1) % points.length][1] - points[(i + 1) % points.length][0] * y,
            0,
          ) / 2;
        expect(sum(fillCoverage([Float64Array.from(points.flat())], 32, 32))).toBeCloseTo(Math.abs(area), 5);
      }),
    );
  });

  test('a shape that hangs out of the picture covers what is inside', () => {
    const big = Float64Array.of(-50, -50, 50, -50, 50, 50, -50, 50);
    expect(sum(fillCoverage([big], 8, 8))).toBeCloseTo(64, 9);
    expect(sum(fillCoverage([Float64Array.of(-4, 2, 4, 2, 4, 6, -4, 6)], 8, 8))).toBeCloseTo(16, 9);
  });

  test('an outline that runs the other way cuts a hole', () => {
    const outer = Float64Array.of(0, 0, 8, 0, 8, 8, 0, 8);
    const inner = Float64Array.of(2, 2, 2, 6, 6, 6, 6, 2);
    expect(sum(fillCoverage([outer, inner], 8, 8))).toBeCloseTo(64 - 16, 9);
  });

  test('a stroke along a circle covers its ring', () => {
    const circle = Float64Array.from(
      Array.from({ length: 128 }, (_, i) => [
        32 + 20 * Math.cos((i * Math.PI) / 64),
        32 + 20 * Math.sin((i * Math.PI) / 64),
      ]).flat(),
    );
    // A band of radius 3 on both sides: 2 pi r times 6.
    expect(sum(strokeCoverage([circle], 3, 64, 64)) / (2 * Math.PI * 20 * 6)).toBeCloseTo(1, 2);
  });

  test('a half-plane through the middle covers half, and adds up to one with its other side', () => {
    for (const degrees of [0, 17, 45, 60, 90]) {
      const { cos, sin } = turnOf(degrees);
      for (const d of [-0.6, -0.2, 0, 0.1, 0.55]) {
        const one = halfPlaneCoverage(d, Math.abs(cos), Math.abs(sin));
        expect(one + halfPlaneCoverage(-d, Math.abs(cos), Math.abs(sin))).toBeCloseTo(1, 12);
        if (d === 0) expect(one).toBeCloseTo(0.5, 12);
      }
    }
  });
});

test('our sine and cosine are Math’s to the last digits, for any angle', () => {
  for (let degrees = -720; degrees <= 720; degrees += 7.3) {
    const { cos, sin } = turnOf(degrees);
    expect(cos).toBeCloseTo(Math.cos((degrees * Math.PI) / 180), 12);
    expect(sin).toBeCloseTo(Math.sin((degrees * Math.PI) / 180), 12);
  }
  // Right angles are exact, so that upright things stay sharp.
  expect([turnOf(90), turnOf(180), turnOf(270)].map(({ cos, sin }) => [cos + 0, sin + 0])).toEqual([
    [0, 1],
    [-1, 0],
    [0, -1],
  ]);
});

describe('lettering', () => {
  const font = readFont(fontBytes('russo-one'));

  test('a capital is one high and stands on the baseline', () => {
    const ys = font.outline('H', 0, 0).contours.flatMap((contour) => [...contour].filter((_v, i) => i % 2 === 1));
    expect(Math.min(...ys)).toBeCloseTo(-1, 6);
    expect(Math.max(...ys)).toBeCloseTo(0, 6);
  });

  test('spacing is added between letters, not after the last', () => {
    const plain = font.outline('HHH', 0, 0).width;
    expect(font.outline('HHH', 50, 0).width - plain).toBeCloseTo(1, 9);
  });

  test('slant leans the top by its tangent and leaves the baseline', () => {
    const upright = font.outline('I', 0, 0).contours[0];
    const leaning = font.outline('I', 0, 45).contours[0];
    for (let i = 0; i < upright.length; i += 2) expect(leaning[i] - upright[i]).toBeCloseTo(-upright[i + 1], 9);
  });

  test('what is not a font is refused in a sentence', () => {
    expect(() => readFont(new Uint8Array(100))).toThrow(/not a font that can be read/);
  });
});

import { describe, expect, test } from 'vitest';
import { layerOf } from '@wet-lacquer/core/testing/scenes.ts';
import { aimed, frameOf, fromLine, holds, moved, outward, scaled, turned, type Frame } from './placing.ts';
import { fitView, toScreen, toTexel, zoomAt } from './view.ts';

const decal = (rest: object = {}) =>
  layerOf('decal', {
    blob: '0'.repeat(64),
    source: 'svg',
    ratio: 2,
    keepRatio: true,
    x: 100,
    y: 80,
    width: 40,
    height: 20,
    turn: 0,
    mirrored: false,
    recolour: [],
    ...rest,
  });
const corners = (frame: Frame) =>
  [
    [-1, -1],
    [1, -1],
    [1, 1],
    [-1, 1],
  ].map(([a, b]) => outward(frame, (a * frame.width) / 2, (b * frame.height) / 2));

describe('handles', () => {
  test('moving takes the pointer’s way', () => {
    expect(moved(decal(), { x: 5, y: 5 }, { x: 12.25, y: 1 })).toEqual({ x: 107.3, y: 76 });
  });

  test.each([0, 30, -135])('scaling keeps the opposite corner where it is, at a turn of %i degrees', (turn) => {
    const layer = decal({ turn });
    const frame = frameOf(layer, null)!;
    const [anchor, , held] = corners(frame);
    const to = { x: anchor.x + (held.x - anchor.x) * 1.5, y: anchor.y + (held.y - anchor.y) * 1.5 };
    const set = scaled(layer, frame, { x: 1, y: 1 }, to);
    expect(set.width).toBeCloseTo(60, 0);
    expect(set.height).toBeCloseTo(30, 0);
    const [still] = corners(frameOf({ ...layer, ...set }, null)!);
    expect(Math.hypot(still.x - anchor.x, still.y - anchor.y)).toBeLessThan(0.2);
  });

  test('the ratio is kept unless asked otherwise', () => {
    const pulled = { x: 140, y: 95 };
    const kept = scaled(decal(), frameOf(decal(), null)!, { x: 1, y: 1 }, pulled);
    expect(kept.width / kept.height).toBeCloseTo(2, 2);
    const free = decal({ keepRatio: false });
    expect(scaled(free, frameOf(free, null)!, { x: 1, y: 1 }, pulled)).toMatchObject({ width: 60, height: 25 });
  });

  test('nothing can be scaled to nothing', () => {
    const set = scaled(decal(), frameOf(decal(), null)!, { x: 1, y: 1 }, { x: 0, y: 0 });
    expect(set.width).toBeGreaterThan(0);
    expect(set.height).toBeGreaterThan(0);
  });

  test('lettering scales by its size, a chequer by its cell', () => {
    const text = layerOf('lettering', {
      text: 'HI',
      font: 'anton',
      size: 10,
      x: 0,
      y: 0,
      turn: 0,
      paint: { hex: '#000000' },
      outline: null,
      spacing: 0,
      slant: 0,
      mirrored: false,
    });
    expect(frameOf(text, null)).toBeNull();
    const frame = frameOf(text, 3)!;
    expect(frame).toMatchObject({ width: 30, height: 10 });
    expect(scaled(text, frame, { x: 1, y: 1 }, { x: 45, y: 5 }).size).toBeCloseTo(20, 5);
    const cells = layerOf('chequer', {
      paint: { hex: '#000000' },
      other: null,
      x: 0,
      y: 0,
      angle: 0,
      cell: 10,
      columns: 4,
      rows: 2,
    });
    expect(scaled(cells, frameOf(cells, null)!, { x: 1, y: 1 }, { x: 60, y: 30 }).cell).toBeCloseTo(20, 5);
  });

  test('turning points the handle at the pointer; with Shift in steps of 15 degrees', () => {
    expect(turned(decal(), { x: 0, y: 0 }, { x: 0, y: -10 }, false)).toEqual({ turn: 0 });
    expect(turned(decal(), { x: 0, y: 0 }, { x: 10, y: 0 }, false)).toEqual({ turn: 90 });
    expect(turned(decal(), { x: 0, y: 0 }, { x: 10, y: -11 }, true)).toEqual({ turn: 45 });
  });

  test('a press is inside a turned box only where the box is', () => {
    const frame = { x: 0, y: 0, width: 100, height: 10, turn: 90 };
    expect(holds(frame, { x: 0, y: 45 })).toBe(true);
    expect(holds(frame, { x: 45, y: 0 })).toBe(false);
  });

  test('lines: aim and distance', () => {
    expect(aimed({ x: 0, y: 0 }, { x: 0, y: 20 }, false)).toEqual({ angle: 90, length: 20 });
    expect(fromLine({ x: 0, y: 0, angle: 90 }, { x: 7, y: 300 })).toBeCloseTo(7, 9);
  });
});

describe('the view', () => {
  const view = { zoom: 0.5, x: 300, y: 200, width: 800, height: 600 };

  test('texels and screen are each other', () => {
    const p = toScreen(view, 123, 456);
    expect(toTexel(view, p.x, p.y)).toEqual({ x: 123, y: 456 });
  });

  test('zooming keeps the texel under the pointer', () => {
    const before = toTexel(view, 90, 500);
    for (const factor of [0.3, 2, 50, 1000]) {
      const after = toTexel(zoomAt(view, factor, 90, 500), 90, 500);
      expect(after.x).toBeCloseTo(before.x, 6);
      expect(after.y).toBeCloseTo(before.y, 6);
    }
    expect(zoomAt(view, 1000, 0, 0).zoom).toBe(64);
  });

  test('fitting shows the whole sheet', () => {
    const whole = fitView(view, { width: 2048, height: 1024 });
    const [a, b] = [toScreen(whole, 0, 0), toScreen(whole, 2048, 1024)];
    expect(Math.min(a.x, a.y)).toBeGreaterThanOrEqual(0);
    expect(b.x).toBeLessThanOrEqual(800);
    expect(b.y).toBeLessThanOrEqual(600);
  });
});

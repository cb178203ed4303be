import { expect, test } from 'vitest';
import { layerOf, smallTemplate } from '@wet-lacquer/core/testing/scenes.ts';
import { snapBox, snapLines, snapPoint, snapWidth } from './snapping.ts';

const template = smallTemplate(128);
const decal = (x: number, y: number, width = 20) =>
  layerOf('decal', {
    blob: 'a'.repeat(64),
    source: 'pixels',
    ratio: 2,
    keepRatio: true,
    x,
    y,
    width,
    height: width / 2,
    turn: 0,
    mirrored: false,
    recolour: [],
  });

test('the axis comes before what lies within half a texel of it; nothing further away than asked for', () => {
  const lines = snapLines(template, 'face', [], decal(10, 10));
  // The axis at 64, the sheet's middle, and where the two parts meet are one line.
  expect(snapPoint({ x: 66, y: 5 }, lines, 3)).toEqual({
    point: { x: 64, y: 5 },
    lines: [{ axis: 'x', at: 64, name: 'the axis' }],
  });
  expect(snapPoint({ x: 68, y: 5 }, lines, 3).lines).toEqual([]);
});

test('a box is held by its middle before its sides, and by marks that are shown', () => {
  const other = decal(77, 100);
  const lines = snapLines(template, 'face', [other, { ...decal(110, 20), hidden: true }], decal(10, 10));
  const snapped = snapBox({ left: 66, top: 90, right: 86, bottom: 112 }, lines, 2);
  expect(snapped.by).toEqual({ x: 1, y: -1 });
  expect(snapped.lines.map(({ name }) => name)).toEqual([`middle of ${other.name}`, `middle of ${other.name}`]);
  expect(snapBox({ left: 101, top: 2, right: 121, bottom: 12 }, lines, 2).by.x).toBe(0);
});

test('the same mark on another part is offered its likeness’s place there, from either side', () => {
  // Parts of the little template: 32 to 64 and 64 to 96 across, 32 to 96 down.
  const first = decal(40, 50, 8);
  const names = (x: number, y: number) =>
    snapPoint({ x, y }, snapLines(template, 'face', [first], decal(0, 0, 8)), 0.6).lines.map(({ name }) => name);
  expect(names(72, 50)).toContain(`as ${first.name} on left half`);
  expect(names(88, 50)).toContain(`as ${first.name} on left half`);
});

test('another mark’s width is caught when it is near, and only one of the same kind', () => {
  const others = [
    decal(40, 100, 30),
    layerOf('hazard', {
      paint: { hex: '#000000' },
      other: null,
      x: 9,
      y: 9,
      width: 24,
      height: 9,
      turn: 0,
      bar: 4,
      slant: 0,
    }),
  ];
  expect(snapWidth(28.5, others, decal(10, 10), 2)).toBe(30);
  expect(snapWidth(24, others, decal(10, 10), 2)).toBeNull();
});

test('where nothing else is near, a side goes to the block grid while that is shown', () => {
  const lines = [{ axis: 'x' as const, at: 21, name: 'the axis' }];
  const box = { left: 9.2, top: 30.5, right: 39.7, bottom: 51 };
  // The right side is nearer to 40 than the left one to 8; the lower one nearer to 52 than the upper one to 32.
  const { by, lines: held } = snapBox(box, lines, 1.5, 4);
  expect(by.x).toBeCloseTo(0.3, 9);
  expect(by.y).toBeCloseTo(1, 9);
  expect(held.map(({ name }) => name)).toEqual(['the block grid', 'the block grid']);
  // The axis comes first.
  expect(snapBox({ ...box, left: 20.2 }, lines, 1.5, 4).by.x).toBeCloseTo(0.8, 9);
  expect(snapBox(box, lines, 1.5).by).toEqual({ x: 0, y: 0 });
  expect(snapPoint({ x: 13, y: 6.5 }, [], 1.5, 4)).toMatchObject({ point: { x: 12, y: 8 } });
  expect(snapPoint({ x: 14, y: 6 }, [], 1.5, 4).lines).toEqual([]);
});

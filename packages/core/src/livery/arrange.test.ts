import { describe, expect, test } from 'vitest';
import { renderSheet } from '../compose/renderSheet.ts';
import { layerOf, smallLivery, smallTemplate, sourcesFor } from '../testing/scenes.ts';
import { ALIGNMENTS, aligned, boundsOf, distributed, movedBy, partnerOf } from './arrange.ts';
import type { Layer } from './layer.ts';

const template = smallTemplate(96);
const size = { width: 96, height: 96 };
async function drawn(layer: Layer) {
  const livery = smallLivery([layer], template);
  return renderSheet(livery, 'face', 'colour', size, await sourcesFor(livery, template)).data;
}

const paint = { scheme: 'red' };
const KINDS: Layer[] = [
  layerOf('stripe', { paint, x: 30, y: 40, angle: 20, width: 9, softness: 0 }),
  layerOf('fade', {
    shape: 'linear',
    x: 20,
    y: 30,
    length: 40,
    angle: 33,
    stops: [0, 1].map((at) => ({ at, paint, opacity: at * 100 })),
  }),
  layerOf('halftone', { paint, x: 30, y: 40, length: 30, angle: 20, pitch: 8 }),
  layerOf('chequer', { paint, other: null, x: 40, y: 40, angle: 15, cell: 7, columns: 3, rows: 3 }),
  layerOf('hazard', { paint, other: null, x: 40, y: 38, width: 50, height: 20, turn: 12, bar: 8, slant: 30 }),
  layerOf('shape', {
    paint,
    x: 40,
    y: 40,
    line: null,
    paths: [
      {
        closed: true,
        how: 'add',
        knots: [
          { x: -10, y: -12, smooth: false },
          { x: 20, y: 0, smooth: true },
          { x: 0, y: 15, smooth: true },
        ],
      },
    ],
  }),
  layerOf('lettering', {
    text: 'F4',
    font: 'russo-one',
    size: 24,
    x: 40,
    y: 44,
    turn: 17,
    paint,
    outline: null,
    spacing: 0,
    slant: 0,
    mirrored: false,
  }),
];

describe.each(KINDS.map((layer) => [layer.kind, layer] as const))('the partner of a %s', (_kind, layer) => {
  test.each(['x', 'y'] as const)('is its mirror picture across %s', async (across) => {
    const before = await drawn(layer);
    const after = await drawn(partnerOf(layer, { across, at: 48 }, false)!);
    let far = 0;
    for (let y = 0; y < 96; y++) {
      for (let x = 0; x < 96; x++) {
        const [mx, my] = across === 'x' ? [95 - x, y] : [x, 95 - y];
        // Coverage is the same area from either side; a fade or an edge may round the last bits the other way.
        far = Math.max(far, Math.abs(before[(y * 96 + x) * 4 + 3] - after[(my * 96 + mx) * 4 + 3]));
      }
    }
    expect(far).toBeLessThanOrEqual(3);
  });
});

test('a readable partner of lettering leans the other way and is not mirrored', () => {
  const partner = partnerOf(KINDS[6], { across: 'x', at: 48 }, true)!;
  expect(partner).toMatchObject({ x: 56, y: 44, turn: -17, mirrored: false });
});

test('what has no place has no partner and does not move', () => {
  const solid = layerOf('solid', { paint });
  expect(partnerOf(solid, { across: 'x', at: 1 }, true)).toBeNull();
  expect(movedBy(solid, 5, 5)).toBe(solid);
  expect(movedBy(KINDS[0], 5, -5)).toMatchObject({ x: 35, y: 35 });
});

describe('lining up', () => {
  const boxes = [
    { left: 0, top: 0, right: 10, bottom: 10 },
    { left: 50, top: 20, right: 90, bottom: 30 },
    { left: 12, top: 5, right: 32, bottom: 85 },
  ];
  const after = (moves: { dx: number; dy: number }[]) =>
    boxes.map((b, i) => ({
      left: b.left + moves[i].dx,
      right: b.right + moves[i].dx,
      top: b.top + moves[i].dy,
      bottom: b.bottom + moves[i].dy,
    }));

  test.each(ALIGNMENTS)('%s: one line for all, and no way across it', (how) => {
    const level = how === 'top' || how === 'middle' || how === 'bottom';
    const places = after(aligned(boxes, how)).map((b) =>
      how === 'centre' ? (b.left + b.right) / 2 : how === 'middle' ? (b.top + b.bottom) / 2 : b[how],
    );
    expect(new Set(places).size).toBe(1);
    for (const { dx, dy } of aligned(boxes, how)) expect(level ? dx : dy).toBe(0);
  });

  test('spread evenly: equal gaps, the outermost stay, whatever their order', () => {
    const spread = after(distributed(boxes, 'x'));
    expect([spread[0].left, spread[1].right]).toEqual([0, 90]);
    expect(spread[2].left - spread[0].right).toBeCloseTo(spread[1].left - spread[2].right, 9);
    expect(distributed(boxes.slice(0, 2), 'x')).toEqual([
      { dx: 0, dy: 0 },
      { dx: 0, dy: 0 },
    ]);
  });

  test('the box around a turned box', () => {
    const quarter = boundsOf({ x: 10, y: 20, width: 40, height: 10, turn: 90 });
    expect(quarter.right - quarter.left).toBeCloseTo(10, 9);
    expect(quarter.bottom - quarter.top).toBeCloseTo(40, 9);
  });
});

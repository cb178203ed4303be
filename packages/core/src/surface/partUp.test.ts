import { expect, test } from 'vitest';
import { smallTemplate } from '../testing/scenes.ts';
import { partUp } from './partUp.ts';

const template = smallTemplate(64);
/** The same quad with other places on the model, corner by corner: top left, top right, bottom right, bottom left of the sheet. */
const standing = (corners: readonly (readonly number[])[]) => ({
  ...template,
  mesh: { ...template.mesh, positions: [...corners, ...corners].flat() },
});
const [low, high] = [0, 1];

test('a part that stands as it lies on the sheet needs no turn; others need a quarter or a half', () => {
  // Rows of the sheet run down: its top left corner is the first.
  const upright = [
    [0, high, 0],
    [1, high, 0],
    [1, low, 0],
    [0, low, 0],
  ];
  for (const [k, wanted] of [
    [0, 0],
    [1, 90],
    [2, 180],
    [3, -90],
  ] as const) {
    const corners = upright.map((_, i) => upright[(i + k) % 4]);
    const turn = partUp(standing(corners), 'face', 'left')!;
    expect(Math.abs(((turn - wanted + 540) % 360) - 180)).toBeLessThan(1e-6);
  }
});

test('a part that lies flat has its front upwards', () => {
  const flat = [
    [0, 0, 1],
    [1, 0, 1],
    [1, 0, 0],
    [0, 0, 0],
  ];
  expect(partUp(standing(flat), 'face', 'left')).toBeCloseTo(0, 6);
});

test('a part that points to the side alone has no upright', () => {
  const spot = [
    [0, 0, 0],
    [0, 0, 0],
    [0, 0, 0],
    [0, 0, 0],
  ];
  expect(partUp(standing(spot), 'face', 'left')).toBeNull();
  expect(partUp(template, 'face', 'none')).toBeNull();
});

import { expect, test } from 'vitest';
import { smallTemplate } from '../testing/scenes.ts';
import { partAxis } from './partAxis.ts';

const template = smallTemplate(100);
/** The left part as another quad on the sheet: corners as shares of it, in turn. */
const lying = (corners: readonly (readonly number[])[]) => ({
  ...template,
  mesh: { ...template.mesh, uvs: [...corners.flat(), ...template.mesh.uvs.slice(8)] },
});
/** A box of so many texels about (50, 50), turned. */
const box = (width: number, height: number, degrees: number) => {
  const [cos, sin] = [Math.cos((degrees * Math.PI) / 180), Math.sin((degrees * Math.PI) / 180)];
  return [
    [-1, -1],
    [1, -1],
    [1, 1],
    [-1, 1],
  ].map(([u, v]) => {
    const [x, y] = [(u * width) / 2, (v * height) / 2];
    return [(50 + x * cos - y * sin) / 100, (50 + x * sin + y * cos) / 100];
  });
};

test.each([0, 20, 45, 90, -30, -80])('a box turned by %f degrees: along its long side, from end to end', (turn) => {
  const axis = partAxis(lying(box(60, 14, turn)), 'face', 'left')!;
  const apart = Math.abs(((axis.angle - turn + 270) % 180) - 90);
  expect(apart).toBeLessThan(1e-6);
  expect(axis.length).toBeCloseTo(60, 6);
  const end = [
    axis.x + axis.length * Math.cos((axis.angle * Math.PI) / 180),
    axis.y + axis.length * Math.sin((axis.angle * Math.PI) / 180),
  ];
  expect((axis.x + end[0]) / 2).toBeCloseTo(50, 6);
  expect((axis.y + end[1]) / 2).toBeCloseTo(50, 6);
  expect(Math.abs(axis.angle)).toBeLessThanOrEqual(90);
});

test('the same however the part is cut into triangles', () => {
  const two = partAxis(lying(box(60, 14, 25)), 'face', 'left')!;
  const other = lying(box(60, 14, 25));
  other.mesh = { ...other.mesh, indices: [1, 2, 3, 1, 3, 0, ...other.mesh.indices.slice(6)] };
  const again = partAxis(other, 'face', 'left')!;
  for (const key of ['x', 'y', 'angle', 'length'] as const) expect(again[key]).toBeCloseTo(two[key], 6);
});

test('a part without area, or one that is not there, has none', () => {
  expect(
    partAxis(
      lying([
        [0.5, 0.5],
        [0.5, 0.5],
        [0.5, 0.5],
        [0.5, 0.5],
      ]),
      'face',
      'left',
    ),
  ).toBeNull();
  expect(partAxis(template, 'face', 'none')).toBeNull();
});

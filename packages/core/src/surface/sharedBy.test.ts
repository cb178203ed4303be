/** Which places of a model wear the same texels. */
import { expect, test } from 'vitest';
import { body, cube, flat } from '../testing/bodies.ts';
import { demoBundle } from '../testing/scenes.ts';
import { sharedBy } from './sharedBy.ts';
import { cornersOfTriangle } from './triangles.ts';
import type { Vec } from './vectors.ts';

const middle = (template: Parameters<typeof sharedBy>[0], triangle: number) => {
  const [a, b, c] = cornersOfTriangle(template.mesh, triangle);
  const position = [0, 1, 2].map((k) => (a[k] + b[k] + c[k]) / 3) as unknown as Vec;
  return { triangle, position, weight: 1 };
};

test('a mirrored half shows it backwards, a copy as it is, half of what half of it lies on, and nothing else does', () => {
  const wall = (z: number, turned: boolean) => ({
    ...{ sheet: 'face', box: [0, 0, 0.5, 0.5] as [number, number, number, number], columns: 1, rows: 1 },
    at: (u: number, v: number): Vec => [turned ? 1 - u : u, 1 - v, z],
    normal: (): Vec => [0, 0, 1],
  });
  const two = body(64, ['face'], [wall(0, false), wall(2, true), wall(4, false)]);
  const found = sharedBy(two, [middle(two, 0), middle(two, 1)]);
  expect(found).toEqual([
    { part: 'p1', backwards: true, share: 1 },
    { part: 'p2', backwards: false, share: 1 },
  ]);
  expect(sharedBy(cube(64), [middle(cube(64), 0), middle(cube(64), 5)])).toEqual([]);
  const apart = flat(64, 1, 'one', 'two');
  // The same texels of another sheet are others.
  expect(sharedBy(apart, [middle(apart, 0)])).toEqual([]);
  expect(sharedBy(apart, [])).toEqual([]);
});

test('the demo’s skirt is worn by both sides, one of them mirrored, and its other parts by none', async () => {
  const { template } = await demoBundle('tern-tide');
  const of = (key: string) => template.parts.find((part) => part.key === key)!;
  const all = (key: string) =>
    Array.from({ length: of(key).count }, (_, k) => middle(template, of(key).first + k)).filter((_, k) => k % 3 === 0);
  const [one, ...more] = sharedBy(template, all('skirt'));
  expect([one.part, one.backwards, one.share > 0.95, more]).toEqual(['skirt-port', true, true, []]);
  expect(sharedBy(template, all('port-side'))).toEqual([]);
});

/** Models beside one another: on one ground, none in another, their triangles and UVs what they were. */
import { expect, test } from 'vitest';
import { DEMO_LIVERIES, demoBundle } from '../testing/scenes.ts';
import { lineUp } from './lineUp.ts';
import { boxOfMesh, diagonalOf } from './triangles.ts';

const subjects = await Promise.all(DEMO_LIVERIES.map(async (key) => (await demoBundle(key)).template));

test.each([false, true])('all subjects of the demo world stand free on one ground (same size: %s)', (same) => {
  const row = lineUp(subjects, same);
  expect(row.mesh.indices.length).toBe(subjects.reduce((sum, { mesh }) => sum + mesh.indices.length, 0));
  const boxes = subjects.map((_, n) => {
    const mine = row.parts.filter(({ key }) => key.startsWith(`${n}/`));
    const vertices = mine.flatMap(({ first, count }) => row.mesh.indices.slice(first * 3, (first + count) * 3));
    return boxOfMesh(row.mesh, vertices);
  });
  for (const [n, { low, high }] of boxes.entries()) {
    expect(low[1]).toBeCloseTo(0, 6);
    const { first, count } = row.vertices[n];
    expect(
      boxOfMesh(
        row.mesh,
        Array.from({ length: count }, (_, k) => first + k),
      ),
    ).toEqual({ low, high });
    if (n > 0) expect(low[2] - boxes[n - 1].high[2]).toBeGreaterThanOrEqual(0.149);
    const long = Math.hypot(...low.map((value, k) => high[k] - value));
    const largest = Math.max(...subjects.map(({ mesh }) => diagonalOf(mesh)));
    expect(long).toBeCloseTo(same ? largest : diagonalOf(subjects[n].mesh), 4);
  }
  expect(boxes[0].low[2]).toBeCloseTo(-boxes.at(-1)!.high[2], 6);
  // Each part wears its own livery's sheet.
  for (const [n, { parts }] of subjects.entries())
    expect(row.parts.filter(({ key }) => key.startsWith(`${n}/`)).map(({ sheet }) => sheet)).toEqual(
      parts.map(({ sheet }) => (sheet === null ? null : `${n}/${sheet}`)),
    );
});

test('of nothing there is nothing, of one it is that one in the middle', () => {
  expect(lineUp([], true).parts).toEqual([]);
  const { low, high } = boxOfMesh(lineUp([subjects[0]], false).mesh);
  for (const k of [0, 2]) expect(low[k]).toBeCloseTo(-high[k], 6);
});

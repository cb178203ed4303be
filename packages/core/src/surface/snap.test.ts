/** What holds something that is slid along a model, by formula on a cube and a ball. */
import { describe, expect, test } from 'vitest';
import { body, cube, turnedBody } from '../testing/bodies.ts';
import { heldNear, partEdges, type SnapPlane } from './snap.ts';
import { long, minus, type Vec } from './vectors.ts';

const all = (of: { mesh: { indices: readonly number[] } }) =>
  Array.from({ length: of.mesh.indices.length / 3 }, (_, t) => t);
const high = (offset: number): SnapPlane => ({ normal: [0, 1, 0], offset, name: 'as high' });
const along = (offset: number): SnapPlane => ({ normal: [1, 0, 0], offset, name: 'as far forward' });

describe('on a cube of side 2', () => {
  const box = cube(64);

  test('one plane holds, then two, and what is farther does not', () => {
    const at: Vec = [0.21, 0.33, 1];
    expect(heldNear(box, all(box), at, [high(0.36)], 0.05)).toMatchObject({ names: ['as high'] });
    const one = heldNear(box, all(box), at, [high(0.36)], 0.05)!;
    [0.21, 0.36, 1].forEach((v, k) => expect(one.place[k]).toBeCloseTo(v, 9));
    const two = heldNear(box, all(box), at, [high(0.36), along(0.2)], 0.05)!;
    [0.2, 0.36, 1].forEach((v, k) => expect(two.place[k]).toBeCloseTo(v, 9));
    expect([...two.names].sort()).toEqual(['as far forward', 'as high']);
    expect(heldNear(box, all(box), at, [high(0.5), along(0.5)], 0.05)).toBeNull();
    // What was found is on the triangle that is named.
    expect(two.triangle).toBeGreaterThanOrEqual(0);
  });

  test('edges are those between the faces, each face its own part: none of the diagonals', () => {
    for (const { from, to } of partEdges(box)) expect(long(minus(from, to))).toBeCloseTo(2, 9);
    expect(partEdges(box)).toHaveLength(24);
    const edge = heldNear(box, all(box), [0.4, 0.97, 1], [], 0.05)!;
    [0.4, 1, 1].forEach((v, k) => expect(edge.place[k]).toBeCloseTo(v, 9));
    const both = heldNear(box, all(box), [0.4, 0.97, 1], [along(0.42)], 0.05)!;
    [0.42, 1, 1].forEach((v, k) => expect(both.place[k]).toBeCloseTo(v, 9));
    expect(both.names).toHaveLength(2);
  });
});

test('on a ball a height is a circle: what is held lies on it and on the surface', () => {
  const rows = 64;
  const lie = turnedBody(
    (v) => Math.sin(Math.PI * v),
    (v) => Math.cos(Math.PI * v),
  );
  const round = body(64, ['face'], [{ sheet: 'face', box: [0, 0, 1, 1], ...lie, columns: 128, rows }]);
  const planes = [high(0.3), along(0)];
  for (let k = 0; k < 60; k++) {
    const [turn, up] = [k * 0.31, 0.3 + Math.sin(k) * 0.03];
    const wide = Math.sqrt(1 - up * up);
    const at: Vec = [wide * Math.sin(turn), up, wide * Math.cos(turn)];
    const found = heldNear(round, all(round), at, planes, 0.04)!;
    expect(found.place[1]).toBeCloseTo(0.3, 9);
    // The ball's triangles lie inside it by no more than this.
    expect(Math.abs(long(found.place) - 1)).toBeLessThan(0.0025);
    if (Math.abs(at[0]) < 0.03) expect(found.place[0]).toBeCloseTo(0, 9);
    else expect(long(minus(found.place, at))).toBeLessThan(0.06);
  }
});

test('a mesh without area or with one triangle holds nothing that is not there, and throws nothing', () => {
  const box = cube(64);
  const none = { ...box, mesh: { ...box.mesh, positions: box.mesh.positions.map(() => 0) } };
  expect(heldNear(none, all(none), [1, 1, 1], [high(0.9)], 0.2)).toBeNull();
  expect(
    heldNear({ ...box, mesh: { positions: [], normals: [], uvs: [], indices: [] } }, [], [0, 0, 0], [high(0)], 1),
  ).toBeNull();
});

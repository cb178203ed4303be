/** Parts of a model that comes as one: a lorry of boxes and discs, made here by formula. */
import { expect, test } from 'vitest';
import type { MeshData } from '../livery/template.ts';
import { faceOf } from './islands.ts';
import { proposeParts } from './proposeParts.ts';

const empty = (): MeshData => ({ positions: [], normals: [], uvs: [], indices: [] });
function face(mesh: MeshData, ...corners: number[][]) {
  const at = mesh.positions.length / 3;
  for (const corner of corners) {
    mesh.positions.push(...corner);
    mesh.normals.push(0, 0, 0);
    mesh.uvs.push(0, 0);
  }
  for (let k = 2; k < corners.length; k++) mesh.indices.push(at, at + k - 1, at + k);
}
/** Every side of a box as a grid of n by n, outside outside. */
function box(mesh: MeshData, [x0, y0, z0]: number[], [x1, y1, z1]: number[], n = 4) {
  const grid = (at: (u: number, v: number) => number[]) => {
    for (let i = 0; i < n; i++)
      for (let j = 0; j < n; j++)
        face(mesh, at(i / n, j / n), at((i + 1) / n, j / n), at((i + 1) / n, (j + 1) / n), at(i / n, (j + 1) / n));
  };
  const [w, h, l] = [x1 - x0, y1 - y0, z1 - z0];
  grid((u, v) => [x1, y0 + v * h, z1 - u * l]);
  grid((u, v) => [x0, y0 + v * h, z0 + u * l]);
  grid((u, v) => [x0 + u * w, y1, z1 - v * l]);
  grid((u, v) => [x0 + u * w, y0, z0 + v * l]);
  grid((u, v) => [x0 + u * w, y0 + v * h, z1]);
  grid((u, v) => [x1 - u * w, y0 + v * h, z0]);
}
function wheel(mesh: MeshData, x: number, z: number, radius = 0.5, wide = 0.3) {
  const at = (k: number, side: number) => {
    const turn = (2 * Math.PI * k) / 24;
    return [x + side * wide, radius + radius * Math.sin(turn), z + radius * Math.cos(turn)];
  };
  for (let k = 0; k < 24; k++) {
    face(mesh, at(k, 0), at(k, 1), at(k + 1, 1), at(k + 1, 0));
    face(mesh, [x + wide, radius, z], at(k + 1, 1), at(k, 1));
    face(mesh, [x, radius, z], at(k, 0), at(k + 1, 0));
  }
}
function lorry(): MeshData {
  const mesh = empty();
  box(mesh, [-1, 0.6, -3], [1, 3, 3]);
  for (const z of [2, -2]) for (const x of [-1.1, 0.8]) wheel(mesh, x, z);
  return mesh;
}
const one = (mesh: MeshData) => [{ name: 'all', material: 'paint', first: 0, count: mesh.indices.length / 3 }];

test('a lorry in one piece has sides, top, nose, tail, under and four wheels; every triangle is in one of them', () => {
  const mesh = lorry();
  const { mesh: ordered, groups } = proposeParts(mesh, one(mesh), { normal: [1, 0, 0] });
  expect(groups.map(({ name }) => name)).toEqual([
    ...['left side', 'right side', 'top', 'nose', 'tail', 'under'],
    ...['wheel 1', 'wheel 2', 'wheel 3', 'wheel 4'],
  ]);
  expect(groups.map(({ first }) => first)).toEqual(
    groups.map((_, i) => groups.slice(0, i).reduce((sum, { count }) => sum + count, 0)),
  );
  expect(groups.reduce((sum, { count }) => sum + count, 0)).toBe(mesh.indices.length / 3);
  expect(groups.every(({ material }) => material === 'paint')).toBe(true);
  const triangles = (m: MeshData) =>
    Array.from({ length: m.indices.length / 3 }, (_, t) => m.indices.slice(t * 3, t * 3 + 3).join()).sort();
  expect(triangles(ordered)).toEqual(triangles(mesh));
  // Left is where +x is, when front is +z and up +y.
  const [left] = groups;
  for (let t = left.first; t < left.first + left.count; t++) expect(faceOf(ordered, t)[0]).toBeGreaterThan(0);
  // The foremost come first.
  const reach = ({ first, count }: (typeof groups)[number]) =>
    Math.max(...ordered.indices.slice(first * 3, (first + count) * 3).map((v) => ordered.positions[v * 3 + 2]));
  expect(groups.slice(6).map(reach)).toEqual([2.5, 2.5, -1.5, -1.5]);
});

test('one that lies across z has its left at -z', () => {
  const turned = lorry();
  turned.positions = turned.positions.map((_, i) =>
    i % 3 === 0 ? turned.positions[i + 2] : i % 3 === 2 ? -turned.positions[i - 2] : turned.positions[i],
  );
  const { mesh, groups } = proposeParts(turned, one(turned), { normal: [0, 0, 1] });
  expect(groups).toHaveLength(10);
  const left = groups.find(({ name }) => name === 'left side')!;
  expect(faceOf(mesh, left.first)[2]).toBeLessThan(0);
});

test('what was divided stays as it was; so does what is small, or has no UVs', () => {
  const mesh = lorry();
  const count = mesh.indices.length / 3;
  const four = [0, 1, 2, 3].map((i) => ({
    name: `p${i}`,
    material: 'a',
    first: i * 10,
    count: i < 3 ? 10 : count - 30,
  }));
  expect(proposeParts(mesh, four, null)).toEqual({ mesh, groups: four });
  const bare = [{ ...one(mesh)[0], bare: true as const }];
  expect(proposeParts(mesh, bare, null)).toEqual({ mesh, groups: bare });
  const small = empty();
  box(small, [0, 0, 0], [1, 1, 1], 1);
  expect(proposeParts(small, one(small), null)).toEqual({ mesh: small, groups: one(small) });
});

/** Where a first mark lands: on what looks sideways, upright, with room; on walls that were laid out any way round. */
import { expect, test } from 'vitest';
import type { Subject } from '../livery/template.ts';
import { DEMO_LIVERIES, demoBundle } from '../testing/scenes.ts';
import { markPlace } from './markPlace.ts';

const SIDE = 256;

/** A wall of 2 m x 1 m that looks to +z, on a box of the sheet, turned there by quarters; and a floor beside it. */
function wall(quarters: number, mirrored: boolean): Subject {
  const corners: [number, number][] = [
    [0, 0],
    [1, 0],
    [1, 1],
    [0, 1],
  ];
  const turned = ([u, v]: [number, number]): [number, number] => {
    let at: [number, number] = [mirrored ? 1 - u : u, v];
    // A quarter clockwise on the sheet.
    for (let k = 0; k < quarters; k++) at = [1 - at[1], at[0]];
    return [(20 + at[0] * 160) / SIDE, (30 + at[1] * 160) / SIDE];
  };
  const positions = [
    ...corners.flatMap(([u, v]) => [u * 2, 1 - v, 0]),
    ...corners.flatMap(([u, v]) => [u * 9, 0, v * 9]),
  ];
  const normals = [...corners.flatMap(() => [0, 0, 1]), ...corners.flatMap(() => [0, 1, 0])];
  const uvs = [
    ...corners.flatMap(turned),
    ...corners.flatMap(([u, v]) => [(190 + u * 60) / SIDE, (10 + v * 240) / SIDE]),
  ];
  const faces = [0, 2, 1, 0, 3, 2];
  return {
    mesh: { positions, normals, uvs, indices: [...faces, ...faces.map((i) => i + 4)] },
    sheets: [{ key: 'face', name: 'face', width: SIDE, height: SIDE, alpha: 'none', axis: null }],
    parts: [
      { key: 'wall', name: 'wall', sheet: 'face', first: 0, count: 2, hex: null },
      { key: 'floor', name: 'floor', sheet: 'face', first: 2, count: 2, hex: null },
    ],
  };
}

test.each([
  [0, false, 0],
  [1, false, 90],
  [2, false, -180],
  [3, false, -90],
  [0, true, 0],
  [1, true, 90],
])('a wall that was turned by %i quarters (mirrored: %s) takes a mark turned by %i', (quarters, mirrored, turn) => {
  const place = markPlace(wall(quarters, mirrored), 'face')!;
  expect(place.turn).toBe(turn);
  expect(place.mirrored).toBe(mirrored);
  // In the middle of the wall, with room to its edges, and not on the larger floor.
  expect(Math.abs(place.x - 100)).toBeLessThanOrEqual(4);
  expect(Math.abs(place.y - 110)).toBeLessThanOrEqual(4);
  expect(place.radius).toBeGreaterThan(70);
  expect(place.radius).toBeLessThanOrEqual(82);
});

test('where nothing looks sideways it lies on what there is; a sheet without a model has no such place', () => {
  const subject = wall(0, false);
  const flat = {
    ...subject,
    mesh: { ...subject.mesh, normals: subject.mesh.normals.map((_, i) => (i % 3 === 1 ? 1 : 0)) },
  };
  expect(markPlace(flat, 'face')!.radius).toBeGreaterThan(60);
  expect(markPlace(subject, 'nothing')).toBeNull();
  expect(markPlace({ ...subject, parts: [] }, 'face')).toBeNull();
});

test('on every sheet of the demo world the place is on a part, with room', async () => {
  for (const { template } of await Promise.all(DEMO_LIVERIES.map(demoBundle)))
    for (const sheet of template.sheets) {
      if (sheet.plates) {
        // Nothing wears it.
        expect(markPlace(template, sheet.key)).toBeNull();
        continue;
      }
      const place = markPlace(template, sheet.key)!;
      expect(place.radius, `${template.key} ${sheet.key}`).toBeGreaterThan(Math.min(sheet.width, sheet.height) / 40);
    }
});

test('UVs that are nothing, and sheets covered ten thousand times over, end soon', () => {
  const subject = wall(0, false);
  const spoilt = (uvs: number[]) => ({ ...subject, mesh: { ...subject.mesh, uvs } });
  for (const value of [NaN, Infinity, 1e30])
    expect(markPlace(spoilt(subject.mesh.uvs.map(() => value)), 'face')).toBeNull();
  // Each repeats the sheet 64 times: followed cell by cell at 128 to a side that would be 1e10 of them.
  const many = 10_000;
  const indices = Array.from({ length: many }, () => [0, 2, 1]).flat();
  const heaped = {
    ...subject,
    mesh: { ...subject.mesh, indices, uvs: [0, 0, 8, 0, 8, 8, 0, 8, ...subject.mesh.uvs.slice(8)] },
    parts: [{ ...subject.parts[0], count: many }],
  };
  expect(markPlace(heaped, 'face')).not.toBeNull();
});

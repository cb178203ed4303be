/** Ways down a model, against the lines of steepest descent of bodies whose surfaces are known by formula. */
import { describe, expect, test } from 'vitest';
import type { Template } from '../../livery/template.ts';
import { flowDirection, flowKey, FieldKey } from '../../livery/fields.ts';
import { body, cube, turnedBody } from '../../testing/bodies.ts';
import { unit, type Vec } from '../vectors.ts';
import { bakeFlow, directionOf, FLOW_VALUES } from './flow.ts';
import { bakeField, fineSubject } from './index.ts';

const DOWN = [0, -1, 0] as const;

/** Each corner with where its way began and how long it is. */
function waysOf(template: Template, towards: readonly [number, number, number] = DOWN) {
  const { mesh } = fineSubject(template);
  const ways = bakeFlow(mesh, towards)(0, mesh.positions.length / 3);
  return Array.from({ length: mesh.positions.length / 3 }, (_, i) => ({
    at: mesh.positions.slice(i * 3, i * 3 + 3) as unknown as Vec,
    from: [...ways.slice(i * FLOW_VALUES, i * FLOW_VALUES + 3)] as unknown as Vec,
    far: ways[i * FLOW_VALUES + 3],
  }));
}

const turnOfPlace = ([x, , z]: Vec) => Math.atan2(z, x);
const between = (a: number, b: number) => {
  const off = Math.abs(a - b) % (2 * Math.PI);
  return Math.min(off, 2 * Math.PI - off);
};

describe('on a ball', () => {
  const round = turnedBody(
    (v) => Math.sin(Math.PI * (0.02 + 0.96 * v)),
    (v) => Math.cos(Math.PI * (0.02 + 0.96 * v)),
  );
  const ways = waysOf(body(64, ['face'], [{ sheet: 'face', box: [0, 0, 1, 1], ...round, columns: 96, rows: 64 }]));

  test('every way is a piece of a meridian, from where it is no longer level', () => {
    // The slope (sine of the angle from the top) from which things run.
    const top = Math.asin(0.25);
    let looked = 0;
    for (const { at, from, far } of ways) {
      const down = Math.acos(Math.max(-1, Math.min(1, at[1])));
      if (down < top + 0.1 || down > Math.PI - top - 0.1) continue;
      expect(between(turnOfPlace(at), turnOfPlace(from))).toBeLessThan(0.02);
      const began = Math.acos(from[1]);
      expect(Math.abs(began - top)).toBeLessThan(0.06);
      // The arc between, of radius 1.
      expect(Math.abs(far - (down - began))).toBeLessThan(0.02);
      looked++;
    }
    expect(looked).toBeGreaterThan(2000);
  });

  test('where it is level nothing runs', () => {
    const level = ways.filter(({ at }) => Math.abs(at[1]) > 0.98);
    expect(level.length).toBeGreaterThan(100);
    for (const { at, from, far } of level) {
      expect(far).toBe(0);
      expect(Math.hypot(...from.map((v, c) => v - at[c]))).toBeLessThan(1e-6);
    }
  });
});

test('on a cone every way is straight, from its rim to where it is asked', () => {
  // From a rim of radius 0.2 at height 1 out to 1 at 0.
  const side = turnedBody(
    (v) => 0.2 + 0.8 * v,
    (v) => 1 - v,
  );
  const cone = body(
    64,
    ['face'],
    [
      {
        ...{ sheet: 'face', box: [0, 0, 1, 1], ...side, columns: 72, rows: 9 },
        normal: (u) => [Math.sin(2 * Math.PI * u), 0.8, Math.cos(2 * Math.PI * u)],
      },
    ],
  );
  const slant = Math.hypot(1, 0.8);
  for (const { at, from, far } of waysOf(cone)) {
    expect(between(turnOfPlace(at), turnOfPlace(from))).toBeLessThan(0.02);
    expect(from[1]).toBeGreaterThan(0.98);
    expect(Math.abs(far - slant * (1 - at[1]))).toBeLessThan(0.03);
  }
});

test('on a plane that slopes askew ways are straight down it, to its end', () => {
  const normal = unit([0.4, 0.8, 0.3]);
  // Two directions in it: level, and the steepest down.
  const level = unit([normal[2], 0, -normal[0]]);
  const down = unit([0, 1, 2].map((c) => normal[c] * normal[1] - (c === 1 ? 1 : 0)) as unknown as Vec);
  // Cut askew, so that no edge of a triangle runs along the way.
  const at = (u: number, v: number): Vec =>
    [0, 1, 2].map((c) => level[c] * (u + 0.37 * v) + down[c] * v) as unknown as Vec;
  const plane = body(
    64,
    ['face'],
    [{ sheet: 'face', box: [0, 0, 1, 1], at, normal: () => normal, columns: 7, rows: 5 }],
  );
  const along = (p: Vec, d: Vec) => p[0] * d[0] + p[1] * d[1] + p[2] * d[2];
  let long = 0;
  for (const { at: place, from, far } of waysOf(plane)) {
    expect(Math.abs(along(place, level) - along(from, level))).toBeLessThan(1e-5);
    expect(Math.abs(far - (along(place, down) - along(from, down)))).toBeLessThan(1e-5);
    // At the upper edge, or at the side that leans over what is below it.
    const u = along(from, level) - 0.37 * along(from, down);
    expect(Math.min(Math.abs(along(from, down)), Math.abs(u), Math.abs(u - 1))).toBeLessThan(1e-5);
    long = Math.max(long, far);
  }
  expect(long).toBeGreaterThan(0.9);
});

test('down the sides of a cube from its upper edges, over no sharp edge', () => {
  for (const { at, from, far } of waysOf(cube(64))) {
    const side = Math.abs(at[1]) < 0.999;
    if (!side) continue;
    expect([from[0] - at[0], from[2] - at[2]].every((v) => Math.abs(v) < 1e-5)).toBe(true);
    expect(from[1]).toBeCloseTo(1, 5);
    expect(far).toBeCloseTo(1 - at[1], 5);
  }
});

test('along any direction: aft on a cube’s top from its forward edge', () => {
  const ways = waysOf(cube(64), [-1, 0, 0]).filter(({ at }) => Math.abs(at[0]) < 0.999 && at[1] > 0.999);
  expect(ways.length).toBeGreaterThan(20);
  for (const { at, from, far } of ways) {
    expect(from[0]).toBeCloseTo(1, 5);
    expect(far).toBeCloseTo(1 - at[0], 5);
  }
});

test('directions have names that are read back, and what is none has not', () => {
  for (const [heading, rise] of [
    [0, -90],
    [359.6, 12.4],
    [-90, 0],
    [725, 90],
  ]) {
    const key = flowKey(heading, rise);
    expect(FieldKey.safeParse(key).success).toBe(true);
    const read = flowDirection(key);
    const [a, b] = [directionOf(heading, rise), directionOf(read.heading, read.rise)];
    expect(a[0] * b[0] + a[1] * b[1] + a[2] * b[2]).toBeGreaterThan(0.9998);
  }
  for (const wrong of ['flow', 'flow-360-0', 'flow-1-181', 'flow--1-0', 'flow-1e3-0', 'flow-0-0 ', 'rust', 7])
    expect(FieldKey.safeParse(wrong).success).toBe(false);
});

test('a mesh that is torn, flat, or of nothing has ways all the same, without end', () => {
  const shapes: Vec[][] = [
    [
      [0, 0, 0],
      [0, 0, 0],
      [0, 0, 0],
    ],
    [
      [0, 0, 0],
      [1, 0, 0],
      [2, 0, 0],
    ],
    [
      [0, 0, 0],
      [1, 1, 0],
      [0, 1, 1],
    ],
  ];
  for (const corners of shapes)
    for (const normal of [
      [0, 0, 0],
      [0, 1, 0],
      [1, 0, 0],
    ]) {
      const mesh = {
        positions: [...corners, ...corners].flat(),
        normals: Array.from({ length: 6 }, () => normal).flat(),
        uvs: Array.from({ length: 12 }, () => 0),
        indices: [0, 1, 2, 3, 5, 4, 0, 2, 1],
      };
      const ways = bakeFlow(mesh, DOWN)(0, 6);
      expect(ways).toHaveLength(6 * FLOW_VALUES);
      expect(ways.every(Number.isFinite)).toBe(true);
    }
});

test('it is the same however it is asked for', () => {
  const template = cube(32);
  const { mesh } = fineSubject(template);
  const asked = bakeFlow(mesh, directionOf(0, -90))(0, mesh.positions.length / 3);
  expect(bakeField(template, flowKey(0, -90))).toEqual(asked);
});

/** What is baked of a model, against formulas. */
import { describe, expect, test } from 'vitest';
import type { MeshData, Subject } from '../../livery/template.ts';
import { renderSheet } from '../../compose/renderSheet.ts';
import { flowKey } from '../../livery/fields.ts';
import { newMask } from '../../livery/paint.ts';
import { layerOf, smallLivery, smallTemplate, sourcesFor } from '../../testing/scenes.ts';
import { meanCurvature } from './edges.ts';
import { halfSphere } from './hollows.ts';
import { beginField, bakeField, fineSubject } from './index.ts';
import { refined } from './refine.ts';

type Vec = [number, number, number];

/** A grid of corners over (u, v), normals as given, its island all over one sheet. */
function grid(
  columns: number,
  rows: number,
  at: (u: number, v: number) => Vec,
  up: (u: number, v: number) => Vec,
): MeshData {
  const mesh: MeshData = { positions: [], normals: [], uvs: [], indices: [] };
  for (let j = 0; j <= rows; j++)
    for (let i = 0; i <= columns; i++) {
      const [u, v] = [i / columns, j / rows];
      mesh.positions.push(...at(u, v));
      mesh.normals.push(...up(u, v));
      mesh.uvs.push(u, v);
    }
  for (let j = 0; j < rows; j++)
    for (let i = 0; i < columns; i++) {
      const a = j * (columns + 1) + i;
      mesh.indices.push(a, a + 1, a + columns + 2, a, a + columns + 2, a + columns + 1);
    }
  return mesh;
}

const joined = (...meshes: MeshData[]): MeshData => {
  const out: MeshData = { positions: [], normals: [], uvs: [], indices: [] };
  for (const { positions, normals, uvs, indices } of meshes) {
    const base = out.positions.length / 3;
    out.positions.push(...positions);
    out.normals.push(...normals);
    out.uvs.push(...uvs);
    out.indices.push(...indices.map((i) => i + base));
  }
  return out;
};

const subjectOf = (mesh: MeshData, side = 128): Subject => ({
  mesh,
  sheets: [{ ...smallTemplate(side).sheets[0] }],
  parts: [{ key: 'all', name: 'all', sheet: 'face', first: 0, count: mesh.indices.length / 3, hex: null }],
});

const unit = ([x, y, z]: Vec): Vec => {
  const long = Math.hypot(x, y, z);
  return [x / long, y / long, z / long];
};
const ball = (r: number) => {
  const at = (u: number, v: number): Vec => {
    const [turn, rise] = [2 * Math.PI * u, Math.PI * (0.02 + 0.96 * v)];
    return [r * Math.sin(rise) * Math.cos(turn), r * Math.cos(rise), r * Math.sin(rise) * Math.sin(turn)];
  };
  return grid(96, 48, at, (u, v) => unit(at(u, v)));
};
/** Six faces that share no corner, as hard edges have it. */
function box(side: number): MeshData {
  const faces: [Vec, Vec, Vec][] = [
    [
      [0, 0, 1],
      [1, 0, 0],
      [0, 1, 0],
    ],
    [
      [0, 0, -1],
      [-1, 0, 0],
      [0, 1, 0],
    ],
    [
      [1, 0, 0],
      [0, 0, -1],
      [0, 1, 0],
    ],
    [
      [-1, 0, 0],
      [0, 0, 1],
      [0, 1, 0],
    ],
    [
      [0, 1, 0],
      [1, 0, 0],
      [0, 0, -1],
    ],
    [
      [0, -1, 0],
      [1, 0, 0],
      [0, 0, 1],
    ],
  ];
  return joined(
    ...faces.map(([n, a, b]) =>
      grid(
        1,
        1,
        (u, v) => [0, 1, 2].map((c) => (side / 2) * (n[c] + a[c] * (2 * u - 1) + b[c] * (2 * v - 1))) as Vec,
        () => n,
      ),
    ),
  );
}
const areaOf = ({ positions, indices }: MeshData) => {
  let sum = 0;
  for (let t = 0; t < indices.length; t += 3) {
    const [a, b, c] = [0, 1, 2].map((k) => positions.slice(indices[t + k] * 3, indices[t + k] * 3 + 3));
    const [u, v] = [b.map((x, d) => x - a[d]), c.map((x, d) => x - a[d])];
    sum += Math.hypot(u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]) / 2;
  }
  return sum;
};

describe('a model cut finer', () => {
  // Long and short triangles side by side, so that every way of cutting is met.
  const mixed = grid(
    3,
    5,
    (u, v) => [u * u * 4, v * v * v * 6, 0],
    () => [0, 0, 1],
  );
  const fine = refined(subjectOf(mixed)).mesh;

  test('has the same surface, and no edge that is too long', () => {
    expect(areaOf(fine)).toBeCloseTo(areaOf(mixed), 9);
    const longest = Math.hypot(4, 6) / 48;
    for (let t = 0; t < fine.indices.length; t += 3)
      for (let k = 0; k < 3; k++) {
        const [a, b] = [fine.indices[t + k] * 3, fine.indices[t + ((k + 1) % 3)] * 3];
        expect(Math.hypot(...[0, 1, 2].map((c) => fine.positions[a + c] - fine.positions[b + c]))).toBeLessThanOrEqual(
          longest * 1.000001,
        );
      }
  });

  test('is without gaps: inside, every edge has two triangles, wound against one another', () => {
    const edges = new Map<string, number>();
    for (let t = 0; t < fine.indices.length; t += 3)
      for (let k = 0; k < 3; k++) {
        const [a, b] = [fine.indices[t + k], fine.indices[t + ((k + 1) % 3)]];
        edges.set(`${a} ${b}`, (edges.get(`${a} ${b}`) ?? 0) + 1);
      }
    const inside = (i: number) => {
      const [x, y] = [fine.positions[i * 3], fine.positions[i * 3 + 1]];
      return x > 1e-9 && x < 4 - 1e-9 && y > 1e-9 && y < 6 - 1e-9;
    };
    for (const [edge, times] of edges) {
      const [a, b] = edge.split(' ').map(Number);
      expect(times).toBe(1);
      if (inside(a) || inside(b)) expect(edges.get(`${b} ${a}`)).toBe(1);
    }
  });

  test('keeps parts together, and what is fine enough as it is', () => {
    const two = subjectOf(joined(mixed, box(1)));
    const half = mixed.indices.length / 3;
    const parts = [
      { ...two.parts[0], key: 'a', first: 0, count: half },
      { ...two.parts[0], key: 'b', first: half, count: 12 },
    ];
    const made = refined({ ...two, parts });
    expect(made.parts[1].first).toBe(made.parts[0].count);
    expect(made.parts[0].count + made.parts[1].count).toBe(made.mesh.indices.length / 3);
    const small = refined(subjectOf(ball(1)));
    expect(refined(small).mesh.indices).toEqual(small.mesh.indices);
  });
});

describe('curvature', () => {
  test.each([0.5, 1, 20])('of a sphere of radius %d is one through it', (r) => {
    const mesh = ball(r);
    const found = meanCurvature(mesh);
    for (let i = 97 * 8; i < 97 * 40; i++) expect(Math.abs(found[i] * r - 1)).toBeLessThan(0.02);
  });

  test('of a cylinder is half of one through its radius, of a plane none, of a bowl seen from inside below none', () => {
    const round = (u: number, v: number): Vec => [2 * Math.cos(2 * Math.PI * u), 6 * v, 2 * Math.sin(2 * Math.PI * u)];
    const pipe = grid(96, 20, round, (u, v) => unit([round(u, v)[0], 0, round(u, v)[2]]));
    const middle = 97 * 10 + 20;
    expect(meanCurvature(pipe)[middle]).toBeCloseTo(1 / 4, 2);
    const flat = grid(
      8,
      8,
      (u, v) => [u, 0, v],
      () => [0, 1, 0],
    );
    expect(Math.abs(meanCurvature(flat)[40])).toBeLessThan(1e-9);
    const bowl = { ...ball(1), normals: ball(1).normals.map((v) => -v) };
    expect(meanCurvature(bowl)[97 * 24]).toBeCloseTo(-1, 1);
  });

  test('edges are where faces meet, also where they share no corner, and not on the faces', () => {
    const subject = subjectOf(box(2));
    const values = bakeField(subject, 'edges');
    const { positions } = fineSubject(subject).mesh;
    for (let i = 0; i < values.length; i++) {
      const at = [0, 1, 2].map((c) => Math.abs(positions[i * 3 + c])).sort();
      // The middle coordinate says how near the nearest edge of the face is.
      if (at[1] > 0.999) expect(values[i]).toBeGreaterThan(0.4);
      if (at[1] < 0.5) expect(values[i]).toBeLessThan(0.05);
    }
  });

  test('facets of something round are no edges: it is as even as the round thing', () => {
    const at = (u: number, v: number): Vec => [Math.cos(2 * Math.PI * u), 3 * v - 1.5, Math.sin(2 * Math.PI * u)];
    const pipe = grid(32, 2, at, (u, v) => unit([at(u, v)[0], 0, at(u, v)[2]]));
    const subject = subjectOf(pipe);
    const values = bakeField(subject, 'edges');
    const { positions } = fineSubject(subject).mesh;
    const middle = [...values].filter((_, i) => Math.abs(positions[i * 3 + 1]) < 0.7);
    // Half of one through the radius, of the diagonal over twenty.
    const even = (0.5 * Math.hypot(2, 3, 2)) / 20;
    const mean = middle.reduce((sum, value) => sum + value, 0) / middle.length;
    expect(Math.abs(mean / even - 1)).toBeLessThan(0.25);
    // Without evening out, the middle of a facet has none and its crease several times as much.
    for (const value of middle) expect(Math.abs(value / even - 1)).toBeLessThan(1);
  });
});

describe('hollows', () => {
  test('directions are even about the pole: they weigh as the cosine does', () => {
    const set = halfSphere(512);
    let [up, x, z] = [0, 0, 0];
    for (let i = 0; i < set.length; i += 3) {
      expect(Math.hypot(set[i], set[i + 1], set[i + 2])).toBeCloseTo(1, 12);
      x += set[i] / 512;
      z += set[i + 1] / 512;
      up += set[i + 2] / 512;
    }
    // The mean cosine of directions that are as dense as their cosine is 2/3.
    expect(up).toBeCloseTo(2 / 3, 2);
    expect(Math.hypot(x, z)).toBeLessThan(0.02);
  });

  test('beside a long wall as much of the sky is closed as its view factor says', () => {
    // Infinitely long plates at right angles: half of (1 - d / sqrt(d² + h²)) (view factors of radiation heat transfer; from memory).
    const floor = grid(
      16,
      40,
      (u, v) => [2 * u, 0, 20 * v - 10],
      () => [0, 1, 0],
    );
    const wall = grid(
      2,
      40,
      (u, v) => [0, 0.6 * u, 20 * v - 10],
      () => [1, 0, 0],
    );
    const mesh = joined(floor, wall);
    const subject = subjectOf(mesh);
    const values = bakeField(subject, 'hollows');
    const { positions } = fineSubject(subject).mesh;
    let looked = 0;
    for (let i = 0; i < values.length; i++) {
      const [x, y, z] = positions.slice(i * 3, i * 3 + 3);
      if (y !== 0 || x < 0.2 || Math.abs(z) > 4) continue;
      looked++;
      expect(Math.abs(values[i] - 0.5 * (1 - x / Math.hypot(x, 0.6)))).toBeLessThan(0.04);
    }
    expect(looked).toBeGreaterThan(50);
  });

  test('on a ball nothing is', () => {
    expect(Math.max(...bakeField(subjectOf(ball(1)), 'hollows'))).toBeLessThan(0.04);
  });
});

test.each(['height', 'edges', 'hollows', flowKey(30, -60)] as const)(
  '%s in pieces, last first, is the whole',
  (name) => {
    const subject = subjectOf(joined(ball(1), box(3)));
    const whole = bakeField(subject, name);
    const { corners, bake } = beginField(subject, name);
    const values = whole.length / corners;
    for (let to = corners; to > 0; to -= 333) {
      const from = Math.max(0, to - 333);
      expect(bake(from, to)).toEqual(whole.slice(from * values, to * values));
    }
  },
);

test('height goes from the lowest point to the highest', () => {
  const subject = subjectOf(ball(3));
  const values = bakeField(subject, 'height');
  const { positions } = fineSubject(subject).mesh;
  const [low, high] = [Math.min(...ball(3).positions.filter((_, i) => i % 3 === 1)), 0];
  for (let i = 0; i < values.length; i += 17)
    expect(values[i]).toBeCloseTo((positions[i * 3 + 1] - low) / (2 * (high - low)), 5);
});

describe('a mask by a field', () => {
  const SIDE = 128;
  const wall = grid(
    2,
    2,
    (u, v) => [u, 1 - v, 0],
    () => [0, 0, 1],
  );
  const template = { ...smallTemplate(SIDE), ...subjectOf(wall, SIDE) };
  const drawn = async (set: { from: number; to: number }) => {
    const mask = newMask({ kind: 'field', field: 'height', ...set });
    const livery = smallLivery([layerOf('solid', { paint: { hex: '#ffffff' }, mask })], template);
    const sources = await sourcesFor(livery, template);
    return renderSheet(livery, 'face', 'colour', { width: SIDE, height: SIDE }, sources).data;
  };

  test('lets through as much as the field says at each texel', async () => {
    const [up, down] = [await drawn({ from: 0.25, to: 0.75 }), await drawn({ from: 0.75, to: 0.25 })];
    for (let y = 0; y < SIDE; y++) {
      const height = 1 - (y + 0.5) / SIDE;
      const share = Math.max(0, Math.min(1, (height - 0.25) * 2));
      expect(Math.abs(up[(y * SIDE + 64) * 4 + 3] - share * 255)).toBeLessThan(1.01);
      expect(Math.abs(down[(y * SIDE + 64) * 4 + 3] - (1 - share) * 255)).toBeLessThan(1.01);
    }
  });
});

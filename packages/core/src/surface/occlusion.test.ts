/** Ambient occlusion against cases whose answer is known, and the box tree against a search through all triangles. */
import { describe, expect, test } from 'vitest';
import type { MeshData, Subject } from '../livery/template.ts';
import { randomFrom } from '../testing/images.ts';
import { buildBvh, occluded } from './bvh.ts';
import { bakeRows, finishBake, fieldsAt } from './occlusion.ts';

/** Rectangles by corner and two sides, each on its own column of one sheet; faces look along the cross product. */
function subject(list: { at: number[]; a: number[]; b: number[] }[], width = 64, height = 64): Subject {
  const mesh: MeshData = { positions: [], normals: [], uvs: [], indices: [] };
  list.forEach(({ at, a, b }, i) => {
    const n = [a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]];
    const length = Math.hypot(...n);
    const [l, r] = [i / list.length + 0.004, (i + 1) / list.length - 0.004];
    [
      [0, 0, l, 1],
      [1, 0, r, 1],
      [1, 1, r, 0],
      [0, 1, l, 0],
    ].forEach(([p, q, u, v]) => {
      mesh.positions.push(...at.map((x, c) => x + a[c] * p + b[c] * q));
      mesh.normals.push(...n.map((x) => x / length));
      mesh.uvs.push(u, v);
    });
    mesh.indices.push(...[0, 1, 2, 0, 2, 3].map((k) => i * 4 + k));
  });
  return {
    sheets: [{ key: 's', name: 's', width, height, alpha: 'none', axis: null }],
    parts: list.map((_, i) => ({ key: String(i), name: String(i), sheet: 's', first: i * 2, count: 2, hex: null })),
    mesh,
  };
}

function bake(of: Subject, rays = 1024, reach = 1e4) {
  const { width, height } = of.sheets[0];
  const map = fieldsAt(of, 's', width, height);
  const open = new Float32Array(width * height).fill(-1);
  bakeRows(of.mesh, map, buildBvh(of.mesh), { rays, reach }, 0, height, open);
  return { map, open };
}

describe('the tree', () => {
  test('answers as a search through every triangle does, for rays in all directions', () => {
    const random = randomFrom(4);
    const mesh: MeshData = { positions: [], normals: [], uvs: [], indices: [] };
    for (let t = 0; t < 300; t++) {
      const at = [random(), random(), random()];
      for (let k = 0; k < 3; k++) mesh.positions.push(...at.map((v) => v + (random() - 0.5) * 0.2));
      mesh.indices.push(t * 3, t * 3 + 1, t * 3 + 2);
    }
    const bvh = buildBvh(mesh);
    const each = Array.from({ length: 300 }, (_, t) => buildBvh(mesh, (k) => k === t));
    let hits = 0;
    for (let k = 0; k < 400; k++) {
      const o = [random(), random(), random()];
      // Some along an axis: their inverse is infinite.
      const d = k % 4 === 0 ? [0, 0, 0].map((_, c) => (c === k % 3 ? 1 : 0)) : [0, 0, 0].map(() => random() - 0.5);
      const ask = (b: typeof bvh) => occluded(b, o[0], o[1], o[2], d[0], d[1], d[2], 1e-4, 0.7);
      const any = each.some(ask);
      if (any) hits++;
      expect(ask(bvh)).toBe(any);
    }
    expect(hits).toBeGreaterThan(60);
    expect(occluded(buildBvh({ positions: [], normals: [], uvs: [], indices: [] }), 0, 0, 0, 1, 0, 0, 0, 9)).toBe(
      false,
    );
  });
});

describe('ambient occlusion', () => {
  test('a coarse round body with smoothed normals is open all over: it stands in nothing’s way', () => {
    const sides = 8;
    const mesh: MeshData = { positions: [], normals: [], uvs: [], indices: [] };
    for (let k = 0; k <= sides; k++) {
      const turn = (2 * Math.PI * k) / sides;
      for (const y of [0, 4]) {
        mesh.positions.push(Math.cos(turn), y, -Math.sin(turn));
        mesh.normals.push(Math.cos(turn), 0, -Math.sin(turn));
        mesh.uvs.push(k / sides, 1 - y / 4);
      }
      if (k < sides) mesh.indices.push(...[0, 2, 1, 1, 2, 3].map((i) => k * 2 + i));
    }
    const { open } = bake({
      sheets: [{ key: 's', name: 's', width: 64, height: 16, alpha: 'none', axis: null }],
      parts: [{ key: '0', name: '0', sheet: 's', first: 0, count: sides * 2, hex: null }],
      mesh,
    });
    expect(open.every((share) => share === 1)).toBe(true);
  });

  test('is one half on the line where two wide planes meet at a right angle, and less dark further out', () => {
    // A floor and a wall, each 200 wide and 100 deep; the wall stands on the floor's edge.
    const { map, open } = bake(
      subject([
        { at: [-100, 0, 100], a: [200, 0, 0], b: [0, 0, -100] },
        { at: [-100, 0, 0], a: [200, 0, 0], b: [0, 100, 0] },
      ]),
    );
    const floor = (z: number) => {
      let best = { d: Infinity, open: 0 };
      for (let i = 0; i < open.length; i++) {
        if (!(map.normal[i * 3 + 1] > 0.5)) continue;
        const d = Math.abs(map.position[i * 3 + 2] - z) + Math.abs(map.position[i * 3]) / 50;
        if (d < best.d) best = { d, open: open[i] };
      }
      return best.open;
    };
    // Cosine-weighted visibility beside an endless wall is (1 + cos of the angle to its top) / 2: 1/2 at its foot.
    expect(floor(0)).toBeGreaterThan(0.47);
    expect(floor(0)).toBeLessThan(0.53);
    // The wall is not endless: near its foot that makes no difference, further out it would.
    const far = (1 + 20 / Math.hypot(20, 100)) / 2;
    expect(Math.abs(floor(20) - far)).toBeLessThan(0.03);
  });

  test('is one everywhere on a convex body', () => {
    const cube = subject([
      { at: [0, 0, 1], a: [1, 0, 0], b: [0, 1, 0] },
      { at: [1, 0, 0], a: [-1, 0, 0], b: [0, 1, 0] },
      { at: [1, 0, 1], a: [0, 0, -1], b: [0, 1, 0] },
      { at: [0, 0, 0], a: [0, 0, 1], b: [0, 1, 0] },
      { at: [0, 1, 1], a: [1, 0, 0], b: [0, 0, -1] },
      { at: [0, 0, 0], a: [1, 0, 0], b: [0, 0, 1] },
    ]);
    const { open } = bake(cube, 64);
    const baked = open.filter((v) => v >= 0);
    expect(baked.length).toBeGreaterThan(3000);
    expect(Math.min(...baked)).toBe(1);
  });

  test('comes to the sheet’s size without bleeding from one part to another, opaque and grey', () => {
    // Two floors beside one another on the sheet; one lies under a roof.
    const of = subject(
      [
        { at: [0, 0, 1], a: [1, 0, 0], b: [0, 0, -1] },
        { at: [50, 0, 1], a: [1, 0, 0], b: [0, 0, -1] },
      ],
      256,
      256,
    );
    const roof = subject([{ at: [-9, 0.2, -9], a: [0, 0, 20], b: [20, 0, 0] }]);
    const base = of.mesh.positions.length / 3;
    of.mesh.positions.push(...roof.mesh.positions);
    of.mesh.normals.push(...roof.mesh.normals);
    of.mesh.uvs.push(...roof.mesh.uvs);
    of.mesh.indices.push(...roof.mesh.indices.map((i) => i + base));
    const map = fieldsAt(of, 's', 64, 64);
    const open = new Float32Array(64 * 64);
    bakeRows(of.mesh, map, buildBvh(of.mesh), { rays: 128, reach: 100 }, 0, 64, open);
    const image = finishBake(of, 's', map, open);
    const at = (x: number, y: number) => [...image.data.subarray((y * 256 + x) * 4, (y * 256 + x) * 4 + 4)];
    expect(at(60, 128)[0]).toBeLessThan(12);
    expect(at(190, 128)).toEqual([255, 255, 255, 255]);
    // Beside the line between the two.
    expect(at(124, 128)[0]).toBeLessThan(30);
    expect(at(131, 128)[0]).toBeGreaterThan(250);
    for (let i = 0; i < image.data.length; i += 4) {
      if (image.data[i] !== image.data[i + 1] || image.data[i + 3] !== 255)
        throw new Error(`texel ${i / 4} is not grey and opaque`);
    }
  });
});

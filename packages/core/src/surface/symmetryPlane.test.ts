/** Planes of symmetry on meshes that are known by formula, turned, moved and dented; and on models by others (Debian: assimp-testmodels). */
import { existsSync, readFileSync } from 'node:fs';
import { describe, expect, test } from 'vitest';
import type { MeshData } from '../livery/template.ts';
import { readModel } from '../models/readModel.ts';
import { smallTemplate } from '../testing/scenes.ts';
import { randomFrom } from '../testing/images.ts';
import { planeCut, planeTrace, straightTraces, symmetryPlane } from './symmetryPlane.ts';

/** A body of revolution about z, flattened, with a fin on top and a nose: alike left and right (x) only. */
function craft(dent = 0, seed = 1): MeshData {
  const random = randomFrom(seed);
  const mesh: MeshData = { positions: [], normals: [], uvs: [], indices: [] };
  const [rows, columns] = [40, 48];
  for (let r = 0; r <= rows; r++)
    for (let c = 0; c <= columns; c++) {
      const along = r / rows;
      const turn = (2 * Math.PI * c) / columns;
      const radius = 0.5 * Math.sqrt(along) * (1.2 - along * 0.6) + 0.02;
      const fin = Math.exp(-((turn - Math.PI / 2) ** 2) * 30) * along * 0.8;
      const noise = dent * (random() - 0.5);
      mesh.positions.push(
        Math.cos(turn) * radius * 1.4 + noise,
        Math.sin(turn) * radius * (turn > Math.PI ? 0.6 : 1) + fin,
        along * 4,
      );
      mesh.normals.push(0, 0, 1);
      mesh.uvs.push(c / columns, along);
    }
  for (let r = 0; r < rows; r++)
    for (let c = 0; c < columns; c++) {
      const a = r * (columns + 1) + c;
      mesh.indices.push(a, a + 1, a + columns + 1, a + columns + 1, a + 1, a + columns + 2);
    }
  return mesh;
}

const moved = (mesh: MeshData, move: (x: number, y: number, z: number) => number[]): MeshData => ({
  ...mesh,
  positions: Array.from({ length: mesh.positions.length / 3 }, (_, v) =>
    move(mesh.positions[v * 3], mesh.positions[v * 3 + 1], mesh.positions[v * 3 + 2]),
  ).flat(),
});

describe('the plane is found', () => {
  test('on a craft that stands straight', () => {
    const plane = symmetryPlane(craft())!;
    expect(plane.normal).toEqual([1, 0, 0]);
    expect(plane.offset).toBeCloseTo(0, 1);
    expect(plane.share).toBeGreaterThan(0.95);
  });

  test.each([10, 33, 61])('on one that is turned by %i degrees and moved: within a degree', (degrees) => {
    const [sin, cos] = [Math.sin((degrees * Math.PI) / 180), Math.cos((degrees * Math.PI) / 180)];
    const plane = symmetryPlane(moved(craft(), (x, y, z) => [cos * x + sin * z + 7, y - 3, -sin * x + cos * z + 2]))!;
    const along = plane.normal[0] * cos - plane.normal[2] * sin;
    expect(Math.abs(along)).toBeGreaterThan(Math.cos(Math.PI / 90));
  });

  test('on one whose vertices are each off by a hundredth, and on a soup of its triangles', () => {
    const dented = craft(0.03);
    expect(symmetryPlane(dented)!.normal).toEqual([1, 0, 0]);
    const order = Array.from({ length: dented.indices.length / 3 }, (_, i) => (i * 7919) % (dented.indices.length / 3));
    const soup: MeshData = { positions: [], normals: [], uvs: [], indices: [] };
    for (const t of order)
      for (let k = 0; k < 3; k++) {
        const v = dented.indices[t * 3 + k];
        soup.indices.push(soup.positions.length / 3);
        soup.positions.push(...dented.positions.slice(v * 3, v * 3 + 3));
        soup.normals.push(0, 0, 1);
        soup.uvs.push(...dented.uvs.slice(v * 2, v * 2 + 2));
      }
    expect(symmetryPlane(soup)!.normal).toEqual([1, 0, 0]);
  });

  test('not on what has none', () => {
    const bent = moved(craft(), (x, y, z) => [x + z * z * 0.2 + y * 0.5, y + x * 0.4, z + x * x * 0.6]);
    expect(symmetryPlane(bent)).toBeNull();
    expect(symmetryPlane({ positions: [], normals: [], uvs: [], indices: [] })).toBeNull();
    expect(symmetryPlane({ ...craft(), positions: craft().positions.map(() => 0) })).toBeNull();
  });

  test.each([
    ['OBJ/WusonOBJ.obj', [1, 0, 0]],
    ['OBJ/spider.obj', [0, 0, 1]],
  ] as const)('on %s, which somebody made', async (name, normal) => {
    const file = `/usr/share/assimp/models/${name}`;
    expect(existsSync(file)).toBe(true);
    const { mesh } = await readModel(new Uint8Array(readFileSync(file)), 'obj');
    expect(symmetryPlane(mesh)?.normal).toEqual([...normal]);
  });
});

describe('its trace', () => {
  test('runs down the middle of the sheet, once, where two halves meet', () => {
    const template = smallTemplate();
    const plane = { normal: [1, 0, 0] as [number, number, number], offset: 1 };
    // The halves meet at x = 1 of the model, which is u = 0.5; the sheet is 64 wide, the islands go from 16 to 48.
    const trace = planeTrace(template, plane, 'face');
    expect(trace).toHaveLength(4);
    expect([trace[0], trace[2]]).toEqual([32, 32]);
    expect([trace[1], trace[3]].toSorted((a, b) => a - b)).toEqual([16, 48]);
    expect(straightTraces(trace)).toEqual([{ axis: 'x', at: 32 }]);
    // Through the middle of one half it cuts both of its triangles.
    const across = planeTrace(template, { normal: [1, 0, 0], offset: 0.5 }, 'face');
    expect(across).toHaveLength(8);
    expect(straightTraces(across)).toEqual([{ axis: 'x', at: 24 }]);
    expect(straightTraces([0, 0, 10, 10])).toEqual([]);
  });

  test('on the model lies in the plane, on the surface, lifted along the normal', () => {
    const template = smallTemplate();
    for (const offset of [1, 0.5, 1.75]) {
      const cut = planeCut(template, { normal: [1, 0, 0], offset }, 0.01);
      expect(cut.length % 6).toBe(0);
      expect(cut.length).toBeGreaterThan(0);
      // The plank is flat: x from 0 to 2, y from 0 to 1, z 0, facing z.
      for (let i = 0; i < cut.length; i += 3) {
        expect(cut[i]).toBeCloseTo(offset, 9);
        expect(cut[i + 1]).toBeGreaterThanOrEqual(0);
        expect(cut[i + 1]).toBeLessThanOrEqual(1);
        expect(cut[i + 2]).toBeCloseTo(0.01, 9);
      }
    }
    expect(planeCut(template, { normal: [1, 0, 0], offset: 5 }, 0.01)).toEqual([]);
  });
});

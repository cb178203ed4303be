/** Plain bodies whose surfaces are known by formula, for tests. */
import type { MeshData, Template } from '../livery/template.ts';
import { plus, unit, type Vec } from '../surface/vectors.ts';
import { smallTemplate } from './scenes.ts';

export interface Patch {
  sheet: string;
  /** Left, top, width and height of its island, of 1. */
  box: [number, number, number, number];
  at(u: number, v: number): Vec;
  columns: number;
  rows: number;
  /** Left out: from the origin. */
  normal?(u: number, v: number): Vec;
}

/** A template of patches of evenly spaced corners, with the normals that they are given. */
export function body(side: number, sheets: readonly string[], patches: readonly Patch[]): Template {
  const mesh: MeshData = { positions: [], normals: [], uvs: [], indices: [] };
  const parts = patches.map(({ sheet, box, at, normal, columns, rows }, k) => {
    const base = mesh.positions.length / 3;
    for (let j = 0; j <= rows; j++)
      for (let i = 0; i <= columns; i++) {
        const p = at(i / columns, j / rows);
        mesh.positions.push(...p);
        mesh.normals.push(...unit(normal?.(i / columns, j / rows) ?? p));
        mesh.uvs.push(box[0] + (box[2] * i) / columns, box[1] + (box[3] * j) / rows);
      }
    const first = mesh.indices.length / 3;
    for (let j = 0; j < rows; j++)
      for (let i = 0; i < columns; i++) {
        const a = base + j * (columns + 1) + i;
        mesh.indices.push(a, a + 1, a + columns + 2, a, a + columns + 2, a + columns + 1);
      }
    return { key: `p${k}`, name: `p${k}`, sheet, first, count: columns * rows * 2, hex: null };
  });
  const small = smallTemplate(side);
  return { ...small, mesh, parts, sheets: sheets.map((key) => ({ ...small.sheets[0], key, name: key })) };
}

/** Level squares that look up, side by side, each all of its sheet. @param metres of a side */
export const flat = (side: number, metres: number, ...sheets: string[]): Template => {
  const all = sheets.length > 0 ? sheets : ['face'];
  return body(
    side,
    all,
    all.map((sheet, k): Patch => ({
      ...{ sheet, box: [0, 0, 1, 1], columns: 1, rows: 1 },
      at: (u, v) => [metres * (k + u), 0, metres * v],
      normal: () => [0, 1, 0],
    })),
  );
};

/** A closed cube of side 2 about the origin, six islands on one sheet, hard edges. */
export function cube(side: number): Template {
  const faces: [Vec, Vec, Vec][] = [
    // Out, right and down as seen from outside.
    [
      [1, 0, 0],
      [0, 0, -1],
      [0, -1, 0],
    ],
    [
      [-1, 0, 0],
      [0, 0, 1],
      [0, -1, 0],
    ],
    [
      [0, 0, 1],
      [1, 0, 0],
      [0, -1, 0],
    ],
    [
      [0, 0, -1],
      [-1, 0, 0],
      [0, -1, 0],
    ],
    [
      [0, 1, 0],
      [1, 0, 0],
      [0, 0, 1],
    ],
    [
      [0, -1, 0],
      [1, 0, 0],
      [0, 0, -1],
    ],
  ];
  return body(
    side,
    ['face'],
    faces.map(([out, right, down], k): Patch => ({
      sheet: 'face',
      box: [0.03 + (k % 3) * 0.32, 0.05 + Math.floor(k / 3) * 0.45, 0.28, 0.28],
      at: (u, v) => plus(plus(out, right, 2 * u - 1), down, 2 * v - 1),
      normal: () => out,
      columns: 1,
      rows: 1,
    })),
  );
}

/** What a patch that is turned about y looks like: so far from the axis, so high, at each v. */
export const turnedBody = (radius: (v: number) => number, height: (v: number) => number) => ({
  at: (u: number, v: number): Vec => [
    radius(v) * Math.sin(2 * Math.PI * u),
    height(v),
    radius(v) * Math.cos(2 * Math.PI * u),
  ],
});

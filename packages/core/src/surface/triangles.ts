/** Triangles as they lie on their sheet. */
import type { MeshData, Subject, TemplatePart, TemplateSheet } from '../livery/template.ts';
import type { Vec } from './vectors.ts';

type UvTriangle = readonly [ax: number, ay: number, bx: number, by: number, cx: number, cy: number];

/** Corners of a triangle in texels of its sheet. */
export function triangleOnSheet(mesh: MeshData, triangle: number, width: number, height: number): UvTriangle {
  const at = (k: number) => mesh.indices[triangle * 3 + k] * 2;
  const [a, b, c] = [at(0), at(1), at(2)];
  const { uvs } = mesh;
  return [
    uvs[a] * width,
    uvs[a + 1] * height,
    uvs[b] * width,
    uvs[b + 1] * height,
    uvs[c] * width,
    uvs[c + 1] * height,
  ];
}

/** The place of a vertex, metres. */
export const placeOf = ({ positions }: Pick<MeshData, 'positions'>, vertex: number): [number, number, number] => [
  positions[vertex * 3],
  positions[vertex * 3 + 1],
  positions[vertex * 3 + 2],
];

/** The corners of a triangle on the model, metres. */
export function cornersOfTriangle(
  mesh: Pick<MeshData, 'positions' | 'indices'>,
  triangle: number,
): readonly [Vec, Vec, Vec] {
  const i = triangle * 3;
  const { indices } = mesh;
  return [placeOf(mesh, indices[i]), placeOf(mesh, indices[i + 1]), placeOf(mesh, indices[i + 2])];
}

/** Opposite corners of a box along the axes of the model. */
export interface ModelBox {
  low: [number, number, number];
  high: [number, number, number];
}

/** The box about a mesh, in its own axes. @param vertices only about these */
export function boxOfMesh({ positions }: { positions: readonly number[] }, vertices?: readonly number[]): ModelBox {
  const low: ModelBox['low'] = [Infinity, Infinity, Infinity];
  const high: ModelBox['high'] = [-Infinity, -Infinity, -Infinity];
  const many = vertices?.length ?? positions.length / 3;
  for (let i = 0; i < many; i++) {
    const v = (vertices?.[i] ?? i) * 3;
    for (let c = 0; c < 3; c++) {
      if (positions[v + c] < low[c]) low[c] = positions[v + c];
      if (positions[v + c] > high[c]) high[c] = positions[v + c];
    }
  }
  return { low, high };
}

/** Diagonals that are known already: a model never changes. */
const diagonals = new WeakMap<readonly number[], number>();

/** How long the diagonal of that box is. */
export function diagonalOf(mesh: { positions: readonly number[] }): number {
  const known = diagonals.get(mesh.positions);
  if (known !== undefined) return known;
  const { low, high } = boxOfMesh(mesh);
  const [x, y, z] = [high[0] - low[0], high[1] - low[1], high[2] - low[2]];
  const diagonal = Math.sqrt(x * x + y * y + z * z);
  diagonals.set(mesh.positions, diagonal);
  return diagonal;
}

/** Box of the triangles of some parts on their sheet, in texels; empty when there are none. */
export function boxOfTriangles(
  { mesh }: Pick<Subject, 'mesh'>,
  { width, height }: Pick<TemplateSheet, 'width' | 'height'>,
  parts: readonly TemplatePart[],
) {
  const box = { left: Infinity, top: Infinity, right: -Infinity, bottom: -Infinity };
  for (const part of parts)
    for (let t = part.first; t < part.first + part.count; t++) {
      const c = triangleOnSheet(mesh, t, width, height);
      for (let k = 0; k < 6; k += 2) {
        box.left = Math.min(box.left, c[k]);
        box.right = Math.max(box.right, c[k]);
        box.top = Math.min(box.top, c[k + 1]);
        box.bottom = Math.max(box.bottom, c[k + 1]);
      }
    }
  return box;
}

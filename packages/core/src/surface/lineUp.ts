import type { MeshData, Template, TemplatePart } from '../livery/template.ts';
import { boxOfMesh, diagonalOf } from './triangles.ts';

/** Models beside one another as one: sheets are `n/key`, parts `n/key`, n being the place in the row from 0. */
export interface LineUp {
  mesh: MeshData;
  parts: TemplatePart[];
  /** Which vertices are whose. */
  vertices: { first: number; count: number }[];
}

/** Room between two, of the wider one's width. */
const GAP = 0.18;
const LEAST_GAP = 0.15;

/**
 * Puts models on one ground, bows all the one way, beside one another to starboard; the row's middle is at 0.
 * @param same every one as large as the largest, by the diagonal of its box; else in their own metres
 */
export function lineUp(subjects: readonly Pick<Template, 'mesh' | 'parts'>[], same: boolean): LineUp {
  const mesh: MeshData = { positions: [], normals: [], uvs: [], indices: [] };
  const parts: TemplatePart[] = [];
  const vertices: LineUp['vertices'] = [];
  const largest = Math.max(0, ...subjects.map((one) => diagonalOf(one.mesh)));
  let reach = 0;
  let before = 0;
  for (const [n, one] of subjects.entries()) {
    const scale = same ? largest / (diagonalOf(one.mesh) || 1) : 1;
    const { low, high } = boxOfMesh(one.mesh);
    const wide = (high[2] - low[2]) * scale;
    if (n > 0) reach += Math.max(LEAST_GAP, GAP * Math.max(wide, before));
    before = wide;
    const base = mesh.positions.length / 3;
    const first = mesh.indices.length / 3;
    const { positions, normals, uvs, indices } = one.mesh;
    for (let i = 0; i < positions.length; i += 3)
      mesh.positions.push(
        (positions[i] - (low[0] + high[0]) / 2) * scale,
        (positions[i + 1] - low[1]) * scale,
        (positions[i + 2] - low[2]) * scale + reach,
      );
    vertices.push({ first: base, count: positions.length / 3 });
    for (const value of normals) mesh.normals.push(value);
    for (const value of uvs) mesh.uvs.push(value);
    for (const index of indices) mesh.indices.push(index + base);
    for (const part of one.parts)
      parts.push({
        ...part,
        key: `${n}/${part.key}`,
        sheet: part.sheet === null ? null : `${n}/${part.sheet}`,
        first: part.first + first,
      });
    reach += wide;
  }
  for (let i = 2; i < mesh.positions.length; i += 3) mesh.positions[i] -= reach / 2;
  return { mesh, parts, vertices };
}

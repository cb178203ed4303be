/** Meshes for the demo world, built from lofted patches. Metres; x forward, y up, z starboard. */
import type { Template } from '../packages/core/src/livery/template.ts';

export type Vec = [number, number, number];

export interface Patch {
  key: string;
  name: string;
  sheet: string | null;
  hex: string | null;
  columns: number;
  rows: number;
  at(u: number, v: number): Vec;
  /** Texels of the sheet. */
  uv(u: number, v: number, arc: (u: number, v: number) => [number, number]): [number, number];
  /** Turn the faces over. */
  inside?: boolean;
}

/** Distances along the patch, measured on the model: across at the middle row, down at each column. */
function arcOf(patch: Patch): (u: number, v: number) => [number, number] {
  const steps = 80;
  const across: number[] = [0];
  for (let i = 1; i <= steps; i++)
    across.push(across[i - 1] + distance(patch.at((i - 1) / steps, 0.5), patch.at(i / steps, 0.5)));
  return (u, v) => {
    const at = u * steps;
    const low = Math.min(steps - 1, Math.floor(at));
    const x = across[low] + (across[low + 1] - across[low]) * (at - low);
    const down = distance(patch.at(u, 0), patch.at(u, v));
    return [x, down];
  };
}

const distance = (a: Vec, b: Vec) => Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]);
const round = (value: number, digits: number) => Number(value.toFixed(digits));

/** The mesh of some patches, each a part of its own; neighbours of one key are one part. @param size sides of the sheets in texels, by key */
export function meshOf(
  patches: readonly Patch[],
  size: Readonly<Record<string, number | readonly [width: number, height: number]>>,
): Pick<Template, 'mesh' | 'parts'> {
  const mesh = { positions: [] as number[], normals: [] as number[], uvs: [] as number[], indices: [] as number[] };
  const parts: Template['parts'] = [];
  for (const patch of patches) {
    const base = mesh.positions.length / 3;
    const first = mesh.indices.length / 3;
    const { columns, rows } = patch;
    const arc = arcOf(patch);
    const points: Vec[] = [];
    for (let j = 0; j <= rows; j++) {
      for (let i = 0; i <= columns; i++) {
        const [u, v] = [i / columns, j / rows];
        const p = patch.at(u, v);
        points.push(p);
        mesh.positions.push(...p.map((value) => round(value, 5)));
        const side = patch.sheet ? size[patch.sheet] : 1;
        const [width, height] = typeof side === 'number' ? [side, side] : side;
        const [x, y] = patch.uv(u, v, arc);
        mesh.uvs.push(round(x / width, 6), round(y / height, 6));
      }
    }
    const normals = points.map((): Vec => [0, 0, 0]);
    const face = (a: number, b: number, c: number) => {
      const [p, q, r] = [points[a], points[b], points[c]];
      const e: Vec = [q[0] - p[0], q[1] - p[1], q[2] - p[2]];
      const f: Vec = [r[0] - p[0], r[1] - p[1], r[2] - p[2]];
      const n: Vec = [e[1] * f[2] - e[2] * f[1], e[2] * f[0] - e[0] * f[2], e[0] * f[1] - e[1] * f[0]];
      if (Math.hypot(...n) < 1e-9) return;
      for (const k of [a, b, c]) for (let axis = 0; axis < 3; axis++) normals[k][axis] += n[axis];
      mesh.indices.push(base + a, base + b, base + c);
    };
    for (let j = 0; j < rows; j++) {
      for (let i = 0; i < columns; i++) {
        const a = j * (columns + 1) + i;
        const [b, c, d] = [a + 1, a + columns + 1, a + columns + 2];
        if (patch.inside) {
          face(a, b, d);
          face(a, d, c);
        } else {
          face(a, d, b);
          face(a, c, d);
        }
      }
    }
    for (const n of normals) {
      const size = Math.hypot(...n) || 1;
      mesh.normals.push(...n.map((value) => round(value / size, 4)));
    }
    const count = mesh.indices.length / 3 - first;
    const last = parts.at(-1);
    if (last?.key === patch.key) last.count += count;
    else parts.push({ key: patch.key, name: patch.name, sheet: patch.sheet, first, count, hex: patch.hex });
  }
  return { mesh, parts };
}

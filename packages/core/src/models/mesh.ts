/** A model as plain triangles, and what was said of it on the way. */
import { InputError } from '../errors.ts';
import { faceOf } from '../surface/islands.ts';
import type { MeshData, Subject } from '../livery/template.ts';

/** Neighbouring triangles under one name. */
export interface MeshGroup {
  name: string;
  /** The material that names their sheet. */
  material: string;
  first: number;
  count: number;
  /** Without UVs: it is shown, and belongs to no sheet. */
  bare?: true;
}

/** A texture that a model names for a material. */
export interface NamedTexture {
  material: string;
  map: 'colour' | 'normal' | 'packed' | 'occlusion' | 'night' | 'specular' | 'alpha' | 'height';
  /** As the model writes it: a path from the model's folder, or what {@link ReadMesh.pictures} calls it. */
  file: string;
}

export interface ReadMesh {
  mesh: MeshData;
  groups: MeshGroup[];
  textures: NamedTexture[];
  /** What was left out, one sentence each. */
  said: string[];
  /** Files beside the model without which some of it could not be read. */
  needs: string[];
  /** Scenes to choose from, by name, and which this is; empty: there is no choice. */
  scenes: string[];
  scene: number;
  /** How many sets of UVs a material's triangles have, where there are several, and which this is. */
  uvSets: Record<string, { sets: number; taken: number }>;
  /** Whether the format itself says which way is up, and how long a unit is. */
  oriented: boolean;
}

/** Which of the choices that a model offers. */
export interface MeshChoices {
  scene?: number;
  /** Set of UVs, by material. */
  uvSets?: Readonly<Record<string, number>>;
}

/** A read model as a subject whose sheets are its materials, square at a side of `side` texels. */
export function subjectOf({ mesh, groups }: Pick<ReadMesh, 'mesh' | 'groups'>, side = 2048): Subject {
  const materials = [...new Set(groups.filter(({ bare }) => !bare).map((group) => group.material))];
  return {
    mesh,
    sheets: materials.map((key) => ({ key, name: key, width: side, height: side, alpha: 'none', axis: null })),
    parts: groups.map(({ name, material, first, count, bare }, i) => ({
      key: String(i),
      name,
      sheet: bare ? null : material,
      first,
      count,
      hex: null,
    })),
  };
}

export const MAX_INDICES = 6_000_000;

/** Column-major 4 x 4, as glTF writes it. */
export type Matrix = readonly number[];

interface Part {
  positions: ArrayLike<number>;
  normals: ArrayLike<number> | null;
  /** v downwards, as in glTF; null: none. */
  uvs: ArrayLike<number> | null;
  /** Three a triangle; null: the vertices in their order. */
  indices: ArrayLike<number> | null;
}

/** Gathers triangles. What cannot be drawn is left out and said. */
export class MeshBuilder {
  private readonly mesh: MeshData = { positions: [], normals: [], uvs: [], indices: [] };
  private readonly groups: MeshGroup[] = [];
  readonly said: string[] = [];

  /** @param matrix where it stands; null: where it says */
  add(name: string, material: string, part: Part, matrix: Matrix | null = null): void {
    const { mesh } = this;
    const vertices = Math.floor(part.positions.length / 3);
    const count = part.indices?.length ?? vertices;
    if (mesh.indices.length + count > MAX_INDICES)
      throw new InputError('This model has more than two million triangles.');
    const first = mesh.indices.length / 3;
    const flips = matrix !== null && determinant(matrix) < 0;
    // Meshes of one file often share their vertices: only those that this one uses are taken.
    const taken = new Map<number, number>();
    const take = (index: number): number => {
      const known = taken.get(index);
      if (known !== undefined) return known;
      const own = mesh.positions.length / 3;
      taken.set(index, own);
      const [x, y, z] = [0, 1, 2].map((c) => part.positions[index * 3 + c]);
      mesh.positions.push(...(matrix ? placed(matrix, x, y, z) : [x, y, z]));
      const normal = part.normals ? [0, 1, 2].map((c) => part.normals![index * 3 + c]) : [0, 0, 0];
      mesh.normals.push(...(matrix && part.normals ? turned(matrix, normal) : normal));
      mesh.uvs.push(part.uvs ? part.uvs[index * 2] : 0, part.uvs ? part.uvs[index * 2 + 1] : 0);
      return own;
    };
    const is = (index: number) => {
      for (let c = 0; c < 3; c++) if (!Number.isFinite(part.positions[index * 3 + c])) return false;
      return !part.uvs || (Number.isFinite(part.uvs[index * 2]) && Number.isFinite(part.uvs[index * 2 + 1]));
    };
    let [lost, odd] = [0, 0];
    const corner = [0, 0, 0];
    for (let i = 0; i + 2 < count; i += 3) {
      for (let k = 0; k < 3; k++) corner[k] = part.indices ? part.indices[i + k] : i + k;
      if (!corner.every((index) => index >= 0 && index < vertices)) {
        lost++;
        continue;
      }
      if (!corner.every(is)) {
        odd++;
        continue;
      }
      if (flips) [corner[1], corner[2]] = [corner[2], corner[1]];
      for (const index of corner) mesh.indices.push(take(index));
    }
    const title = name || material || 'a mesh without a name';
    if (lost > 0)
      this.said.push(
        `${triangles(lost)} of "${title}" ${lost === 1 ? 'points' : 'point'} at vertices that are not there.`,
      );
    if (odd > 0)
      this.said.push(
        `${triangles(odd)} of "${title}" ${odd === 1 ? 'has' : 'have'} a coordinate that is not a number.`,
      );
    const made = mesh.indices.length / 3 - first;
    if (made === 0) return;
    this.straighten(first, part.normals === null);
    const bare = `"${title}" has no UVs: it is shown, and belongs to no sheet.`;
    if (!part.uvs && !this.said.includes(bare)) this.said.push(bare);
    this.groups.push({ name, material, first, count: made, ...(!part.uvs && { bare: true as const }) });
  }

  /** Normals of triangles from `first` on that have none, or none that is one: those of the faces around each vertex, by their size. */
  private straighten(first: number, all: boolean): void {
    const { mesh } = this;
    const { normals, indices } = mesh;
    const wanting = new Set<number>();
    for (let i = first * 3; i < indices.length; i++) {
      const v = indices[i] * 3;
      const length = Math.hypot(normals[v], normals[v + 1], normals[v + 2]);
      if (all || !(length > 1e-6) || !Number.isFinite(length)) wanting.add(indices[i]);
    }
    if (wanting.size === 0) return;
    for (const v of wanting) for (let c = 0; c < 3; c++) normals[v * 3 + c] = 0;
    for (let t = first; t < indices.length / 3; t++) {
      const face = faceOf(mesh, t);
      for (let k = 0; k < 3; k++) {
        const v = indices[t * 3 + k];
        if (wanting.has(v)) for (let c = 0; c < 3; c++) normals[v * 3 + c] += face[c];
      }
    }
    for (const v of wanting) {
      const length = Math.hypot(normals[v * 3], normals[v * 3 + 1], normals[v * 3 + 2]) || 1;
      for (let c = 0; c < 3; c++) normals[v * 3 + c] /= length;
    }
  }

  /** @throws InputError when there is nothing to show */
  done(): { mesh: MeshData; groups: MeshGroup[] } {
    if (this.groups.length === 0)
      throw new InputError(`This model holds no mesh.${this.said.length > 0 ? ` ${this.said[0]}` : ''}`);
    return { mesh: this.mesh, groups: this.groups };
  }
}

const triangles = (n: number) => `${n} ${n === 1 ? 'triangle' : 'triangles'}`;

const placed = (m: Matrix, x: number, y: number, z: number): [number, number, number] => [
  m[0] * x + m[4] * y + m[8] * z + m[12],
  m[1] * x + m[5] * y + m[9] * z + m[13],
  m[2] * x + m[6] * y + m[10] * z + m[14],
];

/** Cofactors of the upper 3 x 3, column by column: they turn normals, whatever the scale (up to a length). */
const cofactors = (m: Matrix) => [
  m[5] * m[10] - m[6] * m[9],
  m[6] * m[8] - m[4] * m[10],
  m[4] * m[9] - m[5] * m[8],
  m[9] * m[2] - m[10] * m[1],
  m[10] * m[0] - m[8] * m[2],
  m[8] * m[1] - m[9] * m[0],
  m[1] * m[6] - m[2] * m[5],
  m[2] * m[4] - m[0] * m[6],
  m[0] * m[5] - m[1] * m[4],
];

const determinant = (m: Matrix): number => {
  const c = cofactors(m);
  return m[0] * c[0] + m[1] * c[1] + m[2] * c[2];
};

function turned(m: Matrix, [x, y, z]: readonly number[]): number[] {
  const c = cofactors(m);
  const sign = determinant(m) < 0 ? -1 : 1;
  const out = [0, 1, 2].map((k) => sign * (c[k] * x + c[k + 3] * y + c[k + 6] * z));
  const length = Math.hypot(...out) || 1;
  return out.map((value) => value / length);
}

/** A times b: first b, then a. */
export function times(a: Matrix, b: Matrix): number[] {
  const out = new Array<number>(16).fill(0);
  for (let column = 0; column < 4; column++)
    for (let row = 0; row < 4; row++)
      for (let k = 0; k < 4; k++) out[column * 4 + row] += a[k * 4 + row] * b[column * 4 + k];
  return out;
}

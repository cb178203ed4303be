/** Which triangles of a model lie beside one another, over seams of its sheets as well. */
import type { MeshData } from '../livery/template.ts';
import { edgeOf, weld } from './weld.ts';

export interface Neighbours {
  /** Number of the place of each vertex; those that lie together have one. */
  readonly of: Int32Array;
  readonly places: number;
  /** Three a triangle: what lies over the edge from its corner k to the next; -1: nothing. Of more than two at one edge the first two. */
  readonly across: Int32Array;
}

const known = new WeakMap<MeshData, Neighbours>();

/** Neighbours over the edges of all triangles; worked out once a mesh. */
export function neighboursOf(mesh: MeshData): Neighbours {
  const found = known.get(mesh);
  if (found) return found;
  const { of, count } = weld(mesh);
  const { indices } = mesh;
  const across = new Int32Array(indices.length).fill(-1);
  const first = new Map<number, number>();
  for (let i = 0; i < indices.length; i++) {
    const t = (i / 3) | 0;
    const a = of[indices[i]];
    const b = of[indices[i % 3 === 2 ? i - 2 : i + 1]];
    if (a === b) continue;
    const edge = edgeOf(a, b);
    const other = first.get(edge);
    if (other === undefined) first.set(edge, i);
    else if (other >= 0 && ((other / 3) | 0) !== t) {
      across[i] = (other / 3) | 0;
      across[other] = t;
      first.set(edge, -1);
    }
  }
  const made = { of, places: count, across };
  known.set(mesh, made);
  return made;
}

/** The plane's normal of a triangle, of length 1, to the side to which the mesh's own normals look; null: it has no area. */
export function faceNormal({ positions, normals, indices }: MeshData, t: number): [number, number, number] | null {
  const a = indices[t * 3] * 3;
  const b = indices[t * 3 + 1] * 3;
  const c = indices[t * 3 + 2] * 3;
  const ux = positions[b] - positions[a];
  const uy = positions[b + 1] - positions[a + 1];
  const uz = positions[b + 2] - positions[a + 2];
  const vx = positions[c] - positions[a];
  const vy = positions[c + 1] - positions[a + 1];
  const vz = positions[c + 2] - positions[a + 2];
  const x = uy * vz - uz * vy;
  const y = uz * vx - ux * vz;
  const z = ux * vy - uy * vx;
  const size = Math.sqrt(x * x + y * y + z * z);
  if (!(size > 0)) return null;
  const facing =
    (normals[a] + normals[b] + normals[c]) * x +
    (normals[a + 1] + normals[b + 1] + normals[c + 1]) * y +
    (normals[a + 2] + normals[b + 2] + normals[c + 2]) * z;
  const by = (facing < 0 ? -1 : 1) / size;
  return [x * by, y * by, z * by];
}

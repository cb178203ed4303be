/** Rays onto a model, from which side they meet it, and whether what they meet can be painted. */
import type { MeshData, Subject } from '../livery/template.ts';
import { buildBvh, castRay, type Bvh } from './bvh.ts';
import { faceNormal } from './edges.ts';
import { dot, plus, type Vec } from './vectors.ts';

export interface ModelTree {
  bvh: Bvh;
  /** Out of each triangle of the mesh; null: it has no area. */
  normals: (Vec | null)[];
  /** 1 for triangles of parts that have a sheet. */
  painted: Uint8Array;
}

/** What begins on a surface meets it: metres of rounding. */
const TOUCH = 1e-6;

const known = new WeakMap<MeshData, ModelTree>();

/** What rays are sent onto; worked out once a mesh. */
export function treeOf({ mesh, parts }: Pick<Subject, 'mesh' | 'parts'>): ModelTree {
  const found = known.get(mesh);
  if (found) return found;
  const count = mesh.indices.length / 3;
  const painted = new Uint8Array(count);
  for (const { sheet, first, count: many } of parts) if (sheet !== null) painted.fill(1, first, first + many);
  const normals = Array.from({ length: count }, (_, t) => faceNormal(mesh, t));
  const made = { bvh: buildBvh(mesh, (t) => normals[t] !== null), normals, painted };
  known.set(mesh, made);
  return made;
}

export interface Hit {
  /** Of the direction's lengths. */
  far: number;
  triangle: number;
  /** It was met from outside. */
  front: boolean;
}

/**
 * The first triangle that a ray meets.
 * @param direction of length 1 @param most how far it goes, metres
 * @param which all triangles; `painted`: only those that have a sheet and look towards where it comes from
 */
export function firstHit(
  { bvh, normals, painted }: ModelTree,
  from: Vec,
  direction: Vec,
  most: number,
  which: 'all' | 'painted' = 'all',
): Hit | null {
  let hit: Hit | null = null;
  let end = most;
  castRay(bvh, ...from, ...direction, -TOUCH, most, (triangle, far) => {
    const front = dot(normals[triangle]!, direction) < 0;
    if (which === 'painted' && (!painted[triangle] || !front)) return end;
    hit = { far, triangle, front };
    return (end = far);
  });
  return hit;
}

/**
 * The painted surface that a place comes down on, straight against a direction.
 * @param out of length 1: from the surface to the place @param reach how far before the place and behind it is looked, metres
 * @returns how far the surface is along `out` from the place, and the triangle; null: there is none
 */
export function surfaceUnder(
  tree: ModelTree,
  at: Vec,
  out: Vec,
  reach: number,
): { rise: number; triangle: number } | null {
  const hit = firstHit(tree, plus(at, out, reach), [-out[0], -out[1], -out[2]], 2 * reach, 'painted');
  return hit && { rise: reach - hit.far, triangle: hit.triangle };
}

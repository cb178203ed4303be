import type { MeshData } from '../../livery/template.ts';
import { turnOf } from '../../raster/turn.ts';
import { acrossNormal } from '../across.ts';
import { buildBvh, occluded } from '../bvh.ts';
import { diagonalOf } from '../triangles.ts';
import type { BakedField, Baker } from './kind.ts';

/** Rays for the whole model, and the least and the most at one corner. */
const RAYS = 800_000;
const LEAST = 16;
const MOST = 64;
/** How far away something still closes the sky, of the model's diagonal. */
const REACH = 1 / 4;

/** Directions over a half sphere about +z, denser towards the pole by the cosine (Malley's method on a golden spiral). */
export function halfSphere(count: number): Float64Array {
  const out = new Float64Array(count * 3);
  for (let i = 0; i < count; i++) {
    const radius = Math.sqrt((i + 0.5) / count);
    const { cos, sin } = turnOf((i * 137.50776405003785) % 360);
    out.set([radius * cos, radius * sin, Math.sqrt(Math.max(0, 1 - radius * radius))], i * 3);
  }
  return out;
}

/** Share of the sky over corners that is closed, 0..1, rays weighed by the cosine. */
function closed(mesh: MeshData, coarse: MeshData): Baker {
  const { positions, normals } = mesh;
  const many = positions.length / 3;
  const diagonal = diagonalOf(mesh);
  const bias = diagonal * 1e-4;
  const set = halfSphere(Math.max(LEAST, Math.min(MOST, Math.floor(RAYS / Math.max(1, many)))));
  const bvh = buildBvh(coarse);
  const closedAt = (i: number): number => {
    const [nx, ny, nz] = [normals[i * 3], normals[i * 3 + 1], normals[i * 3 + 2]];
    const [px, py, pz] = [positions[i * 3], positions[i * 3 + 1], positions[i * 3 + 2]];
    const [ux, uy, uz, vx, vy, vz] = acrossNormal(nx, ny, nz);
    let shut = 0;
    for (let k = 0; k < set.length; k += 3) {
      const [s, t, n] = [set[k], set[k + 1], set[k + 2]];
      const [dx, dy, dz] = [ux * s + vx * t + nx * n, uy * s + vy * t + ny * n, uz * s + vz * t + nz * n];
      if (occluded(bvh, px + nx * bias, py + ny * bias, pz + nz * bias, dx, dy, dz, bias, diagonal * REACH)) shut++;
    }
    return shut / (set.length / 3);
  };
  return (from, to) => Float32Array.from({ length: to - from }, (_, i) => closedAt(from + i));
}

/** How little of the sky is open. */
export const hollows: BakedField = { shows: 'in hollows', begin: closed };

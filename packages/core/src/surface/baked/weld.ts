import type { MeshData } from '../../livery/template.ts';
import { diagonalOf } from '../triangles.ts';

/** Corners within this share of the model's diagonal of one another are in one place. */
const NEAR = 1e-6;

/** Corners that lie in one place as one: seams and hard edges have several. @returns for each corner the number of its place, and how many there are */
export function places(mesh: MeshData): { of: Int32Array; count: number } {
  const { positions } = mesh;
  const by = 1 / (diagonalOf(mesh) * NEAR || 1);
  const known = new Map<string, number>();
  const of = new Int32Array(positions.length / 3);
  for (let i = 0; i < of.length; i++) {
    const key = [0, 1, 2].map((c) => Math.round(positions[i * 3 + c] * by)).join();
    let place = known.get(key);
    if (place === undefined) known.set(key, (place = known.size));
    of[i] = place;
  }
  return { of, count: known.size };
}

/** Points spread evenly over the surface of a mesh. */
import type { MeshData } from '../livery/template.ts';
import { cornersOfTriangle } from './triangles.ts';
import { cross, long, minus } from './vectors.ts';

export interface Scattered {
  /** Three numbers a point, metres. */
  readonly places: Float64Array;
  /** Of length 1, as the mesh's corners have it. */
  readonly normals: Float64Array;
  /** The triangle of the mesh that each lies on. */
  readonly triangles: Int32Array;
}

/** Steps that fill a square evenly: of the additive recurrence of the plastic number (Roberts, "The unreasonable effectiveness of quasirandom sequences", 2018). */
export const STEPS = [0.7548776662466927, 0.5698402909980532] as const;

/**
 * Calls for so many points of some triangles, as dense everywhere, the same at every call: its triangle, and the shares of its second and
 * third corner. None where they have no area, or one without an end.
 * @returns their area, times two
 */
export function eachScattered(
  mesh: Pick<MeshData, 'positions' | 'indices'>,
  triangles: readonly number[],
  many: number,
  visit: (k: number, triangle: number, second: number, third: number) => void,
): number {
  const ends = new Float64Array(triangles.length);
  let whole = 0;
  triangles.forEach((t, i) => {
    const [a, b, c] = cornersOfTriangle(mesh, t);
    ends[i] = whole += long(cross(minus(b, a), minus(c, a)));
  });
  if (!(whole > 0) || !Number.isFinite(whole)) return 0;
  for (let k = 0, i = 0; k < many; k++) {
    const at = ((k + 0.5) / many) * whole;
    while (i < ends.length - 1 && ends[i] < at) i++;
    const p = (0.5 + k * STEPS[0]) % 1;
    const q = (0.5 + k * STEPS[1]) % 1;
    // Folded into the triangle.
    if (p + q > 1) visit(k, triangles[i], 1 - p, 1 - q);
    else visit(k, triangles[i], p, q);
  }
  return whole;
}

/** So many points of some triangles; see eachScattered. */
export function scatter(mesh: MeshData, triangles: readonly number[], many: number): Scattered {
  const out = {
    places: new Float64Array(many * 3),
    normals: new Float64Array(many * 3),
    triangles: new Int32Array(many),
  };
  const whole = eachScattered(mesh, triangles, many, (k, t, p, q) => {
    out.triangles[k] = t;
    let size = 0;
    for (let c = 0; c < 3; c++) {
      const mix = (values: readonly number[]) =>
        values[mesh.indices[t * 3] * 3 + c] * (1 - p - q) +
        values[mesh.indices[t * 3 + 1] * 3 + c] * p +
        values[mesh.indices[t * 3 + 2] * 3 + c] * q;
      out.places[k * 3 + c] = mix(mesh.positions);
      const n = mix(mesh.normals);
      out.normals[k * 3 + c] = n;
      size += n * n;
    }
    if (size > 0) for (let c = 0; c < 3; c++) out.normals[k * 3 + c] /= Math.sqrt(size);
  });
  return whole > 0 ? out : { places: new Float64Array(), normals: new Float64Array(), triangles: new Int32Array() };
}

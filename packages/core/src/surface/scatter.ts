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

/** Steps that fill a triangle evenly (Roberts, "The unreasonable effectiveness of quasirandom sequences", 2018). */
const [STEP_1, STEP_2] = [0.7548776662466927, 0.5698402909980532];

/** So many points of some triangles, as dense everywhere, the same at every call. None where they have no area. */
export function scatter(mesh: MeshData, triangles: readonly number[], many: number): Scattered {
  const ends = new Float64Array(triangles.length);
  let whole = 0;
  triangles.forEach((t, i) => {
    const [a, b, c] = cornersOfTriangle(mesh, t);
    const area = long(cross(minus(b, a), minus(c, a)));
    ends[i] = whole += Number.isFinite(area) ? area : 0;
  });
  const count = whole > 0 ? many : 0;
  const out = {
    places: new Float64Array(count * 3),
    normals: new Float64Array(count * 3),
    triangles: new Int32Array(count),
  };
  for (let k = 0, i = 0; k < count; k++) {
    const at = ((k + 0.5) / count) * whole;
    while (i < ends.length - 1 && ends[i] < at) i++;
    const t = triangles[i];
    out.triangles[k] = t;
    let [p, q] = [(k * STEP_1) % 1, (k * STEP_2) % 1];
    if (p + q > 1) [p, q] = [1 - p, 1 - q];
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
  }
  return out;
}

import type { MeshData } from '../../livery/template.ts';
import { diagonalOf } from '../triangles.ts';
import type { BakedField } from './kind.ts';
import { edgeOf, endsOf, weld } from '../weld.ts';

/** Curvature that counts as an edge: of a radius of this share of the model's diagonal. */
const RADIUS = 1 / 20;
/** Corners within this share of the model's diagonal of one another are in one place. */
const SAME_PLACE = 1e-6;
/** How often each corner goes half way to the mean of its neighbours. */
const ROUNDS = 10;

type Places = ReturnType<typeof weld>;

const placesOf = (mesh: MeshData): Places => weld(mesh, diagonalOf(mesh) * SAME_PLACE || 1);

/**
 * Mean curvature at each corner, in 1 / units of the model: above 0 where it bulges (Meyer, Desbrun, Schroeder and Barr, "Discrete
 * differential-geometry operators for triangulated 2-manifolds", 2003, with areas of a third of each triangle). 0 at borders.
 */
export function meanCurvature(mesh: MeshData, { of, count } = placesOf(mesh)): Float64Array {
  const { indices, normals, positions } = mesh;
  const pull = new Float64Array(count * 3);
  const out = new Float64Array(count * 3);
  const area = new Float64Array(count);
  const borders = new Map<number, number>();
  const p = (i: number, c: number) => positions[i * 3 + c];
  for (let t = 0; t < indices.length; t += 3) {
    const [a, b, c] = [indices[t], indices[t + 1], indices[t + 2]];
    const u = [0, 1, 2].map((d) => p(b, d) - p(a, d));
    const v = [0, 1, 2].map((d) => p(c, d) - p(a, d));
    const normal = [u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]];
    const twice = Math.sqrt(normal[0] * normal[0] + normal[1] * normal[1] + normal[2] * normal[2]);
    if (twice === 0) continue;
    const corners = [a, b, c];
    for (let k = 0; k < 3; k++) {
      const [at, from, to] = [corners[k], corners[(k + 1) % 3], corners[(k + 2) % 3]];
      // The cotangent at this corner weighs the edge across from it.
      let dot = 0;
      for (let d = 0; d < 3; d++) dot += (p(from, d) - p(at, d)) * (p(to, d) - p(at, d));
      const [i, j] = [of[from], of[to]];
      for (let d = 0; d < 3; d++) {
        const along = (dot / twice) * (p(to, d) - p(from, d));
        pull[i * 3 + d] += along;
        pull[j * 3 + d] -= along;
        out[of[at] * 3 + d] += normals[at * 3 + d] * twice;
      }
      area[of[at]] += twice / 6;
      const edge = edgeOf(i, j);
      borders.set(edge, (borders.get(edge) ?? 0) + 1);
    }
  }
  const atBorder = new Uint8Array(count);
  for (const [edge, sides] of borders) if (sides === 1) for (const end of endsOf(edge)) atBorder[end] = 1;
  const curvature = new Float64Array(count);
  for (let i = 0; i < count; i++) {
    if (atBorder[i] || area[i] === 0) continue;
    let [long, along] = [0, 0];
    for (let d = 0; d < 3; d++) {
      long += pull[i * 3 + d] * pull[i * 3 + d];
      along += pull[i * 3 + d] * out[i * 3 + d];
    }
    // Neighbours that pull inwards, against the normal: it bulges.
    curvature[i] = (Math.sqrt(long) / (4 * area[i])) * (along > 0 ? -1 : 1);
  }
  return Float64Array.from(of, (place) => curvature[place]);
}

/** Evens values out along the edges of a mesh, so that the facets of a round thing are round and an edge is as wide as it wears. */
function spread(values: Float64Array, mesh: MeshData, { of, count }: Places): Float64Array {
  const pairs = new Set<number>();
  for (let t = 0; t < mesh.indices.length; t += 3)
    for (let k = 0; k < 3; k++) {
      const [i, j] = [of[mesh.indices[t + k]], of[mesh.indices[t + ((k + 1) % 3)]]];
      if (i !== j) pairs.add(edgeOf(i, j));
    }
  const ends = Int32Array.from([...pairs].flatMap(endsOf));
  let now = new Float64Array(count);
  for (let i = 0; i < of.length; i++) now[of[i]] = values[i];
  for (let round = 0; round < ROUNDS; round++) {
    const sum = new Float64Array(count);
    const many = new Int32Array(count);
    for (let e = 0; e < ends.length; e += 2) {
      const [i, j] = [ends[e], ends[e + 1]];
      sum[i] += now[j];
      sum[j] += now[i];
      many[i]++;
      many[j]++;
    }
    now = now.map((v, i) => (many[i] > 0 ? (v + sum[i] / many[i]) / 2 : v));
  }
  return Float64Array.from(of, (place) => now[place]);
}

/** How near a corner is to an edge that stands out: 1 where it is as sharp as the smallest that counts. */
export const edges: BakedField = {
  shows: 'on edges',
  begin(mesh) {
    const diagonal = diagonalOf(mesh);
    const places = placesOf(mesh);
    const even = spread(meanCurvature(mesh, places), mesh, places);
    const all = Float32Array.from(even, (h) => Math.max(0, Math.min(1, h * diagonal * RADIUS)));
    return (from, to) => all.slice(from, to);
  },
};

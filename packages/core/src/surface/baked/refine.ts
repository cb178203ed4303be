/** A model cut finer where its triangles are large, so that what is known at corners is known everywhere. */
import type { MeshData, Subject } from '../../livery/template.ts';
import { diagonalOf } from '../triangles.ts';
import { edgeOf } from '../weld.ts';

/** The longest edge that is left, of the diagonal of the box about the model, and the triangles at which it stops. */
const SHARE = 1 / 48;
const MOST = 60_000;

/**
 * Cuts triangles in two, three or four at the middles of edges that are too long, again and again. An edge is cut by its length alone, so that
 * neighbours cut it alike and no gap opens. Corners that were there keep their numbers; parts stay together.
 */
export function refined({ mesh, parts, sheets }: Subject): Subject {
  const diagonal = diagonalOf(mesh);
  const longest = diagonal * SHARE * diagonal * SHARE;
  const out: MeshData = {
    positions: [...mesh.positions],
    normals: [...mesh.normals],
    uvs: [...mesh.uvs],
    indices: [],
  };
  const middles = new Map<number, number>();
  const middle = (a: number, b: number): number => {
    const key = edgeOf(a, b);
    const known = middles.get(key);
    if (known !== undefined) return known;
    const made = out.positions.length / 3;
    for (let c = 0; c < 3; c++) {
      out.positions.push((out.positions[a * 3 + c] + out.positions[b * 3 + c]) / 2);
      out.normals.push(out.normals[a * 3 + c] + out.normals[b * 3 + c]);
    }
    let long = 0;
    for (let c = 0; c < 3; c++) long += out.normals[made * 3 + c] * out.normals[made * 3 + c];
    const by = long > 0 ? 1 / Math.sqrt(long) : 0;
    for (let c = 0; c < 3; c++) out.normals[made * 3 + c] *= by;
    for (let c = 0; c < 2; c++) out.uvs.push((out.uvs[a * 2 + c] + out.uvs[b * 2 + c]) / 2);
    middles.set(key, made);
    return made;
  };
  const isLong = (a: number, b: number): boolean => {
    let sum = 0;
    for (let c = 0; c < 3; c++) {
      const d = out.positions[a * 3 + c] - out.positions[b * 3 + c];
      sum += d * d;
    }
    return sum > longest;
  };
  let lists = parts.map(({ first, count }) => mesh.indices.slice(first * 3, (first + count) * 3));
  for (let round = 0; round < 12; round++) {
    const all = lists.reduce((sum, { length }) => sum + length / 3, 0);
    let cut = 0;
    if (all >= MOST) break;
    lists = lists.map((list) => {
      const next: number[] = [];
      for (let i = 0; i < list.length; i += 3) {
        const corners = [list[i], list[i + 1], list[i + 2]];
        const mids = corners.map((a, k) => (isLong(a, corners[(k + 1) % 3]) ? middle(a, corners[(k + 1) % 3]) : -1));
        cut += mids.filter((m) => m >= 0).length;
        next.push(...cutAt(corners, mids));
      }
      return next;
    });
    if (cut === 0) break;
  }
  let first = 0;
  const finer = parts.map((part, i) => {
    const count = lists[i].length / 3;
    const at = first;
    first += count;
    return { ...part, first: at, count };
  });
  out.indices = lists.flat();
  return { mesh: out, parts: finer, sheets };
}

/** A triangle cut at the middles that it has (-1: none), same way round. */
function cutAt([a, b, c]: number[], [ab, bc, ca]: number[]): number[] {
  const cuts = [ab, bc, ca].filter((m) => m >= 0).length;
  if (cuts === 0) return [a, b, c];
  if (cuts === 3) return [a, ab, ca, ab, b, bc, ca, bc, c, ab, bc, ca];
  // Turned so that the one that is cut, or the one that is not, comes first.
  if (cuts === 1) return ab >= 0 ? [a, ab, c, ab, b, c] : bc >= 0 ? [a, b, bc, a, bc, c] : [a, b, ca, b, c, ca];
  if (ab < 0) return [a, b, bc, a, bc, ca, ca, bc, c];
  if (bc < 0) return [a, ab, ca, ab, b, ca, b, c, ca];
  return [a, ab, c, ab, bc, c, ab, b, bc];
}

/** Parts for a model that comes as one: its sides, top, nose, wheels, told by where they face and lie. The painter settles them. */
import type { MeshData } from '../livery/template.ts';
import type { MeshGroup } from '../models/mesh.ts';
import { faceOf } from './islands.ts';
import type { SymmetryPlane } from './symmetryPlane.ts';
import { boxOfMesh, type ModelBox } from './triangles.ts';
import { weld } from './weld.ts';

type Vec = [number, number, number];

/** A model of so many named pieces or more was divided by whoever made it. */
const DIVIDED = 4;
/** A group of fewer triangles is no whole thing. */
const LEAST = 60;

interface Piece {
  triangles: number[];
  area: number;
  /** Sum of the faces' normals by area. */
  facing: Vec;
  low: Vec;
  high: Vec;
}

/**
 * Divides the groups of a model that has hardly any, and gives the triangles an order in which each part is one run.
 * @param plane its plane of symmetry: what it leads across is left and right; null: x is
 * @returns the same mesh and groups when there is nothing to divide
 */
export function proposeParts(
  mesh: MeshData,
  groups: readonly MeshGroup[],
  plane: Pick<SymmetryPlane, 'normal'> | null,
): { mesh: MeshData; groups: MeshGroup[] } {
  if (groups.length >= DIVIDED) return { mesh, groups: [...groups] };
  const across = plane && Math.abs(plane.normal[2]) > Math.abs(plane.normal[0]) ? 2 : 0;
  const whole = boxOfMesh(mesh, mesh.indices);
  const place = weld(mesh).of;
  const indices: number[] = [];
  const out: MeshGroup[] = [];
  for (const group of groups) {
    const triangles = Array.from({ length: group.count }, (_, k) => group.first + k);
    const named = group.count < LEAST || group.bare ? null : divided(mesh, triangles, place, whole, across);
    if (!named || named.size < 2) {
      out.push({ ...group, first: indices.length / 3 });
      for (const t of triangles) indices.push(...mesh.indices.slice(t * 3, t * 3 + 3));
      continue;
    }
    for (const [name, own] of named) {
      out.push({ ...group, name, first: indices.length / 3, count: own.length });
      for (const t of own.toSorted((a, b) => a - b)) indices.push(...mesh.indices.slice(t * 3, t * 3 + 3));
    }
  }
  return { mesh: { ...mesh, indices }, groups: out };
}

/** Triangles of a group by the name of their part, in the order in which people speak of them. */
function divided(
  mesh: MeshData,
  triangles: readonly number[],
  place: Int32Array,
  whole: ModelBox,
  across: 0 | 2,
): Map<string, number[]> | null {
  const loose = joinedBy(triangles, (t) => [0, 1, 2].map((k) => place[mesh.indices[t * 3 + k]]));
  const total = pieceOf(mesh, triangles).area;
  if (!(total > 0)) return null;
  const pieces = loose.flatMap((own) => {
    const piece = pieceOf(mesh, own);
    if (isWheel(piece, whole, across) || piece.area < total * 0.25) return [piece];
    // A body is divided where its faces turn away.
    const sides = new Map<string, number[]>();
    for (const t of own) {
      const name = nameOf(pieceOf(mesh, [t]), across, true);
      const known = sides.get(name);
      if (known) known.push(t);
      else sides.set(name, [t]);
    }
    return [...sides.values()].map((side) => pieceOf(mesh, side));
  });
  const named = new Map<string, number[]>();
  const wheels = pieces.filter((piece) => isWheel(piece, whole, across));
  const along = across === 0 ? 2 : 0;
  wheels.sort((a, b) => b.low[along] - a.low[along] || b.low[across] - a.low[across]);
  for (const piece of pieces) {
    const wheel = wheels.indexOf(piece);
    const name = wheel >= 0 ? `wheel ${wheel + 1}` : nameOf(piece, across, piece.area > total * 0.02);
    const known = named.get(name);
    if (known) known.push(...piece.triangles);
    else named.set(name, [...piece.triangles]);
  }
  return new Map([...named].sort(([a], [b]) => orderOf(a) - orderOf(b) || a.localeCompare(b)));
}

const ORDER = ['left side', 'right side', 'top', 'nose', 'tail', 'under', 'wheel', 'fittings'];
const orderOf = (name: string) => ORDER.findIndex((one) => name.startsWith(one));

/** Where a piece faces. Common practice, no source: front is +z and left +x where y is up, as glTF has it (3.4). */
function nameOf({ facing, area }: Piece, across: 0 | 2, large: boolean): string {
  const length = Math.hypot(...facing);
  // What faces all ways, or is small, is no side of anything.
  if (!large || length < area * 0.3) return 'fittings';
  const along = across === 0 ? 2 : 0;
  // Left of who looks along +x is -z.
  const left = across === 0 ? facing[0] : -facing[2];
  const [side, up, ahead] = [Math.abs(left), Math.abs(facing[1]), Math.abs(facing[along])];
  if (side >= up && side >= ahead) return left > 0 ? 'left side' : 'right side';
  if (up >= ahead) return facing[1] > 0 ? 'top' : 'under';
  return facing[along] > 0 ? 'nose' : 'tail';
}

/** As high as it is long, thinner than that, and on the ground. */
function isWheel({ low, high }: Piece, whole: ModelBox, across: 0 | 2): boolean {
  const along = across === 0 ? 2 : 0;
  const [wide, tall, long] = [high[across] - low[across], high[1] - low[1], high[along] - low[along]];
  const height = whole.high[1] - whole.low[1];
  return (
    Math.abs(tall - long) < 0.08 * tall &&
    wide < 0.75 * tall &&
    tall < 0.7 * height &&
    low[1] - whole.low[1] < 0.06 * height
  );
}

function pieceOf(mesh: MeshData, triangles: readonly number[]): Piece {
  const facing: Vec = [0, 0, 0];
  let area = 0;
  for (const t of triangles) {
    const face = faceOf(mesh, t);
    area += Math.hypot(...face) / 2;
    for (let c = 0; c < 3; c++) facing[c] += face[c] / 2;
  }
  const corners = triangles.flatMap((t) => [0, 1, 2].map((k) => mesh.indices[t * 3 + k]));
  return { triangles: [...triangles], area, facing, ...boxOfMesh(mesh, corners) };
}

/** Triangles in lists that hang together by what `keys` says they touch. */
function joinedBy(triangles: readonly number[], keys: (t: number) => number[]): number[][] {
  const parent = triangles.map((_, i) => i);
  const rootOf = (i: number): number => {
    while (parent[i] !== i) i = parent[i] = parent[parent[i]];
    return i;
  };
  const first = new Map<number, number>();
  triangles.forEach((t, i) => {
    for (const key of keys(t)) {
      const other = first.get(key);
      if (other === undefined) first.set(key, i);
      else parent[rootOf(i)] = rootOf(other);
    }
  });
  const lists = new Map<number, number[]>();
  triangles.forEach((t, i) => {
    const root = rootOf(i);
    const list = lists.get(root);
    if (list) list.push(t);
    else lists.set(root, [t]);
  });
  return [...lists.values()];
}

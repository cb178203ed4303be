/** Places of a model that something slid along it is held by: planes that it comes near, and the edges of parts. */
import type { MeshData, Subject } from '../livery/template.ts';
import { neighboursOf } from './edges.ts';
import { cornersOfTriangle, placeOf } from './triangles.ts';
import { dot, long, minus, plus, type Vec } from './vectors.ts';

/** A plane that holds: points of it have `offset` along its normal (of length 1), metres. */
export interface SnapPlane {
  normal: Vec;
  offset: number;
  name: string;
}

/** Where something is held: a place of the surface, its triangle, and by what. */
export interface Held {
  place: [number, number, number];
  triangle: number;
  names: readonly string[];
}

interface Segment {
  from: Vec;
  to: Vec;
  triangle: number;
}

const edges = new WeakMap<MeshData, Segment[]>();

/** The edges at which one part meets another or nothing; worked out once a mesh. */
export function partEdges({ mesh, parts }: Pick<Subject, 'mesh' | 'parts'>): readonly Segment[] {
  const known = edges.get(mesh);
  if (known) return known;
  const partOf = new Int32Array(mesh.indices.length / 3).fill(-1);
  parts.forEach(({ first, count }, i) => partOf.fill(i, first, first + count));
  const { across } = neighboursOf(mesh);
  const found: Segment[] = [];
  for (let i = 0; i < mesh.indices.length; i++) {
    const triangle = (i / 3) | 0;
    const other = across[i];
    if (other >= 0 && partOf[other] === partOf[triangle]) continue;
    const next = i % 3 === 2 ? i - 2 : i + 1;
    found.push({ from: placeOf(mesh, mesh.indices[i]), to: placeOf(mesh, mesh.indices[next]), triangle });
  }
  edges.set(mesh, found);
  return found;
}

/** The point of a stretch nearest to another. */
function nearestOfStretch(at: Vec, { from, to }: Pick<Segment, 'from' | 'to'>): [number, number, number] {
  const way = minus(to, from);
  const whole = dot(way, way);
  const share = whole > 0 ? Math.min(1, Math.max(0, dot(minus(at, from), way) / whole)) : 0;
  return plus(from, way, share);
}

/** Where a plane cuts triangles whose box comes near a place. */
function cutsNear(mesh: MeshData, triangles: Iterable<number>, { normal, offset }: SnapPlane, at: Vec, within: number) {
  const found: Segment[] = [];
  for (const triangle of triangles) {
    const corners = cornersOfTriangle(mesh, triangle);
    const far = corners.map((corner) => dot(corner, normal) - offset);
    if (Math.min(...far) > 0 || Math.max(...far) < 0) continue;
    if (
      [0, 1, 2].some((c) => corners.every((p) => p[c] < at[c] - within) || corners.every((p) => p[c] > at[c] + within))
    )
      continue;
    const ends: Vec[] = [];
    for (let k = 0; k < 3; k++) {
      const [a, b] = [far[k], far[(k + 1) % 3]];
      if (a === 0) ends.push(corners[k]);
      else if ((a < 0 && b > 0) || (a > 0 && b < 0))
        ends.push(plus(corners[k], minus(corners[(k + 1) % 3], corners[k]), a / (a - b)));
    }
    if (ends.length >= 2) found.push({ from: ends[0], to: ends[ends.length - 1], triangle });
  }
  return found;
}

/** Where stretches cross a plane. */
const crossings = (stretches: readonly Segment[], { normal, offset }: SnapPlane): Segment[] =>
  stretches.flatMap((one) => {
    const [a, b] = [dot(one.from, normal) - offset, dot(one.to, normal) - offset];
    if ((a > 0 && b > 0) || (a < 0 && b < 0)) return [];
    const place = a === b ? one.from : plus(one.from, minus(one.to, one.from), a / (a - b));
    return [{ from: place, to: place, triangle: one.triangle }];
  });

function nearestIn(stretches: readonly Segment[], at: Vec, within: number): { place: Vec; triangle: number } | null {
  let best: { place: Vec; triangle: number } | null = null;
  let far = within;
  for (const one of stretches) {
    const place = nearestOfStretch(at, one);
    const away = long(minus(place, at));
    if (away > far) continue;
    far = away;
    best = { place, triangle: one.triangle };
  }
  return best;
}

/**
 * The place near another where as much as possible holds: two planes before one, of about as near ones the first; where no plane comes near,
 * the edge of a part; with one plane also where it meets such an edge.
 * @param triangles of the surface @param within how far it may be brought, metres
 * @returns null: nothing is near
 */
export function heldNear(
  subject: Pick<Subject, 'mesh' | 'parts'>,
  triangles: readonly number[],
  at: Vec,
  planes: readonly SnapPlane[],
  within: number,
): Held | null {
  const { mesh } = subject;
  const held = (found: { place: Vec; triangle: number }, ...names: string[]): Held => ({
    place: [...found.place],
    triangle: found.triangle,
    names,
  });
  const away = ({ normal, offset }: SnapPlane) => Math.abs(dot(at, normal) - offset);
  const near = planes
    .filter((plane) => away(plane) <= within)
    .map((plane, i) => ({ plane, i, far: away(plane) }))
    .sort((a, b) => a.far - b.far || a.i - b.i)
    .map(({ plane }) => plane);
  const edge = partEdges(subject).filter((one) => long(minus(nearestOfStretch(at, one), at)) <= within);
  for (const [i, first] of near.entries()) {
    const cuts = cutsNear(mesh, triangles, first, at, within);
    const alone = nearestIn(cuts, at, within * 1.5);
    if (!alone) continue;
    for (const second of near.slice(i + 1)) {
      if (Math.abs(dot(first.normal, second.normal)) > 0.99) continue;
      const both = nearestIn(crossings(cuts, second), at, within * 1.5);
      if (both) return held(both, first.name, second.name);
    }
    const onEdge = nearestIn(crossings(edge, first), at, within);
    return onEdge ? held(onEdge, first.name, EDGE) : held(alone, first.name);
  }
  const onEdge = nearestIn(edge, at, within);
  return onEdge && held(onEdge, EDGE);
}

const EDGE = 'the edge of a part';

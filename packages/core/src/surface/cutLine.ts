/** Lines on the surface of a model: where a plane cuts it, and from place to place. */
import type { Subject } from '../livery/template.ts';
import { faceNormal, neighboursOf } from './edges.ts';
import { cornersOfTriangle, placeOf } from './triangles.ts';
import { edgeOf, placeStep } from './weld.ts';
import { cross, dot, long, minus, plus, unit, upright, type Vec } from './vectors.ts';

/** A piece of a line within one triangle. */
export interface LinePiece {
  readonly triangle: number;
  readonly from: Vec;
  readonly to: Vec;
  /** How far along the line it begins, metres. */
  readonly at: number;
  readonly length: number;
}

export interface SurfaceLine {
  readonly pieces: readonly LinePiece[];
  readonly closed: boolean;
  readonly length: number;
}

/** Pieces of a line before it has a beginning: in each triangle from one edge to another. */
interface Cut {
  triangle: number;
  from: Vec;
  to: Vec;
  fromEdge: number;
  toEdge: number;
}

/** The pieces of where a plane cuts triangles, each so that the plane's normal is up and the line goes to the right, seen from outside. */
function cutsOf(subject: Subject, triangles: readonly number[], normal: Vec, offset: number): Cut[] {
  const { mesh } = subject;
  const { indices } = mesh;
  const { of } = neighboursOf(subject.mesh);
  const step = placeStep(subject.mesh);
  const cuts: Cut[] = [];
  for (const t of triangles) {
    const corners = [indices[t * 3], indices[t * 3 + 1], indices[t * 3 + 2]];
    const over = corners.map((i) => {
      const value = dot(placeOf(mesh, i), normal) - offset;
      return Math.abs(value) < step ? 0 : value;
    });
    const face = faceNormal(subject.mesh, t);
    if (!face) continue;
    const [a, b, c] = cornersOfTriangle(mesh, t);
    // Going round the triangle as seen from outside, the plane is crossed downwards on the left and upwards on the right.
    const turned = dot(cross(minus(b, a), minus(c, a)), face) < 0;
    const cut: Partial<Cut> = {};
    for (let k = 0; k < 3; k++) {
      const [m, n] = [k, (k + 1) % 3];
      // A corner on the plane counts as above it, so that every cut goes from edge to edge.
      if (over[m] >= 0 === over[n] >= 0) continue;
      // From the lower number, so that both triangles at an edge find the same place to the bit.
      const [p, q] = of[corners[m]] < of[corners[n]] ? [m, n] : [n, m];
      const from = placeOf(mesh, corners[p]);
      const at = plus(from, minus(placeOf(mesh, corners[q]), from), over[p] / (over[p] - over[q]));
      const edge = edgeOf(of[corners[m]], of[corners[n]]);
      if (over[m] >= 0 !== turned) {
        cut.from = at;
        cut.fromEdge = edge;
      } else {
        cut.to = at;
        cut.toEdge = edge;
      }
    }
    const { from, to, fromEdge, toEdge } = cut;
    if (from && to && fromEdge !== undefined && toEdge !== undefined)
      cuts.push({ triangle: t, from, to, fromEdge, toEdge });
  }
  return cuts;
}

/** Cuts that follow one another, as chains; closed ones come back to where they begin. */
function chainsOf(cuts: readonly Cut[]): Cut[][] {
  const leaving = new Map<number, number[]>();
  const coming = new Map<number, number>();
  cuts.forEach((cut, i) => {
    const list = leaving.get(cut.fromEdge);
    if (list) list.push(i);
    else leaving.set(cut.fromEdge, [i]);
    coming.set(cut.toEdge, i);
  });
  const used = new Uint8Array(cuts.length);
  const follow = (first: number): Cut[] => {
    const chain: Cut[] = [];
    for (let i: number | undefined = first; i !== undefined;) {
      used[i] = 1;
      chain.push(cuts[i]);
      i = leaving.get(cuts[i].toEdge)?.find((next) => !used[next]);
    }
    return chain;
  };
  const chains: Cut[][] = [];
  // Those that begin somewhere first, then what is left: rings.
  cuts.forEach((cut, i) => {
    if (!used[i] && !coming.has(cut.fromEdge)) chains.push(follow(i));
  });
  cuts.forEach((_, i) => {
    if (!used[i]) chains.push(follow(i));
  });
  return chains;
}

const isRing = (chain: readonly Cut[]): boolean =>
  chain.length > 2 && chain[0].fromEdge === chain[chain.length - 1].toEdge;

function lineOf(
  { mesh }: Subject,
  chain: readonly Pick<Cut, 'triangle' | 'from' | 'to'>[],
  closed: boolean,
): SurfaceLine {
  const step = placeStep(mesh);
  let at = 0;
  const pieces = chain.flatMap(({ triangle, from, to }): LinePiece[] => {
    const length = long(minus(to, from));
    // A cut through a corner has pieces without length; they lead nowhere.
    if (length < step) return [];
    const piece = { triangle, from, to, at, length };
    at += length;
    return [piece];
  });
  return { pieces, closed, length: at };
}

/**
 * Where a plane cuts some triangles of a model: one line for each piece that hangs together. Seen from outside with the plane's normal up,
 * each goes to the right; a ring begins where it lies farthest back, or, across the model, lowest.
 * @param normal of length 1; points of the plane have `offset` along it, in metres
 */
export function cutLines(subject: Subject, triangles: readonly number[], normal: Vec, offset: number): SurfaceLine[] {
  const first = Math.abs(normal[0]) > 0.7 ? 1 : 0;
  return chainsOf(cutsOf(subject, triangles, normal, offset))
    .map((chain) => {
      if (!isRing(chain)) return lineOf(subject, chain, false);
      let least = 0;
      chain.forEach(({ from }, i) => {
        if (from[first] < chain[least].from[first] - 1e-9) least = i;
      });
      return lineOf(subject, [...chain.slice(least), ...chain.slice(0, least)], true);
    })
    .filter((line) => line.length > 0);
}

/** The triangle nearest to a place, and the place on it. */
export function nearestOn(
  { mesh }: Pick<Subject, 'mesh'>,
  triangles: Iterable<number>,
  at: Vec,
): { triangle: number; place: [number, number, number]; far: number } | null {
  let best: { triangle: number; place: [number, number, number]; far: number } | null = null;
  for (const t of triangles) {
    const on = nearestOfTriangle(at, ...cornersOfTriangle(mesh, t));
    const far = long(minus(on, at));
    if (far < (best?.far ?? Infinity)) best = { triangle: t, place: on, far };
  }
  return best;
}

/** The point of a triangle nearest to another (Ericson, "Real-Time Collision Detection", 5.1.5). */
export function nearestOfTriangle(p: Vec, a: Vec, b: Vec, c: Vec): [number, number, number] {
  const [ab, ac, ap] = [minus(b, a), minus(c, a), minus(p, a)];
  const [d1, d2] = [dot(ab, ap), dot(ac, ap)];
  if (d1 <= 0 && d2 <= 0) return [...a];
  const bp = minus(p, b);
  const [d3, d4] = [dot(ab, bp), dot(ac, bp)];
  if (d3 >= 0 && d4 <= d3) return [...b];
  const vc = d1 * d4 - d3 * d2;
  if (vc <= 0 && d1 >= 0 && d3 <= 0) return plus(a, ab, d1 / (d1 - d3));
  const cp = minus(p, c);
  const [d5, d6] = [dot(ab, cp), dot(ac, cp)];
  if (d6 >= 0 && d5 <= d6) return [...c];
  const vb = d5 * d2 - d1 * d6;
  if (vb <= 0 && d2 >= 0 && d6 <= 0) return plus(a, ac, d2 / (d2 - d6));
  const va = d3 * d6 - d5 * d4;
  if (va <= 0 && d4 - d3 >= 0 && d5 - d6 >= 0) return plus(b, minus(c, b), (d4 - d3) / (d4 - d3 + (d5 - d6)));
  const whole = va + vb + vc;
  // Without area: one of its corners is near enough.
  if (!(whole > 0)) return [...a];
  const by = 1 / whole;
  return plus(plus(a, ab, vb * by), ac, vc * by);
}

/**
 * A line over the surface from place to place: between two, where the plane through both that stands on the surface cuts it.
 */
export function lineThrough(
  subject: Subject,
  triangles: readonly number[],
  places: readonly Vec[],
  closed: boolean,
): SurfaceLine {
  const stops = closed ? [...places, places[0]] : places;
  const on = stops.map((at) => nearestOn(subject, triangles, at));
  const chain: Pick<Cut, 'triangle' | 'from' | 'to'>[] = [];
  for (let i = 0; i + 1 < stops.length; i++) {
    const [a, b] = [on[i], on[i + 1]];
    if (a && b) chain.push(...between(subject, triangles, a, b));
  }
  return lineOf(subject, chain, closed);
}

type On = NonNullable<ReturnType<typeof nearestOn>>;

function between(
  subject: Subject,
  triangles: readonly number[],
  a: On,
  b: On,
): Pick<Cut, 'triangle' | 'from' | 'to'>[] {
  const straight = { triangle: a.triangle, from: a.place, to: b.place };
  if (a.triangle === b.triangle) return [straight];
  const along = minus(b.place, a.place);
  if (long(along) === 0) return [];
  const faces = [a, b].map(({ triangle }) => faceNormal(subject.mesh, triangle) ?? ([0, 1, 0] as const));
  const out = upright(plus(faces[0], faces[1]), unit(along));
  // The normal is up where the line goes to the right: up = out x right.
  const normal = unit(cross(out, along));
  const cuts = cutsOf(subject, triangles, normal, dot(normal, a.place));
  const ways = chainsOf(cuts).flatMap((chain) => {
    const from = chain.findIndex(({ triangle }) => triangle === a.triangle);
    const to = chain.findIndex(({ triangle }) => triangle === b.triangle);
    if (from < 0 || to < 0) return [];
    const forward =
      from <= to ? chain.slice(from, to + 1) : isRing(chain) ? [...chain.slice(from), ...chain.slice(0, to + 1)] : [];
    const back =
      from >= to ? chain.slice(to, from + 1) : isRing(chain) ? [...chain.slice(to), ...chain.slice(0, from + 1)] : [];
    return [
      forward.map(({ triangle, from: f, to: g }) => ({ triangle, from: f, to: g })),
      back.toReversed().map(({ triangle, from: f, to: g }) => ({ triangle, from: g, to: f })),
    ].filter((way) => way.length > 1);
  });
  const lengthOf = (way: (typeof ways)[number]) => way.reduce((sum, { from, to }) => sum + long(minus(to, from)), 0);
  const [way] = ways.sort((one, other) => lengthOf(one) - lengthOf(other));
  if (!way) return [straight];
  return way.map((piece, i) => ({
    ...piece,
    ...(i === 0 && { from: a.place }),
    ...(i === way.length - 1 && { to: b.place }),
  }));
}

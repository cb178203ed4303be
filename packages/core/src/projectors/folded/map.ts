import type { ProjectorOf } from '../../livery/projector.ts';
import type { Subject } from '../../livery/template.ts';
import { nearestOn } from '../../surface/cutLine.ts';
import { faceNormal, neighboursOf } from '../../surface/edges.ts';
import { cornersOfTriangle } from '../../surface/triangles.ts';
import { cross, dot, minus, plus, unit, upright, type Vec } from '../../surface/vectors.ts';
import { eachPainted, noBoxes, widen, type Project } from '../projection.ts';
import { liesTrue, MOST_STEPS, roundOf, roundOver, unfolded, type Flat, type Round } from '../unfold.ts';

/** How much longer or shorter than on the model a side may come out where corners are told by their own ways; else each point is. */
const STRETCH = 1.25;

/** A triangle laid flat at the end of a straight way from the middle, and between which directions such ways come. */
interface Way {
  /** Of the corners. */
  readonly at: readonly [Flat, Flat, Flat];
  /** Directions of length 1; null: from everywhere, for the middle lies in it. */
  readonly between: readonly [Flat, Flat] | null;
}

const turn = (a: Flat, b: Flat) => a[0] * b[1] - a[1] * b[0];
const size = (a: Flat) => Math.sqrt(a[0] * a[0] + a[1] * a[1]);
const along = (a: Flat): Flat => {
  const by = size(a) || 1;
  return [a[0] / by, a[1] / by];
};

/**
 * From a place straight out over the surface, each triangle unfolded into the plane of the one before (Mitchell, Mount, Papadimitriou, "The
 * discrete geodesic problem", 1987): the logarithmic map, exact on whatever can be laid flat. On rounded surfaces it is told at the corners
 * and goes evenly between them, so that it does not break behind a corner.
 */
export const project: Project<ProjectorOf<'folded'>> = (projector, subject, hand) => {
  const { scale, reach } = projector;
  const { mesh } = subject;
  const { indices } = mesh;
  const ways = waysOf(projector, subject, hand);
  const corners = cornersOf(subject, ways);
  const boxes = noBoxes(indices.length / 3);
  for (const [t, list] of ways)
    for (const { at } of list) for (let k = 0; k < 3; k++) widen(boxes, t, at[k][0] / scale, at[k][1] / scale);

  let even = true;
  let here: readonly Way[] = [];
  /** Six numbers a way: u and v at the sheet's origin, to the right and down. */
  let maps = new Float64Array(6 * 8);
  return {
    boxes,
    onto(t, plane) {
      const found = corners.of(t);
      even = found !== null;
      here = ways.get(t) ?? [];
      if (here.length * 6 > maps.length) maps = new Float64Array(here.length * 12);
      const put = ([a, b, c]: readonly [Flat, Flat, Flat], i: number) => {
        maps.set(plane.between(a[0], b[0], c[0]), i * 6);
        maps.set(plane.between(a[1], b[1], c[1]), i * 6 + 3);
      };
      if (found) put(found, 0);
      else here.forEach((way, i) => put(way.at, i));
      return found?.every((p) => size(p) < reach) ?? false;
    },
    at(x, y, out) {
      let o = 0;
      if (!even) {
        let [least, nearest] = [Infinity, Infinity];
        for (let i = 0, k = 0; i < here.length; i++, k += 6) {
          const p: Flat = [
            maps[k] + maps[k + 1] * x + maps[k + 2] * y,
            maps[k + 3] + maps[k + 4] * x + maps[k + 5] * y,
          ];
          const off = outside(here[i], p);
          const far = size(p);
          if (off < least || (off === least && far < nearest)) {
            least = off;
            nearest = far;
            o = k;
          }
        }
        // Behind a corner no straight way comes to it.
        if (least > 0.25 * nearest) return 0;
      }
      const u = maps[o] + maps[o + 1] * x + maps[o + 2] * y;
      const v = maps[o + 3] + maps[o + 4] * x + maps[o + 5] * y;
      if (u * u + v * v > reach * reach) return 0;
      out.u = u / scale;
      out.v = v / scale;
      out.rightU = maps[o + 1] / scale;
      out.rightV = maps[o + 4] / scale;
      out.downU = maps[o + 2] / scale;
      out.downV = maps[o + 5] / scale;
      return 1;
    },
  };
};

/** How far a point lies beside the directions of a way; 0: between them. */
function outside({ between }: Way, p: Flat): number {
  if (!between) return 0;
  const [a, b] = between;
  const off = Math.max(-turn(a, p), turn(b, p));
  return off > 1e-6 * size(p) ? off : 0;
}

/** Straight ways from the middle, by the triangle to which they lead. */
function waysOf(projector: ProjectorOf<'folded'>, subject: Subject, hand: 1 | -1) {
  const { mesh } = subject;
  const { indices } = mesh;
  const { across, of } = neighboursOf(mesh);
  const facing = unit(projector.facing);
  const painted = new Uint8Array(indices.length / 3);
  const turnedTo: number[] = [];
  eachPainted(subject, projector.not, (t) => {
    painted[t] = 1;
    if (dot(faceNormal(mesh, t) ?? [0, 0, 0], facing) > 0) turnedTo.push(t);
  });
  const ways = new Map<number, Way[]>();
  const start = nearestOn(subject, turnedTo, projector.at);
  if (!start) return ways;
  const face = faceNormal(mesh, start.triangle)!;
  const up = upright(projector.up, face);
  const side = cross(up, face);
  const right: Vec = hand < 0 ? [-side[0], -side[1], -side[2]] : side;
  const own = cornersOfTriangle(mesh, start.triangle);
  // Not quite on a side, along which nothing can be seen.
  const centre: Vec = [0, 1, 2].map((c) => (own[0][c] + own[1][c] + own[2][c]) / 3) as unknown as Vec;
  const middle = plus(start.place, minus(centre, start.place), 1e-6);
  const flat = (p: Vec): Flat => [dot(minus(p, middle), right), -dot(minus(p, middle), up)];
  const first: readonly [Flat, Flat, Flat] = [flat(own[0]), flat(own[1]), flat(own[2])];
  const open: (Way & { t: number; from: number; round: Round })[] = [
    { t: start.triangle, from: -1, at: first, round: roundOf(first), between: null },
  ];
  let steps = 0;
  for (let step = open.pop(); step && steps < MOST_STEPS; step = open.pop(), steps++) {
    const { t, from, at, between, round } = step;
    const list = ways.get(t);
    if (list) list.push({ at, between });
    else ways.set(t, [{ at, between }]);
    for (let k = 0; k < 3; k++) {
      const next = across[t * 3 + k];
      if (next < 0 || next === from || !painted[next]) continue;
      const [p, q] = [at[k], at[(k + 1) % 3]];
      const seen = turn(p, q);
      if (Math.abs(seen) < 1e-12 * size(p) * size(q)) continue;
      let [a, b] = seen > 0 ? [along(p), along(q)] : [along(q), along(p)];
      if (between) {
        if (turn(a, between[0]) > 0) a = between[0];
        if (turn(between[1], b) > 0) b = between[1];
        if (turn(a, b) < 1e-9) continue;
      }
      if (nearestOfEdge(p, q, a, b) > projector.reach) continue;
      const [one, other] = [indices[t * 3 + k], indices[t * 3 + ((k + 1) % 3)]];
      const laid = unfolded(mesh, of, next, one, other, p, q, round);
      if (laid)
        open.push({
          ...{ t: next, from: t, at: laid, between: [a, b] },
          round: roundOver(mesh, of, next, one, other, round),
        });
    }
  }
  return ways;
}

/** How near to the middle an edge comes between two directions. */
function nearestOfEdge(p: Flat, q: Flat, a: Flat, b: Flat): number {
  const sx = q[0] - p[0];
  const sy = q[1] - p[1];
  const cross = p[0] * sy - p[1] * sx;
  const byA = a[0] * sy - a[1] * sx;
  const byB = b[0] * sy - b[1] * sx;
  const farA = byA === 0 ? 0 : cross / byA;
  const farB = byB === 0 ? 0 : cross / byB;
  const x = a[0] * farA;
  const y = a[1] * farA;
  const ex = b[0] * farB - x;
  const ey = b[1] * farB - y;
  const square = ex * ex + ey * ey;
  const share = square > 0 ? Math.max(0, Math.min(1, -(x * ex + y * ey) / square)) : 0;
  return Math.sqrt((x + ex * share) ** 2 + (y + ey * share) ** 2);
}

/** Where the corners of triangles lie by the shortest straight way to each; only of triangles that come out as they are on the model. */
function cornersOf({ mesh }: Subject, ways: ReadonlyMap<number, readonly Way[]>) {
  const { indices } = mesh;
  const { of } = neighboursOf(mesh);
  const best = new Map<number, Flat>();
  for (const [t, list] of ways)
    for (const way of list)
      for (let k = 0; k < 3; k++) {
        const p = way.at[k];
        if (outside(way, p) > 1e-4 * size(p)) continue;
        const corner = of[indices[t * 3 + k]];
        const known = best.get(corner);
        if (!known || size(p) < size(known)) best.set(corner, p);
      }
  const known = new Map<number, readonly [Flat, Flat, Flat] | null>();
  const look = (t: number): readonly [Flat, Flat, Flat] | null => {
    const own = [0, 1, 2].map((k) => indices[t * 3 + k]);
    const [a, b, c] = own.map((i) => best.get(of[i]));
    if (!a || !b || !c) return null;
    const laid = [a, b, c] as const;
    return liesTrue(mesh, t, laid, STRETCH) ? laid : null;
  };
  return {
    of(t: number): readonly [Flat, Flat, Flat] | null {
      let found = known.get(t);
      if (found === undefined) known.set(t, (found = look(t)));
      return found;
    },
  };
}

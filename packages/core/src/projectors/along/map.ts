import type { ProjectorOf } from '../../livery/projector.ts';
import type { Subject } from '../../livery/template.ts';
import type { SurfaceLine } from '../../surface/cutLine.ts';
import { neighboursOf } from '../../surface/edges.ts';
import { cornersOfTriangle } from '../../surface/triangles.ts';
import { placeStep } from '../../surface/weld.ts';
import { dot, minus, type Vec } from '../../surface/vectors.ts';
import { eachPainted, noBoxes, widen, type Footprint, type Project } from '../projection.ts';
import { liesTrue, roundOf, roundOver, unfolded, type Flat, type Round } from '../unfold.ts';
import { march, type AtCorner } from './march.ts';
import { endsAt, linesOf, piecesOf, shareAt, type Piece } from './pieces.ts';

/** Triangles on ways out from the line that are followed; on a mesh that is finer distances are told from corner to corner. */
const MOST_STEPS = 60_000;

/** A triangle on the way out from a piece, laid flat: where it was come from, and the share of the piece whose strip comes through it. */
interface Step {
  t: number;
  from: number;
  at: readonly [Flat, Flat, Flat];
  round: Round;
  low: number;
  high: number;
}

/** How a triangle lies to one piece of the line when everything between them is laid flat. */
interface Way {
  /** Of each corner. */
  readonly xs: readonly [number, number, number];
  readonly ys: readonly [number, number, number];
  readonly piece: Piece;
  /** The share of the piece whose strip comes here. */
  readonly low: number;
  readonly high: number;
}

/**
 * From every piece of the line straight out over the surface, triangle by triangle, each unfolded into the plane of the one before: exact on
 * whatever can be laid flat (Mitchell, Mount, Papadimitriou, "The discrete geodesic problem", 1987, for lines instead of points). Corners
 * are mitred.
 */
export const project: Project<ProjectorOf<'along'>> = (projector, subject, hand) => {
  const { scale, reach } = projector;
  const { mesh } = subject;
  const { indices } = mesh;
  const { across, of } = neighboursOf(mesh);
  const hair = placeStep(mesh);
  const pieces = linesOf(projector, subject).flatMap((line) => piecesOf(mesh, line, hand));
  const painted = new Uint8Array(indices.length / 3);
  eachPainted(subject, projector.not, (t) => (painted[t] = 1));

  const ways = new Map<number, Way[]>();
  let steps = 0;
  for (const piece of pieces) {
    const flat = (at: Vec): Flat => {
      const p = minus(at, piece.from);
      return [dot(p, piece.along), dot(p, piece.down)];
    };
    // Beyond the ends of an open line the strip ends square.
    const past = reach / piece.length;
    const [a, b, c] = cornersOfTriangle(mesh, piece.triangle);
    const first = [flat(a), flat(b), flat(c)] as const;
    const open: Step[] = [
      {
        ...{ t: piece.triangle, from: -1, at: first, round: roundOf(first) },
        ...{ low: piece.begins ? -past : 0, high: piece.ends ? 1 + past : 1 },
      },
    ];
    for (let step = open.pop(); step && steps < MOST_STEPS; step = open.pop(), steps++) {
      const { t, from, at, low, high, round } = step;
      const [a, b, c] = at;
      const list = ways.get(t) ?? [];
      list.push({ xs: [a[0], b[0], c[0]], ys: [a[1], b[1], c[1]], piece, low, high });
      ways.set(t, list);
      for (let k = 0; k < 3; k++) {
        const next = across[t * 3 + k];
        if (next < 0 || next === from || !painted[next]) continue;
        const [p, q] = [at[k], at[(k + 1) % 3]];
        // The strip that comes out through this edge; through the line itself none does.
        for (const side of [1, -1] as const) {
          const part = onSide(p, q, side, at[(k + 2) % 3], hair, endsAt(piece, side));
          if (!part) continue;
          const s0 = shareAt(piece, part[0][0], part[0][1]);
          const s1 = shareAt(piece, part[1][0], part[1][1]);
          const [left, right] = [Math.max(low, Math.min(s0, s1)), Math.min(high, Math.max(s0, s1))];
          if (right - left < 1e-9 || nearestIn(part, s0, s1, left, right) > reach) continue;
          const [one, other] = [indices[t * 3 + k], indices[t * 3 + ((k + 1) % 3)]];
          const laid = unfolded(mesh, of, next, one, other, p, q, round);
          if (laid)
            open.push({
              ...{ t: next, from: t, at: laid, low: left, high: right },
              round: roundOver(mesh, of, next, one, other, round),
            });
        }
      }
    }
  }

  const fine = steps >= MOST_STEPS;
  if (fine) ways.clear();
  const corners = cornersOf(mesh, fine ? march(subject, pieces, painted, reach) : cornersBy(mesh, ways), fine);
  const boxes = noBoxes(indices.length / 3);
  if (fine) eachPainted(subject, projector.not, (t) => boxOfLaid(boxes, t, corners(t), reach, scale));
  for (const [t, list] of ways)
    for (const { xs, ys, piece } of list) {
      for (let k = 0; k < 3; k++) {
        const x = piece.at + Math.min(Math.max(xs[k], -reach), piece.length + reach);
        const y = Math.min(Math.max(ys[k], -reach), reach);
        widen(boxes, t, x / scale, y / scale);
        widen(boxes, t, piece.at / scale, y / scale);
      }
    }

  let even: Laid | null = null;
  let here: readonly Way[] = [];
  /** Six numbers a way: x and y at the sheet's origin, to the right and down. */
  let maps = new Float64Array(6 * 16);
  return {
    boxes,
    onto(t, plane) {
      even = corners(t);
      if (even) {
        maps.set(plane.between(...even.us), 0);
        maps.set(plane.between(...even.vs), 3);
        const { us, vs, line } = even;
        const within = line.closed || (Math.min(...us) > line.length * 0.01 && Math.max(...us) < line.length * 0.99);
        return within && Math.max(...vs) < reach && Math.min(...vs) > -reach;
      }
      here = ways.get(t) ?? [];
      if (here.length * 6 > maps.length) maps = new Float64Array(here.length * 12);
      here.forEach(({ xs, ys }, i) => {
        maps.set(plane.between(...xs), i * 6);
        maps.set(plane.between(...ys), i * 6 + 3);
      });
      return false;
    },
    at(x, y, out) {
      if (even) {
        const v = maps[3] + maps[4] * x + maps[5] * y;
        if (v > reach || v < -reach) return 0;
        out.u = (maps[0] + maps[1] * x + maps[2] * y) / scale;
        out.v = v / scale;
        return put(out, maps, 0, even.line, scale);
      }
      let best = -1;
      // How far the point lies outside a way's strip, along the line, and how far from the line.
      let [least, nearest] = [Infinity, Infinity];
      for (let i = 0, o = 0; i < here.length; i++, o += 6) {
        const { piece, low, high } = here[i];
        const px = maps[o] + maps[o + 1] * x + maps[o + 2] * y;
        const py = maps[o + 3] + maps[o + 4] * x + maps[o + 5] * y;
        const share = shareAt(piece, px, py);
        const off = share < low ? low - share : share > high ? share - high : 0;
        const outside = off > 1e-6 ? off * piece.length : 0;
        const far = Math.abs(py);
        if (outside < least || (outside === least && far < nearest)) {
          least = outside;
          nearest = far;
          best = i;
        }
      }
      if (best < 0 || nearest > reach) return 0;
      const { piece } = here[best];
      // A place that no strip comes to lies behind a corner of the surface.
      if (least > Math.max(4 * nearest, piece.length)) return 0;
      const o = best * 6;
      const px = maps[o] + maps[o + 1] * x + maps[o + 2] * y;
      const py = maps[o + 3] + maps[o + 4] * x + maps[o + 5] * y;
      out.u = (piece.at + shareAt(piece, px, py) * piece.length) / scale;
      out.v = py / scale;
      return put(out, maps, o, piece.line, scale);
    },
  };
};

/** What next samples add, and how much of the line is there: it ends as square as a texel allows. */
function put(out: Footprint, maps: Float64Array, o: number, line: SurfaceLine, scale: number): number {
  out.rightU = maps[o + 1] / scale;
  out.downU = maps[o + 2] / scale;
  out.rightV = maps[o + 4] / scale;
  out.downV = maps[o + 5] / scale;
  out.round = line.closed ? line.length / scale : 0;
  if (line.closed) return 1;
  const soft = Math.abs(out.rightU) + Math.abs(out.downU);
  const past = Math.min(out.u, line.length / scale - out.u);
  return soft > 0 ? Math.min(1, Math.max(0, past / soft + 0.5)) : past >= 0 ? 1 : 0;
}

/** How far along a line the corners of a triangle lie, and how far from it, metres. */
interface Laid {
  us: readonly [number, number, number];
  vs: readonly [number, number, number];
  line: SurfaceLine;
}

/** How much longer or shorter than on the model a side may come out for its triangle to lie evenly along the line; of a fine mesh each lies so. */
const STRETCH = 1.03;
const STRETCH_FINE = 2;

/** The box of a triangle as it lies along its line. */
function boxOfLaid(boxes: Float64Array, t: number, laid: Laid | null, reach: number, scale: number): void {
  if (!laid || laid.vs.every((v) => v > reach) || laid.vs.every((v) => v < -reach)) return;
  for (let k = 0; k < 3; k++) widen(boxes, t, laid.us[k] / scale, laid.vs[k] / scale);
}

/** What the shortest ways say of corners. */
function cornersBy(mesh: Subject['mesh'], ways: ReadonlyMap<number, readonly Way[]>): Map<number, AtCorner> {
  const { indices } = mesh;
  const { of } = neighboursOf(mesh);
  const best = new Map<number, AtCorner>();
  for (const [t, list] of ways)
    for (const { xs, ys, piece, low, high } of list)
      for (let k = 0; k < 3; k++) {
        const share = shareAt(piece, xs[k], ys[k]);
        if (share < low - 1e-4 || share > high + 1e-4) continue;
        const corner = of[indices[t * 3 + k]];
        const before = best.get(corner);
        if (before && Math.abs(before.v) <= Math.abs(ys[k])) continue;
        best.set(corner, { u: piece.at + share * piece.length, v: ys[k], line: piece.line });
      }
  return best;
}

/** Triangles whose corners say enough: between them everything goes evenly, but for what the surface is bent within. */
function cornersOf(
  mesh: Subject['mesh'],
  best: ReadonlyMap<number, AtCorner>,
  fine: boolean,
): (t: number) => Laid | null {
  const { indices } = mesh;
  const { of } = neighboursOf(mesh);
  const stretch = fine ? STRETCH_FINE : STRETCH;
  const known = new Map<number, Laid | null>();
  const look = (t: number): Laid | null => {
    const own = [0, 1, 2].map((k) => indices[t * 3 + k]);
    const [a, b, c] = own.map((i) => best.get(of[i]));
    if (!a || !b || !c || a.line !== b.line || a.line !== c.line) return null;
    const { closed, length } = a.line;
    // Round a ring the second and third lie where they are nearest to the first.
    const near = (u: number) => (closed ? u - Math.round((u - a.u) / length) * length : u);
    const us = [a.u, near(b.u), near(c.u)] as const;
    const vs = [a.v, b.v, c.v] as const;
    const laid = [
      [us[0], vs[0]],
      [us[1], vs[1]],
      [us[2], vs[2]],
    ] as const;
    return liesTrue(mesh, t, laid, stretch) ? { us, vs, line: a.line } : null;
  };
  return (t) => {
    let found = known.get(t);
    if (found === undefined) known.set(t, (found = look(t)));
    return found;
  };
}

/**
 * What of an edge lies on one side of the line, as far from it as its strip goes; one that lies on the line, on the other side than its
 * triangle.
 */
function onSide(
  p: Flat,
  q: Flat,
  side: 1 | -1,
  behind: Flat,
  hair: number,
  most: number,
): readonly [Flat, Flat] | null {
  const [a, b] = [p[1] * side, q[1] * side];
  if (Math.abs(a) < hair && Math.abs(b) < hair) return behind[1] * side < 0 ? [p, q] : null;
  const from =
    a <= 0 ? (b <= 0 ? null : cutAt(p, q, 0)) : a >= most ? (b >= most ? null : cutAt(p, q, most * side)) : p;
  const to = b <= 0 ? (a <= 0 ? null : cutAt(p, q, 0)) : b >= most ? (a >= most ? null : cutAt(p, q, most * side)) : q;
  return from && to ? [from, to] : null;
}

/** Where an edge is so far across. */
function cutAt(p: Flat, q: Flat, y: number): Flat {
  const share = (y - p[1]) / (q[1] - p[1]);
  return [p[0] + (q[0] - p[0]) * share, y];
}

/** How near to the line a piece of an edge comes between two shares of the strip. */
function nearestIn([p, q]: readonly [Flat, Flat], s0: number, s1: number, left: number, right: number): number {
  if (s0 === s1) return Math.min(Math.abs(p[1]), Math.abs(q[1]));
  const slope = (q[1] - p[1]) / (s1 - s0);
  return Math.min(Math.abs(p[1] + slope * (left - s0)), Math.abs(p[1] + slope * (right - s0)));
}

import type { Subject } from '../../livery/template.ts';
import type { SurfaceLine } from '../../surface/cutLine.ts';
import { neighboursOf } from '../../surface/edges.ts';
import { placeOf } from '../../surface/triangles.ts';
import { dot, minus, type Vec } from '../../surface/vectors.ts';
import { Nearest } from '../nearest.ts';
import { shareAt, type Piece } from './pieces.ts';

/** How far along a line a corner lies and how far from it, to the right above 0; metres. */
export interface AtCorner {
  u: number;
  v: number;
  line: SurfaceLine;
}

/**
 * Distances from a line at the corners of a fine mesh, from the line outwards (Kimmel and Sethian, "Computing geodesic paths on manifolds",
 * 1998), each with the place of the line that it is a distance from.
 * @returns by number of the place; see neighboursOf
 */
export function march(
  { mesh }: Pick<Subject, 'mesh'>,
  pieces: readonly Piece[],
  painted: Uint8Array,
  reach: number,
): Map<number, AtCorner> {
  const { indices } = mesh;
  const { of } = neighboursOf(mesh);
  const found = new Map<number, AtCorner>();
  const queue = new Nearest();
  const done = new Set<number>();
  const say = (corner: number, at: AtCorner) => {
    if (done.has(corner)) return;
    const before = found.get(corner);
    if (before && Math.abs(before.v) <= Math.abs(at.v)) return;
    found.set(corner, at);
    queue.add(corner, Math.abs(at.v));
  };
  for (const piece of pieces)
    for (let k = 0; k < 3; k++) {
      const i = indices[piece.triangle * 3 + k];
      const p = minus(placeOf(mesh, i), piece.from);
      const v = dot(p, piece.down);
      const share = shareAt(piece, dot(p, piece.along), v);
      const within = Math.min(piece.ends ? share : 1, Math.max(piece.begins ? share : 0, share));
      const aside = (share - within) * piece.length;
      const far = Math.sqrt(v * v + aside * aside);
      say(of[i], { u: piece.at + within * piece.length, v: v < 0 ? -far : far, line: piece.line });
    }
  const around = new Map<number, number[]>();
  for (let t = 0; t < painted.length; t++)
    if (painted[t])
      for (let k = t * 3; k < t * 3 + 3; k++) {
        const list = around.get(of[indices[k]]);
        if (list) list.push(t);
        else around.set(of[indices[k]], [t]);
      }
  for (let corner = queue.take(); corner >= 0; corner = queue.take()) {
    if (done.has(corner)) continue;
    done.add(corner);
    const own = found.get(corner)!;
    if (Math.abs(own.v) > reach) continue;
    for (const t of around.get(corner) ?? []) {
      const k = [0, 1, 2].find((at) => of[indices[t * 3 + at]] === corner)!;
      const a = indices[t * 3 + k];
      for (const [step, other] of [
        [1, 2],
        [2, 1],
      ]) {
        const b = indices[t * 3 + ((k + step) % 3)];
        const c = indices[t * 3 + ((k + other) % 3)];
        if (done.has(of[c])) continue;
        const second = done.has(of[b]) ? found.get(of[b])! : null;
        const alike = second && second.line === own.line && second.v * own.v >= 0 ? second : null;
        say(of[c], fromTwo(placeOf(mesh, c), placeOf(mesh, a), own, placeOf(mesh, b), alike));
      }
    }
  }
  return found;
}

/** How far a corner lies from the line when two others of its triangle are known, or one. */
function fromTwo(c: Vec, a: Vec, atA: AtCorner, b: Vec, atB: AtCorner | null): AtCorner {
  const sign = atA.v < 0 || (atA.v === 0 && atB !== null && atB.v < 0) ? -1 : 1;
  const toC = minus(c, a);
  const straight = { ...atA, v: sign * (Math.abs(atA.v) + Math.sqrt(dot(toC, toC))) };
  if (!atB) return straight;
  // In the triangle's own plane, a at the origin, b on x: the distance grows by 1 along a direction that gives both values.
  const side = minus(b, a);
  const long = Math.sqrt(dot(side, side));
  if (!(long > 0)) return straight;
  const x = dot(toC, side) / long;
  const y = Math.sqrt(Math.max(0, dot(toC, toC) - x * x));
  const along = (Math.abs(atB.v) - Math.abs(atA.v)) / long;
  if (Math.abs(along) >= 1 || y === 0) return straight;
  const out = Math.sqrt(1 - along * along);
  // Where the way to c comes through the side.
  const share = (x - (y * along) / out) / long;
  if (share < -1e-9 || share > 1 + 1e-9) return straight;
  const { closed, length } = atA.line;
  const uB = closed ? atB.u - Math.round((atB.u - atA.u) / length) * length : atB.u;
  return { u: atA.u + (uB - atA.u) * share, v: sign * (Math.abs(atA.v) + along * x + out * y), line: atA.line };
}

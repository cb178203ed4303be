/** Triangles of a model laid flat beside one another. */
import type { Subject } from '../livery/template.ts';
import { cornersOfTriangle } from '../surface/triangles.ts';
import { long, minus } from '../surface/vectors.ts';

/** A place where all is laid flat: x to the right, y down, as seen from outside. */
export type Flat = readonly [x: number, y: number];

/** Triangles on ways over the surface that are followed for one projector; what lies beyond is not reached. */
export const MOST_STEPS = 400_000;

/** Which way round the corners of a triangle that is laid flat go: 1 or -1. */
export type Round = 1 | -1;
export const roundOf = ([a, b, c]: readonly [Flat, Flat, Flat]): Round =>
  (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0]) < 0 ? -1 : 1;

/** Which way round the triangle over an edge goes when one before goes so: the same, but where a mesh's windings differ. */
export function roundOver(
  mesh: Subject['mesh'],
  of: Int32Array,
  t: number,
  first: number,
  second: number,
  round: Round,
): Round {
  for (let k = 0; k < 3; k++)
    if (of[mesh.indices[t * 3 + k]] === of[first])
      return of[mesh.indices[t * 3 + ((k + 1) % 3)]] === of[second] ? (-round as Round) : round;
  return round;
}

/**
 * The corners of the triangle over an edge when it is turned about the edge into the plane of the one before.
 * @param round which way the one before goes round, the edge from `a` to `b` in its own order: told, as triangles without width do not say it
 */
export function unfolded(
  mesh: Subject['mesh'],
  of: Int32Array,
  t: number,
  first: number,
  second: number,
  a: Flat,
  b: Flat,
  round: Round,
): readonly [Flat, Flat, Flat] | null {
  const { indices, positions } = mesh;
  const p = of[first];
  const q = of[second];
  let third = -1;
  for (let k = 0; k < 3; k++) {
    const corner = of[indices[t * 3 + k]];
    if (corner !== p && corner !== q) third = k;
  }
  if (third < 0) return null;
  const i = first * 3;
  const j = second * 3;
  const m = indices[t * 3 + third] * 3;
  const sx = positions[j] - positions[i];
  const sy = positions[j + 1] - positions[i + 1];
  const sz = positions[j + 2] - positions[i + 2];
  const tx = positions[m] - positions[i];
  const ty = positions[m + 1] - positions[i + 1];
  const tz = positions[m + 2] - positions[i + 2];
  const square = sx * sx + sy * sy + sz * sz;
  if (!(square > 0)) return null;
  const share = (tx * sx + ty * sy + tz * sz) / square;
  const cx = sy * tz - sz * ty;
  const cy = sz * tx - sx * tz;
  const cz = sx * ty - sy * tx;
  const high = Math.sqrt(cx * cx + cy * cy + cz * cz) / square;
  const ex = b[0] - a[0];
  const ey = b[1] - a[1];
  // To the other side of the edge than the triangle before.
  const turned = round > 0 ? -high : high;
  const laid: Flat = [a[0] + ex * share - ey * turned, a[1] + ey * share + ex * turned];
  if (third === 0) return of[indices[t * 3 + 1]] === p ? [laid, a, b] : [laid, b, a];
  if (third === 1) return of[indices[t * 3]] === p ? [a, laid, b] : [b, laid, a];
  return of[indices[t * 3]] === p ? [a, b, laid] : [b, a, laid];
}

/** Whether the sides of a triangle that was laid flat are no longer and no shorter than on the model, but for so much. */
export function liesTrue(
  mesh: Subject['mesh'],
  t: number,
  laid: readonly [Flat, Flat, Flat],
  stretch: number,
): boolean {
  const corners = cornersOfTriangle(mesh, t);
  return laid.every(([x, y], k) => {
    const j = (k + 1) % 3;
    const due = long(minus(corners[k], corners[j]));
    const is = Math.hypot(x - laid[j][0], y - laid[j][1]);
    return is <= due * stretch && is * stretch >= due;
  });
}

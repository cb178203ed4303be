/** How the plane of a layer lies on a model. */
import type { Subject } from '../livery/template.ts';
import type { Plane } from '../surface/fields.ts';

/** Where a sample lies on the plane, and how far the next ones lie from it: units of the plane. */
export class Footprint {
  u = 0;
  v = 0;
  /** What a sample to the right adds. */
  rightU = 0;
  rightV = 0;
  /** What a sample down adds. */
  downU = 0;
  downV = 0;
  /** After how much of x the plane comes round to where it began; 0: it does not. */
  round = 0;
}

/** The plane of one projector on one model. */
export interface Projection {
  /** The box of the plane that each triangle of the mesh lies in: left, top, right, bottom; left beyond right where it is not reached. */
  readonly boxes: Float64Array;
  /**
   * Begins with a triangle that is reached.
   * @returns whether the plane lies evenly on it and all of it is painted: `at` is 1 all over, and what next samples add is the same
   */
  onto(triangle: number, plane: Plane): boolean;
  /**
   * Where a point of the triangle's sheet (samples) lies on the plane.
   * @returns how much is painted there, 0..1; at 0 nothing is said of where it lies
   */
  at(x: number, y: number, out: Footprint): number;
}

/** Makes the projection of a projector. @param hand 1, or -1 when it is the mirror's: x goes to the left seen from outside */
export type Project<P> = (projector: P, subject: Subject, hand: 1 | -1) => Projection;

/** Boxes of no triangle. */
export function noBoxes(triangles: number): Float64Array {
  const boxes = new Float64Array(triangles * 4);
  for (let t = 0; t < triangles; t++) noBox(boxes, t);
  return boxes;
}
export function noBox(boxes: Float64Array, t: number): void {
  boxes[t * 4] = 1;
  boxes[t * 4 + 1] = 1;
  boxes[t * 4 + 2] = 0;
  boxes[t * 4 + 3] = 0;
}

/** Widens a triangle's box so that it holds a point. */
export function widen(boxes: Float64Array, t: number, u: number, v: number): void {
  const o = t * 4;
  if (boxes[o] > boxes[o + 2]) {
    boxes[o] = boxes[o + 2] = u;
    boxes[o + 1] = boxes[o + 3] = v;
    return;
  }
  boxes[o] = Math.min(boxes[o], u);
  boxes[o + 1] = Math.min(boxes[o + 1], v);
  boxes[o + 2] = Math.max(boxes[o + 2], u);
  boxes[o + 3] = Math.max(boxes[o + 3], v);
}

/** Calls for each triangle that a projector may paint: of parts that have a sheet, without those that it leaves out. */
export function eachPainted({ parts }: Subject, not: readonly string[] | undefined, visit: (t: number) => void): void {
  for (const part of parts) {
    if (part.sheet === null || not?.includes(part.key)) continue;
    for (let t = part.first; t < part.first + part.count; t++) visit(t);
  }
}

/** The triangles that a projector may paint; see eachPainted. */
export function paintedOf(subject: Subject, not: readonly string[] | undefined): number[] {
  const triangles: number[] = [];
  eachPainted(subject, not, (t) => triangles.push(t));
  return triangles;
}

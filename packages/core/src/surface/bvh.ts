/** A tree of boxes over the triangles of a mesh, for asking whether a ray meets anything. */
import type { MeshData } from '../livery/template.ts';

export interface Bvh {
  /** Six numbers a node: least and greatest corner. */
  readonly boxes: Float32Array;
  /** For an inner node its second child (the first one follows it directly); for a leaf -1 - its first triangle. */
  readonly next: Int32Array;
  /** Triangles of a leaf; 0 for inner nodes. */
  readonly count: Int32Array;
  /** Nine numbers a triangle in the order of the leaves: a corner, and the edges to the two others. */
  readonly triangles: Float32Array;
  /** The triangle of the mesh that each of these is. */
  readonly order: Int32Array;
}

const LEAF = 4;

/** Builds the tree by splitting the longest side of the centres' box at their median. Only triangles that `wanted` passes. */
export function buildBvh(mesh: MeshData, wanted: (triangle: number) => boolean = () => true): Bvh {
  const { positions, indices } = mesh;
  const all: number[] = [];
  for (let t = 0; t < indices.length / 3; t++) if (wanted(t)) all.push(t);
  const order = Int32Array.from(all);
  const centre = new Float32Array((indices.length / 3) * 3);
  const at = (t: number, k: number, c: number) => positions[indices[t * 3 + k] * 3 + c];
  for (const t of all) for (let c = 0; c < 3; c++) centre[t * 3 + c] = (at(t, 0, c) + at(t, 1, c) + at(t, 2, c)) / 3;
  const boxes: number[] = [];
  const next: number[] = [];
  const count: number[] = [];
  const build = (from: number, to: number): void => {
    const node = next.length;
    next.push(0);
    count.push(0);
    const box = [Infinity, Infinity, Infinity, -Infinity, -Infinity, -Infinity];
    const middle = [Infinity, Infinity, Infinity, -Infinity, -Infinity, -Infinity];
    for (let i = from; i < to; i++) {
      for (let c = 0; c < 3; c++) {
        for (let k = 0; k < 3; k++) {
          box[c] = Math.min(box[c], at(order[i], k, c));
          box[c + 3] = Math.max(box[c + 3], at(order[i], k, c));
        }
        middle[c] = Math.min(middle[c], centre[order[i] * 3 + c]);
        middle[c + 3] = Math.max(middle[c + 3], centre[order[i] * 3 + c]);
      }
    }
    boxes.push(...box);
    const sides = [0, 1, 2].map((c) => middle[c + 3] - middle[c]);
    const longest = sides.indexOf(Math.max(...sides));
    if (to - from <= LEAF || sides[longest] <= 0) {
      next[node] = -1 - from;
      count[node] = to - from;
      return;
    }
    order.subarray(from, to).sort((a, b) => centre[a * 3 + longest] - centre[b * 3 + longest] || a - b);
    const half = (from + to) >> 1;
    build(from, half);
    next[node] = next.length;
    build(half, to);
  };
  if (order.length > 0) build(0, order.length);
  const triangles = new Float32Array(order.length * 9);
  order.forEach((t, i) => {
    for (let c = 0; c < 3; c++) {
      triangles[i * 9 + c] = at(t, 0, c);
      triangles[i * 9 + 3 + c] = at(t, 1, c) - at(t, 0, c);
      triangles[i * 9 + 6 + c] = at(t, 2, c) - at(t, 0, c);
    }
  });
  return {
    boxes: Float32Array.from(boxes),
    next: Int32Array.from(next),
    count: Int32Array.from(count),
    triangles,
    order,
  };
}

const stack = new Int32Array(64);

/** Told of a triangle that a ray meets, and how far along it; says how far the ray goes on. */
export type Meets = (triangle: number, far: number) => number;

/** It ends there. */
const stop: Meets = () => -Infinity;

/** Whether a ray meets a triangle between `near` and `far`, from either side. */
export function occluded(
  bvh: Bvh,
  ox: number,
  oy: number,
  oz: number,
  dx: number,
  dy: number,
  dz: number,
  near: number,
  far: number,
): boolean {
  return castRay(bvh, ox, oy, oz, dx, dy, dz, near, far, stop) < far;
}

/**
 * Sends a ray through the tree (Moller and Trumbore, "Fast, minimum storage ray/triangle intersection", 1997): `meets` is told of triangles
 * between `near` and `far`, from either side and in no order.
 * @returns how far the ray went at last
 */
export function castRay(
  bvh: Bvh,
  ox: number,
  oy: number,
  oz: number,
  dx: number,
  dy: number,
  dz: number,
  near: number,
  far: number,
  meets: Meets,
): number {
  const { boxes, next, count, triangles, order } = bvh;
  if (next.length === 0) return far;
  const ix = 1 / dx;
  const iy = 1 / dy;
  const iz = 1 / dz;
  let depth = 0;
  let node = 0;
  for (;;) {
    const b = node * 6;
    const x0 = (boxes[b] - ox) * ix;
    const x1 = (boxes[b + 3] - ox) * ix;
    const y0 = (boxes[b + 1] - oy) * iy;
    const y1 = (boxes[b + 4] - oy) * iy;
    const z0 = (boxes[b + 2] - oz) * iz;
    const z1 = (boxes[b + 5] - oz) * iz;
    let enter = near;
    let leave = far;
    // A ray in a face of the box (0 times infinity is no number) fails every comparison, and goes on into it.
    if (x0 < x1) {
      if (x0 > enter) enter = x0;
      if (x1 < leave) leave = x1;
    } else {
      if (x1 > enter) enter = x1;
      if (x0 < leave) leave = x0;
    }
    if (y0 < y1) {
      if (y0 > enter) enter = y0;
      if (y1 < leave) leave = y1;
    } else {
      if (y1 > enter) enter = y1;
      if (y0 < leave) leave = y0;
    }
    if (z0 < z1) {
      if (z0 > enter) enter = z0;
      if (z1 < leave) leave = z1;
    } else {
      if (z1 > enter) enter = z1;
      if (z0 < leave) leave = z0;
    }
    if (enter <= leave) {
      const n = count[node];
      if (n === 0) {
        stack[depth++] = next[node];
        node++;
        continue;
      }
      const first = -1 - next[node];
      for (let i = first * 9; i < (first + n) * 9; i += 9) {
        const e1x = triangles[i + 3];
        const e1y = triangles[i + 4];
        const e1z = triangles[i + 5];
        const e2x = triangles[i + 6];
        const e2y = triangles[i + 7];
        const e2z = triangles[i + 8];
        const px = dy * e2z - dz * e2y;
        const py = dz * e2x - dx * e2z;
        const pz = dx * e2y - dy * e2x;
        const det = e1x * px + e1y * py + e1z * pz;
        if (det === 0) continue;
        const inv = 1 / det;
        const tx = ox - triangles[i];
        const ty = oy - triangles[i + 1];
        const tz = oz - triangles[i + 2];
        const u = (tx * px + ty * py + tz * pz) * inv;
        if (u < 0 || u > 1) continue;
        const qx = ty * e1z - tz * e1y;
        const qy = tz * e1x - tx * e1z;
        const qz = tx * e1y - ty * e1x;
        const v = (dx * qx + dy * qy + dz * qz) * inv;
        if (v < 0 || u + v > 1) continue;
        const t = (e2x * qx + e2y * qy + e2z * qz) * inv;
        if (t > near && t < far) {
          far = meets(order[i / 9], t);
          if (far <= near) return far;
        }
      }
    }
    if (depth === 0) return far;
    node = stack[--depth];
  }
}

/** The nearest point of a surface that looks the same way. */
import type { MeshData, TemplatePart } from '../livery/template.ts';
import { buildBvh, type Bvh } from './bvh.ts';
import { faceNormal, neighboursOf } from './edges.ts';

/** Finds nearest points of one part. */
export const closestOfPart = (mesh: MeshData, { first, count }: TemplatePart): Closest =>
  new Closest(mesh, (t) => t >= first && t < first + count);

/** Depth of a tree that is split at medians: no mesh has more triangles than 2 to this. */
const DEEPEST = 64;
/** Triangles that are gone over on the way to the nearest. */
const MOST_STEPS = 24;

/**
 * Finds nearest points of some triangles of a mesh: the tree is gone through nearest box first, each triangle by the regions of its corners
 * and edges (Ericson, "Real-Time Collision Detection", 5.1.5). What it found is in its fields until it looks again.
 */
export class Closest {
  /** Triangle of the mesh; -1: none. */
  triangle = -1;
  /** Square of how far the point is. */
  far2 = Infinity;
  /** Shares of the triangle's second and third corner. */
  second = 0;
  third = 0;

  private readonly bvh: Bvh;
  /** Three numbers a triangle in the order of the tree: where it looks. */
  private readonly faces: Float32Array;
  private readonly stack = new Int32Array(DEEPEST * 2);
  private readonly fars = new Float64Array(DEEPEST * 2);
  /** Place in the tree of what was found last: what is asked next lies mostly there. */
  private slot = -1;
  /** Three a triangle in the order of the tree: what lies over its edges; -1: nothing that is wanted. */
  private readonly beside: Int32Array;
  private px = 0;
  private py = 0;
  private pz = 0;

  constructor(mesh: MeshData, wanted: (triangle: number) => boolean) {
    this.bvh = buildBvh(mesh, (t) => wanted(t) && faceNormal(mesh, t) !== null);
    const { order } = this.bvh;
    this.faces = new Float32Array(order.length * 3);
    order.forEach((t, i) => this.faces.set(faceNormal(mesh, t)!, i * 3));
    const slots = new Int32Array(mesh.indices.length / 3).fill(-1);
    order.forEach((t, i) => (slots[t] = i));
    const { across } = neighboursOf(mesh);
    this.beside = new Int32Array(order.length * 3);
    order.forEach((t, i) => {
      for (let k = 0; k < 3; k++) this.beside[i * 3 + k] = across[t * 3 + k] < 0 ? -1 : slots[across[t * 3 + k]];
    });
  }

  /**
   * Looks only about what was found last: over edges to whatever is nearer, until nothing is.
   * @returns whether it ended in the middle of a triangle, where no one beside it can be nearer
   */
  findAbout(
    x: number,
    y: number,
    z: number,
    nx: number,
    ny: number,
    nz: number,
    agree: number,
    within: number,
  ): boolean {
    let at = this.slot;
    if (at < 0) return false;
    this.px = x;
    this.py = y;
    this.pz = z;
    this.far2 = within * within;
    this.slot = -1;
    this.measure(at);
    if (this.slot < 0) {
      this.slot = at;
      this.triangle = -1;
      return false;
    }
    const { beside, faces } = this;
    for (let steps = 0; steps < MOST_STEPS; steps++) {
      if (this.second > 0 && this.third > 0 && this.second + this.third < 1) {
        this.triangle = this.bvh.order[at];
        return faces[at * 3] * nx + faces[at * 3 + 1] * ny + faces[at * 3 + 2] * nz >= agree;
      }
      for (let k = 0; k < 3; k++) if (beside[at * 3 + k] >= 0) this.measure(beside[at * 3 + k]);
      if (this.slot === at) return false;
      at = this.slot;
    }
    return false;
  }

  /** Whether there is anything to find. */
  get empty(): boolean {
    return this.bvh.order.length === 0;
  }

  /**
   * Looks for the point nearest to (x, y, z).
   * @param nx where the surface there has to look, of length 1 @param ny see nx @param nz see nx
   * @param agree the least cosine between the two; -1: whichever way it looks
   * @param within no farther than this
   * @param enough whatever is as near as this will do
   * @returns whether there is one
   */
  find(
    x: number,
    y: number,
    z: number,
    nx: number,
    ny: number,
    nz: number,
    agree: number,
    within = Infinity,
    enough = 0,
  ): boolean {
    this.px = x;
    this.py = y;
    this.pz = z;
    const before = this.slot;
    this.triangle = -1;
    this.slot = -1;
    this.far2 = within * within;
    const { boxes, next, count, order } = this.bvh;
    if (next.length === 0) return false;
    const { faces, stack, fars } = this;
    const any = agree <= -1;
    const enough2 = enough * enough;
    if (
      before >= 0 &&
      (any || faces[before * 3] * nx + faces[before * 3 + 1] * ny + faces[before * 3 + 2] * nz >= agree)
    ) {
      this.measure(before);
      if (this.slot >= 0 && this.far2 <= enough2) {
        this.triangle = order[before];
        return true;
      }
    }
    let depth = 0;
    stack[depth] = 0;
    fars[depth++] = this.toBox(boxes, 0);
    while (depth > 0 && (this.slot < 0 || this.far2 > enough2)) {
      const node = stack[--depth];
      if (fars[depth] >= this.far2) continue;
      if (count[node] > 0) {
        const first = -1 - next[node];
        for (let i = first; i < first + count[node]; i++)
          if (any || faces[i * 3] * nx + faces[i * 3 + 1] * ny + faces[i * 3 + 2] * nz >= agree) this.measure(i);
        continue;
      }
      const one = node + 1;
      const other = next[node];
      const a = this.toBox(boxes, one);
      const b = this.toBox(boxes, other);
      const nearer = a <= b;
      stack[depth] = nearer ? other : one;
      fars[depth++] = nearer ? b : a;
      stack[depth] = nearer ? one : other;
      fars[depth++] = nearer ? a : b;
    }
    if (this.slot < 0) return false;
    this.triangle = order[this.slot];
    return true;
  }

  private toBox(boxes: Float32Array, node: number): number {
    const o = node * 6;
    const x = Math.max(boxes[o] - this.px, 0, this.px - boxes[o + 3]);
    const y = Math.max(boxes[o + 1] - this.py, 0, this.py - boxes[o + 4]);
    const z = Math.max(boxes[o + 2] - this.pz, 0, this.pz - boxes[o + 5]);
    return x * x + y * y + z * z;
  }

  /** Takes a triangle when it is nearer than what was found. */
  private measure(i: number): void {
    const t = this.bvh.triangles;
    const o = i * 9;
    const ux = t[o + 3];
    const uy = t[o + 4];
    const uz = t[o + 5];
    const wx = t[o + 6];
    const wy = t[o + 7];
    const wz = t[o + 8];
    const ax = this.px - t[o];
    const ay = this.py - t[o + 1];
    const az = this.pz - t[o + 2];
    const d1 = ux * ax + uy * ay + uz * az;
    const d2 = wx * ax + wy * ay + wz * az;
    const uu = ux * ux + uy * uy + uz * uz;
    const uw = ux * wx + uy * wy + uz * wz;
    const ww = wx * wx + wy * wy + wz * wz;
    // From the second and the third corner.
    const d3 = d1 - uu;
    const d4 = d2 - uw;
    const d5 = d1 - uw;
    const d6 = d2 - ww;
    const va = d3 * d6 - d5 * d4;
    const vb = d5 * d2 - d1 * d6;
    const vc = d1 * d4 - d3 * d2;
    let p = 0;
    let q = 0;
    if (d1 <= 0 && d2 <= 0) p = q = 0;
    else if (d3 >= 0 && d4 <= d3) p = 1;
    else if (vc <= 0 && d1 >= 0 && d3 <= 0) p = d1 / (d1 - d3);
    else if (d6 >= 0 && d5 <= d6) q = 1;
    else if (vb <= 0 && d2 >= 0 && d6 <= 0) q = d2 / (d2 - d6);
    else if (va <= 0 && d4 - d3 >= 0 && d5 - d6 >= 0) {
      q = (d4 - d3) / (d4 - d3 + (d5 - d6));
      p = 1 - q;
    } else {
      const by = 1 / (va + vb + vc);
      p = vb * by;
      q = vc * by;
    }
    const x = ax - ux * p - wx * q;
    const y = ay - uy * p - wy * q;
    const z = az - uz * p - wz * q;
    const far2 = x * x + y * y + z * z;
    if (!(far2 < this.far2)) return;
    this.far2 = far2;
    this.slot = i;
    this.second = p;
    this.third = q;
  }
}

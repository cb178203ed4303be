/** Where what runs down a model comes from: at each corner the place where its way began, and how long it is. */
import type { MeshData } from '../../livery/template.ts';
import { turnOf } from '../../raster/turn.ts';
import { diagonalOf } from '../triangles.ts';
import type { Baker } from './kind.ts';
import { edgeOf, weld } from '../weld.ts';

/** Below this slope (sine of its angle) everything stays where it is: there ways begin. */
const LEVEL = 0.25;
/** Cosine of the angle between normals from which an edge is sharp: nothing comes over it, ways begin there. */
const SHARP = 0.82;
/** Cosine between an edge and the steepest way from which the way goes along the edge. */
const ALIKE = 0.97;
/** Triangles that one way crosses at most. */
const MOST = 600;
/** Corners within this share of the model's diagonal of one another are in one place. */
const SAME_PLACE = 1e-6;

/** Numbers of a corner: place where its way began (three), how long the way is; units of the model. */
export const FLOW_VALUES = 4;

/** A direction of a model: x forward, y up, z to starboard. @param heading degrees, 0 forward, 90 to starboard. @param rise degrees, 90 up */
export function directionOf(heading: number, rise: number): readonly [number, number, number] {
  const [turn, tilt] = [turnOf(heading), turnOf(rise)];
  return [tilt.cos * turn.cos, tilt.sin, tilt.cos * turn.sin];
}

/**
 * Follows the surface from each corner against a direction, along the steepest way as its normals have it, until it is level, ends, or is broken
 * by a sharp edge.
 * @param towards where things run, of length 1
 * @returns {@link FLOW_VALUES} a corner; without a way: its own place and 0
 */
export function bakeFlow(mesh: MeshData, towards: readonly [number, number, number]): Baker {
  const { of, count } = weld(mesh, diagonalOf(mesh) * SAME_PLACE || 1);
  const climber = new Climber(mesh, of, count, towards);
  // Corners in one place have one way: that of the first of them, whichever is asked for first.
  const firsts = new Int32Array(count).fill(-1);
  for (let i = of.length - 1; i >= 0; i--) firsts[of[i]] = i;
  const known = new Float64Array(count * FLOW_VALUES).fill(NaN);
  return (from, to) => {
    const out = new Float32Array((to - from) * FLOW_VALUES);
    for (let i = from; i < to; i++) {
      const o = of[i] * FLOW_VALUES;
      if (Number.isNaN(known[o + 3])) {
        known[o + 3] = climber.climb(firsts[of[i]]);
        known.set(climber.at, o);
      }
      for (let c = 0; c < FLOW_VALUES; c++) out[(i - from) * FLOW_VALUES + c] = known[o + c];
    }
    return out;
  };
}

/** Numbers of a triangle: its two sides from the first corner, the normal of its plane over that one's square, and what its sides make of one another. */
const OF_TRIANGLE = 13;

class Climber {
  /** Where it is, and where the last way began. */
  readonly at = new Float64Array(3);
  private readonly shapes: Float64Array;
  /** Across the edge that faces each corner: the corner of the other triangle that faces it; -1: none, or several. */
  private readonly beyond: Int32Array;
  /** Corners of triangles in each place, from `begins` on. */
  private readonly begins: Int32Array;
  private readonly around: Int32Array;
  private readonly up: readonly number[];
  private readonly shares = new Float64Array(3);
  private readonly rates = new Float64Array(3);
  private readonly normal = new Float64Array(3);
  /** The normal of what it left. */
  private readonly left = new Float64Array(3);
  private readonly next = new Float64Array(3);

  constructor(
    private readonly mesh: MeshData,
    private readonly of: Int32Array,
    count: number,
    towards: readonly [number, number, number],
  ) {
    this.up = towards.map((v) => -v);
    const { indices, positions } = mesh;
    this.shapes = new Float64Array((indices.length / 3) * OF_TRIANGLE);
    this.beyond = new Int32Array(indices.length).fill(-1);
    this.begins = new Int32Array(count + 1);
    this.around = new Int32Array(indices.length);
    for (const i of indices) this.begins[of[i] + 1]++;
    for (let p = 0; p < count; p++) this.begins[p + 1] += this.begins[p];
    const filled = this.begins.slice();
    const facing = new Map<number, number>();
    for (let corner = 0; corner < indices.length; corner++) {
      this.around[filled[of[indices[corner]]]++] = corner;
      const t = corner - (corner % 3);
      const edge = edgeOf(of[indices[t + ((corner + 1) % 3)]], of[indices[t + ((corner + 2) % 3)]]);
      const other = facing.get(edge);
      if (other === undefined) facing.set(edge, corner);
      // A third triangle at an edge: nobody knows which way on.
      else if (this.beyond[other] !== -1) this.cutOff(other);
      else [this.beyond[other], this.beyond[corner]] = [corner, other];
    }
    for (let t = 0, o = 0; t < indices.length; t += 3, o += OF_TRIANGLE) {
      const [a, b, c] = [indices[t] * 3, indices[t + 1] * 3, indices[t + 2] * 3];
      const [ux, uy, uz] = [0, 1, 2].map((d) => positions[b + d] - positions[a + d]);
      const [vx, vy, vz] = [0, 1, 2].map((d) => positions[c + d] - positions[a + d]);
      const [nx, ny, nz] = [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx];
      const area = nx * nx + ny * ny + nz * nz;
      const by = area > 0 ? 1 / Math.sqrt(area) : 0;
      const [uu, uv, vv] = [ux * ux + uy * uy + uz * uz, ux * vx + uy * vy + uz * vz, vx * vx + vy * vy + vz * vz];
      const sides = [ux, uy, uz, vx, vy, vz, nx * by, ny * by, nz * by, uu, uv, vv];
      this.shapes.set([...sides, area > 0 ? 1 / (uu * vv - uv * uv) : 0], o);
    }
  }

  private cutOff(corner: number): void {
    const other = this.beyond[corner];
    this.beyond[corner] = -2;
    if (other >= 0) this.beyond[other] = -2;
  }

  /** Goes up from a corner of the mesh. @returns the length of the way; `at` is where it began */
  climb(vertex: number): number {
    const { at, shares, rates, left, normal, of } = this;
    const { indices, positions } = this.mesh;
    for (let c = 0; c < 3; c++) at[c] = positions[vertex * 3 + c];
    // The first step may go anywhere: there is nothing yet that it could be sharp against.
    left.fill(0);
    let t = this.enter(of[vertex]);
    let length = 0;
    let v = vertex;
    for (let crossed = 0; crossed < MOST; crossed++) {
      if (t < 0) {
        // It goes along an edge, between two triangles.
        v = this.alongEdge(of[v]);
        if (v < 0) return length;
        length += this.goTo(v);
        t = this.enter(of[v]);
        continue;
      }
      const steep = this.wayAt(t, shares[0], shares[1], shares[2]);
      if (steep < LEVEL) return length;
      let zero = this.exit();
      if (zero < 0) {
        // Neither side of an edge leads on: along it, to its higher end.
        v = this.higherEnd(t);
        this.normalAt(t, shares[0], shares[1], shares[2]);
        left.set(normal);
        length += this.goTo(v);
        t = this.enter(of[v]);
        continue;
      }
      // The way through the triangle is that of the middle of it.
      const half = shares[zero] / -rates[zero] / 2;
      const later = this.wayAt(
        t,
        shares[0] + rates[0] * half,
        shares[1] + rates[1] * half,
        shares[2] + rates[2] * half,
      );
      const again = this.exit();
      if (again >= 0) zero = again;
      else this.wayAt(t, shares[0], shares[1], shares[2]);
      let far = shares[zero] / -rates[zero];
      // As far as it is steep.
      if (later < LEVEL) far = Math.min(far, (half * (steep - LEVEL)) / (steep - later));
      for (let k = 0; k < 3; k++) shares[k] = Math.max(0, shares[k] + rates[k] * far);
      if (later >= LEVEL) shares[zero] = 0;
      const sum = shares[0] + shares[1] + shares[2];
      let moved = 0;
      for (let c = 0; c < 3; c++) {
        let value = 0;
        for (let k = 0; k < 3; k++) value += (shares[k] / sum) * positions[indices[t + k] * 3 + c];
        moved += (value - at[c]) * (value - at[c]);
        at[c] = value;
      }
      length += Math.sqrt(moved);
      if (later < LEVEL) return length;
      // Over the edge that it leaves by.
      const corner = this.beyond[t + zero];
      if (corner < 0) return length;
      this.normalAt(t, shares[0], shares[1], shares[2]);
      left.set(normal);
      const other = corner - (corner % 3);
      const [p, second] = [t + ((zero + 1) % 3), shares[(zero + 2) % 3] / sum];
      const first = shares[(zero + 1) % 3] / sum;
      shares.fill(0);
      const next = other + ((corner + 1) % 3);
      const straight = of[indices[next]] === of[indices[p]];
      shares[(corner + 1) % 3] = straight ? first : second;
      shares[(corner + 2) % 3] = straight ? second : first;
      this.normalAt(other, shares[0], shares[1], shares[2]);
      if (this.isSharp()) return length;
      t = other;
    }
    return length;
  }

  /** Whether `normal` is across a sharp edge from the one before; nothing is, before there was one. */
  private isSharp(): boolean {
    const { left, normal } = this;
    if (left[0] === 0 && left[1] === 0 && left[2] === 0) return false;
    return left[0] * normal[0] + left[1] * normal[1] + left[2] * normal[2] < SHARP;
  }

  /** Puts itself into the triangle that the steepest way up from a place goes into. @returns its first corner; -1: there is none */
  private enter(place: number): number {
    let [best, most] = [-1, LEVEL];
    const { rates, shares } = this;
    for (let k = this.begins[place]; k < this.begins[place + 1]; k++) {
      const corner = this.around[k] % 3;
      const t = this.around[k] - corner;
      const steep = this.wayAt(t, corner === 0 ? 1 : 0, corner === 1 ? 1 : 0, corner === 2 ? 1 : 0);
      if (steep < most || this.isSharp()) continue;
      // It goes inwards when no other corner's share falls; a hair for those that go along an edge.
      const hair = -1e-9 * (Math.abs(rates[0]) + Math.abs(rates[1]) + Math.abs(rates[2]));
      if (rates[(corner + 1) % 3] >= hair && rates[(corner + 2) % 3] >= hair) [best, most] = [this.around[k], steep];
    }
    if (best < 0) return -1;
    shares.fill(0);
    shares[best % 3] = 1;
    return best - (best % 3);
  }

  /** The far end of the edge that goes where the steepest way from a place goes; -1: there is none, or it is level. */
  private alongEdge(place: number): number {
    const { left, next, normal } = this;
    const { indices, positions } = this.mesh;
    next.set(left);
    let [best, most] = [-1, ALIKE];
    for (let k = this.begins[place]; k < this.begins[place + 1]; k++) {
      const corner = this.around[k] % 3;
      const t = this.around[k] - corner;
      const from = indices[this.around[k]] * 3;
      const steep = this.wayAt(t, corner === 0 ? 1 : 0, corner === 1 ? 1 : 0, corner === 2 ? 1 : 0);
      if (steep < LEVEL || this.isSharp()) continue;
      for (const other of [(corner + 1) % 3, (corner + 2) % 3]) {
        const v = indices[t + other];
        let [high, out, long] = [0, 0, 0];
        for (let c = 0; c < 3; c++) {
          const d = positions[v * 3 + c] - positions[from + c];
          high += d * this.up[c];
          out += d * normal[c];
          long += d * d;
        }
        // As it lies along the surface there.
        const flat = Math.sqrt(Math.max(0, long - out * out));
        const along = high - out * (this.up[0] * normal[0] + this.up[1] * normal[1] + this.up[2] * normal[2]);
        const alike = flat > 0 ? along / (flat * steep) : 0;
        if (alike <= most) continue;
        [best, most] = [v, alike];
        next.set(normal);
      }
    }
    left.set(next);
    return best;
  }

  /** Goes straight to a vertex. @returns how far that was */
  private goTo(vertex: number): number {
    const { at } = this;
    let moved = 0;
    for (let c = 0; c < 3; c++) {
      const value = this.mesh.positions[vertex * 3 + c];
      moved += (value - at[c]) * (value - at[c]);
      at[c] = value;
    }
    return Math.sqrt(moved);
  }

  /** Of the corners of a triangle that have a share of where it is the one farthest up. */
  private higherEnd(t: number): number {
    const { indices, positions } = this.mesh;
    let [best, most] = [indices[t], -Infinity];
    for (let k = 0; k < 3; k++) {
      const v = indices[t + k] * 3;
      const high = positions[v] * this.up[0] + positions[v + 1] * this.up[1] + positions[v + 2] * this.up[2];
      if (this.shares[k] > 1e-9 && high > most) [best, most] = [indices[t + k], high];
    }
    return best;
  }

  /** The normal between a triangle's corners, into `normal`; nothing where there is none. */
  private normalAt(t: number, a: number, b: number, c: number): void {
    const { normal } = this;
    const { indices, normals } = this.mesh;
    const [i, j, k] = [indices[t] * 3, indices[t + 1] * 3, indices[t + 2] * 3];
    for (let d = 0; d < 3; d++) normal[d] = a * normals[i + d] + b * normals[j + d] + c * normals[k + d];
    const long = Math.sqrt(normal[0] * normal[0] + normal[1] * normal[1] + normal[2] * normal[2]);
    for (let d = 0; d < 3; d++) normal[d] = long > 0 ? normal[d] / long : 0;
  }

  /** The steepest way up at shares of a triangle's corners, within its plane: `rates` by which they change. @returns the slope there, 0..1 */
  private wayAt(t: number, a: number, b: number, c: number): number {
    this.normalAt(t, a, b, c);
    const { normal, up, rates, shapes: s } = this;
    const o = (t / 3) * OF_TRIANGLE;
    const along = up[0] * normal[0] + up[1] * normal[1] + up[2] * normal[2];
    let x = up[0] - normal[0] * along;
    let y = up[1] - normal[1] * along;
    let z = up[2] - normal[2] * along;
    if (s[o + 12] === 0 || (normal[0] === 0 && normal[1] === 0 && normal[2] === 0)) return 0;
    const steep = Math.sqrt(x * x + y * y + z * z);
    const off = x * s[o + 6] + y * s[o + 7] + z * s[o + 8];
    x -= off * s[o + 6];
    y -= off * s[o + 7];
    z -= off * s[o + 8];
    const u = x * s[o] + y * s[o + 1] + z * s[o + 2];
    const v = x * s[o + 3] + y * s[o + 4] + z * s[o + 5];
    rates[1] = (u * s[o + 11] - v * s[o + 10]) * s[o + 12];
    rates[2] = (v * s[o + 9] - u * s[o + 10]) * s[o + 12];
    rates[0] = -rates[1] - rates[2];
    return steep;
  }

  /** Which corner's share is the first to reach nothing; -1: it goes nowhere. */
  private exit(): number {
    const { rates, shares } = this;
    let [zero, far] = [-1, Infinity];
    const hair = 1e-9 * (Math.abs(rates[0]) + Math.abs(rates[1]) + Math.abs(rates[2]));
    for (let k = 0; k < 3; k++) {
      if (!(rates[k] < -hair)) continue;
      const here = shares[k] / -rates[k];
      if (here < far) [zero, far] = [k, here];
    }
    return far > 1e-12 ? zero : -1;
  }
}

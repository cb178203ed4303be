/** Which texels of the old sheets each texel of a new one comes from. */
import { TILE } from '../raster/image.ts';
import { faceNormal } from '../surface/edges.ts';
import { dot, minus, mirroredDirection, mirroredPlace, plus, unit, upright, type Vec } from '../surface/vectors.ts';
import { Plane } from '../surface/fields.ts';
import type { Closest } from '../surface/closest.ts';
import { SheetSurface } from '../surface/surface.ts';
import { cornersOfTriangle, triangleOnSheet } from '../surface/triangles.ts';
import { sheetNamed } from '../livery/template.ts';
import { applied } from './linear.ts';
import { affinely, AGREE, directed, type Fitting, type Pair } from './fit.ts';

/** Farther from the old surface than this share of its size there is nothing that could be taken from it. */
export const REACH = 0.06;
/** Nearer than this share of its size it is the same place. */
const SAME = 1e-7;
/** What lies beside its triangle by no more than this is taken from beside it, texels of the old sheet. */
export const BESIDE = 2;
/** Of the way from an edge to the middle of its triangle. */
const INSIDE = 1e-3;

/** Texels along a side of a cell over which the old surface is looked at as one. */
const CELL = 16;
/** Corners of a cell in turn, and the first one again. */
const CORNERS = [0, 0, 1, 0, 1, 1, 0, 1, 0, 0] as const;

/** A window of a new sheet, texel by texel, row by row. */
export interface Origins {
  left: number;
  top: number;
  width: number;
  height: number;
  /** Number of the part among those of the new sheet; -1: none. */
  part: Int16Array;
  /** Number of the old sheet; -1: nothing of the model is there; -2: nothing of the old one is like it. */
  sheet: Int8Array;
  /** Where on it, texels. */
  u: Float64Array;
  v: Float64Array;
  /** Number of the entry in `ways` that the texel's triangle has. */
  way: Int32Array;
  /** What a texel to the right and one down add to u and v, four numbers an entry. */
  ways: number[];
  /** How far the old surface is from the new one, shares of the old model's size. */
  far: Float32Array;
  /** For each entry how much longer one way than the other things there became, from 1. */
  stretches: number[];
}

/** Where things of one sheet come from; sheets of the old model are numbered as `sheets` has them. */
export class Origin {
  readonly sheets: readonly string[];
  private readonly surface: SheetSurface;
  private readonly pairOf: (Pair | null)[];
  /** Of the triangle at hand on the old model: place and normal at the sheet's origin, and what a texel to the right and one down add, six each. */
  private readonly lies = new Float64Array(18);
  /** Cells of the triangle at hand: whether the old surface is one over them; see isEven. */
  private readonly even = new Map<number, boolean>();
  /** Of each triangle of the old model that was met: its corners on the sheet, and how u and v grow along the model's axes. */
  private readonly laid = new Map<number, Float64Array>();

  constructor(
    readonly fitting: Fitting,
    sheet: string,
  ) {
    this.surface = new SheetSurface(fitting.now, sheet);
    this.sheets = fitting.old.sheets.map(({ key }) => key);
    this.pairOf = this.surface.parts.map((part) => fitting.pairs.find((pair) => pair.part.key === part.key) ?? null);
  }

  /** The parts of the sheet, by their numbers. */
  get parts(): SheetSurface['parts'] {
    return this.surface.parts;
  }

  /** A window of the sheet. @param step every so many texels of a row are looked at, from its first */
  window(left: number, top: number, right: number, bottom: number, step = 1): Origins {
    const width = right - left;
    const many = width * (bottom - top);
    const out: Origins = {
      ...{ left, top, width, height: bottom - top },
      part: new Int16Array(many).fill(-1),
      sheet: new Int8Array(many).fill(-1),
      u: new Float64Array(many),
      v: new Float64Array(many),
      way: new Int32Array(many),
      ways: [],
      far: new Float32Array(many),
      stretches: [],
    };
    const plane = new Plane(this.surface);
    const { part: partOf, corners } = this.surface.laid;
    const spot = new Float64Array(2);
    this.surface.eachTileOf({ left, top, right, bottom }, ({ ranks, begins, runs }, x0, y0) => {
      for (let k = 0; k < ranks.length; k++) {
        const pair = this.pairOf[partOf[ranks[k]]];
        plane.of(ranks[k]);
        const met = new Map<number, number>();
        if (pair?.from) carry(pair, plane, this.lies);
        this.even.clear();
        for (let run = begins[k]; run < begins[k + 1]; run++) {
          const y = y0 + Math.floor(runs[run * 2] / TILE);
          if (y < top || y >= bottom) continue;
          const first = x0 + (runs[run * 2] % TILE);
          const from = Math.max(first, left);
          const to = Math.min(first + runs[run * 2 + 1], right);
          const row = (y - top) * width - left;
          for (let x = left + Math.ceil((from - left) / step) * step; x < to; x += step) {
            out.part[row + x] = partOf[ranks[k]];
            out.sheet[row + x] = -2;
            out.far[row + x] = Infinity;
            if (!pair?.from) continue;
            // A texel whose middle is off the triangle has what lies beside the nearest point of it.
            const u = x + 0.5;
            const v = y + 0.5;
            if (!plane.holds(u, v)) nearestOnSheet(corners, ranks[k] * 6, u, v, spot);
            else {
              spot[0] = u;
              spot[1] = v;
            }
            this.look(plane, pair, spot[0], spot[1], row + x, out, met);
            const i = row + x;
            if (out.sheet[i] < 0 || (spot[0] === u && spot[1] === v)) continue;
            const o = out.way[i] * 4;
            const du = u - spot[0];
            const dv = v - spot[1];
            const by = Math.min(1, BESIDE / Math.sqrt(du * du + dv * dv));
            out.u[i] += (out.ways[o] * du + out.ways[o + 2] * dv) * by;
            out.v[i] += (out.ways[o + 1] * du + out.ways[o + 3] * dv) * by;
          }
        }
      }
    });
    return out;
  }

  private look(
    plane: Plane,
    pair: Pair,
    x: number,
    y: number,
    i: number,
    out: Origins,
    met: Map<number, number>,
  ): void {
    const { lies } = this;
    const closest = this.fitting.closestOf(pair);
    const reach = REACH * this.fitting.size;
    const same = SAME * this.fitting.size;
    const px = lies[0] + lies[6] * x + lies[12] * y;
    const py = lies[1] + lies[7] * x + lies[13] * y;
    const pz = lies[2] + lies[8] * x + lies[14] * y;
    const nx = lies[3] + lies[9] * x + lies[15] * y;
    const ny = lies[4] + lies[10] * x + lies[16] * y;
    const nz = lies[5] + lies[11] * x + lies[17] * y;
    const by = 1 / (Math.sqrt(nx * nx + ny * ny + nz * nz) || 1);
    const ux = nx * by;
    const uy = ny * by;
    const uz = nz * by;
    const about = this.isEven(closest, x, y) && closest.findAbout(px, py, pz, ux, uy, uz, AGREE, reach);
    if (about || closest.find(px, py, pz, ux, uy, uz, AGREE, reach, same)) {
      this.put(pair, plane, px, py, pz, i, out, met, null);
      return;
    }
    const { mirror } = this.fitting;
    if (!mirror) return;
    const { origin: o, right: r, down: d } = plane;
    const at: Vec = [o[0] + r[0] * x + d[0] * y, o[1] + r[1] * x + d[1] * y, o[2] + r[2] * x + d[2] * y];
    const normal: Vec = [o[3] + r[3] * x + d[3] * y, o[4] + r[4] * x + d[4] * y, o[5] + r[5] * x + d[5] * y];
    const [qx, qy, qz] = affinely(pair.toOld, mirroredPlace(at, mirror.normal, mirror.offset));
    const to = directed(pair.toOld, mirroredDirection(normal, mirror.normal));
    if (this.fitting.all.find(qx, qy, qz, ...to, AGREE, reach, same))
      this.put(pair, plane, qx, qy, qz, i, out, met, mirror.normal);
  }

  /**
   * Whether the old surface is one over a cell of the triangle at hand: who goes over it from corner to corner comes to what is nearest
   * there. Within such a cell only what is about the last texel is looked at.
   */
  private isEven(closest: Closest, x: number, y: number): boolean {
    const cx = Math.floor(x / CELL);
    const cy = Math.floor(y / CELL);
    const key = cy * 65536 + cx;
    let even = this.even.get(key);
    if (even !== undefined) return even;
    even = true;
    const { lies } = this;
    const { size } = this.fitting;
    const hair = 1e-12 * size * size;
    for (let k = 0; k < 5 && even; k++) {
      // Around the cell, back to the first corner.
      const u = (cx + CORNERS[k * 2]) * CELL;
      const v = (cy + CORNERS[k * 2 + 1]) * CELL;
      const px = lies[0] + lies[6] * u + lies[12] * v;
      const py = lies[1] + lies[7] * u + lies[13] * v;
      const pz = lies[2] + lies[8] * u + lies[14] * v;
      const nx = lies[3] + lies[9] * u + lies[15] * v;
      const ny = lies[4] + lies[10] * u + lies[16] * v;
      const nz = lies[5] + lies[11] * u + lies[17] * v;
      const by = 1 / (Math.sqrt(nx * nx + ny * ny + nz * nz) || 1);
      const walked = k > 0 && closest.findAbout(px, py, pz, nx * by, ny * by, nz * by, AGREE, REACH * size);
      const far2 = closest.far2;
      if (k > 0 && !walked) even = false;
      else if (!closest.find(px, py, pz, nx * by, ny * by, nz * by, AGREE, REACH * size)) even = false;
      else if (k > 0 && far2 > closest.far2 + hair) even = false;
    }
    this.even.set(key, even);
    return even;
  }

  /** Writes down what was found for a place of the old model. */
  private put(
    pair: Pair,
    plane: Plane,
    x: number,
    y: number,
    z: number,
    i: number,
    out: Origins,
    met: Map<number, number>,
    mirror: Vec | null,
  ): void {
    const closest = mirror ? this.fitting.all : this.fitting.closestOf(pair);
    const { triangle, second, third } = closest;
    const of = this.onSheet(triangle);
    out.sheet[i] = of[18];
    out.far[i] = Math.sqrt(closest.far2) / this.fitting.size;
    // Beside an edge as the triangle's plane goes on, so far as filters look.
    const ax = x - of[15];
    const ay = y - of[16];
    const az = z - of[17];
    const u = of[6] * ax + of[7] * ay + of[8] * az;
    const v = of[9] * ax + of[10] * ay + of[11] * az;
    const nearU = of[2] * second + of[4] * third;
    const nearV = of[3] * second + of[5] * third;
    const beside = Math.abs(u - nearU) <= BESIDE && Math.abs(v - nearV) <= BESIDE;
    out.u[i] = of[0] + (beside ? u : nearU);
    out.v[i] = of[1] + (beside ? v : nearV);
    // One way for all that one triangle has of another, and of its mirror.
    const name = mirror ? -1 - triangle : triangle;
    let way = met.get(name);
    if (way === undefined) {
      way = out.ways.length / 4;
      met.set(name, way);
      for (const step of [plane.right, plane.down]) {
        const along: Vec = [step[0], step[1], step[2]];
        const to = applied(pair.toOld.turn, mirror ? mirroredDirection(along, mirror) : along);
        out.ways.push(of[6] * to[0] + of[7] * to[1] + of[8] * to[2], of[9] * to[0] + of[10] * to[1] + of[11] * to[2]);
      }
      out.stretches.push(stretchOf(pair, plane, of, mirror));
    }
    out.way[i] = way;
  }

  /** Corner and edges of an old triangle on its sheet (six numbers), what a metre along x, y and z of the model adds to u and to v, where it looks, its first corner on the model, and its sheet. */
  private onSheet(triangle: number): Float64Array {
    const known = this.laid.get(triangle);
    if (known) return known;
    const { old } = this.fitting;
    const { width, height } = sheetNamed(old, this.fitting.oldPart(triangle).sheet ?? '');
    const [ax, ay, bx, by, cx, cy] = triangleOnSheet(old.mesh, triangle, width, height);
    const [a, b, c] = cornersOfTriangle(old.mesh, triangle);
    const e = minus(b, a);
    const f = minus(c, a);
    const [ee, ef, ff] = [dot(e, e), dot(e, f), dot(f, f)];
    const det = ee * ff - ef * ef;
    const out = new Float64Array(19);
    out.set([ax, ay, bx - ax, by - ay, cx - ax, cy - ay]);
    if (det > 0)
      for (let k = 0; k < 3; k++) {
        // Shares of the two edges for a metre along an axis.
        const p = (ff * e[k] - ef * f[k]) / det;
        const q = (ee * f[k] - ef * e[k]) / det;
        out[6 + k] = (bx - ax) * p + (cx - ax) * q;
        out[9 + k] = (by - ay) * p + (cy - ay) * q;
      }
    out.set(faceNormal(old.mesh, triangle) ?? [0, 0, 0], 12);
    out.set(a, 15);
    out[18] = this.sheets.indexOf(this.fitting.oldPart(triangle).sheet ?? '');
    this.laid.set(triangle, out);
    return out;
  }
}

/** The point of a triangle on its sheet, six numbers from entry `o`, that is nearest to another. */
function nearestOnSheet(corners: ArrayLike<number>, o: number, x: number, y: number, out: Float64Array): void {
  let best = Infinity;
  for (let k = 0; k < 3; k++) {
    const [ax, ay] = [corners[o + k * 2], corners[o + k * 2 + 1]];
    const [bx, by] = [corners[o + ((k + 1) % 3) * 2], corners[o + ((k + 1) % 3) * 2 + 1]];
    const [ex, ey] = [bx - ax, by - ay];
    const long = ex * ex + ey * ey;
    const share = long > 0 ? Math.min(1, Math.max(0, ((x - ax) * ex + (y - ay) * ey) / long)) : 0;
    const [px, py] = [ax + ex * share, ay + ey * share];
    const far = (x - px) ** 2 + (y - py) ** 2;
    if (far >= best) continue;
    best = far;
    out[0] = px;
    out[1] = py;
  }
  // A little inside: on its edge it would be another's as well.
  out[0] += ((corners[o] + corners[o + 2] + corners[o + 4]) / 3 - out[0]) * INSIDE;
  out[1] += ((corners[o + 1] + corners[o + 3] + corners[o + 5]) / 3 - out[1]) * INSIDE;
}

/** Puts the plane of a triangle where it lies on the old model. */
function carry({ toOld: { turn, shift } }: Pair, { origin, right, down }: Plane, out: Float64Array): void {
  [origin, right, down].forEach((of, k) => {
    for (let c = 0; c < 6; c++) {
      const from = c < 3 ? 0 : 3;
      const row = (c % 3) * 3;
      out[k * 6 + c] =
        turn[row] * of[from] +
        turn[row + 1] * of[from + 1] +
        turn[row + 2] * of[from + 2] +
        (k === 0 && c < 3 ? shift[c] : 0);
    }
  });
}

/** How much longer one way than the other what lies on the new triangle comes to lie on the old one, from 1. */
function stretchOf(pair: Pair, { right, down }: Plane, of: Float64Array, mirror: Vec | null): number {
  const sides = [right, down].map((step): Vec => {
    const along: Vec = [step[0], step[1], step[2]];
    return mirror ? mirroredDirection(along, mirror) : along;
  });
  const first = unit(sides[0]);
  const second = upright(sides[1], first);
  const [a, b] = [first, second].map((side): Vec => {
    const to = applied(pair.toOld.turn, side);
    const out: Vec = [of[12], of[13], of[14]];
    return plus(to, out, -dot(to, out));
  });
  // Singular values of the two columns.
  const [aa, ab, bb] = [dot(a, a), dot(a, b), dot(b, b)];
  const half = (aa + bb) / 2;
  const apart = Math.sqrt(Math.max(0, half * half - (aa * bb - ab * ab)));
  const least = half - apart;
  return least > 1e-12 * half ? Math.sqrt((half + apart) / least) : Infinity;
}

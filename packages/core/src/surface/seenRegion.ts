/** What of a sheet is seen within an outline of a view of the model. */
import type { Subject } from '../livery/template.ts';
import { fillCoverage } from '../shapes/coverage.ts';
import { TILE } from '../raster/image.ts';
import type { Coverage8 } from '../raster/selection.ts';
import { emptyCoverage } from '../raster/selection.ts';
import { faceNormal } from './edges.ts';
import { Plane } from './fields.ts';
import type { SheetSurface } from './surface.ts';
import { cornersOfTriangle, diagonalOf } from './triangles.ts';
import { dot, minus, type Vec } from './vectors.ts';

/** A view of the model. */
export interface ModelLook {
  /** Projection and view in one, 16 numbers column by column: from metres to -1..1 across and up. */
  matrix: readonly number[];
  /** Where it is looked from; without perspective the direction towards there, of length 1. */
  eye: Vec;
  parallel: boolean;
}

/** Samples along the view's sides in which depth is kept, and in which the outline is filled. */
const [DEPTHS, FILLED] = [1024, 2048];
/** What lies behind something by no more is its own surface, of the model's diagonal. */
const SKIN = 0.004;

/** Where a place is in a view: across and up of -1..1, and how far it is away, metres (without perspective from any fixed plane). */
function seenAt({ matrix: m, eye, parallel }: ModelLook, p: Vec, out: Float64Array): boolean {
  const w = m[3] * p[0] + m[7] * p[1] + m[11] * p[2] + m[15];
  if (!(w > 0)) return false;
  out[0] = (m[0] * p[0] + m[4] * p[1] + m[8] * p[2] + m[12]) / w;
  out[1] = (m[1] * p[0] + m[5] * p[1] + m[9] * p[2] + m[13]) / w;
  out[2] = parallel ? -dot(p, eye) : w;
  return true;
}

/** What of a model is nearest in each sample of a view. */
export class ViewDepth {
  private readonly far = new Float32Array(DEPTHS * DEPTHS).fill(Infinity);
  private readonly skin: number;

  /** @param not parts that are left away, by their keys */
  constructor(
    readonly subject: Subject,
    readonly look: ModelLook,
    not: readonly string[],
  ) {
    this.skin = diagonalOf(subject.mesh) * SKIN;
    const [a, b, c] = [new Float64Array(3), new Float64Array(3), new Float64Array(3)];
    for (const { key, first, count } of subject.parts) {
      if (not.includes(key)) continue;
      for (let t = first; t < first + count; t++) {
        const corners = cornersOfTriangle(subject.mesh, t);
        // What reaches behind the eye is left out: nobody lays tape there.
        if (seenAt(look, corners[0], a) && seenAt(look, corners[1], b) && seenAt(look, corners[2], c))
          this.put(a, b, c);
      }
    }
  }

  private put(a: Float64Array, b: Float64Array, c: Float64Array): void {
    const sx = (v: Float64Array) => ((v[0] + 1) / 2) * DEPTHS;
    const sy = (v: Float64Array) => ((1 - v[1]) / 2) * DEPTHS;
    const [ax, ay, bx, by, cx, cy] = [sx(a), sy(a), sx(b), sy(b), sx(c), sy(c)];
    const area = (bx - ax) * (cy - ay) - (by - ay) * (cx - ax);
    if (!(Math.abs(area) > 1e-12)) return;
    // Over the picture one over the depth is even, without perspective the depth itself.
    const { parallel } = this.look;
    const value = (v: Float64Array) => (parallel ? v[2] : 1 / v[2]);
    const [va, vb, vc] = [value(a), value(b), value(c)];
    const x0 = Math.max(0, Math.floor(Math.min(ax, bx, cx) - 0.5));
    const x1 = Math.min(DEPTHS - 1, Math.ceil(Math.max(ax, bx, cx) - 0.5));
    const y0 = Math.max(0, Math.floor(Math.min(ay, by, cy) - 0.5));
    const y1 = Math.min(DEPTHS - 1, Math.ceil(Math.max(ay, by, cy) - 0.5));
    for (let y = y0; y <= y1; y++)
      for (let x = x0; x <= x1; x++) {
        const [px, py] = [x + 0.5, y + 0.5];
        const q = ((px - ax) * (cy - ay) - (py - ay) * (cx - ax)) / area;
        const r = ((bx - ax) * (py - ay) - (by - ay) * (px - ax)) / area;
        if (q < 0 || r < 0 || q + r > 1) continue;
        const depth = va + q * (vb - va) + r * (vc - va);
        const away = parallel ? depth : 1 / depth;
        const i = y * DEPTHS + x;
        if (away < this.far[i]) this.far[i] = away;
      }
  }

  /** Whether nothing stands before a place of the view. @param x,y -1..1 @param away how far it is */
  open(x: number, y: number, away: number): boolean {
    const [sx, sy] = [Math.floor(((x + 1) / 2) * DEPTHS), Math.floor(((1 - y) / 2) * DEPTHS)];
    // The farthest of what is about it: a slanting surface does not hide itself.
    let most = -Infinity;
    for (let v = Math.max(0, sy - 1); v <= Math.min(DEPTHS - 1, sy + 1); v++)
      for (let u = Math.max(0, sx - 1); u <= Math.min(DEPTHS - 1, sx + 1); u++) {
        const far = this.far[v * DEPTHS + u];
        if (far !== Infinity && far > most) most = far;
      }
    return away <= most + this.skin || most === -Infinity;
  }
}

/** An outline of a view, filled. @param outline x and y in turn, -1..1 with y up */
export class ViewOutline {
  private readonly filled: Float64Array;
  private readonly left: number;
  private readonly top: number;
  private readonly width: number;
  private readonly height: number;

  constructor(outline: Float64Array) {
    const on = outline.map((v, i) => (i % 2 === 0 ? ((v + 1) / 2) * FILLED : ((1 - v) / 2) * FILLED));
    const xs = on.filter((_, i) => i % 2 === 0);
    const ys = on.filter((_, i) => i % 2 === 1);
    const least = (of: Float64Array) => Math.max(0, Math.floor(of.reduce((a, b) => Math.min(a, b), Infinity)));
    const most = (of: Float64Array) => Math.min(FILLED, Math.ceil(of.reduce((a, b) => Math.max(a, b), -Infinity)));
    this.left = least(xs);
    this.top = least(ys);
    this.width = Math.max(0, most(xs) - this.left);
    this.height = Math.max(0, most(ys) - this.top);
    const local = on.map((v, i) => v - (i % 2 === 0 ? this.left : this.top));
    this.filled =
      this.width > 0 && this.height > 0 ? fillCoverage([local], this.width, this.height) : new Float64Array(0);
  }

  /** How much of a place lies in it, 0..1. */
  at(x: number, y: number): number {
    const u = Math.floor(((x + 1) / 2) * FILLED) - this.left;
    const v = Math.floor(((1 - y) / 2) * FILLED) - this.top;
    return u < 0 || v < 0 || u >= this.width || v >= this.height ? 0 : this.filled[v * this.width + u];
  }
}

/** Parts of a texel at which it is looked, each way. */
const LOOKS = [0.25, 0.75] as const;

/**
 * Coverage of a sheet by what is seen of it within an outline: what faces the eye and has nothing before it; gutters as the texels beside
 * them.
 * @param not parts that are left away, by their keys
 */
export function seenRegion(
  surface: SheetSurface,
  depth: ViewDepth,
  outline: ViewOutline,
  not: readonly string[],
): Coverage8 {
  const out = emptyCoverage(surface.width, surface.height);
  const { look, subject } = depth;
  const plane = new Plane(surface);
  const away = new Uint8Array(surface.laid.triangle.length);
  surface.laid.triangle.forEach((t, rank) => {
    const normal = faceNormal(subject.mesh, t);
    const [corner] = cornersOfTriangle(subject.mesh, t);
    const to = look.parallel ? look.eye : minus(look.eye, corner);
    const left = not.includes(surface.parts[surface.laid.part[rank]].key);
    away[rank] = left || !normal || dot(normal, to) <= 0 ? 1 : 0;
  });
  const at = new Float64Array(3);
  surface.eachTileOf({ left: 0, top: 0, right: out.width, bottom: out.height }, ({ ranks, begins, runs }, x0, y0) => {
    for (let k = 0; k < ranks.length; k++) {
      if (away[ranks[k]] === 1) continue;
      plane.of(ranks[k]);
      const { origin: o, right: r, down: d } = plane;
      for (let run = begins[k]; run < begins[k + 1]; run++) {
        const y = y0 + Math.floor(runs[run * 2] / TILE);
        const first = x0 + (runs[run * 2] % TILE);
        for (let x = first; x < first + runs[run * 2 + 1]; x++) {
          let share = 0;
          for (const v of LOOKS)
            for (const u of LOOKS) {
              const place: Vec = [
                o[0] + r[0] * (x + u) + d[0] * (y + v),
                o[1] + r[1] * (x + u) + d[1] * (y + v),
                o[2] + r[2] * (x + u) + d[2] * (y + v),
              ];
              if (!seenAt(look, place, at)) continue;
              const covers = outline.at(at[0], at[1]);
              if (covers > 0 && depth.open(at[0], at[1], at[2])) share += covers;
            }
          if (share > 0) out.data[y * out.width + x] = Math.round((share / 4) * 255);
        }
      }
    }
  });
  return out;
}

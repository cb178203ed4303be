/** What the model is like under the texels of a sheet: place, normal, tangent frame, size. Worked out for a window when it is asked for. */
import type { MeshData } from '../livery/template.ts';
import { TILE } from '../raster/image.ts';
import { nearestInside } from '../raster/nearest.ts';
import type { Window } from './raster.ts';
import type { SheetSurface } from './surface.ts';

/** One entry, or three numbers, a texel, row by row of a window. Gutters carry their triangle's plane on. */
export interface SurfaceFields {
  readonly window: Window;
  /** Triangle of the mesh; -1: none within a gutter's width, and then every other field is 0. */
  readonly triangle: Int32Array;
  /** 1 + the index of the part among the sheet's; 0: none. */
  readonly part: Uint16Array;
  /** 1 where a triangle touches the texel. */
  readonly inside: Uint8Array;
  /** 1 where the triangle covers the texel's centre. */
  readonly centred: Uint8Array;
  /** Model space, in its units (metres, when it has scale). */
  readonly position: Float32Array;
  /** Of length 1, as the mesh's corners have it. */
  readonly normal: Float32Array;
  /** Of length 1, at right angles to the normal: where the sheet's x goes. */
  readonly tangent: Float32Array;
  /** 1 or -1: the sheet's y goes along `hand` times normal x tangent. */
  readonly hand: Int8Array;
  /** Side of a square as large as the texel on the model, in the model's units. */
  readonly size: Float32Array;
}

/** Fields of a window of a sheet. */
export function fieldsIn(surface: SheetSurface, window: Window): SurfaceFields {
  const { left, top, right, bottom } = window;
  const width = right - left;
  const many = width * (bottom - top);
  const ranks = surface.ranksIn(window);
  const { triangle: triangles, part: parts } = surface.laid;
  const triangle = new Int32Array(many).fill(-1);
  const part = new Uint16Array(many);
  const centred = new Uint8Array(many);
  const position = new Float32Array(many * 3);
  const normal = new Float32Array(many * 3);
  const tangent = new Float32Array(many * 3);
  const hand = new Int8Array(many);
  const size = new Float32Array(many);
  const plane = new Plane(surface);
  for (let y = top, i = 0; y < bottom; y++)
    for (let x = left; x < right; x++, i++) {
      const rank = ranks[i];
      if (rank < 0) continue;
      plane.of(rank);
      triangle[i] = triangles[rank];
      part[i] = parts[rank] + 1;
      hand[i] = plane.hand;
      size[i] = plane.size;
      centred[i] = plane.holds(x + 0.5, y + 0.5) ? 1 : 0;
      plane.at(x + 0.5, y + 0.5, i * 3, position, normal, tangent);
    }
  const inside = surface.insideIn(window);
  return { window, triangle, part, inside, centred, position, normal, tangent, hand, size };
}

const ROUNDING = 1e-6;

/** The plane of one triangle after another: everything on it goes evenly along the sheet. */
export class Plane {
  hand = 0;
  size = 0;
  private rank = -1;
  /** Value at the sheet's origin, and what a texel to the right and one down add: three positions, three normals (of no certain length). */
  readonly origin = new Float64Array(6);
  readonly right = new Float64Array(6);
  readonly down = new Float64Array(6);
  /** Shares of the second and third corner: value at the origin, a texel to the right, one down, each. */
  private readonly shares = new Float64Array(6);
  private readonly mesh: MeshData;

  constructor(private readonly surface: SheetSurface) {
    this.mesh = surface.subject.mesh;
  }

  /** @param rank of the triangle; see SheetTriangles */
  of(rank: number): void {
    if (rank === this.rank) return;
    this.rank = rank;
    const { corners, triangle } = this.surface.laid;
    const { indices, positions, normals } = this.mesh;
    const at = rank * 6;
    const ax = corners[at];
    const ay = corners[at + 1];
    const ux = corners[at + 2] - ax;
    const uy = corners[at + 3] - ay;
    const vx = corners[at + 4] - ax;
    const vy = corners[at + 5] - ay;
    const area = ux * vy - uy * vx;
    const { shares, origin, right: r, down: s } = this;
    shares[0] = (ay * vx - ax * vy) / area;
    shares[1] = vy / area;
    shares[2] = -vx / area;
    shares[3] = (ax * uy - ay * ux) / area;
    shares[4] = -uy / area;
    shares[5] = ux / area;
    const t = triangle[rank] * 3;
    const a = indices[t] * 3;
    const b = indices[t + 1] * 3;
    const c = indices[t + 2] * 3;
    for (let k = 0; k < 6; k++) {
      const values = k < 3 ? positions : normals;
      const d = k < 3 ? k : k - 3;
      const first = values[a + d];
      const p = values[b + d] - first;
      const q = values[c + d] - first;
      r[k] = (p * vy - q * uy) / area;
      s[k] = (q * ux - p * vx) / area;
      origin[k] = first - r[k] * ax - s[k] * ay;
    }
    const x = r[1] * s[2] - r[2] * s[1];
    const y = r[2] * s[0] - r[0] * s[2];
    const z = r[0] * s[1] - r[1] * s[0];
    this.size = Math.sqrt(Math.sqrt(x * x + y * y + z * z));
    // The plane's own normal, as the sheet turns it, against the mesh's in the middle of the triangle.
    const mx = ax + (ux + vx) / 3;
    const my = ay + (uy + vy) / 3;
    const facing =
      x * (origin[3] + r[3] * mx + s[3] * my) +
      y * (origin[4] + r[4] * mx + s[4] * my) +
      z * (origin[5] + r[5] * mx + s[5] * my);
    this.hand = facing < 0 ? -1 : 1;
  }

  /** How far along a direction the sheet's origin lies on the plane, and what a texel to the right and one down add. */
  along([x, y, z]: readonly [number, number, number]): [number, number, number] {
    const of = (v: Float64Array) => v[0] * x + v[1] * y + v[2] * z;
    return [of(this.origin), of(this.right), of(this.down)];
  }

  /** The same of what is known at the triangle's corners, evenly between them and on beyond. */
  between(first: number, second: number, third: number): [number, number, number] {
    const s = this.shares;
    const [v, w] = [second - first, third - first];
    return [first + v * s[0] + w * s[3], v * s[1] + w * s[4], v * s[2] + w * s[5]];
  }

  /** Whether the triangle holds a point of the sheet, to within rounding. */
  holds(x: number, y: number): boolean {
    const s = this.shares;
    const v = s[0] + s[1] * x + s[2] * y;
    const w = s[3] + s[4] * x + s[5] * y;
    return v >= -ROUNDING && w >= -ROUNDING && v + w <= 1 + ROUNDING;
  }

  /** Place, normal and tangent at a point of the sheet (texels), three numbers each from entry `o`. */
  at(x: number, y: number, o: number, position: Float32Array, normal: Float32Array, tangent: Float32Array): void {
    const { origin, right, down } = this;
    position[o] = origin[0] + right[0] * x + down[0] * y;
    position[o + 1] = origin[1] + right[1] * x + down[1] * y;
    position[o + 2] = origin[2] + right[2] * x + down[2] * y;
    const nx = origin[3] + right[3] * x + down[3] * y;
    const ny = origin[4] + right[4] * x + down[4] * y;
    const nz = origin[5] + right[5] * x + down[5] * y;
    const long = Math.sqrt(nx * nx + ny * ny + nz * nz);
    const by = long > 0 ? 1 / long : 0;
    normal[o] = nx * by;
    normal[o + 1] = ny * by;
    normal[o + 2] = nz * by;
    // What of the sheet's x is across the normal.
    const along = (right[0] * nx + right[1] * ny + right[2] * nz) * by * by;
    const tx = right[0] - nx * along;
    const ty = right[1] - ny * along;
    const tz = right[2] - nz * along;
    const wide = Math.sqrt(tx * tx + ty * ty + tz * tz);
    const over = wide > 0 ? 1 / wide : 0;
    tangent[o] = tx * over;
    tangent[o + 1] = ty * over;
    tangent[o + 2] = tz * over;
  }
}

/** Samples of `step` texels from texel (x, y). */
interface Samples {
  x: number;
  y: number;
  width: number;
  height: number;
  step: number;
}

/**
 * Calls for each sample of a region that belongs to the model, gutters too, with how far along a direction it lies there, and how much that grows
 * for a sample to the right and one down: the same on both sides of a seam.
 * @param surface at the region's own step
 * @param direction of length 1, in the axes of the model; distances are in its units
 */
export function eachAlong(
  surface: SheetSurface,
  region: Samples,
  direction: readonly [number, number, number],
  visit: (i: number, along: number, right: number, down: number) => void,
): void {
  let [origin, right, down] = [0, 0, 0];
  eachOn(
    surface,
    region,
    (plane) => {
      [origin, right, down] = plane.along(direction);
      return true;
    },
    (i, x, y) => visit(i, origin + right * x + down * y, right, down),
  );
}

/**
 * Calls for each sample of a region that belongs to the model, gutters too, with the value there of what is known at the corners.
 * @param surface of the mesh that the corners are of, at the region's own step
 */
export function eachOfCorners(
  surface: SheetSurface,
  region: Samples,
  corners: Float32Array,
  visit: (i: number, value: number) => void,
): void {
  const { indices } = surface.subject.mesh;
  const { triangle } = surface.laid;
  let [origin, right, down] = [0, 0, 0];
  eachOn(
    surface,
    region,
    (plane, rank) => {
      const t = triangle[rank] * 3;
      [origin, right, down] = plane.between(corners[indices[t]], corners[indices[t + 1]], corners[indices[t + 2]]);
      return true;
    },
    (i, x, y) => visit(i, origin + right * x + down * y),
  );
}

/** Calls for each sample of a region that a triangle has, gutters too, with its middle on the sheet; `onto` whenever that is another triangle. */
function eachOn(
  surface: SheetSurface,
  region: Samples,
  onto: (plane: Plane, rank: number) => void,
  visit: (i: number, x: number, y: number) => void,
): void {
  eachRun(
    surface,
    region,
    (plane, rank) => {
      onto(plane, rank);
      return true;
    },
    (i, x, y, count) => {
      for (let k = 0; k < count; k++) visit(i + k, x + k, y);
    },
  );
}

/**
 * Calls for each run of samples in a row of a region that one triangle has, gutters too: the first sample, the middle of it on the sheet, and how
 * many there are. All runs of a triangle within a tile come after one another.
 * @param onto before the runs of each triangle. @returns whether they are wanted
 */
export function eachRun(
  surface: SheetSurface,
  { x: left, y: top, width, height, step }: Samples,
  onto: (plane: Plane, rank: number) => boolean,
  visit: (i: number, x: number, y: number, count: number) => void,
): void {
  const [x0, y0] = [Math.floor(left / step), Math.floor(top / step)];
  const window = {
    left: Math.max(0, x0),
    top: Math.max(0, y0),
    right: Math.min(surface.width, x0 + width),
    bottom: Math.min(surface.height, y0 + height),
  };
  if (window.left >= window.right || window.top >= window.bottom) return;
  const plane = new Plane(surface);
  surface.eachTileOf(window, ({ ranks, begins, runs }, tileX, tileY) => {
    for (let t = 0; t < ranks.length; t++) {
      let wanted: boolean | null = null;
      for (let run = begins[t]; run < begins[t + 1]; run++) {
        const from = runs[run * 2];
        const y = tileY + Math.floor(from / TILE);
        const first = Math.max(window.left, tileX + (from % TILE));
        const end = Math.min(window.right, tileX + (from % TILE) + runs[run * 2 + 1]);
        if (y < window.top || y >= window.bottom || first >= end) continue;
        if (wanted === null) {
          plane.of(ranks[t]);
          wanted = onto(plane, ranks[t]);
        }
        if (!wanted) break;
        visit((y - y0) * width + first - x0, first + 0.5, y + 0.5, end - first);
      }
    }
  });
}

/** Farthest that distances to an edge are told, in texels. */
export const EDGE = 64;

/**
 * Distance of each texel of a window from the nearest edge of what triangles cover, in texels between centres: above 0 inside, below 0 in
 * gutters, and EDGE at most either way. The sheet's own border is no edge.
 */
export function edgeIn(surface: SheetSurface, { left, top, right, bottom }: Window): Float32Array {
  const around = {
    left: Math.max(0, left - EDGE),
    top: Math.max(0, top - EDGE),
    right: Math.min(surface.width, right + EDGE),
    bottom: Math.min(surface.height, bottom + EDGE),
  };
  const width = around.right - around.left;
  const height = around.bottom - around.top;
  const inside = surface.insideIn(around);
  const toIsland = nearestInside(inside, width, height, EDGE);
  const outside = inside.map((is) => 1 - is);
  const toGap = nearestInside(outside, width, height, EDGE);
  const out = new Float32Array((right - left) * (bottom - top));
  for (let y = top, i = 0; y < bottom; y++)
    for (let x = left; x < right; x++, i++) {
      const here = (y - around.top) * width + x - around.left;
      const from = inside[here] ? toGap[here] : toIsland[here];
      let far = EDGE;
      if (from >= 0) {
        const row = (from / width) | 0;
        const [dx, dy] = [x - around.left - (from - row * width), y - around.top - row];
        far = Math.min(EDGE, Math.sqrt(dx * dx + dy * dy));
      }
      out[i] = inside[here] ? far : -far;
    }
  return out;
}

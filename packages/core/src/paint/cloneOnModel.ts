/** Clone on a model: what a texel takes lies at a place of the model, on whichever sheet wears that. */
import type { Subject } from '../livery/template.ts';
import { TILE } from '../raster/image.ts';
import { Closest } from '../surface/closest.ts';
import { Plane } from '../surface/fields.ts';
import { partOfTriangle } from '../surface/locate.ts';
import type { SheetSurface } from '../surface/surface.ts';
import { diagonalOf, triangleOnSheet } from '../surface/triangles.ts';
import { cross, dot, unit, upright, type Vec } from '../surface/vectors.ts';
import { TILE_COLUMNS } from './strokes.ts';

/** Where something is taken from or goes to: a place of the model in metres, and out of its surface. */
export interface ModelPlace {
  at: Vec;
  facing: Vec;
}

/** From a place that is painted to the one that it is taken from, metres: nine numbers of a rotation by rows, and what is added after. */
export interface CloneWay {
  turn: readonly number[];
  shift: Vec;
}

/** What is at right angles to each other at a place: to the side, up as the model has it (on what looks up or down: forward), and out. */
function frameOf({ facing }: ModelPlace): readonly [Vec, Vec, Vec] {
  const out = unit(facing);
  const up = upright(Math.abs(out[1]) > 0.9 ? [1, 0, 0] : [0, 1, 0], out);
  return [cross(up, out), up, out];
}

/** The way from where a stroke begins to what it clones there: what is upright stays so, what looks out looks out. */
export function wayBetween(to: ModelPlace, from: ModelPlace): CloneWay {
  const [a, b] = [frameOf(to), frameOf(from)];
  const turn = [0, 1, 2].flatMap((r) =>
    [0, 1, 2].map((c) => b[0][r] * a[0][c] + b[1][r] * a[1][c] + b[2][r] * a[2][c]),
  );
  const row = (r: number): Vec => [turn[r * 3], turn[r * 3 + 1], turn[r * 3 + 2]];
  const shift: Vec = [
    from.at[0] - dot(row(0), to.at),
    from.at[1] - dot(row(1), to.at),
    from.at[2] - dot(row(2), to.at),
  ];
  return { turn, shift };
}

/** 16-bit premultiplied RGBA of tile (tx, ty) of a sheet; null outside it. */
export type SheetTile = (sheet: string, tx: number, ty: number) => Uint16Array | null;

/** Of the model's diagonal: farther from the surface there is nothing to be taken. */
const REACH = 0.04;
/** Nearer than this share of it is the same place. */
const SAME = 1e-7;
/** The least cosine between where the place looks, turned, and where the surface there looks. */
const AGREE = 0.3;
/** Looks a texel, each way, at most. */
const MOST_LOOKS = 4;
/** This near to the middle of a texel it is that texel. */
const NEARLY = 1e-3;

/** Nearest places of all that wears a sheet, once a mesh. */
const worn = new WeakMap<Subject['mesh'], Closest>();

function closestOf({ mesh, parts }: Subject): Closest {
  let known = worn.get(mesh);
  if (!known) {
    const wears = new Uint8Array(mesh.indices.length / 3);
    for (const { sheet, first, count } of parts) if (sheet !== null) wears.fill(1, first, first + count);
    worn.set(mesh, (known = new Closest(mesh, (t) => wears[t] === 1)));
  }
  return known;
}

/** What the texels of one sheet take from the model. */
export class ModelSource {
  private readonly closest: Closest;
  private readonly plane: Plane;
  /** By triangle: its sheet, its corners on it, and from a place to the sheet. */
  private readonly laid = new Map<number, Laid>();
  private readonly reach: number;
  private readonly texel = new Float64Array(4);

  constructor(
    private readonly surface: SheetSurface,
    private readonly way: CloneWay,
    private readonly tileOf: SheetTile,
    /** What is taken are whole texels: identities cannot be mixed. */
    private readonly whole = false,
  ) {
    const { subject } = surface;
    this.closest = closestOf(subject);
    this.plane = new Plane(surface);
    this.reach = diagonalOf(subject.mesh);
  }

  /**
   * Brings what the covered texels of a box take.
   * @param number of the tile @param coverage of the tile, shares of 65535
   * @param out the tile's texels, premultiplied RGBA of 16 bits @param done those that are there already, by texel
   */
  bring(
    number: number,
    coverage: Uint16Array,
    out: Uint16Array,
    done: Uint8Array,
    box: { left: number; top: number; right: number; bottom: number },
  ): void {
    const [x0, y0] = [(number % TILE_COLUMNS) * TILE, Math.floor(number / TILE_COLUMNS) * TILE];
    const window = { left: x0 + box.left, top: y0 + box.top, right: x0 + box.right, bottom: y0 + box.bottom };
    this.surface.eachTileOf(window, ({ ranks, begins, runs }, tx, ty) => {
      if (tx !== x0 || ty !== y0) return;
      for (let k = 0; k < ranks.length; k++)
        for (let run = begins[k]; run < begins[k + 1]; run++) {
          const first = runs[run * 2];
          const y = Math.floor(first / TILE);
          if (y < box.top || y >= box.bottom) continue;
          const from = Math.max(first % TILE, box.left);
          const to = Math.min((first % TILE) + runs[run * 2 + 1], box.right);
          for (let x = from; x < to; x++) {
            const i = y * TILE + x;
            if (coverage[i] === 0 || done[i] === 1) continue;
            done[i] = 1;
            this.plane.of(ranks[k]);
            this.take(x0 + x, y0 + y, out, i * 4);
          }
        }
    });
  }

  private take(x: number, y: number, out: Uint16Array, o: number): void {
    const { plane, closest, reach, texel } = this;
    const { turn: m, shift } = this.way;
    const { origin, right, down } = plane;
    const u = x + 0.5;
    const v = y + 0.5;
    const at = (k: number) => origin[k] + right[k] * u + down[k] * v;
    const turned = (r: number, a: number, b: number, c: number) => m[r * 3] * a + m[r * 3 + 1] * b + m[r * 3 + 2] * c;
    const [ax, ay, az] = [at(0), at(1), at(2)];
    const [bx, by, bz] = [at(3), at(4), at(5)];
    const long = Math.sqrt(bx * bx + by * by + bz * bz) || 1;
    const px = turned(0, ax, ay, az) + shift[0];
    const py = turned(1, ax, ay, az) + shift[1];
    const pz = turned(2, ax, ay, az) + shift[2];
    const nx = turned(0, bx, by, bz) / long;
    const ny = turned(1, bx, by, bz) / long;
    const nz = turned(2, bx, by, bz) / long;
    if (!closest.find(px, py, pz, nx, ny, nz, AGREE, REACH * reach, SAME * reach)) return;
    const from = this.laidOf(closest.triangle);
    if (!from) return;
    // How a texel to the right and one down go on over the source, in texels of its sheet.
    const step = (d: Float64Array, to: Float64Array) => {
      const [sx, sy, sz] = [turned(0, d[0], d[1], d[2]), turned(1, d[0], d[1], d[2]), turned(2, d[0], d[1], d[2])];
      return to[0] * sx + to[1] * sy + to[2] * sz;
    };
    const [ru, rv, du, dv] = [step(right, from.u), step(right, from.v), step(down, from.u), step(down, from.v)];
    const [cu, cv] = [
      from.corners[0] +
        closest.second * (from.corners[2] - from.corners[0]) +
        closest.third * (from.corners[4] - from.corners[0]),
      from.corners[1] +
        closest.second * (from.corners[3] - from.corners[1]) +
        closest.third * (from.corners[5] - from.corners[1]),
    ];
    if (this.whole) {
      texel.fill(0);
      this.add(from.sheet, Math.floor(cu), Math.floor(cv), 1);
      for (let c = 0; c < 4; c++) out[o + c] = texel[c];
      return;
    }
    const across = Math.min(MOST_LOOKS, Math.max(1, Math.ceil(Math.sqrt(ru * ru + rv * rv) - 0.05)));
    const deep = Math.min(MOST_LOOKS, Math.max(1, Math.ceil(Math.sqrt(du * du + dv * dv) - 0.05)));
    texel.fill(0);
    for (let b = 0; b < deep; b++)
      for (let a = 0; a < across; a++) {
        const [p, q] = [(a + 0.5) / across - 0.5, (b + 0.5) / deep - 0.5];
        this.look(from.sheet, cu + ru * p + du * q - 0.5, cv + rv * p + dv * q - 0.5);
      }
    for (let c = 0; c < 4; c++) out[o + c] = Math.round(texel[c] / (across * deep));
  }

  /** Adds what is at a point of a sheet, evenly between the middles of its texels. */
  private look(sheet: string, x: number, y: number): void {
    const [nx, ny] = [Math.round(x), Math.round(y)];
    const [u, v] = [Math.abs(x - nx) < NEARLY ? nx : x, Math.abs(y - ny) < NEARLY ? ny : y];
    const [x0, y0] = [Math.floor(u), Math.floor(v)];
    const [fx, fy] = [u - x0, v - y0];
    this.add(sheet, x0, y0, (1 - fx) * (1 - fy));
    this.add(sheet, x0 + 1, y0, fx * (1 - fy));
    this.add(sheet, x0, y0 + 1, (1 - fx) * fy);
    this.add(sheet, x0 + 1, y0 + 1, fx * fy);
  }

  private add(sheet: string, x: number, y: number, weight: number): void {
    if (weight <= 0 || x < 0 || y < 0) return;
    const tile = this.tileOf(sheet, Math.floor(x / TILE), Math.floor(y / TILE));
    if (!tile) return;
    const i = ((y % TILE) * TILE + (x % TILE)) * 4;
    for (let c = 0; c < 4; c++) this.texel[c] += tile[i + c] * weight;
  }

  private laidOf(t: number): Laid | null {
    let known = this.laid.get(t);
    if (known) return known;
    const { mesh, sheets, parts } = this.surface.subject;
    const part = partOfTriangle({ parts }, t);
    const sheet = sheets.find(({ key }) => key === part?.sheet);
    if (!sheet) return null;
    const corners = triangleOnSheet(mesh, t, sheet.width, sheet.height);
    const { indices, positions } = mesh;
    const at = (k: number, c: number) => positions[indices[t * 3 + k] * 3 + c];
    const e = [0, 1, 2].map((c) => at(1, c) - at(0, c));
    const f = [0, 1, 2].map((c) => at(2, c) - at(0, c));
    const over = (a: number[], b: number[]) => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
    const [ee, ef, ff] = [over(e, e), over(e, f), over(f, f)];
    const det = ee * ff - ef * ef;
    if (!(det > 0)) return null;
    // A direction as shares of both edges, and with them as texels.
    const grow = (o: number) =>
      Float64Array.from([0, 1, 2], (c) => {
        const second = (e[c] * ff - f[c] * ef) / det;
        const third = (f[c] * ee - e[c] * ef) / det;
        return second * (corners[2 + o] - corners[o]) + third * (corners[4 + o] - corners[o]);
      });
    this.laid.set(t, (known = { sheet: sheet.key, corners, u: grow(0), v: grow(1) }));
    return known;
  }
}

interface Laid {
  sheet: string;
  corners: readonly number[];
  u: Float64Array;
  v: Float64Array;
}

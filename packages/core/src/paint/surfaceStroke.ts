/** The way of a pointer over a model as coverage of one of its sheets: dabs lie on the surface. */
import { TILE } from '../raster/image.ts';
import { noiseAt } from '../raster/noise.ts';
import { turnOf } from '../raster/turn.ts';
import { acrossNormal } from '../surface/across.ts';
import { nearestOfTriangle } from '../surface/cutLine.ts';
import { faceNormal, neighboursOf, type Neighbours } from '../surface/edges.ts';
import { Plane } from '../surface/fields.ts';
import { GUTTER, type SheetSurface, type TileRuns } from '../surface/surface.ts';
import { cornersOfTriangle } from '../surface/triangles.ts';
import { dot, long, minus, mirroredDirection, mirroredPlace, type Vec } from '../surface/vectors.ts';
import type { Brush } from './brush.ts';
import { grainAt, shareAt, StrokeMaker, type PointerPoint, type StrokeRules } from './strokeMaker.ts';
import { tileNumber } from './strokes.ts';

export interface SurfaceRules extends Omit<StrokeRules, 'symmetry' | 'wrap'> {
  surface: SheetSurface;
  /** Metres of the model to a texel of the brush: points, sizes and spacing are in these. */
  perTexel: number;
  /** Each dab goes to the other side of this plane as well. */
  mirror: { normal: Vec; offset: number } | null;
  /** Parts that are not touched, by their keys. */
  not?: readonly string[];
}

const ONE = 65535;
/** The cosine at which what looks away from a dab is not touched any more. */
const AWAY = -0.17;
/** Triangles that one dab goes over. */
const MOST = 60_000;

/** Which rank on the sheet a triangle has, and where a tile has a rank's runs; worked out once. */
const ranks = new WeakMap<SheetSurface, Int32Array>();
const places = new WeakMap<TileRuns, Map<number, number>>();

function ranksOf(surface: SheetSurface): Int32Array {
  const known = ranks.get(surface);
  if (known) return known;
  const made = new Int32Array(surface.subject.mesh.indices.length / 3).fill(-1);
  const { triangle } = surface.laid;
  for (let rank = triangle.length - 1; rank >= 0; rank--) made[triangle[rank]] = rank;
  ranks.set(surface, made);
  return made;
}

function placeIn(runs: TileRuns, rank: number): number | undefined {
  let known = places.get(runs);
  if (!known) {
    known = new Map<number, number>();
    for (let k = 0; k < runs.ranks.length; k++) known.set(runs.ranks[k], k);
    places.set(runs, known);
  }
  return known.get(rank);
}

/**
 * Each dab begins on the triangle that the pointer is on and goes on over edges, seams and sheets as far as its radius reaches, measured along
 * the surface by the chord and how far the surface has turned; what does not hang together with it there is not touched. Gutters are
 * covered as the texels beside them.
 */
export class SurfaceStroke extends StrokeMaker {
  private readonly near: Neighbours;
  private readonly rank: Int32Array;
  private readonly plane: Plane;
  private readonly seen: Int32Array;
  /** By the number of a part on the sheet: whether it is left as it is. */
  private readonly kept: Uint8Array;
  private stamp = 0;
  /** The triangles of the last dab and of its likeness. */
  private readonly lately: [number, number] = [-1, -1];

  constructor(
    brush: Brush,
    private readonly on: SurfaceRules,
  ) {
    super(brush, { ...on, symmetry: null, wrap: null });
    const { mesh } = on.surface.subject;
    this.near = neighboursOf(mesh);
    this.rank = ranksOf(on.surface);
    this.plane = new Plane(on.surface);
    this.seen = new Int32Array(mesh.indices.length / 3);
    this.kept = Uint8Array.from(on.surface.parts, ({ key }) => (on.not?.includes(key) ? 1 : 0));
  }

  protected override press(point: PointerPoint, radius: number, turn: number, flow: number): void {
    const { perTexel, mirror } = this.on;
    if (point.z === undefined || point.triangle === undefined) return;
    const at: Vec = [point.x * perTexel, point.y * perTexel, point.z * perTexel];
    const reach = Math.max(0.5, radius) * perTexel;
    this.lately[0] = this.settle(this.lately[0], point.triangle, at, reach);
    this.dabOn(this.lately[0], at, reach, turn, flow);
    if (!mirror) return;
    const other = mirroredPlace(at, mirror.normal, mirror.offset);
    const facing = faceNormal(this.on.surface.subject.mesh, this.lately[0]);
    const likeness =
      this.lately[1] >= 0 ? this.lately[1] : facing && this.nearest(other, mirroredDirection(facing, mirror.normal));
    if (likeness === null || likeness < 0) return;
    this.lately[1] = this.settle(likeness, likeness, other, reach);
    this.dabOn(this.lately[1], other, reach, -turn, flow);
  }

  /** The triangle at a place: from the last one on over edges as long as they come nearer, or the one that is pointed at. */
  private settle(from: number, pointed: number, at: Vec, reach: number): number {
    if (from < 0) return pointed;
    let best = from;
    let far = this.farFrom(best, at);
    for (let moved = true; moved;) {
      moved = false;
      for (let k = 0; k < 3; k++) {
        const next = this.near.across[best * 3 + k];
        if (next < 0) continue;
        const other = this.farFrom(next, at);
        if (other < far - 1e-12) {
          best = next;
          far = other;
          moved = true;
          break;
        }
      }
    }
    return far <= Math.max(reach, this.farFrom(pointed, at)) ? best : pointed;
  }

  private farFrom(t: number, at: Vec): number {
    return long(minus(nearestOfTriangle(at, ...cornersOfTriangle(this.on.surface.subject.mesh, t)), at));
  }

  /** The triangle nearest to a place that looks about one way; -1: none does. */
  private nearest(at: Vec, facing: Vec): number {
    const { mesh } = this.on.surface.subject;
    let [best, far] = [-1, Infinity];
    for (let t = 0; t < mesh.indices.length / 3; t++) {
      const other = this.farFrom(t, at);
      if (other >= far) continue;
      const face = faceNormal(mesh, t);
      if (face && dot(face, facing) > 0.3) [best, far] = [t, other];
    }
    return best;
  }

  /** Covers what a dab reaches. */
  private dabOn(first: number, at: Vec, reach: number, turn: number, flow: number): void {
    const { mesh } = this.on.surface.subject;
    const normal = faceNormal(mesh, first);
    if (!normal) return;
    const share = Math.round(flow * ONE);
    const mark = ++this.stamp;
    const open = [first];
    this.seen[first] = mark;
    let many = 0;
    for (let t = open.pop(); t !== undefined && many < MOST; t = open.pop(), many++) {
      if (this.rank[t] >= 0) this.coverTriangle(this.rank[t], at, normal, reach, turn, share);
      for (let k = 0; k < 3; k++) {
        const next = this.near.across[t * 3 + k];
        if (next < 0 || this.seen[next] === mark) continue;
        this.seen[next] = mark;
        const face = faceNormal(mesh, next);
        if (!face || dot(face, normal) < AWAY || this.farFrom(next, at) > reach) continue;
        open.push(next);
      }
    }
  }

  /** Covers the texels of one triangle, with its gutter. */
  private coverTriangle(rank: number, at: Vec, normal: Vec, reach: number, turn: number, share: number): void {
    const { surface } = this.on;
    if (this.kept[surface.laid.part[rank]] === 1) return;
    const { plane } = this;
    plane.of(rank);
    const { origin: o, right: r, down: d } = plane;
    // The box on the sheet of what the ball about the dab cuts out of the triangle's plane.
    const rr = r[0] * r[0] + r[1] * r[1] + r[2] * r[2];
    const rd = r[0] * d[0] + r[1] * d[1] + r[2] * d[2];
    const dd = d[0] * d[0] + d[1] * d[1] + d[2] * d[2];
    const det = rr * dd - rd * rd;
    if (!(det > 0)) return;
    const [px, py, pz] = [at[0] - o[0], at[1] - o[1], at[2] - o[2]];
    const pr = px * r[0] + py * r[1] + pz * r[2];
    const pd = px * d[0] + py * d[1] + pz * d[2];
    const [cx, cy] = [(pr * dd - pd * rd) / det, (pd * rr - pr * rd) / det];
    const [wide, high] = [(reach + plane.size) * Math.sqrt(dd / det), (reach + plane.size) * Math.sqrt(rr / det)];
    const { corners } = surface.laid;
    const [ax, ay, bx, by, ex, ey] = corners.subarray(rank * 6, rank * 6 + 6);
    const box = {
      left: Math.max(0, Math.floor(Math.max(cx - wide, Math.min(ax, bx, ex) - GUTTER - 1))),
      top: Math.max(0, Math.floor(Math.max(cy - high, Math.min(ay, by, ey) - GUTTER - 1))),
      right: Math.min(surface.width, Math.ceil(Math.min(cx + wide, Math.max(ax, bx, ex) + GUTTER + 1))),
      bottom: Math.min(surface.height, Math.ceil(Math.min(cy + high, Math.max(ay, by, ey) + GUTTER + 1))),
    };
    if (box.left >= box.right || box.top >= box.bottom) return;
    surface.eachTileOf(box, (tile, x0, y0) => {
      const k = placeIn(tile, rank);
      if (k === undefined) return;
      let [left, top, right, bottom] = [TILE, TILE, 0, 0];
      let texels: Uint16Array | undefined;
      const number = tileNumber(x0 / TILE, y0 / TILE);
      for (let run = tile.begins[k]; run < tile.begins[k + 1]; run++) {
        const from = tile.runs[run * 2];
        const y = Math.floor(from / TILE);
        if (y0 + y < box.top || y0 + y >= box.bottom) continue;
        const first = Math.max(from % TILE, box.left - x0);
        const end = Math.min((from % TILE) + tile.runs[run * 2 + 1], box.right - x0);
        for (let x = first; x < end; x++) {
          const covers = this.coverAt(x0 + x, y0 + y, at, normal, reach, turn);
          if (covers <= 0) continue;
          if (!texels) {
            texels = this.raw.get(number) ?? new Uint16Array(TILE * TILE);
            this.raw.set(number, texels);
          }
          const i = y * TILE + x;
          const before = texels[i];
          let by = Math.round(covers * share);
          if (this.brush.tip === 'chalk') by = grainAt(by, x0 + x, y0 + y);
          const now = before + Math.round(((ONE - before) * by) / ONE);
          if (now === before) continue;
          texels[i] = now;
          left = Math.min(left, x);
          right = Math.max(right, x + 1);
          top = Math.min(top, y);
          bottom = Math.max(bottom, y + 1);
        }
      }
      if (left < right) this.dirty.push({ left: x0 + left, top: y0 + top, right: x0 + right, bottom: y0 + bottom });
    });
  }

  /** How much of a texel the tip covers, 0..1. */
  private coverAt(x: number, y: number, at: Vec, normal: Vec, reach: number, turn: number): number {
    const { plane, brush } = this;
    const { origin: o, right: r, down: d } = plane;
    const [mx, my] = [x + 0.5, y + 0.5];
    const qx = o[0] + r[0] * mx + d[0] * my - at[0];
    const qy = o[1] + r[1] * mx + d[1] * my - at[1];
    const qz = o[2] + r[2] * mx + d[2] * my - at[2];
    const chord = Math.sqrt(qx * qx + qy * qy + qz * qz);
    if (chord > reach + plane.size) return 0;
    const nx = o[3] + r[3] * mx + d[3] * my;
    const ny = o[4] + r[4] * mx + d[4] * my;
    const nz = o[5] + r[5] * mx + d[5] * my;
    const size = Math.sqrt(nx * nx + ny * ny + nz * nz) || 1;
    const cos = (nx * normal[0] + ny * normal[1] + nz * normal[2]) / size;
    if (cos < AWAY) return 0;
    // On a round surface the arc is longer than its chord, by how far the surface has turned.
    const half = Math.acos(cos > 1 ? 1 : cos) / 2;
    const far = half > 0.02 ? (chord * half) / Math.sin(half) : chord;
    const texel = plane.size;
    if (brush.pixel) return far <= reach - 0.01 * texel ? 1 : 0;
    if (brush.tip === 'round' || brush.tip === 'chalk') return shareAt(far / texel, reach / texel, 1, brush.hardness);
    // In the dab's own plane, as far out as along the surface.
    const [ux, uy, uz, vx, vy, vz] = acrossNormal(normal[0], normal[1], normal[2]);
    const { cos: c, sin: s } = turnOf(turn);
    const a = qx * ux + qy * uy + qz * uz;
    const b = qx * vx + qy * vy + qz * vz;
    const flat = Math.sqrt(a * a + b * b);
    const out = flat > 0 ? far / flat : 1;
    const ratio = brush.tip === 'flat' ? 0.28 : 1;
    const u = (a * c + b * s) * out;
    const v = ((b * c - a * s) * out) / ratio;
    let share = shareAt(Math.sqrt(u * u + v * v) / texel, reach / texel, ratio, brush.hardness);
    if (share > 0 && brush.tip === 'bristle') {
      const n = noiseAt((u / reach) * 9 + 50, (v / reach) * 9 + 50, 5);
      share *= n < 0.45 ? 0 : n > 0.6 ? 1 : (n - 0.45) / 0.15;
    }
    return share;
  }
}

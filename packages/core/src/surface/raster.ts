/** Triangles of a sheet by the tiles that they reach, and which of them has each texel. */
import type { Subject, TemplatePart } from '../livery/template.ts';
import { TILE } from '../raster/image.ts';
import { triangleOnSheet } from './triangles.ts';

/** Texels of a sheet, right and bottom excluded. */
export interface Window {
  readonly left: number;
  readonly top: number;
  readonly right: number;
  readonly bottom: number;
}

/** Triangles of a sheet in the order in which they claim texels: part by part as the template has them. */
export interface SheetTriangles {
  /** Triangle of the mesh, by rank. */
  readonly triangle: Int32Array;
  /** Index of its part among those of the sheet, by rank. */
  readonly part: Uint16Array;
  /** Six corners in texels, by rank: ax ay bx by cx cy. */
  readonly corners: Float64Array;
  /** Ranks that reach into each tile, tile by tile, rising in each; `begins` has one more entry than there are tiles. */
  readonly ranks: Int32Array;
  readonly begins: Int32Array;
  readonly across: number;
}

/** Works out which triangles of a sheet reach into which tile of TILE x TILE texels; those without area reach into none. */
export function trianglesOf(
  subject: Subject,
  parts: readonly TemplatePart[],
  { width, height }: { width: number; height: number },
): SheetTriangles {
  const count = parts.reduce((sum, part) => sum + part.count, 0);
  const triangle = new Int32Array(count);
  const part = new Uint16Array(count);
  const corners = new Float64Array(count * 6);
  const [across, down] = [Math.ceil(width / TILE), Math.ceil(height / TILE)];
  const begins = new Int32Array(across * down + 1);
  let rank = 0;
  parts.forEach(({ first, count: own }, index) => {
    for (let t = first; t < first + own; t++, rank++) {
      triangle[rank] = t;
      part[rank] = index;
      corners.set(triangleOnSheet(subject.mesh, t, width, height), rank * 6);
    }
  });
  const eachTile = (visit: (tile: number, rank: number) => void) => {
    for (let r = 0; r < count; r++) {
      const box = boxOf(corners, r, { left: 0, top: 0, right: width, bottom: height });
      if (!box) continue;
      for (let y = Math.floor(box.top / TILE); y <= Math.floor((box.bottom - 1) / TILE); y++)
        for (let x = Math.floor(box.left / TILE); x <= Math.floor((box.right - 1) / TILE); x++)
          visit(y * across + x, r);
    }
  };
  eachTile((tile) => begins[tile + 1]++);
  for (let tile = 0; tile < across * down; tile++) begins[tile + 1] += begins[tile];
  const ranks = new Int32Array(begins[across * down]);
  const next = begins.slice();
  eachTile((tile, r) => (ranks[next[tile]++] = r));
  return { triangle, part, corners, ranks, begins, across };
}

/** Texels that a triangle can touch within a window; null: none, or it has no area. */
function boxOf(corners: Float64Array, rank: number, within: Window): Window | null {
  const at = rank * 6;
  const ax = corners[at];
  const ay = corners[at + 1];
  const bx = corners[at + 2];
  const by = corners[at + 3];
  const cx = corners[at + 4];
  const cy = corners[at + 5];
  const area = (bx - ax) * (cy - ay) - (by - ay) * (cx - ax);
  if (area === 0 || !Number.isFinite(area)) return null;
  const left = Math.max(within.left, Math.floor(Math.min(ax, bx, cx)));
  const right = Math.min(within.right, Math.floor(Math.max(ax, bx, cx)) + 1);
  const top = Math.max(within.top, Math.floor(Math.min(ay, by, cy)));
  const bottom = Math.min(within.bottom, Math.floor(Math.max(ay, by, cy)) + 1);
  return left < right && top < bottom ? { left, top, right, bottom } : null;
}

/** Ranks of the triangles that may reach into a window, rising, each once. */
function ranksIn({ ranks, begins, across }: SheetTriangles, { left, top, right, bottom }: Window): Int32Array {
  const lists: Int32Array[] = [];
  for (let y = Math.floor(top / TILE); y <= Math.floor((bottom - 1) / TILE); y++)
    for (let x = Math.floor(left / TILE); x <= Math.floor((right - 1) / TILE); x++)
      lists.push(ranks.subarray(begins[y * across + x], begins[y * across + x + 1]));
  if (lists.length === 1) return lists[0];
  const all = new Int32Array(lists.reduce((sum, list) => sum + list.length, 0));
  let at = 0;
  for (const list of lists) {
    all.set(list, at);
    at += list.length;
  }
  all.sort();
  let kept = 0;
  for (let i = 0; i < all.length; i++) if (i === 0 || all[i] !== all[i - 1]) all[kept++] = all[i];
  return all.subarray(0, kept);
}

/**
 * Which triangle has each texel of a window: the first, by rank, that covers the texel's centre; where none does, the first that touches
 * its square; -1 where none does that either. This is the one rule for texels that several islands share.
 */
export function claim(triangles: SheetTriangles, window: Window): Int32Array {
  const { left, top, right, bottom } = window;
  const width = right - left;
  const owner = new Int32Array(width * (bottom - top)).fill(-1);
  const centred = new Uint8Array(owner.length);
  const { corners } = triangles;
  for (const rank of ranksIn(triangles, window)) {
    const box = boxOf(corners, rank, window);
    if (!box) continue;
    const at = rank * 6;
    const ax = corners[at];
    const ay = corners[at + 1];
    const bx = corners[at + 2];
    const by = corners[at + 3];
    const cx = corners[at + 4];
    const cy = corners[at + 5];
    const s = (bx - ax) * (cy - ay) - (by - ay) * (cx - ax) > 0 ? 1 : -1;
    // Signed distances from the three sides, times their lengths; a square is touched while its nearest corner is inside.
    const ex = -(by - ay) * s;
    const ey = (bx - ax) * s;
    const e0 = -(ex * ax + ey * ay);
    const fx = -(cy - by) * s;
    const fy = (cx - bx) * s;
    const f0 = -(fx * bx + fy * by);
    const gx = -(ay - cy) * s;
    const gy = (ax - cx) * s;
    const g0 = -(gx * cx + gy * cy);
    const eReach = (Math.abs(ex) + Math.abs(ey)) / 2;
    const fReach = (Math.abs(fx) + Math.abs(fy)) / 2;
    const gReach = (Math.abs(gx) + Math.abs(gy)) / 2;
    for (let y = box.top; y < box.bottom; y++) {
      const py = y + 0.5;
      for (let x = box.left, i = (y - top) * width + box.left - left; x < box.right; x++, i++) {
        const px = x + 0.5;
        const d0 = ex * px + ey * py + e0;
        if (d0 <= -eReach) continue;
        const d1 = fx * px + fy * py + f0;
        if (d1 <= -fReach) continue;
        const d2 = gx * px + gy * py + g0;
        if (d2 <= -gReach) continue;
        const centre = d0 >= 0 && d1 >= 0 && d2 >= 0;
        if (owner[i] < 0 || (centre && !centred[i])) owner[i] = rank;
        if (centre) centred[i] = 1;
      }
    }
  }
  return owner;
}

/** The first triangle, by rank, that holds a point of the sheet (texels); -1: none does. */
export function claimAt(
  triangles: SheetTriangles,
  x: number,
  y: number,
  { width, height }: { width: number; height: number },
): number {
  const [left, top] = [Math.floor(x), Math.floor(y)];
  if (left < 0 || top < 0 || left >= width || top >= height) return -1;
  const { corners, ranks, begins, across } = triangles;
  const tile = ((top / TILE) | 0) * across + ((left / TILE) | 0);
  for (let k = begins[tile]; k < begins[tile + 1]; k++) {
    const at = ranks[k] * 6;
    const [ax, ay, bx] = [corners[at], corners[at + 1], corners[at + 2]];
    const [by, cx, cy] = [corners[at + 3], corners[at + 4], corners[at + 5]];
    // Most of a tile's triangles are elsewhere.
    if ((x < ax && x < bx && x < cx) || (x > ax && x > bx && x > cx)) continue;
    if ((y < ay && y < by && y < cy) || (y > ay && y > by && y > cy)) continue;
    const [u, v, w] = sharesAt(corners, ranks[k], x, y);
    if (u >= 0 && v >= 0 && w >= 0) return ranks[k];
  }
  return -1;
}

/** How much of each corner is at a point of a triangle's plane; together 1. */
export function sharesAt(corners: Float64Array, rank: number, x: number, y: number): [number, number, number] {
  const at = rank * 6;
  const [ax, ay, bx] = [corners[at], corners[at + 1], corners[at + 2]];
  const [by, cx, cy] = [corners[at + 3], corners[at + 4], corners[at + 5]];
  const area = (bx - ax) * (cy - ay) - (by - ay) * (cx - ax);
  const v = ((x - ax) * (cy - ay) - (y - ay) * (cx - ax)) / area;
  const w = ((bx - ax) * (y - ay) - (by - ay) * (x - ax)) / area;
  return [1 - v - w, v, w];
}

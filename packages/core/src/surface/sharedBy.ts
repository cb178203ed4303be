/** Places of the model that wear the same texels: overlaps and mirrored halves. */
import type { MeshData, Template } from '../livery/template.ts';
import { handOf } from './islands.ts';
import { partOfTriangle } from './locate.ts';
import { cornersOfTriangle, triangleOnSheet } from './triangles.ts';
import { cross, dot, minus, type Vec } from './vectors.ts';

/** Another part that shows what lies at some places. */
export interface SharedBy {
  /** Its key. */
  part: string;
  /** It shows it as a mirror would. */
  backwards: boolean;
  /** How much of it, 0..1. */
  share: number;
}

/** Cells along a side of a sheet. */
const CELLS = 64;
/** Nearer to an edge than this, of the triangle, its neighbours have it too. */
const INSIDE = 1e-3;

/** Triangles by cell of their sheet, once a mesh and sheet. */
const grids = new WeakMap<MeshData, Map<string, number[][]>>();

function gridOf({ mesh, parts }: Template, sheet: string): number[][] {
  let known = grids.get(mesh);
  if (!known) grids.set(mesh, (known = new Map<string, number[][]>()));
  const found = known.get(sheet);
  if (found) return found;
  const cells = Array.from({ length: CELLS * CELLS }, (): number[] => []);
  const cell = (v: number) => Math.min(CELLS - 1, Math.max(0, Math.floor(v)));
  for (const part of parts) {
    if (part.sheet !== sheet) continue;
    for (let t = part.first; t < part.first + part.count; t++) {
      const [ax, ay, bx, by, cx, cy] = triangleOnSheet(mesh, t, CELLS, CELLS);
      if (!Number.isFinite(ax + ay + bx + by + cx + cy)) continue;
      for (let y = cell(Math.min(ay, by, cy)); y <= cell(Math.max(ay, by, cy)); y++)
        for (let x = cell(Math.min(ax, bx, cx)); x <= cell(Math.max(ax, bx, cx)); x++) cells[y * CELLS + x].push(t);
    }
  }
  known.set(sheet, cells);
  return cells;
}

/** Where a place of a triangle lies on its sheet, shares of its sides; null: the triangle has no area. */
function onSheet(mesh: MeshData, triangle: number, place: Vec): [number, number] | null {
  const [a, b, c] = cornersOfTriangle(mesh, triangle);
  const [e, f, p] = [minus(b, a), minus(c, a), minus(place, a)];
  const n = cross(e, f);
  const area = dot(n, n);
  if (!(area > 0)) return null;
  const second = dot(cross(p, f), n) / area;
  const third = dot(cross(e, p), n) / area;
  const [ax, ay, bx, by, cx, cy] = triangleOnSheet(mesh, triangle, 1, 1);
  return [ax + (bx - ax) * second + (cx - ax) * third, ay + (by - ay) * second + (cy - ay) * third];
}

/**
 * Which other parts, or other places of the same part, wear the texels at some places of the model; those that show most of them first.
 * @param spots a triangle each, a place on it (metres) and how much it counts
 */
export function sharedBy(
  template: Template,
  spots: readonly { triangle: number; position: Vec; weight: number }[],
): SharedBy[] {
  const { mesh } = template;
  const found = new Map<string, SharedBy>();
  let all = 0;
  for (const { triangle, position, weight } of spots) {
    const sheet = partOfTriangle(template, triangle)?.sheet;
    const at = sheet ? onSheet(mesh, triangle, position) : null;
    if (!sheet || !at) continue;
    all += weight;
    const cells = gridOf(template, sheet);
    const [column, row] = at.map((v) => Math.floor(v * CELLS));
    const told = new Set<string>();
    for (const other of cells[row * CELLS + column] ?? []) {
      if (other === triangle || !holds(mesh, other, at)) continue;
      const part = partOfTriangle(template, other)!.key;
      const backwards = handOf(mesh, other) !== handOf(mesh, triangle);
      const key = `${part} ${backwards}`;
      if (told.has(key)) continue;
      told.add(key);
      const one = found.get(key) ?? { part, backwards, share: 0 };
      one.share += weight;
      found.set(key, one);
    }
  }
  return [...found.values()].map((one) => ({ ...one, share: one.share / all })).sort((a, b) => b.share - a.share);
}

function holds(mesh: MeshData, triangle: number, [x, y]: readonly [number, number]): boolean {
  const [ax, ay, bx, by, cx, cy] = triangleOnSheet(mesh, triangle, 1, 1);
  const area = (bx - ax) * (cy - ay) - (by - ay) * (cx - ax);
  if (area === 0) return false;
  const p = ((x - ax) * (cy - ay) - (y - ay) * (cx - ax)) / area;
  const q = ((bx - ax) * (y - ay) - (by - ay) * (x - ax)) / area;
  return p > INSIDE && q > INSIDE && p + q < 1 - INSIDE;
}

/** How fine the texels are with which a sheet paints the model, and how much longer they are one way than the other. */
import { type MeshData, sheetNamed, type Subject, type Template } from '../livery/template.ts';
import { partOfTriangle } from './locate.ts';
import { cornersOfTriangle, triangleOnSheet } from './triangles.ts';
import { cross, dot, long, minus, type Vec } from './vectors.ts';

export interface Grain {
  /** The side of a square as large as a texel is on the model, metres. */
  size: number;
  /** How much longer what is square on the sheet becomes one way than the other, from 1. */
  stretch: number;
}

/** Of one triangle on its sheet; null: it wears none, or has no area on it or on the model. */
export function grainOf(template: Template, triangle: number): Grain | null {
  const part = partOfTriangle(template, triangle);
  if (!part || part.sheet === null) return null;
  const { width, height } = sheetNamed(template, part.sheet);
  const [ax, ay, bx, by, cx, cy] = triangleOnSheet(template.mesh, triangle, width, height);
  const [a, b, c] = cornersOfTriangle(template.mesh, triangle);
  const [e, f] = [minus(b, a), minus(c, a)];
  const area = (bx - ax) * (cy - ay) - (by - ay) * (cx - ax);
  const real = long(cross(e, f));
  if (!(Math.abs(area) > 1e-12) || !(real > 0)) return null;
  // What a texel to the right and one down are on the model; the lengths of the ellipse that a circle becomes.
  const along = (p: number, q: number): Vec => [0, 1, 2].map((k) => (p * e[k] + q * f[k]) / area) as unknown as Vec;
  const [right, down] = [along(cy - ay, -(by - ay)), along(-(cx - ax), bx - ax)];
  const [rr, rd, dd] = [dot(right, right), dot(right, down), dot(down, down)];
  const half = (rr + dd) / 2;
  const apart = Math.sqrt(((rr - dd) / 2) ** 2 + rd * rd);
  return { size: Math.sqrt(real / Math.abs(area)), stretch: Math.sqrt((half + apart) / Math.max(half - apart, 1e-30)) };
}

const known = new WeakMap<MeshData, Map<Subject['sheets'], (Grain | null)[]>>();

/** The same, worked out once a triangle. */
export function grainAt(template: Template, triangle: number): Grain | null {
  let bySheets = known.get(template.mesh);
  if (!bySheets) known.set(template.mesh, (bySheets = new Map<Subject['sheets'], (Grain | null)[]>()));
  let all = bySheets.get(template.sheets);
  if (!all) bySheets.set(template.sheets, (all = []));
  return (all[triangle] ??= grainOf(template, triangle));
}

/** Where a mark lies: a triangle, where its plane looks (null: the mark is a sheet's, or its lengths are true wherever it lies), and how much it counts. */
export interface MarkSpot {
  triangle: number;
  facing: Vec | null;
  normal: Vec;
  weight: number;
}

/**
 * The mean over all of a mark: how fine its texels are, and how much longer one way than the other it is there: on a sheet as the sheet is
 * laid on the model, in a plane of its own as that plane is aslant to it. Null: it lies on nothing.
 */
export function grainUnder(template: Template, spots: readonly MarkSpot[]): (Grain & { sheet: string }) | null {
  let [all, size, stretch] = [0, 0, 0];
  const sheets = new Map<string, number>();
  for (const { triangle, facing, normal, weight } of spots) {
    const grain = grainAt(template, triangle);
    const sheet = partOfTriangle(template, triangle)?.sheet;
    if (!grain || !sheet) continue;
    all += weight;
    size += weight * grain.size;
    stretch += weight * (facing ? 1 / Math.max(0.05, Math.abs(dot(facing, normal))) : grain.stretch);
    sheets.set(sheet, (sheets.get(sheet) ?? 0) + weight);
  }
  if (all === 0) return null;
  const [[sheet]] = [...sheets].sort((a, b) => b[1] - a[1]);
  return { size: size / all, stretch: stretch / all, sheet };
}

/** What is longer one way than the other by this is seen to be (common practice, no source). */
export const SEEN_STRETCHED = 1.35;

/** The least side of a sheet, a power of two, at which something has as many texels as it needs. @param has, needs texels */
export const sideFor = (side: number, has: number, needs: number): number =>
  2 ** Math.ceil(Math.log2((side * needs) / has) - 1e-9);

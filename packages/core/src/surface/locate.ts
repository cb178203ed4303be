import type { Template } from '../livery/template.ts';
import { triangleOnSheet } from './surface.ts';

export interface Spot {
  /** Metres, model space. */
  position: [number, number, number];
  normal: [number, number, number];
  part: string;
}

/** The first spot of the model that wears a point of a sheet (texels), or null in the gutter. */
export function spotOfTexel(template: Template, sheetKey: string, x: number, y: number): Spot | null {
  const sheet = template.sheets.find((s) => s.key === sheetKey)!;
  for (const part of template.parts) {
    if (part.sheet !== sheetKey) continue;
    for (let t = part.first; t < part.first + part.count; t++) {
      const [ax, ay, bx, by, cx, cy] = triangleOnSheet(template.mesh, t, sheet.width, sheet.height);
      const area = (bx - ax) * (cy - ay) - (by - ay) * (cx - ax);
      if (area === 0) continue;
      const v = ((x - ax) * (cy - ay) - (y - ay) * (cx - ax)) / area;
      const w = ((bx - ax) * (y - ay) - (by - ay) * (x - ax)) / area;
      const u = 1 - v - w;
      if (u < 0 || v < 0 || w < 0) continue;
      const at = (values: readonly number[], c: number) => {
        const index = (k: number) => template.mesh.indices[t * 3 + k] * 3 + c;
        return values[index(0)] * u + values[index(1)] * v + values[index(2)] * w;
      };
      const { positions, normals } = template.mesh;
      return {
        position: [at(positions, 0), at(positions, 1), at(positions, 2)],
        normal: [at(normals, 0), at(normals, 1), at(normals, 2)],
        part: part.key,
      };
    }
  }
  return null;
}

/** The part that a triangle belongs to. */
export function partOfTriangle(template: Template, triangle: number) {
  return template.parts.find((part) => triangle >= part.first && triangle < part.first + part.count) ?? null;
}

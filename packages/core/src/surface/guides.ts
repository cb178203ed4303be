import type { Template } from '../livery/template.ts';
import { boxOfParts, GUTTER, triangleOnSheet } from './surface.ts';

/** Lines of a sheet's UV layout in texels: x0, y0, x1, y1 for each edge. */
export interface UvLines {
  /** Every edge of a triangle, once. */
  wire: Float64Array;
  /** Edges that only one triangle has: where an island ends. */
  seams: Float64Array;
}

export function uvLines(template: Template, sheetKey: string): UvLines {
  const sheet = template.sheets.find((s) => s.key === sheetKey)!;
  const edges = new Map<string, { line: number[]; uses: number }>();
  for (const part of template.parts) {
    if (part.sheet !== sheetKey) continue;
    for (let t = part.first; t < part.first + part.count; t++) {
      const c = triangleOnSheet(template.mesh, t, sheet.width, sheet.height);
      for (let k = 0; k < 6; k += 2) {
        const [ax, ay, bx, by] = [c[k], c[k + 1], c[(k + 2) % 6], c[(k + 3) % 6]];
        const [a, b] = [`${ax.toFixed(2)},${ay.toFixed(2)}`, `${bx.toFixed(2)},${by.toFixed(2)}`];
        const key = a < b ? `${a} ${b}` : `${b} ${a}`;
        const known = edges.get(key);
        if (known) known.uses++;
        else edges.set(key, { line: [ax, ay, bx, by], uses: 1 });
      }
    }
  }
  const all = [...edges.values()];
  return {
    wire: Float64Array.from(all.flatMap((edge) => edge.line)),
    seams: Float64Array.from(all.filter((edge) => edge.uses === 1).flatMap((edge) => edge.line)),
  };
}

/** Where the parts of a sheet lie: their boxes in texels, without the gutter. */
export function partBoxes(template: Template, sheetKey: string) {
  return template.parts
    .filter((part) => part.sheet === sheetKey)
    .map((part) => {
      const { left, top, right, bottom } = boxOfParts(template, sheetKey, [part.key]);
      return {
        key: part.key,
        name: part.name,
        left: left + GUTTER,
        top: top + GUTTER,
        right: right - GUTTER - 1,
        bottom: bottom - GUTTER - 1,
      };
    });
}

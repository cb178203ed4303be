import { sheetNamed, type Subject } from '../livery/template.ts';
import { newImage } from '../raster/image.ts';
import { islandsOf } from './islands.ts';
import { sheetCover } from './layout.ts';
import { traceOutline } from './traceOutline.ts';
import { triangleOnSheet } from './triangles.ts';

/** Lines of a sheet's UV layout in texels: x0, y0, x1, y1 for each edge. */
export interface UvLines {
  /** Every edge of a triangle, once. */
  wire: Float64Array;
  /** Edges that only one triangle of the surface has: where an island ends. */
  seams: Float64Array;
}

export function uvLines(template: Subject, sheetKey: string): UvLines {
  const sheet = sheetNamed(template, sheetKey);
  const { positions, indices } = template.mesh;
  const wire = new Map<string, number[]>();
  // Islands that lie on one another share UVs but not places on the model: an edge is told by both.
  const edges = new Map<string, { line: number[]; uses: number }>();
  for (const part of template.parts) {
    if (part.sheet !== sheetKey) continue;
    for (let t = part.first; t < part.first + part.count; t++) {
      const c = triangleOnSheet(template.mesh, t, sheet.width, sheet.height);
      const flat = [0, 1, 2].map((k) => `${c[k * 2].toFixed(2)},${c[k * 2 + 1].toFixed(2)}`);
      const solid = [0, 1, 2].map((k) => {
        const v = indices[t * 3 + k] * 3;
        return `${flat[k]},${positions[v].toFixed(4)},${positions[v + 1].toFixed(4)},${positions[v + 2].toFixed(4)}`;
      });
      for (let k = 0; k < 3; k++) {
        const n = (k + 1) % 3;
        const line = [c[k * 2], c[k * 2 + 1], c[n * 2], c[n * 2 + 1]];
        wire.set(pairOf(flat[k], flat[n]), line);
        const key = pairOf(solid[k], solid[n]);
        const known = edges.get(key);
        if (known) known.uses++;
        else edges.set(key, { line, uses: 1 });
      }
    }
  }
  const seams = [...edges.values()].filter((edge) => edge.uses === 1);
  return {
    wire: Float64Array.from([...wire.values()].flat()),
    seams: Float64Array.from(seams.flatMap((edge) => edge.line)),
  };
}

const pairOf = (a: string, b: string) => (a < b ? `${a} ${b}` : `${b} ${a}`);

/**
 * Outlines of what a sheet's islands cover together, as closed rings in texels (x, y, x, y ...) to be filled by the even-odd rule: islands that
 * lie on one another are one shape. Traced from a raster at 1024 texels at most, so within a texel of that of the true edge.
 */
export function silhouettes(template: Subject, sheetKey: string): number[][] {
  const sheet = sheetNamed(template, sheetKey);
  const cover = sheetCover(template, islandsOf(template), sheetKey, 1024);
  const image = newImage(cover.width, cover.height);
  cover.island.forEach((number, i) => (image.data[i * 4 + 3] = number > 0 ? 255 : 0));
  const [sx, sy] = [sheet.width / cover.width, sheet.height / cover.height];
  if (cover.unused === 1) return [];
  const holes = { ...image, data: image.data.map((value, i) => (i % 4 === 3 ? 255 - value : value)) };
  // Holes inside islands are shapes of their own; the ring around everything is the sheet's edge.
  const inner = cover.unused === 0 ? [] : traceOutline(holes, 0, 0).filter((ring) => !touchesEdge(ring, cover));
  return [...traceOutline(image, 0, 0), ...inner].map((ring) => ring.map((v, i) => v * (i % 2 === 0 ? sx : sy)));
}

const touchesEdge = (ring: readonly number[], { width, height }: { width: number; height: number }) =>
  ring.some((v, i) => v === 0 || v === (i % 2 === 0 ? width : height));

/** The symmetry axis of a sheet, found from its mesh. */
import { sheetNamed, type Subject, type TemplateSheet } from '../livery/template.ts';
import { boxOfMesh } from './triangles.ts';

/** Share of a sheet's vertices that must find their partner across the axis. */
const ENOUGH = 0.6;

/**
 * Looks for a vertical or horizontal line on a sheet across which the mesh's mirror partners lie. The mirror plane of the model is taken
 * to be x, y or z = the middle of its box, whichever pairs most vertices.
 * @returns texels of the sheet; null when it has no such line
 */
export function symmetryAxis(subject: Subject, sheetKey: string): TemplateSheet['axis'] {
  const { mesh } = subject;
  const sheet = sheetNamed(subject, sheetKey);
  const used = new Set<number>();
  for (const part of subject.parts) {
    if (part.sheet !== sheetKey) continue;
    for (let i = part.first * 3; i < (part.first + part.count) * 3; i++) used.add(mesh.indices[i]);
  }
  const vertices = [...used];
  if (vertices.length < 6) return null;
  const { low, high } = boxOfMesh(mesh, vertices);
  const step = Math.max(...high.map((h, c) => h - low[c])) * 2e-4 || 1;
  const at = (v: number, mirrored: number) =>
    [0, 1, 2]
      .map((c) => {
        const p = mesh.positions[v * 3 + c];
        return Math.round((c === mirrored ? low[c] + high[c] - p : p) / step);
      })
      .join();
  const byPlace = new Map<string, number[]>();
  for (const v of vertices) {
    const place = at(v, -1);
    const known = byPlace.get(place);
    if (known) known.push(v);
    else byPlace.set(place, [v]);
  }
  let best: { axis: NonNullable<TemplateSheet['axis']>; share: number } | null = null;
  for (let plane = 0; plane < 3; plane++) {
    for (const kind of ['vertical', 'horizontal'] as const) {
      const [along, across] = kind === 'vertical' ? [0, 1] : [1, 0];
      const size = [sheet.width, sheet.height];
      const votes = new Map<number, Set<number>>();
      for (const v of vertices) {
        for (const w of byPlace.get(at(v, plane)) ?? []) {
          const uv = (vertex: number, k: number) => mesh.uvs[vertex * 2 + k] * size[k];
          if (Math.abs(uv(v, across) - uv(w, across)) > 1.5) continue;
          // Half texels: where the middle of the two lies.
          const middle = Math.round(uv(v, along) + uv(w, along));
          const known = votes.get(middle);
          if (known) known.add(v);
          else votes.set(middle, new Set([v]));
        }
      }
      for (const [middle, found] of votes) {
        const near = new Set([...found, ...(votes.get(middle - 1) ?? []), ...(votes.get(middle + 1) ?? [])]);
        const share = near.size / vertices.length;
        // A vertex that is its own partner proves nothing.
        const proper = [...near].some((v) => Math.abs(mesh.uvs[v * 2 + along] * size[along] * 2 - middle) > 4);
        if (share >= ENOUGH && proper && share > (best?.share ?? 0)) best = { axis: { kind, at: middle / 2 }, share };
      }
    }
  }
  return best?.axis ?? null;
}

/** Templates of the same thing, cut and packed otherwise, and of one that is a little other: made by rule, so that it is known what goes where. */
import type { MeshData, Template, TemplatePart } from '../livery/template.ts';
import { triangleOnSheet } from '../surface/triangles.ts';
import type { Vec } from '../surface/vectors.ts';

/** Between islands, texels. */
const APART = 48;

/** The mesh with its corners moved; normals stay, as far as they mean anything. */
export function reshaped(template: Template, to: (p: Vec) => Vec): Template {
  const positions: number[] = [];
  for (let i = 0; i < template.mesh.positions.length; i += 3)
    positions.push(...to(template.mesh.positions.slice(i, i + 3) as unknown as Vec));
  const { plane: _plane, ...rest } = template;
  return { ...rest, mesh: { ...template.mesh, positions } };
}

/** Longer along x between two places: what is before stays, what is behind goes on by as much. */
export const lengthened =
  (from: number, to: number, by: number) =>
  ([x, y, z]: Vec): Vec => [x <= from ? x : x >= to ? x + by : x + (by * (x - from)) / (to - from), y, z];

/**
 * The same model with every part laid elsewhere on sheets of one size: turned by quarters, every third one mirrored, in other order.
 * @param side of the square sheets, texels @param seed of the order
 */
export function repacked(template: Template, side: number, seed: number): Template {
  const { mesh } = template;
  const painted = template.parts.filter(({ sheet }) => sheet !== null);
  const sheetOf = new Map(template.sheets.map((sheet) => [sheet.key, sheet]));
  const pieces = painted.map((part, n) => {
    const { width, height } = sheetOf.get(part.sheet!)!;
    let [left, top, right, bottom] = [Infinity, Infinity, -Infinity, -Infinity];
    for (let t = part.first; t < part.first + part.count; t++) {
      const c = triangleOnSheet(mesh, t, width, height);
      for (let k = 0; k < 6; k += 2) {
        [left, right] = [Math.min(left, c[k]), Math.max(right, c[k])];
        [top, bottom] = [Math.min(top, c[k + 1]), Math.max(bottom, c[k + 1])];
      }
    }
    const quarter = (n * 7 + seed) % 4;
    return {
      part,
      left: Math.floor(left),
      top: Math.floor(top),
      right: Math.ceil(right),
      bottom: Math.ceil(bottom),
      quarter,
      mirrored: (n + seed) % 3 === 0,
    };
  });
  const order = pieces
    .map((_, n) => n)
    .sort((a, b) => ((a * 31 + seed * 17) % 97) - ((b * 31 + seed * 17) % 97) || a - b);
  /** Rows from the top, one beside the other. */
  const at = new Map<number, { sheet: number; x: number; y: number }>();
  let [sheet, x, y, row] = [0, APART, APART, 0];
  for (const n of order) {
    const { left, top, right, bottom, quarter } = pieces[n];
    const [w, h] = quarter % 2 ? [bottom - top, right - left] : [right - left, bottom - top];
    if (w + 2 * APART > side || h + 2 * APART > side)
      throw new Error(`${pieces[n].part.name} is larger than a sheet of ${side}.`);
    if (x + w + APART > side) [x, y, row] = [APART, y + row + APART, 0];
    if (y + h + APART > side) [sheet, x, y, row] = [sheet + 1, APART, APART, 0];
    at.set(n, { sheet, x, y });
    x += w + APART;
    row = Math.max(row, h);
  }
  // Corners of its own for every part: two that shared one lie apart now.
  const out: MeshData = { positions: [], normals: [], uvs: [], indices: [] };
  const parts: TemplatePart[] = [];
  for (const part of template.parts) {
    const n = painted.indexOf(part);
    const own = new Map<number, number>();
    const first = out.indices.length / 3;
    for (let t = part.first * 3; t < (part.first + part.count) * 3; t++) {
      const i = mesh.indices[t];
      if (!own.has(i)) {
        own.set(i, out.positions.length / 3);
        for (let c = 0; c < 3; c++) {
          out.positions.push(mesh.positions[i * 3 + c]);
          out.normals.push(mesh.normals[i * 3 + c]);
        }
        if (n < 0) out.uvs.push(0, 0);
        else {
          const { left, top, right, bottom, quarter, mirrored } = pieces[n];
          const { width, height } = sheetOf.get(part.sheet!)!;
          let [u, v] = [mesh.uvs[i * 2] * width - left, mesh.uvs[i * 2 + 1] * height - top];
          let [w, h] = [right - left, bottom - top];
          if (mirrored) u = w - u;
          for (let q = 0; q < quarter; q++) [u, v, w, h] = [h - v, u, h, w];
          const place = at.get(n)!;
          out.uvs.push((u + place.x) / side, (v + place.y) / side);
        }
      }
      out.indices.push(own.get(i)!);
    }
    parts.push({ ...part, sheet: n < 0 ? null : `sheet-${at.get(n)!.sheet + 1}`, first });
  }
  const [like] = template.sheets;
  const sheets = Array.from({ length: sheet + 1 }, (_, k) => ({
    ...{ key: `sheet-${k + 1}`, name: `Sheet ${k + 1}`, width: side, height: side, alpha: like.alpha, axis: null },
    ...(like.maps && { maps: like.maps }),
  }));
  const {
    begin: _begin,
    originals: _originals,
    beside: _beside,
    guides: _guides,
    outlines: _outlines,
    runs: _runs,
    ownSpec: _spec,
    ...rest
  } = template;
  return { ...rest, key: `${template.key}-sister`, name: `${template.name}, sister`, sheets, parts, mesh: out };
}

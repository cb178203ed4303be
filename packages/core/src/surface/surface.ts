import type { MeshData, Subject, TemplatePart, TemplateSheet } from '../livery/template.ts';
import { cellsOf, type Cell } from './cells.ts';

/** Which texel of a sheet belongs to what, from the mesh at the sheet's own size. Row by row from the top. */
export interface SheetSurface {
  readonly width: number;
  readonly height: number;
  /** 1 where a triangle touches the texel. */
  readonly inside: Uint8Array;
  /** Index of the nearest texel that is inside (itself when inside); -1 on a sheet without islands. */
  readonly nearest: Int32Array;
  /** 1 + the index in `parts` that owns the texel; gutters up to GUTTER texels wide belong to the nearest island, 0 beyond. */
  readonly owner: Uint16Array;
  readonly parts: readonly TemplatePart[];
  /** Of an atlas. */
  readonly cells: readonly Cell[];
}

/** How far a layer that keeps to a part runs past the part's edge, in texels, so that filtering finds paint there. */
export const GUTTER = 20;

type UvTriangle = readonly [ax: number, ay: number, bx: number, by: number, cx: number, cy: number];

/** Corners of a triangle in texels of its sheet. */
export function triangleOnSheet(mesh: MeshData, triangle: number, width: number, height: number): UvTriangle {
  const at = (k: number) => mesh.indices[triangle * 3 + k] * 2;
  const [a, b, c] = [at(0), at(1), at(2)];
  const { uvs } = mesh;
  return [
    uvs[a] * width,
    uvs[a + 1] * height,
    uvs[b] * width,
    uvs[b + 1] * height,
    uvs[c] * width,
    uvs[c + 1] * height,
  ];
}

/** Box of the triangles of some parts on their sheet, in texels; empty when there are none. */
export function boxOfTriangles(
  { mesh }: Pick<Subject, 'mesh'>,
  { width, height }: Pick<TemplateSheet, 'width' | 'height'>,
  parts: readonly TemplatePart[],
) {
  const box = { left: Infinity, top: Infinity, right: -Infinity, bottom: -Infinity };
  for (const part of parts)
    for (let t = part.first; t < part.first + part.count; t++) {
      const c = triangleOnSheet(mesh, t, width, height);
      for (let k = 0; k < 6; k += 2) {
        box.left = Math.min(box.left, c[k]);
        box.right = Math.max(box.right, c[k]);
        box.top = Math.min(box.top, c[k + 1]);
        box.bottom = Math.max(box.bottom, c[k + 1]);
      }
    }
  return box;
}

/** Box of what a layer that keeps to some places may paint: parts with their gutter, cells as they are; empty when none of them is there. */
export function boxOfPlaces(template: Subject, sheetKey: string, keys: readonly string[]) {
  const sheet = template.sheets.find((s) => s.key === sheetKey)!;
  const box = boxOfTriangles(
    template,
    sheet,
    template.parts.filter((part) => part.sheet === sheetKey && keys.includes(part.key)),
  );
  box.left -= GUTTER;
  box.top -= GUTTER;
  box.right += GUTTER + 1;
  box.bottom += GUTTER + 1;
  for (const cell of cellsOf(sheet)) {
    if (!keys.includes(cell.key)) continue;
    box.left = Math.min(box.left, cell.left);
    box.top = Math.min(box.top, cell.top);
    box.right = Math.max(box.right, cell.right);
    box.bottom = Math.max(box.bottom, cell.bottom);
  }
  return box;
}

export function sheetSurface(template: Subject, sheetKey: string): SheetSurface {
  const sheet = template.sheets.find((s) => s.key === sheetKey)!;
  const { width, height } = sheet;
  const parts = template.parts.filter((part) => part.sheet === sheetKey);
  const inside = new Uint8Array(width * height);
  const owner = new Uint16Array(width * height);
  const centred = new Uint8Array(width * height);
  parts.forEach((part, index) => {
    for (let t = part.first; t < part.first + part.count; t++) {
      const [ax, ay, bx, by, cx, cy] = triangleOnSheet(template.mesh, t, width, height);
      eachTexel(ax, ay, bx, by, cx, cy, width, height, (i, centre) => {
        inside[i] = 1;
        if (owner[i] === 0 || (centre && !centred[i])) owner[i] = index + 1;
        if (centre) centred[i] = 1;
      });
    }
  });
  const near = nearestInside(inside, width, height, GUTTER);
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i++) {
      const from = near[i];
      // Most texels lie rows away: that is told without a division.
      if (inside[i] || from < 0 || from < i - (GUTTER + 1) * width || from > i + (GUTTER + 1) * width) continue;
      const row = (from / width) | 0;
      const [dx, dy] = [x - (from - row * width), y - row];
      if (dx * dx + dy * dy <= GUTTER * GUTTER) owner[i] = owner[from];
    }
  }
  let nearest: Int32Array | null = null;
  return {
    width,
    height,
    inside,
    owner,
    parts,
    cells: cellsOf(sheet),
    /** Delivery wants it, drawing does not. */
    get nearest() {
      return (nearest ??= nearestInside(inside, width, height));
    },
  };
}

/** Visits each texel whose square a triangle touches; `centre` says whether the triangle covers the texel's centre. */
function eachTexel(
  ax: number,
  ay: number,
  bx: number,
  by: number,
  cx: number,
  cy: number,
  width: number,
  height: number,
  visit: (index: number, centre: boolean) => void,
): void {
  const area = (bx - ax) * (cy - ay) - (by - ay) * (cx - ax);
  if (area === 0 || !Number.isFinite(area)) return;
  const s = area > 0 ? 1 : -1;
  const x0 = Math.max(0, Math.floor(Math.min(ax, bx, cx)));
  const x1 = Math.min(width - 1, Math.floor(Math.max(ax, bx, cx)));
  const y0 = Math.max(0, Math.floor(Math.min(ay, by, cy)));
  const y1 = Math.min(height - 1, Math.floor(Math.max(ay, by, cy)));
  const edges = [
    [ax, ay, bx, by],
    [bx, by, cx, cy],
    [cx, cy, ax, ay],
  ].map(([px, py, qx, qy]) => {
    const ex = -(qy - py) * s;
    const ey = (qx - px) * s;
    return { ex, ey, e0: -(ex * px + ey * py), reach: (Math.abs(ex) + Math.abs(ey)) / 2 };
  });
  const [e, f, g] = edges;
  for (let y = y0; y <= y1; y++) {
    for (let x = x0; x <= x1; x++) {
      const px = x + 0.5;
      const py = y + 0.5;
      const d0 = e.ex * px + e.ey * py + e.e0;
      if (d0 <= -e.reach) continue;
      const d1 = f.ex * px + f.ey * py + f.e0;
      if (d1 <= -f.reach) continue;
      const d2 = g.ex * px + g.ey * py + g.e0;
      if (d2 <= -g.reach) continue;
      visit(y * width + x, d0 >= 0 && d1 >= 0 && d2 >= 0);
    }
  }
}

/**
 * Exact nearest inside texel by Euclidean distance of centres (two passes by column, then the lower envelope of parabolas by
 * row: Meijster, Roerdink and Hesselink, "A general algorithm for computing distance transforms in linear time", 2000).
 * @param within only texels that are not inside, and have one so near, need a right answer: most of a sheet is then passed over
 */
export function nearestInside(
  inside: Uint8Array,
  width: number,
  height: number,
  within: number = Infinity,
): Int32Array {
  const FAR = Math.min(width + height, within);
  const near = within < Infinity;
  const NONE = width + height;
  const up = new Int32Array(width * height);
  // Columns, but row by row: memory is read as it lies.
  const last = new Int32Array(width).fill(-NONE * 2);
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i++) {
      if (inside[i]) last[x] = y;
      up[i] = last[x];
    }
  }
  last.fill(NONE * 3);
  for (let y = height - 1; y >= 0; y--) {
    for (let x = 0, i = y * width; x < width; x++, i++) {
      if (inside[i]) last[x] = y;
      if (last[x] - y < y - up[i]) up[i] = last[x];
    }
  }
  const out = new Int32Array(width * height).fill(-1);
  const seat = new Int32Array(width);
  const start = new Int32Array(width);
  for (let y = 0; y < height; y++) {
    const row = y * width;
    const drop = (x: number) => {
      const d = up[row + x] - y;
      return d > FAR || d < -FAR ? -1 : d * d;
    };
    let q = -1;
    for (let u = 0; u < width; u++) {
      const gu = drop(u);
      if (gu < 0) continue;
      // Within a run of texels that are inside, only its ends can be nearest to one that is not.
      if (gu === 0 && near && u > 0 && u < width - 1 && inside[row + u - 1] && inside[row + u + 1]) continue;
      for (;;) {
        if (q < 0) {
          q = 0;
          seat[0] = u;
          start[0] = 0;
          break;
        }
        const i = seat[q];
        const gi = drop(i);
        const t = start[q];
        if ((t - i) * (t - i) + gi > (t - u) * (t - u) + gu) {
          q--;
          continue;
        }
        const w = 1 + Math.floor((u * u - i * i + gu - gi) / (2 * (u - i)));
        if (w < width) {
          q++;
          seat[q] = u;
          start[q] = w;
        }
        break;
      }
    }
    if (q < 0) continue;
    for (let u = width - 1; u >= 0; u--) {
      out[row + u] = up[row + seat[q]] * width + seat[q];
      if (u === start[q]) q--;
    }
  }
  return out;
}

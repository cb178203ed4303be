import type { Subject } from '../livery/template.ts';
import { handOf } from './islands.ts';
import { triangleOnSheet } from './triangles.ts';

/** Where a mark is seen, and how it stands there. */
export interface MarkPlace {
  /** Texels. */
  x: number;
  y: number;
  /** Degrees clockwise that set it upright on the model, -180..180. */
  turn: number;
  /** How far there is room around it, texels. */
  radius: number;
  /** The art is seen backwards there. */
  mirrored: boolean;
}

/** Cells along the longer side of the sheet in which room is looked for. */
const CELLS = 128;
/** Of a normal, how much of it lies level: more than this, and people look at what is there. */
const SIDEWAYS = 0.55;
/** Turns that are nearly square to the sheet are made so, degrees. */
const NEARLY = 4;

/**
 * Where a first mark of a sheet is seen: the widest place on what looks sideways, upright there.
 * @returns null when the sheet has nothing of a model on it
 */
export function markPlace(subject: Subject, sheetKey: string): MarkPlace | null {
  const sheet = subject.sheets.find(({ key }) => key === sheetKey);
  if (!sheet) return null;
  const cell = Math.max(sheet.width, sheet.height) / CELLS;
  const [columns, rows] = [Math.ceil(sheet.width / cell), Math.ceil(sheet.height / cell)];
  const { mesh } = subject;
  /** The triangle in the middle of each cell, or -1; the first one has it. */
  const owner = new Int32Array(columns * rows).fill(-1);
  for (const part of subject.parts) {
    if (part.sheet !== sheetKey) continue;
    for (let t = part.first; t < part.first + part.count; t++) {
      const [ax, ay, bx, by, cx, cy] = triangleOnSheet(mesh, t, sheet.width, sheet.height);
      const area = (bx - ax) * (cy - ay) - (by - ay) * (cx - ax);
      if (area === 0) continue;
      const last = (value: number, most: number) => Math.min(most - 1, Math.floor(value / cell));
      for (let j = Math.max(0, Math.floor(Math.min(ay, by, cy) / cell)); j <= last(Math.max(ay, by, cy), rows); j++)
        for (
          let i = Math.max(0, Math.floor(Math.min(ax, bx, cx) / cell));
          i <= last(Math.max(ax, bx, cx), columns);
          i++
        ) {
          if (owner[j * columns + i] >= 0) continue;
          const [x, y] = [(i + 0.5) * cell, (j + 0.5) * cell];
          const p = ((bx - x) * (cy - y) - (by - y) * (cx - x)) / area;
          const q = ((cx - x) * (ay - y) - (cy - y) * (ax - x)) / area;
          if (p >= 0 && q >= 0 && p + q <= 1) owner[j * columns + i] = t;
        }
    }
  }
  const looksSideways = (t: number) => {
    let level = 0;
    for (let k = 0; k < 3; k++) {
      const n = mesh.indices[t * 3 + k] * 3;
      level += Math.hypot(mesh.normals[n], mesh.normals[n + 2]) / 3;
    }
    return level >= SIDEWAYS;
  };
  const aside = (at: number) => owner[at] >= 0 && looksSideways(owner[at]);
  const widest = widestOf(columns, rows, aside) ?? widestOf(columns, rows, (at) => owner[at] >= 0);
  if (!widest) return null;
  const [x, y] = [(widest.column + 0.5) * cell, (widest.row + 0.5) * cell];
  const radius = widest.room * cell;
  return {
    x: Math.round(x),
    y: Math.round(y),
    radius,
    turn: turnAt(subject, sheet, owner[widest.row * columns + widest.column], x, y, radius, owner),
    mirrored: handOf(mesh, owner[widest.row * columns + widest.column]) < 0,
  };
}

/** The cell with the most room around it, in cells; the border of the sheet is no room. Null: none is free. */
function widestOf(columns: number, rows: number, free: (at: number) => boolean) {
  const room = new Float64Array(columns * rows);
  const near = (i: number, j: number) => (i < 0 || j < 0 || i >= columns || j >= rows ? 0 : room[j * columns + i]);
  const DIAGONAL = Math.SQRT2;
  for (let j = 0; j < rows; j++)
    for (let i = 0; i < columns; i++)
      if (free(j * columns + i))
        room[j * columns + i] = Math.min(
          near(i - 1, j) + 1,
          near(i, j - 1) + 1,
          near(i - 1, j - 1) + DIAGONAL,
          near(i + 1, j - 1) + DIAGONAL,
        );
  let best: { column: number; row: number; room: number } | null = null;
  for (let j = rows - 1; j >= 0; j--)
    for (let i = columns - 1; i >= 0; i--) {
      const at = j * columns + i;
      room[at] = Math.min(
        room[at],
        near(i + 1, j) + 1,
        near(i, j + 1) + 1,
        near(i + 1, j + 1) + DIAGONAL,
        near(i - 1, j + 1) + DIAGONAL,
      );
      if (room[at] > 0 && room[at] >= (best?.room ?? 0)) best = { column: i, row: j, room: room[at] };
    }
  return best;
}

/** Upright is where the model rises, over the triangles near a place; on what lies flat, as the sheet has it. */
function turnAt(
  { mesh }: Subject,
  { width, height }: { width: number; height: number },
  middle: number,
  x: number,
  y: number,
  radius: number,
  owner: Int32Array,
): number {
  let [gx, gy] = [0, 0];
  for (const t of new Set([middle, ...owner])) {
    if (t < 0) continue;
    const c = triangleOnSheet(mesh, t, width, height);
    const far = Math.hypot((c[0] + c[2] + c[4]) / 3 - x, (c[1] + c[3] + c[5]) / 3 - y);
    if (t !== middle && far > radius) continue;
    const [ax, ay, bx, by] = [c[2] - c[0], c[3] - c[1], c[4] - c[0], c[5] - c[1]];
    const area = ax * by - ay * bx;
    if (Math.abs(area) < 1e-9) continue;
    const up = (k: number) => mesh.positions[mesh.indices[t * 3 + k] * 3 + 1];
    const [da, db] = [up(1) - up(0), up(2) - up(0)];
    gx += ((da * by - db * ay) / area) * Math.abs(area);
    gy += ((db * ax - da * bx) / area) * Math.abs(area);
  }
  if (Math.hypot(gx, gy) < 1e-9) return 0;
  const turn = Math.round((Math.atan2(gy, gx) * 180) / Math.PI + 90);
  const square = Math.round(turn / 90) * 90;
  const settled = Math.abs(turn - square) <= NEARLY ? square : turn;
  return ((((settled + 180) % 360) + 360) % 360) - 180;
}

import type { Subject } from '../livery/template.ts';
import type { MarkPlace } from '../livery/markPlace.ts';
import { handOf } from './islands.ts';
import { eachSpan } from './layout.ts';
import { roomiest } from './roomiest.ts';
import { triangleOnSheet } from './triangles.ts';

/** Cells along the longer side of the sheet in which room is looked for. */
const CELLS = 128;
/** Cells that all triangles of a sheet may cover together. */
const MOST_CELLS = 1_000_000;
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
  const { mesh } = subject;
  const parts = subject.parts.filter((part) => part.sheet === sheetKey);
  // Triangles that lie on one another a hundred times over are looked at more coarsely: the work stays.
  let covered = 0;
  for (const { first, count } of parts)
    for (let t = first; t < first + count; t++) covered += areaOf(triangleOnSheet(mesh, t, sheet.width, sheet.height));
  const scale = Math.min(
    1,
    CELLS / Math.max(sheet.width, sheet.height),
    covered > 0 ? Math.sqrt(MOST_CELLS / covered) : 1,
  );
  const [columns, rows] = [sheet.width, sheet.height].map((side) => Math.max(1, Math.round(side * scale)));
  /** The triangle in the middle of each cell, or -1; the first one has it. */
  const owner = new Int32Array(columns * rows).fill(-1);
  for (const { first, count } of parts)
    for (let t = first; t < first + count; t++)
      eachSpan(triangleOnSheet(mesh, t, columns, rows), columns, rows, (from, to) => {
        for (let i = from; i < to; i++) if (owner[i] < 0) owner[i] = t;
      });
  const looksSideways = (t: number) => {
    let level = 0;
    for (let k = 0; k < 3; k++) {
      const n = mesh.indices[t * 3 + k] * 3;
      level += Math.hypot(mesh.normals[n], mesh.normals[n + 2]) / 3;
    }
    return level >= SIDEWAYS;
  };
  const widest = (free: (t: number) => boolean) =>
    roomiest(
      owner.map((t) => (t >= 0 && free(t) ? 1 : 0)),
      columns,
      rows,
    ).get(1);
  const found = widest(looksSideways) ?? widest(() => true);
  if (!found) return null;
  const [x, y] = [((found.x + 0.5) * sheet.width) / columns, ((found.y + 0.5) * sheet.height) / rows];
  const radius = Math.max(0.5, found.room) / scale;
  const middle = owner[found.y * columns + found.x];
  return {
    x: Math.round(x),
    y: Math.round(y),
    radius,
    turn: turnAt(subject, sheet, middle, x, y, radius, owner),
    mirrored: handOf(mesh, middle) < 0,
  };
}

/** Of a triangle on its sheet, square texels; of one without an end, none. */
const areaOf = ([ax, ay, bx, by, cx, cy]: ReturnType<typeof triangleOnSheet>): number => {
  const area = Math.abs((bx - ax) * (cy - ay) - (by - ay) * (cx - ax)) / 2;
  return Number.isFinite(area) ? area : 0;
};

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

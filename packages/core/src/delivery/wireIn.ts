/** Whether a picture shows the wire of a subject's layout: what a template shows to paint by, and no game wants to see. */
import { sheetNamed, type Subject } from '../livery/template.ts';
import { uvLines } from '../surface/guides.ts';

/** Side of the pieces that are looked at, how many of them at most, and what is seen around each. */
const [PIECE, MOST_PIECES, MARGIN] = [192, 24, 32];
/** Points along the lines that are looked at, and how few say nothing. */
const [POINTS, FEWEST] = [1600, 60];
/** How far beside its place a line may have been drawn, and where its ground is looked for, texels. */
const [BESIDE, GROUND] = [2, 6];
/** Differences of a line from its ground, and of the ground on its two sides, of 255. */
const [LINE, EVEN] = [26, 22];
/** Share of a layout's lines that a picture of it shows, and how much more that is than anywhere else. */
const [SHOWS, MORE] = [0.5, 2.2];
/** Places off the lines that tell how often art looks like lines anyhow. */
const ELSEWHERE: readonly (readonly [number, number])[] = [
  [13, 9],
  [-11, 14],
  [17, -15],
  [-9, -19],
];

/** A square of a picture; it can reach past it. */
export interface Square {
  x: number;
  y: number;
  width: number;
  height: number;
}
/** Texels of a square, 16-bit premultiplied RGBA; null: there is nothing. */
export type Look = (square: Square) => Uint16Array | null;
/** Points along the lines of a layout, in the pieces of the sheet that hold most of them; one set for each kind of line. */
export type Wire = readonly ReadonlyMap<string, Point[]>[];

/** The lines of a sheet's layout that can be looked for: every edge, and where islands end. */
export function wireOf(subject: Subject, sheet: string): Wire {
  const { wire, seams } = uvLines(subject, sheet);
  const size = sheetNamed(subject, sheet);
  return [wire, seams].filter((lines) => lines.length >= 8 * 4).map((lines) => pointsOn(lines, size));
}

/** The share of a layout's lines that a picture shows, 0..1; null: too few to be more than chance. */
export function wireShown(wire: Wire, look: Look): number | null {
  const shown = Math.max(0, ...wire.map((points) => lineShare(points, look)));
  return shown < SHOWS ? null : shown;
}

/** A point on a line, and the line's direction turned by a quarter. */
interface Point {
  x: number;
  y: number;
  nx: number;
  ny: number;
}

/** Points spread along lines, in the pieces of the sheet that hold most of them; by piece. */
function pointsOn(lines: Float64Array, { width, height }: { width: number; height: number }): Map<string, Point[]> {
  let total = 0;
  const long: { at: number; length: number }[] = [];
  for (let at = 0; at < lines.length; at += 4) {
    const length = Math.hypot(lines[at + 2] - lines[at], lines[at + 3] - lines[at + 1]);
    // Of short lines nothing can be told from their ends.
    if (length < 10) continue;
    long.push({ at, length });
    total += length;
  }
  const pieces = new Map<string, Point[]>();
  const step = total / (POINTS * 4) || 1;
  for (const { at, length } of long) {
    const [x0, y0, dx, dy] = [
      lines[at],
      lines[at + 1],
      (lines[at + 2] - lines[at]) / length,
      (lines[at + 3] - lines[at + 1]) / length,
    ];
    for (let s = 4; s < length - 4; s += Math.max(2, step)) {
      const [x, y] = [x0 + dx * s, y0 + dy * s];
      if (x < 8 || y < 8 || x >= width - 8 || y >= height - 8) continue;
      const key = `${Math.floor(x / PIECE)} ${Math.floor(y / PIECE)}`;
      const held = pieces.get(key);
      const point = { x, y, nx: -dy, ny: dx };
      if (held) held.push(point);
      else pieces.set(key, [point]);
    }
  }
  return new Map([...pieces].sort((a, b) => b[1].length - a[1].length).slice(0, MOST_PIECES));
}

/**
 * Share of the points at which a picture shows a line: something that differs from what is on both sides of it, where those are alike; 0 when
 * it looks like that just as often elsewhere, as plaids and fences do.
 */
function lineShare(pieces: ReadonlyMap<string, Point[]>, look: Look): number {
  let [on, all] = [0, 0];
  const off = ELSEWHERE.map(() => 0);
  for (const [key, points] of pieces) {
    const [column, row] = key.split(' ').map(Number);
    const side = PIECE + 2 * MARGIN;
    const square = { x: column * PIECE - MARGIN, y: row * PIECE - MARGIN, width: side, height: side };
    const seen = look(square);
    all += points.length;
    if (!seen) continue;
    const shows = (x: number, y: number, { nx, ny }: Point) => isLine(seen, side, x - square.x, y - square.y, nx, ny);
    for (const point of points) {
      if (shows(point.x, point.y, point)) on++;
      ELSEWHERE.forEach(([dx, dy], i) => {
        if (shows(point.x + dx, point.y + dy, point)) off[i]++;
      });
    }
  }
  if (all < FEWEST) return 0;
  const elsewhere = off.reduce((sum, n) => sum + n, 0) / off.length;
  return on > elsewhere * MORE ? on / all : 0;
}

/** Whether a line runs through a point, across the direction that is given. @param picture 16-bit premultiplied RGBA of a square */
function isLine(picture: Uint16Array, side: number, x: number, y: number, nx: number, ny: number): boolean {
  const at = (offset: number) => {
    const column = Math.max(0, Math.min(side - 1, Math.floor(x + nx * offset)));
    const line = Math.max(0, Math.min(side - 1, Math.floor(y + ny * offset)));
    return (line * side + column) * 4;
  };
  const apart = (a: number, b: number) => {
    let most = 0;
    for (let c = 0; c < 4; c++) most = Math.max(most, Math.abs(picture[a + c] - picture[b + c]));
    return most / 257;
  };
  const [left, right] = [at(-GROUND), at(GROUND)];
  if (apart(left, right) > EVEN) return false;
  for (let offset = -BESIDE; offset <= BESIDE; offset += 0.5) {
    const own = at(offset);
    if (apart(own, left) >= LINE && apart(own, right) >= LINE) return true;
  }
  return false;
}

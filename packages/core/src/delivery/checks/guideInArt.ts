import { drawAlone, sceneOf } from '../../compose/renderTile.ts';
import { isDrawn } from '../../layers/index.ts';
import type { Layer } from '../../livery/layer.ts';
import { layersOf } from '../../livery/livery.ts';
import { originalKey } from '../../livery/template.ts';
import { isPristine } from '../overOriginal.ts';
import { uvLines } from '../../surface/guides.ts';
import type { Check, CheckInput, Finding } from '../finding.ts';

/** Side of the pieces that are looked at, and how many of them at most. */
const [PIECE, MOST_PIECES] = [192, 24];
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

/** Kinds of layers that cannot hold a picture of anything. */
const PLAIN = new Set(['solid', 'fade', 'stripe', 'lettering', 'halftone']);

export const guideInArt: Check = {
  key: 'guide-in-art',
  subject: 'guides left in the art',
  why: 'A template’s wire that was taken for art ends up on the model in the game.',
  needsModel: true,
  run(input) {
    const { livery, template } = input;
    return template.sheets.flatMap((sheet) => {
      const layers = layersOf(livery, sheet.key);
      const pixels = template.originals?.[originalKey(sheet.key)]?.pixels;
      const asked = layers.filter(
        (layer) =>
          isDrawn(layer) &&
          !layer.hidden &&
          !PLAIN.has(layer.kind) &&
          !(pixels && isPristine(layer, { pixels, size: sheet })),
      );
      if (asked.length === 0) return [];
      const { wire, seams } = uvLines(template, sheet.key);
      const sets = [wire, seams].filter((lines) => lines.length >= 8 * 4).map((lines) => pointsOn(lines, sheet));
      if (sets.length === 0) return [];
      return asked.flatMap((layer): Finding[] => {
        const shown = Math.max(...sets.map((points) => lineShare(input, sheet.key, layer, points)));
        if (shown < SHOWS) return [];
        const delivered = input.plan.files.some(
          (file) => file.kind === 'sheet' && file.master.key === sheet.key && !file.leftOut,
        );
        return [
          {
            check: this.key,
            level: delivered ? 'stop' : 'advice',
            title: `“${layer.name}” looks like the wire`,
            detail: `It shows ${Math.round(100 * shown)} % of the lines of ${sheet.name}’s layout, and would be delivered.`,
            show: { sheet: sheet.key, layer: layer.id },
            fix: { label: 'Hide it', edit: { do: 'set-layer', layer: layer.id, set: { hidden: true } } },
            overrule: `guide ${layer.name}`,
          },
        ];
      });
    });
  },
};

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
 * Share of the points at which a layer shows a line: something that differs from what is on both sides of it, where those are alike; 0 when
 * it looks like that just as often elsewhere, as plaids and fences do.
 */
function lineShare(input: CheckInput, sheet: string, layer: Layer, pieces: ReadonlyMap<string, Point[]>): number {
  const scene = sceneOf(input.livery, sheet, 'colour', input.sources);
  let [on, all] = [0, 0];
  const off = ELSEWHERE.map(() => 0);
  for (const [key, points] of pieces) {
    const [column, row] = key.split(' ').map(Number);
    const margin = 32;
    const region = {
      x: column * PIECE - margin,
      y: row * PIECE - margin,
      width: PIECE + 2 * margin,
      height: PIECE + 2 * margin,
      step: 1,
    };
    const drawn = drawAlone(scene, layer.id, region, 'full');
    all += points.length;
    if (!drawn) continue;
    const shows = (x: number, y: number, { nx, ny }: Point) =>
      isLine(drawn, region.width, x - region.x, y - region.y, nx, ny);
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

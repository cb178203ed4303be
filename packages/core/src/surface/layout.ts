/** What a UV layout means for a painter: what is covered twice, read backwards, stretched, wasted. */
import { heldIn } from '../held.ts';
import { triangleOnSheet } from './triangles.ts';
import { sheetNamed, type Subject } from '../livery/template.ts';
import type { Island } from './islands.ts';

export type LayoutKind = 'overlap' | 'mirrored' | 'outside' | 'coarse' | 'smeared' | 'bare';

/** One thing about a layout that a painter should know, with the islands to show. */
export interface LayoutNote {
  readonly kind: LayoutKind;
  readonly sheet: string;
  /** Numbers of the islands; none when it is about the sheet or about triangles without area. */
  readonly islands: readonly number[];
  /** Keys of the parts. */
  readonly parts: readonly string[];
  /** What is so. */
  readonly text: string;
  /** What it does to the work. */
  readonly means: string;
}

/** Which island covers which texel of a sheet: numbers of islands, 0 where there is none; where several lie, that of the first triangle, part by part (see raster.ts). */
export interface SheetCover {
  readonly width: number;
  readonly height: number;
  readonly island: Int32Array;
  /** Texels that two islands share (or one twice: a pair of equal numbers), as [a, b, texels], a <= b. */
  readonly shared: readonly (readonly [number, number, number])[];
  /** Texels covered by nothing, as a share of the sheet, 0..1. */
  readonly unused: number;
}

/** Parts more than this many times coarser than the sheet's usual density are named. */
const COARSE = 2;
/** Overlaps below this many texels are rounding along shared edges. */
const OVERLAP_TEXELS = 4;
/** A triangle that repeats the sheet more often than this is not followed texel by texel. */
const MOST_REPEATS = 8;

/**
 * Rasterises the islands of a sheet by the centres of texels, each texel of a shared edge to one triangle only (the top-left rule of
 * the Direct3D 11.3 functional specification, 3.4.2.1). UVs outside the sheet wrap round, as games repeat textures.
 * @param longest longest side of the raster in texels; the sheet's own size when that is smaller
 */
export function sheetCover(subject: Subject, islands: readonly Island[], sheetKey: string, longest = 2048): SheetCover {
  const sheet = sheetNamed(subject, sheetKey);
  const mine = islands.filter((island) => island.sheet === sheetKey);
  // Islands that lie on one another a hundred times over are followed at a coarser raster: the work stays by the area once.
  const covered = mine.reduce((sum, island) => sum + island.texels, 0);
  const whole = Math.min(1, longest / Math.max(sheet.width, sheet.height));
  const scale = Math.min(whole, Math.sqrt(MOST_TEXELS / Math.max(1, covered)));
  const width = Math.max(1, Math.round(sheet.width * scale));
  const height = Math.max(1, Math.round(sheet.height * scale));
  const island = new Int32Array(width * height);
  const shared = new Map<number, [number, number, number]>();
  const share = (one: number, other: number, texels: number) => {
    const [a, b] = one < other ? [one, other] : [other, one];
    const known = shared.get(a * MOST_ISLANDS + b);
    if (known) known[2] += texels;
    else shared.set(a * MOST_ISLANDS + b, [a, b, texels]);
  };
  const numbers = new Map(mine.flatMap(({ number, triangles }) => triangles.map((t) => [t, number])));
  for (const { first, count } of subject.parts.filter((part) => part.sheet === sheetKey))
    for (let t = first; t < first + count; t++) {
      const number = numbers.get(t);
      if (number === undefined) continue;
      eachSpan(triangleOnSheet(subject.mesh, t, width, height), width, height, (from, to) => {
        // Neighbours mostly share with the same one.
        let other = 0;
        let run = 0;
        for (let i = from; i < to; i++) {
          const held = island[i];
          if (held === 0) island[i] = number;
          else if (held === other) run++;
          else {
            if (run > 0) share(number, other, run);
            [other, run] = [held, 1];
          }
        }
        if (run > 0) share(number, other, run);
      });
    }
  let unused = 0;
  for (const number of island) if (number === 0) unused++;
  return { width, height, island, shared: [...shared.values()], unused: unused / island.length };
}

/** Texels that the islands of a sheet may cover together, those that lie on one another counted each time. */
const MOST_TEXELS = 6_000_000;
const MOST_ISLANDS = 2 ** 24;

/** Visits the texels, wrapped into the sheet, whose centres a triangle covers: row by row, as runs of indices. */
export function eachSpan(
  [ax, ay, bx, by, cx, cy]: readonly [number, number, number, number, number, number],
  width: number,
  height: number,
  visit: (from: number, to: number) => void,
): void {
  const area = (bx - ax) * (cy - ay) - (by - ay) * (cx - ax);
  if (area === 0 || !Number.isFinite(area)) return;
  const left = Math.min(ax, bx, cx);
  const right = Math.max(ax, bx, cx);
  const top = Math.min(ay, by, cy);
  const bottom = Math.max(ay, by, cy);
  if (right - left > width * MOST_REPEATS || bottom - top > height * MOST_REPEATS) return;
  // Corners in one turning sense, so that a side has the triangle on its right in texel space (y down).
  const corners = area > 0 ? [ax, ay, bx, by, cx, cy] : [ax, ay, cx, cy, bx, by];
  const sides = [0, 2, 4].map((k) => {
    const n = (k + 2) % 6;
    const dx = corners[n] - corners[k];
    const dy = corners[n + 1] - corners[k + 1];
    // A top side runs to the right, a left side runs upwards.
    return { x: corners[k], y: corners[k + 1], dx, dy, owns: dy < 0 || (dy === 0 && dx > 0) };
  });
  type Side = (typeof sides)[number];
  const is = ({ x: sx, y: sy, dx, dy, owns }: Side, x: number, y: number) => {
    const d = dx * (y + 0.5 - sy) - dy * (x + 0.5 - sx);
    return d > 0 || (d === 0 && owns);
  };
  const [leftmost, rightmost] = [Math.ceil(left - 0.5), Math.floor(right - 0.5)];
  for (let y = Math.ceil(top - 0.5); y + 0.5 <= bottom; y++) {
    let [from, to] = [leftmost, rightmost];
    for (const side of sides) {
      if (side.dy === 0) {
        if (!is(side, from, y)) to = from - 1;
        continue;
      }
      // Where the side crosses this row, and from there to the first centre that is inside.
      let at = Math.round(side.x + (side.dx * (y + 0.5 - side.y)) / side.dy - 0.5);
      at = Math.min(rightmost + 1, Math.max(leftmost - 1, at));
      if (side.dy < 0) {
        while (at > leftmost && is(side, at - 1, y)) at--;
        while (at <= rightmost && !is(side, at, y)) at++;
        if (at > from) from = at;
      } else {
        while (at < rightmost && is(side, at + 1, y)) at++;
        while (at >= leftmost && !is(side, at, y)) at--;
        if (at < to) to = at;
      }
    }
    if (from > to) continue;
    const row = (((y % height) + height) % height) * width;
    for (let x = from; x <= to;) {
      const start = ((x % width) + width) % width;
      const count = Math.min(to - x + 1, width - start);
      visit(row + start, row + start + count);
      x += count;
    }
  }
}

/** Texels per unit of the model (per metre, when it has scale) of some islands together; null when they have no area. */
export function densityOf(islands: readonly Pick<Island, 'texels' | 'surface'>[]): number | null {
  const texels = islands.reduce((sum, island) => sum + island.texels, 0);
  const surface = islands.reduce((sum, island) => sum + island.surface, 0);
  return surface > 0 && texels > 0 ? Math.sqrt(texels / surface) : null;
}

/** Everything worth knowing about the layouts of all sheets, what harms most first. */
export function examineLayout(subject: Subject, islands: readonly Island[]): LayoutNote[] {
  const notes = subject.sheets.flatMap((sheet) => examineSheet(subject, islands, sheet.key));
  const order: LayoutKind[] = ['overlap', 'mirrored', 'outside', 'smeared', 'coarse', 'bare'];
  return notes.sort((a, b) => order.indexOf(a.kind) - order.indexOf(b.kind));
}

function examineSheet(subject: Subject, islands: readonly Island[], sheetKey: string): LayoutNote[] {
  const sheet = sheetNamed(subject, sheetKey);
  const mine = islands.filter((island) => island.sheet === sheetKey);
  const cover = sheetCover(subject, islands, sheetKey);
  const byNumber = new Map(mine.map((island) => [island.number, island]));
  const nameOf = (key: string) => subject.parts.find((part) => part.key === key)?.name ?? key;
  const names = (list: readonly Island[]) => namesOf(list.flatMap((island) => island.parts.map(nameOf)));
  const partsOf = (list: readonly Island[]) => [...new Set(list.flatMap((island) => island.parts))];
  const numbers = (list: readonly Island[]) => list.map((island) => island.number);
  const note = (
    kind: LayoutKind,
    list: readonly Island[],
    text: string,
    means: string,
    parts = partsOf(list),
  ): LayoutNote => ({ kind, sheet: sheetKey, islands: numbers(list), parts, text, means });
  const notes: LayoutNote[] = [];

  const texels = new Uint32Array(Math.max(0, ...mine.map(({ number }) => number)) + 1);
  for (const number of cover.island) texels[number]++;
  const paired = cover.shared.filter(([, , both]) => both >= OVERLAP_TEXELS);
  for (const [a, b] of paired) {
    if (a !== b) continue;
    const island = heldIn(byNumber, a);
    notes.push(
      note(
        'overlap',
        [island],
        `Island ${a} (${names([island])}) lies over itself.`,
        'What is painted there shows in two places.',
      ),
    );
  }
  for (const pile of pilesOf(paired)) {
    const list = pile.map((number) => heldIn(byNumber, number));
    const covered = paired.filter(([a, b]) => a !== b && pile.includes(a));
    const share = Math.min(1, covered[0][2] / Math.max(1, texels[covered[0][0]]));
    const partly =
      pile.length > 2 || share > 0.98 ? '' : ` over ${Math.max(1, Math.round(share * 100))} % of ${pile[0]}`;
    const backwards = list.some((island) => island.mirrored !== list[0].mirrored);
    notes.push(
      note(
        'overlap',
        list,
        `Islands ${namesOf(pile.map(String))} (${names(list)}) lie on one another${partly}.`,
        `What is painted on one shows on the other${pile.length > 2 ? 's' : ''}${backwards ? ', on some of them with lettering backwards' : ''}.`,
      ),
    );
  }

  const mirrored = mine.filter((island) => island.mirrored);
  if (mirrored.length > 0) {
    notes.push(
      note(
        'mirrored',
        mirrored,
        mirrored.length === mine.length
          ? `Every island of ${sheet.name} is laid out mirrored.`
          : `${counted(mirrored.length, 'island is', 'islands are')} laid out mirrored: ${names(mirrored)}.`,
        `Lettering on ${names(mirrored)} reads backwards on the model unless it is mirrored on the sheet.`,
      ),
    );
  }

  const outside = mine.filter(
    ({ box }) =>
      box.left < -0.51 || box.top < -0.51 || box.right > sheet.width + 0.51 || box.bottom > sheet.height + 0.51,
  );
  if (outside.length > 0) {
    notes.push(
      note(
        'outside',
        outside,
        `${counted(outside.length, 'island reaches', 'islands reach')} past the edge of the sheet: ${names(outside)}.`,
        'Where the game repeats the sheet, paint there comes from the opposite side; where it does not, the last row of texels is drawn out.',
      ),
    );
  }

  const placed = new Set(mine.flatMap((island) => island.triangles));
  const smeared = subject.parts
    .filter((part) => part.sheet === sheetKey)
    .map((part) => ({
      part,
      lost: Array.from({ length: part.count }, (_, k) => part.first + k).filter((t) => !placed.has(t)),
    }))
    .filter(({ lost }) => lost.length > 0);
  if (smeared.length > 0) {
    const lost = smeared.reduce((sum, { lost }) => sum + lost.length, 0);
    notes.push(
      note(
        'smeared',
        [],
        `${counted(lost, 'triangle has', 'triangles have')} no area on the sheet: ${namesOf(smeared.map(({ part }) => part.name))}.`,
        'They show one line or one texel of the sheet, drawn out.',
        smeared.map(({ part }) => part.key),
      ),
    );
  }

  const usual = densityOf(mine);
  if (usual !== null) {
    for (const part of subject.parts.filter((p) => p.sheet === sheetKey)) {
      const own = mine.filter((island) => island.parts.length === 1 && island.parts[0] === part.key);
      const density = densityOf(own);
      if (density === null || density * COARSE > usual) continue;
      notes.push(
        note(
          'coarse',
          own,
          `${part.name} has ${Math.round(density)} texels per metre, the sheet usually ${Math.round(usual)}.`,
          'Small lettering and fine lines come out blurred there; make them larger.',
        ),
      );
    }
  }

  if (mine.length > 0 && cover.unused > 0.5) {
    notes.push(
      note(
        'bare',
        [],
        `${Math.round(cover.unused * 100)} % of ${sheet.name} belongs to no island.`,
        'What is painted there does not show on the model.',
      ),
    );
  }
  return notes;
}

/** Islands that lie on one another, directly or through others, in rising order. */
function pilesOf(pairs: SheetCover['shared']): number[][] {
  const piles: Set<number>[] = [];
  for (const [a, b] of pairs) {
    if (a === b) continue;
    const touched = piles.filter((pile) => pile.has(a) || pile.has(b));
    const joined = new Set([a, b, ...touched.flatMap((pile) => [...pile])]);
    for (const pile of touched) piles.splice(piles.indexOf(pile), 1);
    piles.push(joined);
  }
  return piles.map((pile) => [...pile].sort((x, y) => x - y));
}

const counted = (n: number, one: string, more: string) => `${n} ${n === 1 ? one : more}`;

/** Names in a sentence, each once: "prow, deck and 3 more". */
function namesOf(names: readonly string[]): string {
  const once = [...new Set(names)];
  if (once.length > 4) return `${once.slice(0, 3).join(', ')} and ${once.length - 3} more`;
  return once.length < 2 ? (once[0] ?? '') : `${once.slice(0, -1).join(', ')} and ${once.at(-1)}`;
}

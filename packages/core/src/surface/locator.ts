/** The locator: a colour and a number for every island, so that what is seen in a game can be named. */
import { heldIn } from '../held.ts';
import { ciede2000, labOf, type Lab } from '../colour/ciede2000.ts';
import type { SrgbRgb } from '../colour/hex.ts';
import { sheetNamed, type Subject } from '../livery/template.ts';
import type { Island } from './islands.ts';
import type { SheetCover } from './layout.ts';
import { nearestInside } from '../raster/nearest.ts';
import { roomiest } from './roomiest.ts';
import { edgeOf, weld } from './weld.ts';

export interface LocatorIsland {
  readonly island: Island;
  readonly colour: SrgbRgb;
  /** Black or white, whichever stands out more from the colour. */
  readonly ink: SrgbRgb;
  /** Where its number goes on its sheet: the middle of the largest disc inside it, and that disc's radius, in texels. */
  readonly label: { readonly x: number; readonly y: number; readonly radius: number };
}

/** Islands next to one another differ by at least this in CIEDE2000. */
export const LOCATOR_DIFFERENCE = 20;

/** Colours that all differ from each other by LOCATOR_DIFFERENCE, the most distinct first. */
export const LOCATOR_COLOURS: readonly SrgbRgb[] = (() => {
  const steps = [0, 43, 85, 128, 170, 213, 255];
  const all = steps.flatMap((r) => steps.flatMap((g) => steps.map((b): SrgbRgb => [r, g, b])));
  // Light enough for black numbers or dark enough for white ones, and no greys: shading makes greys of anything.
  const free = all
    .filter(([r, g, b]) => Math.max(r, g, b) - Math.min(r, g, b) >= 80)
    .map((rgb) => ({ rgb, lab: labOf(rgb), least: Infinity }));
  const chosen: SrgbRgb[] = [];
  let next = free.findIndex(({ rgb }) => rgb.join() === '255,213,0');
  while (next >= 0) {
    const { rgb, lab } = free[next];
    chosen.push(rgb);
    for (const other of free) other.least = Math.min(other.least, ciede2000(lab, other.lab));
    next = -1;
    for (let i = 0; i < free.length; i++) {
      if (free[i].least >= LOCATOR_DIFFERENCE && (next < 0 || free[i].least > free[next].least)) next = i;
    }
  }
  return chosen;
})();

/** Black or white, whichever stands out more from a colour. */
export const inkOn = (rgb: SrgbRgb): SrgbRgb => (labOf(rgb)[0] > 55 ? [0, 0, 0] : [255, 255, 255]);

const key = (a: number, b: number) => (a < b ? `${a},${b}` : `${b},${a}`);

/**
 * Pairs of islands that a painter sees next to each other: neighbours on a sheet (with nothing nearer between them), overlapping ones,
 * and those that meet along an edge of the model.
 * @returns numbers of islands, the smaller first
 */
export function neighbours(
  subject: Subject,
  islands: readonly Island[],
  covers: readonly SheetCover[],
): [number, number][] {
  const pairs = new Map<string, [number, number]>();
  const add = (a: number, b: number) => {
    if (a !== b) pairs.set(key(a, b), a < b ? [a, b] : [b, a]);
  };
  for (const { width, height, island, shared } of covers) {
    for (const [a, b] of shared) add(a, b);
    const inside = Uint8Array.from(island, (number) => (number > 0 ? 1 : 0));
    const nearest = nearestInside(inside, width, height);
    const at = (i: number) => (nearest[i] < 0 ? 0 : island[nearest[i]]);
    for (let y = 0, i = 0; y < height; y++) {
      for (let x = 0; x < width; x++, i++) {
        const own = at(i);
        if (own === 0) continue;
        if (x + 1 < width && at(i + 1) > 0) add(own, at(i + 1));
        if (y + 1 < height && at(i + width) > 0) add(own, at(i + width));
      }
    }
  }
  const { indices } = subject.mesh;
  const { of: placeOf } = weld(subject.mesh);
  const edges = new Map<number, number[]>();
  for (const { number, triangles } of islands) {
    for (const t of triangles) {
      const places = [0, 1, 2].map((k) => placeOf[indices[t * 3 + k]]);
      for (let k = 0; k < 3; k++) {
        const edge = edgeOf(places[k], places[(k + 1) % 3]);
        const known = edges.get(edge);
        if (!known) edges.set(edge, [number]);
        else {
          for (const other of known) add(other, number);
          if (!known.includes(number)) known.push(number);
        }
      }
    }
  }
  return [...pairs.values()];
}

/**
 * Colours all islands so that neighbours differ by LOCATOR_DIFFERENCE: the one with most neighbours first (Welsh and Powell, "An upper
 * bound for the chromatic number of a graph", 1967), each in the least used colour that is free. An island with more coloured
 * neighbours than there are colours gets the one that differs most from theirs.
 */
export function locatorOf(
  subject: Subject,
  islands: readonly Island[],
  covers: ReadonlyMap<string, SheetCover>,
): LocatorIsland[] {
  const next = new Map<number, Set<number>>(islands.map((island) => [island.number, new Set()]));
  for (const [a, b] of neighbours(subject, islands, [...covers.values()])) {
    heldIn(next, a).add(b);
    heldIn(next, b).add(a);
  }
  const labs: Lab[] = LOCATOR_COLOURS.map((rgb) => labOf(rgb));
  const colour = new Map<number, number>();
  const uses = labs.map(() => 0);
  const hemmed = [...next].sort((a, b) => b[1].size - a[1].size || a[0] - b[0]);
  for (const [number, around] of hemmed) {
    const taken = [...around].map((n) => colour.get(n)).filter((c) => c !== undefined);
    const all = labs.map((_, c) => c);
    const free = all.filter((c) => !taken.includes(c));
    const least = (c: number) => Math.min(...taken.map((t) => ciede2000(labs[c], labs[t])));
    const pick = free.length
      ? free.reduce((a, b) => (uses[b] < uses[a] ? b : a))
      : all.reduce((a, b) => (least(b) > least(a) ? b : a));
    colour.set(number, pick);
    uses[pick]++;
  }
  const labels = new Map<number, LocatorIsland['label']>();
  for (const [sheet, cover] of covers)
    for (const [n, label] of labelPlaces(subject, sheet, cover)) labels.set(n, label);
  return islands.map((island) => {
    const rgb = LOCATOR_COLOURS[heldIn(colour, island.number)];
    return {
      island,
      colour: rgb,
      ink: inkOn(rgb),
      label: labels.get(island.number) ?? {
        x: (island.box.left + island.box.right) / 2,
        y: (island.box.top + island.box.bottom) / 2,
        radius: 0,
      },
    };
  });
}

/** For each island the texel that is farthest from anything that is not the island. */
function labelPlaces(subject: Subject, sheetKey: string, { width, height, island }: SheetCover) {
  const sheet = sheetNamed(subject, sheetKey);
  const sx = sheet.width / width;
  const sy = sheet.height / height;
  return [...roomiest(island, width, height)].map(
    ([number, { x, y, room }]) =>
      [number, { x: (x + 0.5) * sx, y: (y + 0.5) * sy, radius: room * Math.min(sx, sy) }] as const,
  );
}

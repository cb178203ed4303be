import { sheetNamed, type Subject, type TemplatePart } from '../livery/template.ts';
import { TILE } from '../raster/image.ts';
import { cellsOf, type Cell } from './cells.ts';
import { nearestInside } from '../raster/nearest.ts';
import { claim, claimAt, trianglesOf, type SheetTriangles, type Window } from './raster.ts';
import { boxOfTriangles } from './triangles.ts';

/** How far a layer that keeps to a part runs past the part's edge, in texels, so that filtering finds paint there. */
export const GUTTER = 20;

/** Bytes of runs of triangles that one sheet keeps. */
const BUDGET = 24 * 2 ** 20;

/** Runs of texels in a row of a tile that one triangle has, triangle by triangle. */
export interface TileRuns {
  /** Ranks (see SheetTriangles), each once. */
  readonly ranks: Int32Array;
  /** Where each one's runs begin; one more entry than there are ranks. */
  readonly begins: Int32Array;
  /** Two numbers a run: its first texel, row * TILE + column, and how many there are. */
  readonly runs: Uint16Array;
  readonly bytes: number;
}

const TILE_BITS = Math.log2(TILE);

/** What is known of a tile: twice the part's index plus one, and 1 more where a triangle touches the texel; a number when it is that all over. */
type Codes = number | Uint8Array | Uint16Array;

/**
 * Which texel of a sheet belongs to what, from the mesh at the sheet's own size; worked out tile by tile when it is asked for. One rule
 * says who has a texel that several triangles share: see claim in raster.ts. Gutters up to GUTTER texels wide belong to the triangle of
 * the nearest texel that one touches.
 */
export class SheetSurface {
  readonly parts: readonly TemplatePart[];
  /** Of an atlas. */
  readonly cells: readonly Cell[];
  private triangles: SheetTriangles | null = null;
  private readonly codes: Codes[] = [];
  private readonly held = new Map<number, TileRuns>();
  private heldBytes = 0;
  private readonly across: number;

  /** @param size left out: the sheet's own */
  constructor(
    readonly subject: Subject,
    sheetKey: string,
    size?: { width: number; height: number },
  ) {
    const sheet = subject.sheets.find(({ key }) => key === sheetKey);
    if (!sheet) throw new Error(`There is no sheet "${sheetKey}".`);
    ({ width: this.width, height: this.height } = size ?? sheet);
    this.parts = subject.parts.filter((part) => part.sheet === sheetKey);
    this.cells = cellsOf(sheet);
    this.across = Math.ceil(this.width / TILE);
  }

  readonly width: number;
  readonly height: number;

  /** The triangles of the sheet with the tiles that they reach into. */
  get laid(): SheetTriangles {
    return (this.triangles ??= trianglesOf(this.subject, this.parts, this));
  }

  /** 1 + the index in `parts` of what has a texel, gutters included; 0: nothing. */
  ownerAt(x: number, y: number): number {
    return this.codeAt(x, y) >> 1;
  }

  /** What `said` says of whoever has some texels of a row, into `out`. @param xs their columns, rising @param said by owner, see ownerAt */
  ownedAlong(y: number, xs: Int32Array, said: Uint8Array, out: Uint8Array): void {
    const ty = (y / TILE) | 0;
    const row = (y & (TILE - 1)) * TILE;
    for (let i = 0; i < xs.length;) {
      const tx = (xs[i] / TILE) | 0;
      const codes = this.codesOf(tx, ty);
      const right = (tx + 1) * TILE;
      if (typeof codes === 'number') {
        const from = i;
        while (i < xs.length && xs[i] < right) i++;
        out.fill(said[codes >> 1], from, i);
      } else for (; i < xs.length && xs[i] < right; i++) out[i] = said[codes[row + (xs[i] & (TILE - 1))] >> 1];
    }
  }

  /** Whether a triangle touches a texel. */
  insideAt(x: number, y: number): boolean {
    return (this.codeAt(x, y) & 1) === 1;
  }

  /** Rank (see SheetTriangles) of the first triangle that holds a point, in texels; -1 off the islands. */
  rankUnder(x: number, y: number): number {
    return claimAt(this.laid, x, y, this);
  }

  /** Bytes, row by row of a window: 1 where a triangle touches the texel. */
  insideIn({ left, top, right, bottom }: Window): Uint8Array {
    const out = new Uint8Array((right - left) * (bottom - top));
    this.eachRun({ left, top, right, bottom }, (codes, from, at, count) => {
      if (typeof codes === 'number') {
        if (codes & 1) out.fill(1, at, at + count);
      } else for (let k = 0; k < count; k++) out[at + k] = codes[from + k] & 1;
    });
    return out;
  }

  /** 1 + the index in `parts` of what has each texel of a window, gutters included; 0: nothing. */
  ownersIn(window: Window): Uint16Array {
    const out = new Uint16Array((window.right - window.left) * (window.bottom - window.top));
    this.eachRun(window, (codes, from, at, count) => {
      if (typeof codes === 'number') out.fill(codes >> 1, at, at + count);
      else for (let k = 0; k < count; k++) out[at + k] = codes[from + k] >> 1;
    });
    return out;
  }

  /** Ranks (see SheetTriangles) of the triangles that have the texels of a window, gutters included; -1: none. */
  ranksIn({ left, top, right, bottom }: Window): Int32Array {
    const width = right - left;
    const out = new Int32Array(width * (bottom - top)).fill(-1);
    this.eachTileOf({ left, top, right, bottom }, ({ ranks, begins, runs }, x0, y0) => {
      for (let k = 0; k < ranks.length; k++)
        for (let run = begins[k]; run < begins[k + 1]; run++) {
          const from = runs[run * 2];
          const y = y0 + (from >> TILE_BITS);
          if (y < top || y >= bottom) continue;
          const x = x0 + (from & (TILE - 1));
          const first = Math.max(x, left);
          const end = Math.min(x + runs[run * 2 + 1], right);
          if (first < end) out.fill(ranks[k], (y - top) * width + first - left, (y - top) * width + end - left);
        }
    });
    return out;
  }

  /** Calls for each tile that a window reaches into, with its runs and its first texel. */
  eachTileOf({ left, top, right, bottom }: Window, visit: (runs: TileRuns, x: number, y: number) => void): void {
    for (let ty = Math.floor(top / TILE); ty * TILE < bottom; ty++)
      for (let tx = Math.floor(left / TILE); tx * TILE < right; tx++) visit(this.tileAt(tx, ty), tx * TILE, ty * TILE);
  }

  private codeAt(x: number, y: number): number {
    const codes = this.codesOf((x / TILE) | 0, (y / TILE) | 0);
    return typeof codes === 'number' ? codes : codes[(y & (TILE - 1)) * TILE + (x & (TILE - 1))];
  }

  /** Calls for each run of a window within one tile: the tile's codes, where the run begins in them and in the window, and how long it is. */
  private eachRun(
    { left, top, right, bottom }: Window,
    visit: (codes: Codes, from: number, at: number, count: number) => void,
  ): void {
    for (let y = top, row = 0; y < bottom; y++, row += right - left)
      for (let x = left; x < right;) {
        const end = Math.min(right, (Math.floor(x / TILE) + 1) * TILE);
        const codes = this.codesOf(Math.floor(x / TILE), Math.floor(y / TILE));
        visit(codes, (y % TILE) * TILE + (x % TILE), row + x - left, end - x);
        x = end;
      }
  }

  private codesOf(tx: number, ty: number): Codes {
    return (this.codes[ty * this.across + tx] ??= this.look(tx, ty).codes);
  }

  /** Runs of a tile; those that were not used for longest are worked out again. */
  private tileAt(tx: number, ty: number): TileRuns {
    const key = ty * this.across + tx;
    const known = this.held.get(key);
    if (known) {
      this.held.delete(key);
      this.held.set(key, known);
      return known;
    }
    const { ranks, codes } = this.look(tx, ty);
    this.codes[key] ??= codes;
    const made = runsOf(ranks);
    this.held.set(key, made);
    this.heldBytes += made.bytes;
    for (const [oldest, { bytes }] of this.held) {
      if (this.heldBytes <= BUDGET || oldest === key) break;
      this.held.delete(oldest);
      this.heldBytes -= bytes;
    }
    return made;
  }

  /** Rasterises a tile with so much around it that its gutters find their islands. */
  private look(tx: number, ty: number): { ranks: Int32Array; codes: Codes } {
    const [x0, y0] = [tx * TILE, ty * TILE];
    const [x1, y1] = [Math.min(this.width, x0 + TILE), Math.min(this.height, y0 + TILE)];
    const window = {
      left: Math.max(0, x0 - GUTTER),
      top: Math.max(0, y0 - GUTTER),
      right: Math.min(this.width, x1 + GUTTER),
      bottom: Math.min(this.height, y1 + GUTTER),
    };
    const width = window.right - window.left;
    const claimed = claim(this.laid, window);
    const inside = new Uint8Array(claimed.length);
    for (let i = 0; i < claimed.length; i++) inside[i] = claimed[i] < 0 ? 0 : 1;
    const ranks = new Int32Array(TILE * TILE).fill(-1);
    const codes = new Uint16Array(TILE * TILE);
    if (!inside.includes(1)) return { ranks, codes: 0 };
    const nearest = inside.includes(0) ? nearestInside(inside, width, window.bottom - window.top, GUTTER) : null;
    const { part } = this.laid;
    for (let y = y0; y < y1; y++) {
      const row = y - window.top;
      let i = row * width + x0 - window.left;
      let at = (y - y0) * TILE;
      for (let column = x0 - window.left; column < x1 - window.left; column++, i++, at++) {
        const rank = claimed[i];
        if (rank >= 0) {
          ranks[at] = rank;
          codes[at] = part[rank] * 2 + 3;
          continue;
        }
        const from = nearest![i];
        if (from < 0) continue;
        const down = ((from / width) | 0) - row;
        const right = from - (down + row) * width - column;
        if (right * right + down * down > GUTTER * GUTTER) continue;
        ranks[at] = claimed[from];
        codes[at] = part[claimed[from]] * 2 + 2;
      }
    }
    return { ranks, codes: packed(codes, (x1 - x0) * (y1 - y0) === TILE * TILE) };
  }
}

/** The runs of a tile's ranks, TILE x TILE, -1 where no triangle is. */
function runsOf(of: Int32Array): TileRuns {
  const numbers = new Map<number, number>();
  const counts: number[] = [];
  const found: number[] = [];
  for (let k = 0; k < of.length;) {
    const rank = of[k];
    const from = k;
    // The row ends where the tile does.
    const end = (k | (TILE - 1)) + 1;
    do k++;
    while (k < end && of[k] === rank);
    if (rank < 0) continue;
    let number = numbers.get(rank);
    if (number === undefined) {
      numbers.set(rank, (number = numbers.size));
      counts.push(0);
    }
    counts[number]++;
    found.push(number, from, k - from);
  }
  const begins = new Int32Array(counts.length + 1);
  for (let n = 0; n < counts.length; n++) begins[n + 1] = begins[n] + counts[n];
  const next = begins.slice();
  const runs = new Uint16Array(begins[counts.length] * 2);
  for (let i = 0; i < found.length; i += 3) {
    const at = next[found[i]]++ * 2;
    runs[at] = found[i + 1];
    runs[at + 1] = found[i + 2];
  }
  const ranks = Int32Array.from(numbers.keys());
  return { ranks, begins, runs, bytes: (ranks.length + begins.length) * 4 + runs.length * 2 };
}

/** One number where a whole tile is alike, bytes where they are enough. */
function packed(codes: Uint16Array, whole: boolean): Codes {
  const [first] = codes;
  let most = 0;
  let alike = whole || first === 0;
  for (const code of codes) {
    if (code !== first) alike = false;
    if (code > most) most = code;
  }
  return alike ? first : most < 256 ? Uint8Array.from(codes) : codes;
}

/** Box of what a layer that keeps to some places may paint: parts with their gutter, cells as they are; empty when none of them is there. */
export function boxOfPlaces(template: Subject, sheetKey: string, keys: readonly string[]) {
  const sheet = sheetNamed(template, sheetKey);
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

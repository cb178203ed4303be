/** Where lights can be seen on a sheet: their outlines, and the separate pieces of each. */
import { nodesContent } from '../depends/content.ts';
import { holdLatest } from '../held.ts';
import type { Region } from '../layers/kind.ts';
import type { Livery } from '../livery/livery.ts';
import type { LayerNode } from '../livery/tree.ts';
import { scoped, zeroedTile } from '../raster/arena.ts';
import { TILE } from '../raster/image.ts';
import { lattice } from '../raster/noise3.ts';
import { ONE } from '../raster/tile16.ts';
import { touchesLit, type Scene } from './scene.ts';

/** Puts nodes on what `out` holds; see renderTile.ts. */
export type Compose = (nodes: readonly LayerNode[], region: Region, scene: Scene, out: Uint16Array) => void;

/** A share from which a light is there. */
export const HALF = 32768;
/** Samples along a sheet's longer side at which outlines are looked for. */
const SIDE = 1024;

/** Where a light can be seen on a sheet. */
export interface Outline {
  width: number;
  height: number;
  /** Texels a sample. */
  step: number;
  /** Of 65535, row by row. */
  shares: Uint16Array;
  /** Which separate piece a sample is of, from 1; 0: it is not lit. Once somebody asked. */
  pieces: Uint32Array | null;
}

/** Outlines that are kept. */
const MOST_OUTLINES = 32;
const outlines = new Map<string, Outline>();

interface Told {
  by: Pick<Livery, 'particulars' | 'pins' | 'scheme'>;
  text: string;
}
const told = new WeakMap<readonly LayerNode[], Told>();

/** What nodes look like all over a sheet, as text. Threads get their liveries anew with each task: what is kept is kept by what it says. */
export function contentOn(nodes: readonly LayerNode[], { livery, sheet }: Scene): string {
  const { particulars, pins, scheme } = livery;
  const known = told.get(nodes);
  const same = known?.by.particulars === particulars && known.by.pins === pins && known.by.scheme === scheme;
  if (known && same) return known.text;
  const text = nodesContent(livery, sheet, nodes);
  told.set(nodes, { by: { particulars, pins, scheme }, text });
  return text;
}

/** A square of an outline's samples. */
export interface Square {
  x: number;
  y: number;
  wide: number;
  high: number;
}

/** The squares of an outline, as one reads. */
export function squaresOf({ width, height }: Pick<Outline, 'width' | 'height'>): Square[] {
  const squares: Square[] = [];
  for (let y = 0; y < height; y += TILE)
    for (let x = 0; x < width; x += TILE)
      squares.push({ x, y, wide: Math.min(TILE, width - x), high: Math.min(TILE, height - y) });
  return squares;
}

/** Draws nodes over a square of a sheet at a coarse step, where any light can be. @returns 16-bit premultiplied RGBA, in the arena; null: none can be */
export function drawSquare(
  nodes: readonly LayerNode[],
  scene: Scene,
  { x, y, wide, high }: Square,
  step: number,
  compose: Compose,
): Uint16Array | null {
  const region = { x: x * step, y: y * step, width: wide, height: high, step };
  if (!touchesLit(nodes, region, scene)) return null;
  const drawn = zeroedTile(wide * high * 4);
  compose(nodes, region, scene, drawn);
  return drawn;
}

/** Where a light can be seen on the sheet of a scene, by nodes that are white there; worked out once for a build-up. */
export function outlineOf(nodes: readonly LayerNode[], scene: Scene, compose: Compose): Outline {
  const name = contentOn(nodes, scene);
  const known = outlines.get(name);
  if (known) return known;
  const { width, height } = scene.sources.surface(scene.sheet);
  let step = 1;
  while (Math.max(width, height) > SIDE * step) step *= 2;
  const size = { width: Math.ceil(width / step), height: Math.ceil(height / step), step };
  const shares = new Uint16Array(size.width * size.height);
  for (const square of squaresOf(size))
    scoped(() => {
      const { x, y, wide, high } = square;
      const drawn = drawSquare(nodes, scene, square, step, compose);
      if (!drawn) return;
      for (let row = 0, i = 0; row < high; row++)
        for (let at = (y + row) * size.width + x, end = at + wide; at < end; at++, i += 4) shares[at] = drawn[i];
    });
  const outline = { ...size, shares, pieces: null };
  holdLatest(outlines, name, outline, MOST_OUTLINES);
  return outline;
}

/** Whether any sample of a square is lit. */
export function litIn({ width, shares }: Outline, { x, y, wide, high }: Square): boolean {
  for (let row = y; row < y + high; row++)
    for (let at = row * width + x; at < row * width + x + wide; at++) if (shares[at] >= HALF) return true;
  return false;
}

/** Samples that are lit and hang together, numbered as one reads. */
export function piecesOf(outline: Outline): Uint32Array {
  if (outline.pieces) return outline.pieces;
  const { width, height, shares } = outline;
  const pieces = new Uint32Array(width * height);
  const open: number[] = [];
  let last = 0;
  for (let first = 0; first < pieces.length; first++) {
    if (pieces[first] !== 0 || shares[first] < HALF) continue;
    pieces[first] = ++last;
    open.push(first);
    for (let at = open.pop(); at !== undefined; at = open.pop()) {
      const x = at % width;
      for (const next of [x > 0 ? at - 1 : -1, x + 1 < width ? at + 1 : -1, at - width, at + width]) {
        if (next < 0 || next >= pieces.length || pieces[next] !== 0 || shares[next] < HALF) continue;
        pieces[next] = last;
        open.push(next);
      }
    }
  }
  outline.pieces = pieces;
  return pieces;
}

/** How bright one of several pieces is: of so many percent nothing, of the others more than half. Of 65535. */
export function brightnessOf(piece: number, { dark, seed }: { dark: number; seed: number }): number {
  if (lattice(piece, 0, 0, seed) * 100 < dark) return 0;
  return Math.round((0.55 + 0.45 * lattice(piece, 1, 0, seed)) * ONE);
}

/** How bright the pieces of a light are at the samples of a region, of 65535; beside them whole. */
export function brightness(outline: Outline, flicker: { dark: number; seed: number }, region: Region): Uint16Array {
  const { width, height, step } = outline;
  const pieces = piecesOf(outline);
  const pieceNear = (x: number, y: number): number => {
    // At an edge it is the piece beside it.
    for (const [dx, dy] of NEAR) {
      const [sx, sy] = [x + dx, y + dy];
      if (sx < 0 || sy < 0 || sx >= width || sy >= height) continue;
      const piece = pieces[sy * width + sx];
      if (piece > 0) return piece;
    }
    return 0;
  };
  const out = new Uint16Array(region.width * region.height);
  const half = region.step >> 1;
  for (let y = 0, i = 0; y < region.height; y++) {
    const sy = Math.floor((region.y + y * region.step + half) / step);
    for (let x = 0; x < region.width; x++, i++) {
      const piece = pieceNear(Math.floor((region.x + x * region.step + half) / step), sy);
      out[i] = piece > 0 ? brightnessOf(piece, flicker) : ONE;
    }
  }
  return out;
}
const NEAR = [
  [0, 0], [-1, 0], [1, 0], [0, -1], [0, 1], [-1, -1], [1, -1], [-1, 1], [1, 1],
] as const; // prettier-ignore

/** Light at night: the shine about what is lit, by distance along the surface, and which of its pieces are dark. */
import type { Region } from '../layers/kind.ts';
import type { Livery } from '../livery/livery.ts';
import type { Glow, LayerNode } from '../livery/tree.ts';
import { scoped, zeroedTile } from '../raster/arena.ts';
import { TILE } from '../raster/image.ts';
import { mul16 } from '../raster/mul16.ts';
import { lattice } from '../raster/noise3.ts';
import { ONE } from '../raster/tile16.ts';
import { Plane } from '../surface/fields.ts';
import type { Window } from '../surface/raster.ts';
import { GUTTER, type SheetSurface } from '../surface/surface.ts';
import { nodesContent } from '../depends/content.ts';
import { holdLatest } from '../held.ts';
import { otherSheet, touchesLit, type Scene } from './scene.ts';

/** Puts nodes on what `out` holds; see renderTile.ts. */
type Compose = (nodes: readonly LayerNode[], region: Region, scene: Scene, out: Uint16Array) => void;

const HALF = 32768;
/** Samples along a sheet's longer side at which outlines are looked for. */
const SIDE = 1024;
/** Points of an outline to a spread, where that is not too many. */
const POINTS = 64;
const MOST = 100_000;
/** Samples of a side of the squares that look for points near them together. */
const BLOCK = 16;

/** Where a light can be seen on a sheet. */
interface Outline {
  width: number;
  height: number;
  /** Texels a sample. */
  step: number;
  /** Of 65535, row by row. */
  shares: Uint16Array;
  /** Which separate piece a sample is of, from 1; 0: it is not lit. Once somebody asked. */
  pieces: Uint32Array | null;
}

/** Outlines, and points of lights, that are kept. */
const MOST_OUTLINES = 32;
const MOST_POINTS = 64;
const outlines = new Map<string, Outline>();
const points = new Map<string, Points>();

interface Told {
  by: Pick<Livery, 'particulars' | 'pins' | 'scheme'>;
  text: string;
}
const told = new WeakMap<readonly LayerNode[], Told>();

/** What nodes look like all over a sheet, as text. Threads get their liveries anew with each task: what is kept is kept by what it says. */
function contentOn(nodes: readonly LayerNode[], { livery, sheet }: Scene): string {
  const { particulars, pins, scheme } = livery;
  const known = told.get(nodes);
  const same = known?.by.particulars === particulars && known.by.pins === pins && known.by.scheme === scheme;
  if (known && same) return known.text;
  const text = nodesContent(livery, sheet, nodes);
  told.set(nodes, { by: { particulars, pins, scheme }, text });
  return text;
}

/** Draws nodes all over a sheet at a coarse step, square by square; `take` gets each with its first sample. */
function eachSquare(
  nodes: readonly LayerNode[],
  scene: Scene,
  { width, height, step }: Pick<Outline, 'width' | 'height' | 'step'>,
  compose: Compose,
  take: (drawn: Uint16Array, x: number, y: number, wide: number, high: number) => void,
  only: (x: number, y: number) => boolean = () => true,
): void {
  for (let y = 0; y < height; y += TILE)
    for (let x = 0; x < width; x += TILE) {
      if (!only(x, y)) continue;
      const [wide, high] = [Math.min(TILE, width - x), Math.min(TILE, height - y)];
      const region = { x: x * step, y: y * step, width: wide, height: high, step };
      if (!touchesLit(nodes, region, scene)) continue;
      scoped(() => {
        const drawn = zeroedTile(wide * high * 4);
        compose(nodes, region, scene, drawn);
        take(drawn, x, y, wide, high);
      });
    }
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
  eachSquare(nodes, scene, size, compose, (drawn, x, y, wide, high) => {
    for (let row = 0, i = 0; row < high; row++)
      for (let at = (y + row) * size.width + x, end = at + wide; at < end; at++, i += 4) shares[at] = drawn[i];
  });
  const outline = { ...size, shares, pieces: null };
  holdLatest(outlines, name, outline, MOST_OUTLINES);
  return outline;
}

/** Samples that are lit and hang together, numbered as one reads. */
function piecesOf(outline: Outline): Uint32Array {
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
function brightnessOf(piece: number, { dark, seed }: { dark: number; seed: number }): number {
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

/** Numbers of a place: position, normal, and how much the surface is bent there (1 / units of the model). */
const OF_PLACE = 7;

/** The places of a window's samples, gutters too; of those that belong to no triangle `there` is 0. */
function placesIn(surface: SheetSurface, window: Window): { there: Uint8Array; places: Float64Array } {
  const { left, top, right, bottom } = window;
  const width = right - left;
  const there = new Uint8Array(width * (bottom - top));
  const places = new Float64Array(there.length * OF_PLACE);
  const on = {
    left: Math.max(0, left),
    top: Math.max(0, top),
    right: Math.min(surface.width, right),
    bottom: Math.min(surface.height, bottom),
  };
  if (on.left >= on.right || on.top >= on.bottom) return { there, places };
  const ranks = surface.ranksIn(on);
  const plane = new Plane(surface);
  const [position, normal, tangent] = [new Float32Array(3), new Float32Array(3), new Float32Array(3)];
  for (let y = on.top, k = 0; y < on.bottom; y++)
    for (let x = on.left; x < on.right; x++, k++) {
      if (ranks[k] < 0) continue;
      plane.of(ranks[k]);
      plane.at(x + 0.5, y + 0.5, 0, position, normal, tangent);
      const i = (y - top) * width + x - left;
      there[i] = 1;
      const o = i * OF_PLACE;
      for (let c = 0; c < 3; c++) {
        places[o + c] = position[c];
        places[o + 3 + c] = normal[c];
      }
      places[o + 6] = Math.max(bend(plane.right, normal), bend(plane.down, normal));
    }
  return { there, places };
}

/** How much the normal turns along a way of the sheet. @param way what a texel that way adds to place and normal */
function bend(way: Float64Array, n: Float32Array): number {
  const along = way[3] * n[0] + way[4] * n[1] + way[5] * n[2];
  let [turn, far] = [0, 0];
  for (let c = 0; c < 3; c++) {
    const t = way[3 + c] - along * n[c];
    turn += t * t;
    far += way[c] * way[c];
  }
  return far > 0 ? Math.sqrt(turn / far) : 0;
}

/** The square of a way, and a hair more: what is as far is not left out by rounding. */
const squareOf = (way: number): number => way * way * (1 + 1e-12);

/** Below this cosine between normals a place is on the other side. */
const OTHER_SIDE = -0.3;

/**
 * How far it is from one place to another along the surface: on a plane, over one straight edge between two planes, and about a cylinder exactly;
 * on other surfaces that bend evenly nearly so. Infinity: it is on another side, off the surface, or farther than `limit`.
 */
export function wayAlong(p: Float64Array, i: number, q: Float64Array, j: number, limit: number): number {
  const dx = p[i] - q[j];
  const dy = p[i + 1] - q[j + 1];
  const dz = p[i + 2] - q[j + 2];
  const square = dx * dx + dy * dy + dz * dz;
  if (square > squareOf(limit)) return Infinity;
  const ax = p[i + 3];
  const ay = p[i + 4];
  const az = p[i + 5];
  const bx = q[j + 3];
  const by = q[j + 4];
  const bz = q[j + 5];
  const cos = ax * bx + ay * by + az * bz;
  if (cos < OTHER_SIDE) return Infinity;
  const chord = Math.sqrt(square);
  // The sine of half the angle between the normals, squared.
  const h = Math.max(0, (1 - cos) / 2);
  const half = Math.sqrt(h);
  const offP = Math.abs(dx * ax + dy * ay + dz * az);
  const offQ = Math.abs(dx * bx + dy * by + dz * bz);
  // A step off the surface is no way along it.
  if (Math.max(offP, offQ) > chord * (2 * half + 0.35)) return Infinity;
  const ex = ay * bz - az * by;
  const ey = az * bx - ax * bz;
  const ez = ax * by - ay * bx;
  const sin = Math.sqrt(ex * ex + ey * ey + ez * ez);
  if (sin < 1e-3) return chord;
  // Along the axis about which it turns nothing is bent.
  const straight = (dx * ex + dy * ey + dz * ez) / sin;
  const across = Math.sqrt(Math.max(0, square - straight * straight));
  // The arc over its chord: asin(x) / x.
  const arc = 1 + h * (1 / 6 + h * (3 / 40 + h * (5 / 112 + h * (35 / 1152 + h * (63 / 2816)))));
  const round = across * arc;
  const folded = Math.max(across, (offP + offQ) / sin);
  // As much of the turn as the surface itself makes on the way is round, the rest an edge.
  const bent = Math.min(1, (((p[i + 6] + q[j + 6]) / 2) * round) / (2 * half * arc));
  const way = round * bent + folded * (1 - bent);
  return Math.sqrt(way * way + straight * straight);
}

/** The outline of a light on the model: places, and its colour and brightness at each. */
interface Points {
  places: Float64Array;
  /** Straight 16-bit red, green and blue, and a share of 65535. */
  colours: Uint16Array;
  /** The box about them, its lowest corner and its highest. */
  box: Box;
}

function pointsOf({ on, ...glow }: Glow, scene: Scene, compose: Compose): Points {
  const texts = on.map(({ sheet, nodes, colours }) => {
    const there = otherSheet(scene, sheet);
    return contentOn(nodes, there) + contentOn(colours, there);
  });
  const name = `${JSON.stringify(glow)} ${texts.join(' ')}`;
  const known = points.get(name);
  if (known) return known;
  const found = pointsAt({ ...glow, on }, scene, compose, glow.spread / POINTS);
  const low = [Infinity, Infinity, Infinity];
  const high = [-Infinity, -Infinity, -Infinity];
  for (let j = 0; j < found.places.length; j += OF_PLACE)
    for (let c = 0; c < 3; c++) {
      low[c] = Math.min(low[c], found.places[j + c]);
      high[c] = Math.max(high[c], found.places[j + c]);
    }
  const made = {
    places: Float64Array.from(found.places),
    colours: Uint16Array.from(found.colours),
    box: { low, high },
  };
  holdLatest(points, name, made, MOST_POINTS);
  return made;
}

/** The same, one in a cube of so many metres; of a light with too many edges, in larger cubes. */
function pointsAt(glow: Glow, scene: Scene, compose: Compose, cell: number): Found {
  const found: Found = { places: [], colours: [], cells: new Set(), cell };
  for (const one of glow.on) {
    addPoints(glow, one, otherSheet(scene, one.sheet), compose, found);
    if (found.cells.size > MOST) return pointsAt(glow, scene, compose, cell * 2);
  }
  return found;
}

interface Found {
  places: number[];
  colours: number[];
  /** One point in a cube of this side and, roughly, of a direction is enough. */
  cells: Set<string>;
  cell: number;
}

/** The edges of what is lit on one sheet. Where an island ends the light goes on over the seam. */
function addPoints(glow: Glow, on: Glow['on'][number], scene: Scene, compose: Compose, found: Found): void {
  const outline = outlineOf(on.nodes, scene, compose);
  const { width, height, step, shares } = outline;
  const surface = scene.sources.surface(scene.sheet, step);
  const { flicker, texel } = glow;
  const pieces = flicker ? piecesOf(outline) : null;
  const lit = (x: number, y: number, wide: number, high: number) => {
    for (let row = y; row < y + high; row++)
      for (let at = row * width + x; at < row * width + x + wide; at++) if (shares[at] >= HALF) return true;
    return false;
  };
  const take = (drawn: Uint16Array | null, x0: number, y0: number, wide: number, high: number) => {
    const window = { left: x0 - 1, top: y0 - 1, right: x0 + wide + 1, bottom: y0 + high + 1 };
    const across = wide + 2;
    const { there, places } = placesIn(surface, window);
    const inside = insideIn(surface, window);
    for (let y = y0; y < y0 + high; y++)
      for (let x = x0; x < x0 + wide; x++) {
        const share = shares[y * width + x];
        const i = (y - y0 + 1) * across + x - x0 + 1;
        if (share < HALF || !there[i] || !inside[i]) continue;
        const bright = flicker ? brightnessOf(pieces![y * width + x], flicker) : ONE;
        const strength = mul16(glow.strength, bright);
        if (strength === 0) continue;
        const c = ((y - y0) * wide + x - x0) * 4;
        const colour = texel ?? coloursOf(drawn!, c, share);
        for (const [dx, dy] of BESIDE) {
          const [nx, ny] = [x + dx, y + dy];
          const other = nx < 0 || ny < 0 || nx >= width || ny >= height ? 0 : shares[ny * width + nx];
          const k = i + dy * across + dx;
          if (other >= HALF && inside[k]) continue;
          // Between two samples of an island the edge is where half of it would be; at the end of one it is here.
          const to = inside[k] ? (share - HALF) / (share - other) : 0;
          addPoint(found, places, i * OF_PLACE, k * OF_PLACE, to, colour, strength);
        }
      }
  };
  if (texel) {
    for (let y = 0; y < height; y += TILE)
      for (let x = 0; x < width; x += TILE) {
        const [wide, high] = [Math.min(TILE, width - x), Math.min(TILE, height - y)];
        if (lit(x, y, wide, high)) take(null, x, y, wide, high);
      }
  } else
    eachSquare(on.colours, scene, outline, compose, take, (x, y) =>
      lit(x, y, Math.min(TILE, width - x), Math.min(TILE, height - y)),
    );
}
const BESIDE = [[-1, 0], [1, 0], [0, -1], [0, 1]] as const; // prettier-ignore

/** Which samples of a window a triangle touches; none beside the sheet. */
function insideIn(surface: SheetSurface, { left, top, right, bottom }: Window): Uint8Array {
  const width = right - left;
  const out = new Uint8Array(width * (bottom - top));
  const on = {
    left: Math.max(0, left),
    top: Math.max(0, top),
    right: Math.min(surface.width, right),
    bottom: Math.min(surface.height, bottom),
  };
  if (on.left >= on.right || on.top >= on.bottom) return out;
  const part = surface.insideIn(on);
  const wide = on.right - on.left;
  for (let y = on.top; y < on.bottom; y++)
    out.set(part.subarray((y - on.top) * wide, (y - on.top + 1) * wide), (y - top) * width + on.left - left);
  return out;
}

/** The light's own colour where a share of it can be seen: all else is black there. */
const coloursOf = (drawn: Uint16Array, o: number, share: number) =>
  [0, 1, 2].map((c) => Math.min(ONE, Math.round((drawn[o + c] * ONE) / share))) as unknown as readonly [
    number,
    number,
    number,
  ];

function addPoint(
  { places, colours, cells, cell }: Found,
  of: Float64Array,
  from: number,
  to: number,
  share: number,
  colour: readonly [number, number, number],
  strength: number,
): void {
  const at = [0, 1, 2].map((c) => of[from + c] + (of[to + c] - of[from + c]) * share);
  const name = [...at.map((v) => Math.floor(v / cell)), ...[3, 4, 5].map((c) => Math.round(of[from + c]))].join();
  if (cells.has(name) || cells.size > MOST) return;
  cells.add(name);
  places.push(...at, ...of.subarray(from + 3, from + OF_PLACE));
  colours.push(...colour, strength);
}

/**
 * The shine of a light over a region: beside it as strong as the light, nothing at its spread, falling as the square of what is left of the way.
 * @param out zeroed 16-bit premultiplied RGBA
 */
export function drawGlow(glow: Glow, region: Region, scene: Scene, compose: Compose, out: Uint16Array): void {
  const { places: from, colours, box } = pointsOf(glow, scene, compose);
  const surface = scene.sources.surface(scene.sheet, region.step);
  const { spread } = glow;
  const about = boxOf(surface, region);
  if (apart(about, box) >= spread * spread) return;
  const within = nearBox(about, from, null, spread);
  if (within.length === 0) return;
  const { width } = region;
  const { there, places, blocks } = groundOf(surface, region);
  let any = false;
  for (const block of blocks) {
    const near = nearBox(block, from, within, spread);
    if (near.length === 0) continue;
    const many = near.length;
    const spots = new Float64Array(many * 3);
    for (let k = 0; k < many; k++) for (let c = 0; c < 3; c++) spots[k * 3 + c] = from[near[k] * OF_PLACE + c];
    let last = -1;
    for (let y = block.top; y < block.bottom; y++)
      for (let x = block.left; x < block.right; x++) {
        const i = y * width + x;
        if (!there[i]) continue;
        const o = i * OF_PLACE;
        let best = -1;
        let way = spread;
        // Mostly it is the point that was nearest to the sample before: against that the others are soon out.
        if (last >= 0) {
          const far = wayAlong(places, o, from, last * OF_PLACE, way);
          if (far < way) {
            best = last;
            way = far;
          }
        }
        const px = places[o];
        const py = places[o + 1];
        const pz = places[o + 2];
        let square = squareOf(way);
        for (let k = 0; k < many; k++) {
          const dx = px - spots[k * 3];
          const dy = py - spots[k * 3 + 1];
          const dz = pz - spots[k * 3 + 2];
          if (dx * dx + dy * dy + dz * dz > square) continue;
          const j = near[k];
          const far = wayAlong(places, o, from, j * OF_PLACE, way);
          // Of two as far the first, whatever was looked at before.
          if (far < way || (far === way && (best < 0 || j < best))) {
            best = j;
            way = far;
            square = squareOf(way);
          }
        }
        last = best;
        if (best < 0 || way >= spread) continue;
        any = true;
        const rest = 1 - way / spread;
        const a = mul16(Math.round(rest * rest * ONE), colours[best * 4 + 3]);
        for (let c = 0; c < 3; c++) out[i * 4 + c] = mul16(colours[best * 4 + c], a);
        out[i * 4 + 3] = a;
      }
  }
  const own = glow.on.find(({ sheet }) => sheet === scene.sheet);
  const day = otherSheet(scene, scene.sheet);
  if (!any || !own || !touchesLit(own.nodes, region, day)) return;
  // Where the light itself is there is no shine of it.
  scoped(() => {
    const seen = zeroedTile(out.length);
    compose(own.nodes, region, day, seen);
    for (let i = 0; i < out.length; i += 4) {
      const rest = ONE - seen[i];
      if (rest < ONE && out[i + 3] > 0) for (let c = i; c < i + 4; c++) out[c] = mul16(out[c], rest);
    }
  });
}

/** Samples that lie beside one another, and the box of their places. */
interface Block {
  left: number;
  top: number;
  right: number;
  bottom: number;
  low: number[];
  high: number[];
}
interface Ground {
  there: Uint8Array;
  places: Float64Array;
  blocks: Block[];
}
const grounds = new WeakMap<SheetSurface, { name: string; ground: Ground }>();

/** The places of a region's samples, for one light after another. */
function groundOf(surface: SheetSurface, { x, y, width, height, step }: Region): Ground {
  const [left, top] = [Math.floor(x / step), Math.floor(y / step)];
  const name = `${left},${top},${width},${height}`;
  const known = grounds.get(surface);
  if (known?.name === name) return known.ground;
  const { there, places } = placesIn(surface, { left, top, right: left + width, bottom: top + height });
  const blocks: Block[] = [];
  for (let y0 = 0; y0 < height; y0 += BLOCK)
    for (let x0 = 0; x0 < width; x0 += BLOCK) {
      const block: Block = {
        ...{ left: x0, top: y0, right: Math.min(width, x0 + BLOCK), bottom: Math.min(height, y0 + BLOCK) },
        low: [Infinity, Infinity, Infinity],
        high: [-Infinity, -Infinity, -Infinity],
      };
      for (let row = block.top; row < block.bottom; row++)
        for (let i = row * width + block.left; i < row * width + block.right; i++) {
          if (!there[i]) continue;
          for (let c = 0; c < 3; c++) {
            const v = places[i * OF_PLACE + c];
            if (v < block.low[c]) block.low[c] = v;
            if (v > block.high[c]) block.high[c] = v;
          }
        }
      if (block.low[0] !== Infinity) blocks.push(block);
    }
  const ground = { there, places, blocks };
  grounds.set(surface, { name, ground });
  return ground;
}

interface Box {
  low: readonly number[];
  high: readonly number[];
}
const boxes = new WeakMap<SheetSurface, Map<string, Box>>();
const MOST_BOXES = 512;

/** A box that holds the places of all samples of a region, gutters too. */
function boxOf(surface: SheetSurface, { x, y, width, height, step }: Region): Box {
  const window = { left: Math.floor(x / step), top: Math.floor(y / step), right: 0, bottom: 0 };
  window.right = Math.min(surface.width, window.left + width);
  window.bottom = Math.min(surface.height, window.top + height);
  const name = Object.values(window).join();
  const mine = boxes.get(surface) ?? new Map<string, Box>();
  boxes.set(surface, mine);
  const known = mine.get(name);
  if (known) return known;
  const low = [Infinity, Infinity, Infinity];
  const high = [-Infinity, -Infinity, -Infinity];
  const plane = new Plane(surface);
  const { triangle } = surface.laid;
  const { indices, positions } = surface.subject.mesh;
  const on = { ...window, left: Math.max(0, window.left), top: Math.max(0, window.top) };
  if (on.left < on.right && on.top < on.bottom)
    surface.eachTileOf(on, ({ ranks }) => {
      for (const rank of ranks) {
        plane.of(rank);
        for (let c = 0; c < 3; c++) {
          // Gutters carry the plane on.
          const beyond = (GUTTER + 1) * (Math.abs(plane.right[c]) + Math.abs(plane.down[c]));
          for (let k = 0; k < 3; k++) {
            const v = positions[indices[triangle[rank] * 3 + k] * 3 + c];
            if (v - beyond < low[c]) low[c] = v - beyond;
            if (v + beyond > high[c]) high[c] = v + beyond;
          }
        }
      }
    });
  const box = { low, high };
  holdLatest(mine, name, box, MOST_BOXES);
  return box;
}

/** The square of how far two boxes are from one another. */
function apart({ low, high }: Box, other: Box): number {
  let square = 0;
  for (let c = 0; c < 3; c++) {
    const off = Math.max(0, low[c] - other.high[c], other.low[c] - high[c]);
    square += off * off;
  }
  return square;
}

/** Points that can be within reach of a box. @param of those that are looked at; null: all */
function nearBox({ low, high }: Box, from: Float64Array, of: readonly number[] | null, reach: number): number[] {
  const near: number[] = [];
  const many = of ? of.length : from.length / OF_PLACE;
  for (let k = 0; k < many; k++) {
    const j = of ? of[k] : k;
    let square = 0;
    for (let c = 0; c < 3; c++) {
      const v = from[j * OF_PLACE + c];
      const off = v < low[c] ? low[c] - v : v > high[c] ? v - high[c] : 0;
      square += off * off;
    }
    if (square < reach * reach) near.push(j);
  }
  return near;
}

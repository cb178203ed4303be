/** How far it is along the surface of a model, and what of it is near: places of a sheet's samples, ways between them, boxes about them. */
import { holdLatest } from '../held.ts';
import { Plane } from './fields.ts';
import type { Window } from './raster.ts';
import { GUTTER, type SheetSurface } from './surface.ts';

/** Samples of `step` texels from texel (x, y). */
interface Samples {
  x: number;
  y: number;
  width: number;
  height: number;
  step: number;
}

/** Samples of a side of the squares that look together for what is near them. */
const BLOCK = 16;

/** Numbers of a place: position, normal, and how much the surface is bent there (1 / units of the model). */
export const OF_PLACE = 7;

/** The places of a window's samples, row by row. */
export interface Places {
  /** 1 where a sample belongs to a triangle, gutters too. */
  there: Uint8Array;
  /** 1 where a triangle touches it. */
  inside: Uint8Array;
  /** {@link OF_PLACE} each. */
  places: Float64Array;
}

const windowOf = ({ x, y, width, height, step }: Samples): Window => {
  const [left, top] = [Math.floor(x / step), Math.floor(y / step)];
  return { left, top, right: left + width, bottom: top + height };
};

/** What of a window lies on the sheet; null: nothing. */
function onSheet(surface: SheetSurface, { left, top, right, bottom }: Window): Window | null {
  const on = {
    left: Math.max(0, left),
    top: Math.max(0, top),
    right: Math.min(surface.width, right),
    bottom: Math.min(surface.height, bottom),
  };
  return on.left < on.right && on.top < on.bottom ? on : null;
}

export function placesIn(surface: SheetSurface, window: Window): Places {
  const { left, top, right, bottom } = window;
  const width = right - left;
  const there = new Uint8Array(width * (bottom - top));
  const inside = new Uint8Array(there.length);
  const places = new Float64Array(there.length * OF_PLACE);
  const on = onSheet(surface, window);
  if (!on) return { there, inside, places };
  const ranks = surface.ranksIn(on);
  const touched = surface.insideIn(on);
  const plane = new Plane(surface);
  const [position, normal, tangent] = [new Float32Array(3), new Float32Array(3), new Float32Array(3)];
  for (let y = on.top, k = 0; y < on.bottom; y++)
    for (let x = on.left; x < on.right; x++, k++) {
      const i = (y - top) * width + x - left;
      inside[i] = touched[k];
      if (ranks[k] < 0) continue;
      plane.of(ranks[k]);
      plane.at(x + 0.5, y + 0.5, 0, position, normal, tangent);
      there[i] = 1;
      const o = i * OF_PLACE;
      for (let c = 0; c < 3; c++) {
        places[o + c] = position[c];
        places[o + 3 + c] = normal[c];
      }
      places[o + 6] = Math.max(bend(plane.right, normal), bend(plane.down, normal));
    }
  return { there, inside, places };
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
export const squareOf = (way: number): number => way * way * (1 + 1e-12);

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

export interface Box {
  low: readonly number[];
  high: readonly number[];
}
const boxes = new WeakMap<SheetSurface, Map<string, Box>>();
const MOST_BOXES = 512;

/** A box that holds the places of all samples of a region, gutters too. */
export function boxOf(surface: SheetSurface, { x, y, width, height, step }: Samples): Box {
  const name = `${x},${y},${width},${height}`;
  const mine = boxes.get(surface) ?? new Map<string, Box>();
  boxes.set(surface, mine);
  const known = mine.get(name);
  if (known) return known;
  const low = [Infinity, Infinity, Infinity];
  const high = [-Infinity, -Infinity, -Infinity];
  const plane = new Plane(surface);
  const { triangle } = surface.laid;
  const { indices, positions } = surface.subject.mesh;
  const on = onSheet(surface, windowOf({ x, y, width, height, step }));
  if (on)
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
export function apart({ low, high }: Box, other: Box): number {
  let square = 0;
  for (let c = 0; c < 3; c++) {
    const off = Math.max(0, low[c] - other.high[c], other.low[c] - high[c]);
    square += off * off;
  }
  return square;
}

/** Points that can be within reach of a box. @param of those that are looked at; null: all */
export function nearBox({ low, high }: Box, from: Float64Array, of: readonly number[] | null, reach: number): number[] {
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

/** Samples that lie beside one another, and the box of their places. */
interface Block {
  left: number;
  top: number;
  right: number;
  bottom: number;
  low: number[];
  high: number[];
}
interface Ground extends Places {
  blocks: Block[];
}
const grounds = new WeakMap<SheetSurface, { name: string; ground: Ground }>();

/** The places of a region's samples, for one light after another. */
export function groundOf(surface: SheetSurface, region: Samples): Ground {
  const { x, y, width, height } = region;
  const name = `${x},${y},${width},${height}`;
  const known = grounds.get(surface);
  if (known?.name === name) return known.ground;
  const found = placesIn(surface, windowOf(region));
  const { there, places } = found;
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
  const ground = { ...found, blocks };
  grounds.set(surface, { name, ground });
  return ground;
}

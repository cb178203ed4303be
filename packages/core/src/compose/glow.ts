/** The shine of what is lit at night, by distance along the surface. */
import { holdLatest } from '../held.ts';
import type { Region } from '../layers/kind.ts';
import type { Glow } from '../livery/tree.ts';
import { scoped, zeroedTile } from '../raster/arena.ts';
import { mul16 } from '../raster/mul16.ts';
import { ONE } from '../raster/tile16.ts';
import {
  apart,
  boxOf,
  groundOf,
  nearBox,
  OF_PLACE,
  placesIn,
  squareOf,
  wayAlong,
  type Box,
} from '../surface/wayAlong.ts';
import {
  brightnessOf,
  contentOn,
  drawSquare,
  HALF,
  litIn,
  outlineOf,
  piecesOf,
  squaresOf,
  type Compose,
  type Outline,
  type Square,
} from './outline.ts';
import { otherSheet, touchesLit, type Scene } from './scene.ts';

/** Points of an outline to a spread, where that is not too many. */
const POINTS = 64;
const MOST = 100_000;
/** Points of lights that are kept. */
const MOST_POINTS = 64;
const points = new Map<string, Points>();

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
  for (const square of squaresOf(outline)) {
    if (!litIn(outline, square)) continue;
    scoped(() => {
      const own = glow.texel ? null : drawSquare(on.colours, scene, square, outline.step, compose);
      if (glow.texel || own) addEdges(glow, outline, square, own, scene, found);
    });
  }
}

/** The same of one square. @param own its colours, where the light has no other */
function addEdges(
  { strength: whole, flicker, texel }: Glow,
  outline: Outline,
  { x: x0, y: y0, wide, high }: Square,
  own: Uint16Array | null,
  scene: Scene,
  found: Found,
): void {
  const { width, height, step, shares } = outline;
  const pieces = flicker ? piecesOf(outline) : null;
  const window = { left: x0 - 1, top: y0 - 1, right: x0 + wide + 1, bottom: y0 + high + 1 };
  const across = wide + 2;
  const { there, inside, places } = placesIn(scene.sources.surface(scene.sheet, step), window);
  for (let y = y0; y < y0 + high; y++)
    for (let x = x0; x < x0 + wide; x++) {
      const share = shares[y * width + x];
      const i = (y - y0 + 1) * across + x - x0 + 1;
      if (share < HALF || !there[i] || !inside[i]) continue;
      const strength = mul16(whole, flicker ? brightnessOf(pieces![y * width + x], flicker) : ONE);
      if (strength === 0) continue;
      const colour = texel ?? coloursOf(own!, ((y - y0) * wide + x - x0) * 4, share);
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
}
const BESIDE = [[-1, 0], [1, 0], [0, -1], [0, 1]] as const; // prettier-ignore

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

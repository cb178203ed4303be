/**
 * What a stroke changes, as it is stored: for each tile (256 x 256 texels) the box that it touched and 16-bit values in it. Coverage has
 * one value a texel, pixels four (premultiplied RGBA). docs/formats.md describes the bytes.
 */
import { zlibSync } from 'fflate';
import { heldIn } from '../held.ts';
import { inflateWhole } from '../bytes.ts';
import { InputError } from '../errors.ts';
import { TILE } from '../raster/image.ts';

const MAGIC = 0x32584c57;
const HEAD = 12;
const BOX = 8;
/** Tiles beside each other in the numbers of tiles: sheets have up to 64 x 64. */
export const TILE_COLUMNS = 64;

export const tileNumber = (tx: number, ty: number): number => ty * TILE_COLUMNS + tx;

/** Values of a box within a tile. */
export interface TilePatch {
  /** Within the tile, texels. */
  left: number;
  top: number;
  width: number;
  height: number;
  /** `width * height` values for each channel, row by row. */
  values: Uint16Array;
}

/** Patches in the order of a stroke's tiles. */
export interface StrokePatches {
  /** 1: coverage; 4: premultiplied RGBA. */
  channels: 1 | 4;
  patches: readonly TilePatch[];
}

/** Bytes of a stroke: magic, channels, count (32 bits each, little-endian), the boxes (4 x 16 bits), then all values in zlib. */
export function packStroke({ channels, patches }: StrokePatches): Uint8Array {
  const total = patches.reduce((sum, patch) => sum + patch.values.length, 0);
  const values = new Uint16Array(total);
  let at = 0;
  for (const patch of patches) {
    values.set(patch.values, at);
    at += patch.values.length;
  }
  const body = zlibSync(split(values), { level: 4 });
  const out = new Uint8Array(HEAD + patches.length * BOX + body.length);
  const view = new DataView(out.buffer);
  view.setUint32(0, MAGIC, true);
  view.setUint32(4, channels, true);
  view.setUint32(8, patches.length, true);
  patches.forEach(({ left, top, width, height }, i) =>
    [left, top, width, height].forEach((v, k) => view.setUint16(HEAD + i * BOX + k * 2, v, true)),
  );
  out.set(body, HEAD + patches.length * BOX);
  return out;
}

/** How many tiles the bytes say that they hold. */
export const tilesDeclared = (bytes: Uint8Array): number =>
  bytes.length < HEAD ? 0 : new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength).getUint32(8, true);

/** Values that one stroke can hold: a sheet of 16384 x 16384 in coverage. */
const MOST = 16384 * 16384;

/** @throws InputError when the bytes are not a stroke of so many tiles, or hold more or less than they declare */
export function unpackStroke(bytes: Uint8Array, tiles: number): StrokePatches {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  if (bytes.length < HEAD || view.getUint32(0, true) !== MAGIC) throw new InputError('This is not a stored stroke.');
  const channels = view.getUint32(4, true);
  const count = view.getUint32(8, true);
  if ((channels !== 1 && channels !== 4) || count !== tiles || bytes.length < HEAD + count * BOX)
    throw new InputError('A stored stroke does not hold the tiles that it should.');
  const boxes = Array.from({ length: count }, (_, i) => {
    const [left, top, width, height] = [0, 2, 4, 6].map((k) => view.getUint16(HEAD + i * BOX + k, true));
    if (width < 1 || height < 1 || left + width > TILE || top + height > TILE)
      throw new InputError('A stored stroke reaches out of its tiles.');
    return { left, top, width, height };
  });
  const total = boxes.reduce((sum, box) => sum + box.width * box.height * channels, 0);
  if (total > MOST || bytes.length < HEAD + count * BOX + total / 2048)
    throw new InputError('A stored stroke says that it holds more than it can.');
  const values = joined(inflateWhole(bytes.subarray(HEAD + count * BOX), total * 2, 'A stored stroke'));
  let at = 0;
  return {
    channels,
    patches: boxes.map((box) => {
      const size = box.width * box.height * channels;
      at += size;
      return { ...box, values: values.subarray(at - size, at) };
    }),
  };
}

/** High bytes first, then low bytes: coverage that is mostly none or full packs well so. */
function split(values: Uint16Array): Uint8Array {
  const n = values.length;
  const out = new Uint8Array(n * 2);
  for (let i = 0; i < n; i++) {
    out[i] = values[i] >> 8;
    out[n + i] = values[i];
  }
  return out;
}

function joined(bytes: Uint8Array): Uint16Array {
  const n = bytes.length / 2;
  const [high, low] = [bytes.subarray(0, n), bytes.subarray(n)];
  const out = new Uint16Array(n);
  for (let i = 0; i < n; i++) out[i] = (high[i] << 8) | low[i];
  return out;
}

/** The smallest box of a tile's values that holds all that are not zero; null when there is none. */
export function patchOf(values: Uint16Array, channels: 1 | 4): TilePatch | null {
  let [left, top, right, bottom] = [TILE, TILE, 0, 0];
  for (let y = 0; y < TILE; y++) {
    for (let x = 0; x < TILE; x++) {
      if (values[(y * TILE + x) * channels + channels - 1] === 0) continue;
      if (x < left) left = x;
      if (x >= right) right = x + 1;
      if (y < top) top = y;
      bottom = y + 1;
    }
  }
  if (right === 0) return null;
  const [width, height] = [right - left, bottom - top];
  const own = new Uint16Array(width * height * channels);
  for (let y = 0; y < height; y++) {
    const from = ((top + y) * TILE + left) * channels;
    own.set(values.subarray(from, from + width * channels), y * width * channels);
  }
  return { left, top, width, height, values: own };
}

/** Coverage by tiles (0..65535 each, 256 x 256) as a stroke's bytes and the tiles that they hold; null when nothing is covered. */
export function packTiles(
  tiles: ReadonlyMap<number, Uint16Array>,
  channels: 1 | 4,
): { bytes: Uint8Array; tiles: number[] } | null {
  const numbers: number[] = [];
  const patches: TilePatch[] = [];
  for (const number of [...tiles.keys()].sort((a, b) => a - b)) {
    const patch = patchOf(heldIn(tiles, number), channels);
    if (!patch) continue;
    numbers.push(number);
    patches.push(patch);
  }
  return patches.length > 0 ? { bytes: packStroke({ channels, patches }), tiles: numbers } : null;
}

/** Several stored strokes in one piece: the length of each (32 bits, least byte first), then its bytes. */
export function joinStrokes(strokes: readonly Uint8Array[]): Uint8Array {
  const out = new Uint8Array(strokes.reduce((sum, { length }) => sum + 4 + length, 0));
  const view = new DataView(out.buffer);
  let at = 0;
  for (const stroke of strokes) {
    view.setUint32(at, stroke.length, true);
    out.set(stroke, at + 4);
    at += 4 + stroke.length;
  }
  return out;
}

/** Takes them apart again. @throws InputError when the piece is cut off */
export function splitStrokes(bytes: Uint8Array): Uint8Array[] {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.length);
  const strokes: Uint8Array[] = [];
  for (let at = 0; at < bytes.length;) {
    const length = at + 4 <= bytes.length ? view.getUint32(at, true) : Infinity;
    if (at + 4 + length > bytes.length) throw new InputError('These strokes are cut off.');
    strokes.push(bytes.subarray(at + 4, at + 4 + length));
    at += 4 + length;
  }
  return strokes;
}

/** Coverage that grows dab by dab, 16 bits a texel, a tile at a time. */
import { newKernel, ROOM, type Kernel } from '../kernels/kernel.ts';
import { TILE } from './image.ts';
import { mul16 } from './mul16.ts';

/** What one dab puts on: shares of 65535, `side` rows of as many. */
export interface Stamp {
  side: number;
  values: Uint16Array;
}

/** Texels of a sheet, or of a tile: from left and top to before right and bottom. */
export interface TexelBox {
  left: number;
  top: number;
  right: number;
  bottom: number;
}

const ONE = 65535;
const BOUNDS = ROOM;
const COVERED = ROOM + 64;
const STAMP = COVERED + TILE * TILE * 2 + 64;
const PAGE = 65536;

let made: Kernel | null = null;
/** The stamp that lies in the kernel's memory. */
let laid: Stamp | null = null;

/** The kernel of dabs, in a memory of its own that grows with the largest stamp. */
function kernelWith(stamp: Stamp): Kernel {
  made ??= newKernel();
  if (laid === stamp) return made;
  const missing = STAMP + stamp.values.byteLength + 64 - made.memory.buffer.byteLength;
  if (missing > 0) made.memory.grow(Math.ceil(missing / PAGE));
  new Uint16Array(made.memory.buffer, STAMP, stamp.values.length).set(stamp.values);
  laid = stamp;
  return made;
}

/**
 * Puts a stamp on a tile: what is covered by `a` and takes a share `b` on is covered by a + (1 - a) b, so that soft dabs add up and never
 * stall.
 * @param left,top where the stamp's first value lies, in the tile's samples; may lie outside of it
 * @param share of 65535 that one dab puts on
 * @returns where something changed, its columns in eights; null: nowhere, all was covered
 */
export function cover(
  tile: Uint16Array,
  stamp: Stamp,
  left: number,
  top: number,
  within: TexelBox,
  share: number,
): TexelBox | null {
  const kernel = kernelWith(stamp);
  const { buffer } = kernel.memory;
  const rows = within.bottom - within.top;
  const [from, to] = [within.top * TILE, within.bottom * TILE];
  const room = new Uint16Array(buffer, COVERED, rows * TILE);
  room.set(tile.subarray(from, to));
  const first = STAMP + ((within.top - top) * stamp.side - left) * 2;
  kernel.cover(COVERED, rows, first, stamp.side * 2, within.left, within.right, share, BOUNDS);
  const [x0, y0, x1, y1] = new Int32Array(buffer, BOUNDS, 4);
  if (x0 >= x1) return null;
  tile.set(room, from);
  const { left: least, right: most } = within;
  return { left: Math.max(x0, least), top: y0 + within.top, right: Math.min(x1, most), bottom: y1 + within.top };
}

/** The same, texel by texel. @param grain changes the stamp's share at a sample of the tile */
export function coverPlainly(
  tile: Uint16Array,
  { side, values }: Stamp,
  left: number,
  top: number,
  within: TexelBox,
  share: number,
  grain?: (by: number, x: number, y: number) => number,
): TexelBox | null {
  let [x0, y0, x1, y1] = [within.right, within.bottom, 0, 0];
  for (let y = within.top; y < within.bottom; y++) {
    for (let x = within.left; x < within.right; x++) {
      let by = values[(y - top) * side + x - left];
      if (by > 0 && grain) by = grain(by, x, y);
      if (by === 0) continue;
      if (share < ONE) by = mul16(by, share);
      const has = tile[y * TILE + x];
      const now = has + mul16(ONE - has, by);
      if (now === has) continue;
      tile[y * TILE + x] = now;
      if (x < x0) x0 = x;
      if (x >= x1) x1 = x + 1;
      if (y < y0) y0 = y;
      y1 = y + 1;
    }
  }
  return x0 < x1 ? { left: x0, top: y0, right: x1, bottom: y1 } : null;
}

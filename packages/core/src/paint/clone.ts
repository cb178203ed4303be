import { ONE } from '../raster/tile16.ts';
import { TILE } from '../raster/image.ts';
import { mul16 } from '../raster/mul16.ts';
import { TILE_COLUMNS } from './strokes.ts';

/** A picture to clone from: 16-bit premultiplied RGBA of tile (tx, ty); null outside the sheet. */
export type SourceTile = (tx: number, ty: number) => Uint16Array | null;

/**
 * The source as it lies under a tile when it is moved by whole texels.
 * @param dx,dy from where it is taken to where it goes
 */
export function shiftedTile(number: number, dx: number, dy: number, source: SourceTile): Uint16Array {
  const out = new Uint16Array(TILE * TILE * 4);
  const left = (number % TILE_COLUMNS) * TILE - dx;
  const top = Math.floor(number / TILE_COLUMNS) * TILE - dy;
  for (let k = 0; k < 4; k++) {
    const tx = Math.floor(left / TILE) + (k & 1);
    const ty = Math.floor(top / TILE) + (k >> 1);
    const from = source(tx, ty);
    if (!from) continue;
    const x0 = Math.max(left, tx * TILE);
    const x1 = Math.min(left + TILE, (tx + 1) * TILE);
    for (let y = Math.max(top, ty * TILE); y < Math.min(top + TILE, (ty + 1) * TILE); y++) {
      const at = ((y - ty * TILE) * TILE + x0 - tx * TILE) * 4;
      if (x1 > x0) out.set(from.subarray(at, at + (x1 - x0) * 4), ((y - top) * TILE + x0 - left) * 4);
    }
  }
  return out;
}

/** Source texels through coverage, within a box of the tile. */
export function throughCoverage(
  source: Uint16Array,
  coverage: Uint16Array,
  out: Uint16Array,
  box: { left: number; top: number; right: number; bottom: number },
): void {
  for (let y = box.top; y < box.bottom; y++) {
    for (let i = y * TILE + box.left; i < y * TILE + box.right; i++) {
      const share = coverage[i];
      for (let c = i * 4; c < i * 4 + 4; c++) out[c] = share === ONE ? source[c] : mul16(source[c], share);
    }
  }
}

/**
 * Brings directions in a normal map to length one: colour is (n + 1) / 2 of each component, as 16-bit values premultiplied by alpha.
 * Directions that have no length point straight up.
 */
export function normalise(texels: Uint16Array): void {
  for (let i = 0; i < texels.length; i += 4) normaliseAt(texels, i);
}

/** The texel whose first value lies at `i`. */
export function normaliseAt(texels: Uint16Array, i: number): void {
  const a = texels[i + 3];
  if (a === 0) return;
  const [x, y, z] = [0, 1, 2].map((c) => (texels[i + c] / a) * 2 - 1);
  const length = Math.sqrt(x * x + y * y + z * z);
  const [nx, ny, nz] = length > 1e-6 ? [x / length, y / length, z / length] : [0, 0, 1];
  texels[i] = Math.round(((nx + 1) / 2) * a);
  texels[i + 1] = Math.round(((ny + 1) / 2) * a);
  texels[i + 2] = Math.round(((nz + 1) / 2) * a);
}

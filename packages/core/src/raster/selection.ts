/** Regions of a sheet as coverage: 8 bits a texel, row by row, 255 wholly selected. */
import { TILE } from './image.ts';

export interface Coverage8 {
  width: number;
  height: number;
  data: Uint8Array;
}

export type SelectHow = 'new' | 'add' | 'take away' | 'intersect';

export const emptyCoverage = (width: number, height: number): Coverage8 => ({
  width,
  height,
  data: new Uint8Array(width * height),
});

/** Puts a second region together with the first, in place. */
export function combine(into: Coverage8, other: Coverage8, how: SelectHow): void {
  const [a, b] = [into.data, other.data];
  for (let i = 0; i < a.length; i++) {
    if (how === 'new') a[i] = b[i];
    else if (how === 'add') a[i] = a[i] > b[i] ? a[i] : b[i];
    else if (how === 'intersect') a[i] = a[i] < b[i] ? a[i] : b[i];
    else a[i] = a[i] < 255 - b[i] ? a[i] : 255 - b[i];
  }
}

export function invert(region: Coverage8): void {
  for (let i = 0; i < region.data.length; i++) region.data[i] = 255 - region.data[i];
}

/** Grows (or, below zero, shrinks) by a radius in texels, round: by the exact distance to the nearest texel at least half selected. */
export function grow(region: Coverage8, radius: number): void {
  const { width, height, data } = region;
  const shrinks = radius < 0;
  const reach = Math.abs(radius);
  const inside = (i: number) => data[i] >= 128 !== shrinks;
  const squared = squaredDistances(width, height, inside);
  for (let i = 0; i < data.length; i++) {
    const c = reach + 0.5 - Math.sqrt(squared[i]);
    const near = c <= 0 ? 0 : c >= 1 ? 255 : Math.round(c * 255);
    data[i] = shrinks ? Math.min(data[i], 255 - near) : Math.max(data[i], near);
  }
}

/** Squared distance of every texel to the nearest that is inside (Felzenszwalb and Huttenlocher, "Distance Transforms of Sampled Functions", 2012). */
function squaredDistances(width: number, height: number, inside: (i: number) => boolean): Float64Array {
  const FAR = 1e12;
  const out = new Float64Array(width * height);
  const longest = Math.max(width, height);
  const f = new Float64Array(longest);
  const v = new Int32Array(longest);
  const z = new Float64Array(longest + 1);
  const pass = (start: number, count: number, stride: number) => {
    for (let q = 0; q < count; q++) f[q] = out[start + q * stride];
    let k = 0;
    v[0] = 0;
    z[0] = -Infinity;
    z[1] = Infinity;
    for (let q = 1; q < count; q++) {
      let s: number;
      for (;;) {
        const p = v[k];
        s = (f[q] + q * q - (f[p] + p * p)) / (2 * (q - p));
        if (s > z[k]) break;
        k--;
      }
      v[++k] = q;
      z[k] = s;
      z[k + 1] = Infinity;
    }
    k = 0;
    for (let q = 0; q < count; q++) {
      while (z[k + 1] < q) k++;
      const d = q - v[k];
      out[start + q * stride] = d * d + f[v[k]];
    }
  };
  for (let i = 0; i < out.length; i++) out[i] = inside(i) ? 0 : FAR;
  for (let x = 0; x < width; x++) pass(x, height, width);
  for (let y = 0; y < height; y++) pass(y * width, width, 1);
  return out;
}

/**
 * Texels that belong together.
 * @param from where it begins: places of texels, row by row; @param near share 0..1 by which a texel belongs, from its place
 * @param connected only those that hang together with the first ones
 */
export function selectLike(
  width: number,
  height: number,
  from: readonly number[],
  near: (i: number) => number,
  connected: boolean,
): Coverage8 {
  const out = emptyCoverage(width, height);
  if (!connected) {
    for (let i = 0; i < out.data.length; i++) out.data[i] = Math.round(near(i) * 255);
    return out;
  }
  const seen = new Uint8Array(width * height);
  const stack = new Int32Array(width * height);
  let top = 0;
  for (const first of from) {
    if (seen[first]) continue;
    seen[first] = 1;
    stack[top++] = first;
  }
  while (top > 0) {
    const i = stack[--top];
    const share = near(i);
    if (share <= 0) continue;
    out.data[i] = Math.round(share * 255);
    // A texel that only half belongs is an edge: the region does not go on through it.
    if (share < 0.5) continue;
    const column = i % width;
    const next = [column > 0 ? i - 1 : -1, column < width - 1 ? i + 1 : -1, i - width, i + width];
    for (const n of next) {
      if (n < 0 || n >= seen.length || seen[n]) continue;
      seen[n] = 1;
      stack[top++] = n;
    }
  }
  return out;
}

/** Coverage of 16 bits by tiles, as strokes and masks are kept; tiles without any are left out. */
export function tilesOf(region: Coverage8, tileColumns: number): Map<number, Uint16Array> {
  const tiles = new Map<number, Uint16Array>();
  for (let ty = 0; ty * TILE < region.height; ty++) {
    for (let tx = 0; tx * TILE < region.width; tx++) {
      const tile = new Uint16Array(TILE * TILE);
      let any = false;
      for (let y = 0; y < TILE && ty * TILE + y < region.height; y++) {
        for (let x = 0; x < TILE && tx * TILE + x < region.width; x++) {
          const value = region.data[(ty * TILE + y) * region.width + tx * TILE + x];
          if (value === 0) continue;
          any = true;
          tile[y * TILE + x] = value * 257;
        }
      }
      if (any) tiles.set(ty * tileColumns + tx, tile);
    }
  }
  return tiles;
}

/** Box of what is at least half selected; null when nothing is. */
export function boxOf(region: Coverage8): { left: number; top: number; right: number; bottom: number } | null {
  let [left, top, right, bottom] = [region.width, region.height, 0, 0];
  for (let y = 0, i = 0; y < region.height; y++) {
    for (let x = 0; x < region.width; x++, i++) {
      if (region.data[i] < 128) continue;
      if (x < left) left = x;
      if (x >= right) right = x + 1;
      if (y < top) top = y;
      bottom = y + 1;
    }
  }
  return right > left ? { left, top, right, bottom } : null;
}

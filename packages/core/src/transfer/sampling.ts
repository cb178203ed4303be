/** What the texels of a new sheet have of pictures of the old ones. */
import type { Subject } from '../livery/template.ts';
import type { Image8 } from '../raster/image.ts';
import { nearestInside } from '../raster/nearest.ts';
import { SheetSurface } from '../surface/surface.ts';
import type { Origins } from './texels.ts';

/** Samples along either side of a texel's footprint that are looked at, at most. */
const MOST_LOOKS = 16;

/** A picture of an old sheet, or of what of it is not empty: straight RGBA8 from texel (left, top) of it. */
export interface OldPicture {
  left: number;
  top: number;
  image: Image8;
}

/** How far art is carried on beyond the old islands, texels: filters look so far. */
const PADDED = 8;

/** For each texel of a sheet the one whose art it shows: its own on an island, the nearest one's beside it. */
export function paddingOf(old: Subject, sheet: string): Int32Array {
  const surface = new SheetSurface(old, sheet);
  const { width, height } = surface;
  const inside = surface.insideIn({ left: 0, top: 0, right: width, bottom: height });
  const nearest = nearestInside(inside, width, height, PADDED);
  for (let i = 0; i < nearest.length; i++) if (inside[i] || nearest[i] < 0) nearest[i] = i;
  return nearest;
}

/** A whole sheet's picture with its art carried on beyond the islands, without what is empty around it; null: all of it is. */
export function padded({ width, height, data }: Image8, padding: Int32Array): OldPicture | null {
  const from = new Uint32Array(data.buffer, data.byteOffset, width * height);
  const all = new Uint32Array(width * height);
  let [left, top, right, bottom] = [width, height, 0, 0];
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      const texel = from[padding[i]];
      // Alpha is the last of four bytes.
      if (texel >>> 24 === 0) continue;
      all[i] = texel;
      if (x < left) left = x;
      if (x >= right) right = x + 1;
      if (y < top) top = y;
      bottom = y + 1;
    }
  if (left >= right) return null;
  const image = {
    width: right - left,
    height: bottom - top,
    data: new Uint8Array((right - left) * (bottom - top) * 4),
  };
  const to = new Uint32Array(image.data.buffer);
  for (let y = top; y < bottom; y++) to.set(all.subarray(y * width + left, y * width + right), (y - top) * image.width);
  return { left, top, image };
}

/** Weights of four neighbours at a share of the way between the middle two (Catmull and Rom, "A class of local interpolating splines", 1974). */
function cubic(f: number, out: Float64Array): void {
  out[0] = ((2 - f) * f - 1) * f * 0.5;
  out[1] = ((3 * f - 5) * f * f + 2) * 0.5;
  out[2] = ((4 - 3 * f) * f + 1) * f * 0.5;
  out[3] = (f - 1) * f * f * 0.5;
}

const NEARLY = 1e-3;

/**
 * What the texels of a window have of a picture, each the mean over its own footprint, into straight RGBA8 of the window's size. Where a
 * footprint is one texel of the old sheet it is that texel, to the bit.
 * @param pictures by the number of the old sheet; null: nothing is there
 * @returns whether any is not empty
 */
export function takeTexels(origins: Origins, pictures: readonly (OldPicture | null)[], out: Uint8Array): boolean {
  let any = false;
  const { sheet, u, v, way, ways } = origins;
  const [wx, wy] = [new Float64Array(4), new Float64Array(4)];
  const sum = new Float64Array(4);
  for (let i = 0; i < sheet.length; i++) {
    const picture = sheet[i] >= 0 ? pictures[sheet[i]] : null;
    if (!picture) continue;
    const { width, height, data } = picture.image;
    const o = way[i] * 4;
    const [ru, rv, du, dv] = [ways[o], ways[o + 1], ways[o + 2], ways[o + 3]];
    const x = u[i] - picture.left - 0.5;
    const y = v[i] - picture.top - 0.5;
    const right = Math.sqrt(ru * ru + rv * rv);
    const down = Math.sqrt(du * du + dv * dv);
    const reach = right + down + 2;
    if (x < -reach || y < -reach || x > width + reach || y > height + reach) continue;
    const across = Math.min(MOST_LOOKS, Math.max(1, Math.ceil(right - 0.05)));
    const deep = Math.min(MOST_LOOKS, Math.max(1, Math.ceil(down - 0.05)));
    if (across === 1 && deep === 1) {
      const [nx, ny] = [Math.round(x), Math.round(y)];
      if (Math.abs(x - nx) < NEARLY && Math.abs(y - ny) < NEARLY) {
        if (nx < 0 || ny < 0 || nx >= width || ny >= height) continue;
        const from = (ny * width + nx) * 4;
        out[i * 4] = data[from];
        out[i * 4 + 1] = data[from + 1];
        out[i * 4 + 2] = data[from + 2];
        out[i * 4 + 3] = data[from + 3];
        any ||= data[from + 3] > 0;
        continue;
      }
    }
    sum.fill(0);
    // Finer looks are wider apart than the spline is sharp: straight lines do there.
    const sharp = across === 1 && deep === 1;
    for (let b = 0; b < deep; b++)
      for (let a = 0; a < across; a++) {
        const [p, q] = [(a + 0.5) / across - 0.5, (b + 0.5) / deep - 0.5];
        const px = x + ru * p + du * q;
        const py = y + rv * p + dv * q;
        const x0 = Math.floor(px);
        const y0 = Math.floor(py);
        if (sharp) {
          cubic(px - x0, wx);
          cubic(py - y0, wy);
        } else {
          wx[0] = wx[3] = wy[0] = wy[3] = 0;
          wx[2] = px - x0;
          wx[1] = 1 - wx[2];
          wy[2] = py - y0;
          wy[1] = 1 - wy[2];
        }
        for (let k = 0; k < 4; k++) {
          const ty = y0 - 1 + k;
          if (wy[k] === 0 || ty < 0 || ty >= height) continue;
          for (let l = 0; l < 4; l++) {
            const tx = x0 - 1 + l;
            if (wx[l] === 0 || tx < 0 || tx >= width) continue;
            const from = (ty * width + tx) * 4;
            const w = wx[l] * wy[k];
            const alpha = w * data[from + 3];
            sum[0] += alpha * data[from];
            sum[1] += alpha * data[from + 1];
            sum[2] += alpha * data[from + 2];
            sum[3] += alpha;
          }
        }
      }
    const alpha = sum[3] / (across * deep);
    if (!(alpha > 0.5)) continue;
    for (let c = 0; c < 3; c++) out[i * 4 + c] = Math.min(255, Math.max(0, Math.round(sum[c] / sum[3])));
    out[i * 4 + 3] = Math.min(255, Math.round(alpha));
    any = true;
  }
  return any;
}

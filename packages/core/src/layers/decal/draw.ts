import type { LayerOf } from '../../livery/layer.ts';
import { samplePicture, type Picture } from '../../raster/picture.ts';
import { turnOf } from '../../raster/turn.ts';
import { sourcesOf, warpBox } from '../../shapes/warping.ts';
import type { Box, Kind, Region } from '../kind.ts';
import { boxAround, type Placed } from '../place.ts';

type Decal = LayerOf<'decal'>;

/** Longest side, in pixels, at which a drawing is rasterised for a placement: the power of two from 64 to 4096 that is not below it. */
export function rasterSide(layer: Pick<Decal, 'width' | 'height' | 'warp'>): number {
  const { width, height } = layer.warp ? warpedSize(layer, layer.warp) : layer;
  let side = 64;
  while (side < Math.max(width, height) && side < 4096) side *= 2;
  return side;
}

function warpedSize({ width, height }: Pick<Decal, 'width' | 'height'>, warp: NonNullable<Decal['warp']>) {
  const { left, top, right, bottom } = warpBox(warp);
  return { width: width * (right - left), height: height * (bottom - top) };
}

/** The box that a decal fills before it is turned, with its warp. */
function filled(layer: Decal): Placed {
  if (!layer.warp) return layer;
  const { cos, sin } = turnOf(layer.turn);
  const { left, top, right, bottom } = warpBox(layer.warp);
  const along = ((left + right) / 2 - 0.5) * layer.width * (layer.mirrored ? -1 : 1);
  const down = ((top + bottom) / 2 - 0.5) * layer.height;
  return {
    x: layer.x + along * cos - down * sin,
    y: layer.y + along * sin + down * cos,
    ...warpedSize(layer, layer.warp),
    turn: layer.turn,
  };
}

/** The samples of a region that a decal can touch. */
function touched(layer: Decal, region: Region): Box {
  const { step } = region;
  const box = boxAround(filled(layer), step);
  return {
    left: Math.max(0, Math.floor((box.left - region.x) / step)),
    right: Math.min(region.width, Math.ceil((box.right - region.x) / step)),
    top: Math.max(0, Math.floor((box.top - region.y) / step)),
    bottom: Math.min(region.height, Math.ceil((box.bottom - region.y) / step)),
  };
}

/** A picture placed by its middle, turned, mirrored and warped if asked. */
export const decal: Kind<Decal> = {
  bounds: (layer) => boxAround(filled(layer), 1),
  draw(layer, region, env, out) {
    const picture = env.picture(layer);
    if (layer.warp) return drawWarped(layer, layer.warp, picture, region, out);
    const { cos, sin } = turnOf(layer.turn);
    const { step } = region;
    const texelsAcross = (picture.levels[0].width * step) / layer.width;
    const texelsDown = (picture.levels[0].height * step) / layer.height;
    const level = levelFor(picture, Math.max(texelsAcross, texelsDown));
    const { left, top, right, bottom } = touched(layer, region);
    const sum = new Float64Array(4);
    for (let y = top; y < bottom; y++) {
      for (let x = left; x < right; x++) {
        sum.fill(0);
        // Four samples a texel: the level in use is up to twice as fine as the texels.
        for (let k = 0; k < 4; k++) {
          const px = region.x + (x + (k & 1 ? 0.75 : 0.25)) * step - layer.x;
          const py = region.y + (y + (k & 2 ? 0.75 : 0.25)) * step - layer.y;
          const along = (px * cos + py * sin) / layer.width;
          const v = (py * cos - px * sin) / layer.height + 0.5;
          samplePicture(picture, level, (layer.mirrored ? -along : along) + 0.5, v, sum);
        }
        put(sum, out, (y * region.width + x) * 4);
      }
    }
  },
};

/** @param across pixels of the picture to a texel of the sheet */
function levelFor({ levels }: Picture, across: number): number {
  let level = 0;
  for (let r = across; r >= 2 && level < levels.length - 1; r /= 2) level++;
  return level;
}

function put(sum: Float64Array, out: Uint16Array, o: number): void {
  if (sum[3] < 2) return;
  for (let c = 0; c < 4; c++) out[o + c] = (sum[c] / 4 + 0.5) | 0;
}

/** Four samples a texel, each from where the warp takes it; how fine a level is needed differs from texel to texel. */
function drawWarped(
  layer: Decal,
  warp: NonNullable<Decal['warp']>,
  picture: Picture,
  region: Region,
  out: Uint16Array,
) {
  const { left, top, right, bottom } = touched(layer, region);
  if (left >= right || top >= bottom) return;
  const { cos, sin } = turnOf(layer.turn);
  const flip = layer.mirrored ? -1 : 1;
  const half = region.step / 2;
  // Places of samples in shares of the decal's box.
  const px = region.x + left * region.step + half / 2 - layer.x;
  const py = region.y + top * region.step + half / 2 - layer.y;
  const grid = {
    x: ((px * cos + py * sin) / layer.width) * flip + 0.5,
    y: (py * cos - px * sin) / layer.height + 0.5,
    along: { x: ((half * cos) / layer.width) * flip, y: (-half * sin) / layer.height },
    down: { x: ((half * sin) / layer.width) * flip, y: (half * cos) / layer.height },
    width: (right - left) * 2,
    height: (bottom - top) * 2,
  };
  const { u, v } = sourcesOf(warp, grid);
  const [{ width, height }] = picture.levels;
  /** Pixels of the picture from one sample to another. */
  const apart = (a: number, b: number) => {
    const [du, dv] = [(u[b] - u[a]) * width, (v[b] - v[a]) * height];
    return Math.max(du < 0 ? -du : du, dv < 0 ? -dv : dv);
  };
  const sum = new Float64Array(4);
  for (let y = top; y < bottom; y++) {
    for (let x = left; x < right; x++) {
      const first = (y - top) * 2 * grid.width + (x - left) * 2;
      const four = [first, first + 1, first + grid.width, first + grid.width + 1];
      const some = four.filter((k) => u[k] > -0.5 && u[k] < 1.5 && v[k] > -0.5 && v[k] < 1.5);
      if (some.length === 0) continue;
      // From where a sample is missing nothing can be said: the others say it.
      let across = 0;
      for (const [a, b] of [
        [0, 1],
        [2, 3],
        [0, 2],
        [1, 3],
      ]) {
        const far = 2 * apart(four[a], four[b]);
        if (far > across) across = far;
      }
      const level = levelFor(picture, across);
      sum.fill(0);
      for (const k of some) samplePicture(picture, level, u[k], v[k], sum);
      put(sum, out, (y * region.width + x) * 4);
    }
  }
}

/** Small pictures of where a layer lies: as much of the sheet about it as shows what it lies beside. */
import type { Bounds } from '../livery/arrange.ts';
import type { Livery } from '../livery/livery.ts';
import type { Image8 } from '../raster/image.ts';
import { renderPiece, type Size } from './renderSheet.ts';
import { drawAlone, sceneOf, type Sources } from './renderTile.ts';

/** Samples along the longer side of the sheet in which a layer is looked for. */
const LOOKED = 256;

/** The box about all that a layer covers, texels, as fine as it was looked for; null: it covers nothing. */
export function boxOfLayer(
  livery: Livery,
  sheet: string,
  map: string,
  size: Size,
  id: string,
  sources: Sources,
): Bounds | null {
  const step = Math.max(1, Math.ceil(Math.max(size.width, size.height) / LOOKED));
  const [width, height] = [size.width, size.height].map((side) => Math.ceil(side / step));
  const drawn = drawAlone(sceneOf(livery, sheet, map, sources), id, { x: 0, y: 0, width, height, step }, 'full');
  let [left, top, right, bottom] = [width, height, 0, 0];
  for (let y = 0; drawn && y < height; y++)
    for (let x = 0; x < width; x++)
      if (drawn[(y * width + x) * 4 + 3] > 0) {
        [left, top] = [Math.min(left, x), Math.min(top, y)];
        [right, bottom] = [Math.max(right, x + 1), Math.max(bottom, y + 1)];
      }
  if (right <= left) return null;
  return {
    ...{ left: left * step, top: top * step },
    ...{ right: Math.min(size.width, right * step), bottom: Math.min(size.height, bottom * step) },
  };
}

/** Of a box's longer side, how much is shown about it; and texels at least. */
const [ABOUT, LEAST] = [0.3, 24];

/**
 * The sheet about a box, straight RGBA8, with a line in two tones about the box itself.
 * @param most how wide and high the picture is at most, pixels; of small boxes it shows more of what is about them
 */
export function pictureAround(
  livery: Livery,
  sheet: string,
  map: string,
  size: Size,
  box: Bounds,
  most: Size,
  sources: Sources,
): Image8 {
  const room = Math.max(LEAST, Math.max(box.right - box.left, box.bottom - box.top) * ABOUT);
  const wanted = [box.right - box.left, box.bottom - box.top].map((side) => side + 2 * room);
  const step = Math.max(1, Math.ceil(Math.max(wanted[0] / most.width, wanted[1] / most.height)));
  const along = (from: number, to: number, shown: number, side: number) => {
    const long = Math.min(Math.ceil(side / step), shown);
    const start = Math.round((from + to) / 2 - (long * step) / 2);
    return { at: Math.max(0, Math.min(start, side - long * step)), long };
  };
  const across = along(box.left, box.right, most.width, size.width);
  const down = along(box.top, box.bottom, most.height, size.height);
  const piece = { x: across.at, y: down.at, width: across.long, height: down.long, step };
  const image = renderPiece(livery, sheet, map, piece, sources);
  const [l, r] = [box.left, box.right].map((v) => Math.round((v - across.at) / step));
  const [t, b] = [box.top, box.bottom].map((v) => Math.round((v - down.at) / step));
  line(image, l - 2, t - 2, r + 1, b + 1, 16);
  line(image, l - 3, t - 3, r + 2, b + 2, 255);
  return image;
}

/** A line one pixel wide about a box of pixels, both ends of it; what lies outside the picture is left away. */
function line({ width, height, data }: Image8, left: number, top: number, right: number, bottom: number, grey: number) {
  const dot = (x: number, y: number) => {
    if (x >= 0 && y >= 0 && x < width && y < height) data.set([grey, grey, grey, 255], (y * width + x) * 4);
  };
  for (let x = left; x <= right; x++) {
    dot(x, top);
    dot(x, bottom);
  }
  for (let y = top; y <= bottom; y++) {
    dot(left, y);
    dot(right, y);
  }
}

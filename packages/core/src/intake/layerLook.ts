/** What a layer's pixels look like, in figures. */
import type { LayeredLayer } from '../layered/layered.ts';

export interface LayerLook {
  /** Share of the canvas that has paint (alpha over 8 of 255). */
  readonly covers: number;
  /** Share of the paint that is fully opaque. */
  readonly solid: number;
  /** Share of the paint that lies within two texels of something clear: near 1 for lines. */
  readonly thin: number;
  /** Share of a 16 x 16 grid over the canvas that it reaches. */
  readonly spread: number;
  /** Colours at 4 bits a channel that make up 98 % of the paint; at most 64 are counted. */
  readonly colours: number;
  /** Mean of the paint, 8-bit sRGB. */
  readonly mean: readonly [number, number, number];
  /** Share of the paint that is black or white, within 15 of 255 in every channel. */
  readonly blackWhite: number;
  /** Separate upright rectangles of one colour, when the paint is nothing else; 0 otherwise. */
  readonly boxes: number;
}

const EMPTY: LayerLook = {
  covers: 0,
  solid: 0,
  thin: 0,
  spread: 0,
  colours: 0,
  mean: [0, 0, 0],
  blackWhite: 0,
  boxes: 0,
};
const GRID = 16;
/** Texels of a layer that are looked at, about. */
const MOST = 1 << 17;

export function lookOf(
  { image, x, y }: Pick<LayeredLayer, 'image' | 'x' | 'y'>,
  width: number,
  height: number,
): LayerLook {
  if (!image) return EMPTY;
  const left = Math.max(0, -x);
  const top = Math.max(0, -y);
  const right = Math.min(image.width, width - x);
  const bottom = Math.min(image.height, height - y);
  if (left >= right || top >= bottom) return EMPTY;
  const alpha = (column: number, row: number) =>
    column < 0 || row < 0 || column >= image.width || row >= image.height
      ? 0
      : image.data[(row * image.width + column) * 4 + 3];
  let paint = 0;
  let solid = 0;
  let thin = 0;
  const sum = [0, 0, 0];
  const reached = new Uint8Array(GRID * GRID);
  const histogram = new Map<number, number>();
  // Large layers are looked at in one texel of each small square, anywhere in it, so that no pattern of lines is missed or doubled.
  const step = Math.max(1, Math.round(Math.sqrt(((right - left) * (bottom - top)) / MOST)));
  for (let cellTop = top, k = 0; cellTop < bottom; cellTop += step) {
    for (let cellLeft = left; cellLeft < right; cellLeft += step, k++) {
      const where = Math.imul(k, 0x9e3779b1) >>> 0;
      const row = Math.min(bottom - 1, cellTop + (where % step));
      const column = Math.min(right - 1, cellLeft + ((where >>> 16) % step));
      const i = (row * image.width + column) * 4;
      const a = image.data[i + 3];
      if (a <= 8) continue;
      paint++;
      if (a >= 250) solid++;
      // The rim of the canvas is no end of the paint.
      if (
        (x + column >= 2 && alpha(column - 2, row) <= 8) ||
        (x + column < width - 2 && alpha(column + 2, row) <= 8) ||
        (y + row >= 2 && alpha(column, row - 2) <= 8) ||
        (y + row < height - 2 && alpha(column, row + 2) <= 8)
      )
        thin++;
      for (let c = 0; c < 3; c++) sum[c] += image.data[i + c];
      reached[Math.floor(((y + row) * GRID) / height) * GRID + Math.floor(((x + column) * GRID) / width)] = 1;
      const colour = ((image.data[i] >> 4) << 8) | ((image.data[i + 1] >> 4) << 4) | (image.data[i + 2] >> 4);
      histogram.set(colour, (histogram.get(colour) ?? 0) + 1);
    }
  }
  if (paint === 0) return EMPTY;
  let colours = 0;
  let counted = 0;
  for (const share of [...histogram.values()].sort((a, b) => b - a)) {
    if (counted >= paint * 0.98 || colours >= 64) break;
    counted += share;
    colours++;
  }
  return {
    covers: (paint * step * step) / (width * height),
    solid: solid / paint,
    thin: thin / paint,
    spread: reached.reduce((n, cell) => n + cell, 0) / (GRID * GRID),
    colours,
    mean: [sum[0] / paint, sum[1] / paint, sum[2] / paint],
    blackWhite: ((histogram.get(0) ?? 0) + (histogram.get(0xfff) ?? 0)) / paint,
    boxes: paint * step * step < width * height * 0.1 && colours <= 48 ? boxesIn(image, left, top, right, bottom) : 0,
  };
}

/** Counts upright rectangles of one colour each; 0 as soon as something else turns up, or more than 64. */
function boxesIn(
  image: { width: number; data: Uint8Array },
  left: number,
  top: number,
  right: number,
  bottom: number,
): number {
  const words = new Uint32Array(image.data.buffer, image.data.byteOffset, image.data.byteLength >> 2);
  const seen = new Uint8Array(words.length);
  let boxes = 0;
  for (let y = top; y < bottom; y++) {
    for (let x = left; x < right; x++) {
      const i = y * image.width + x;
      if (seen[i] || words[i] >>> 24 <= 8) continue;
      let w = 1;
      while (x + w < right && words[i + w] === words[i] && !seen[i + w]) w++;
      let h = 1;
      const whole = (row: number) => {
        for (let k = 0; k < w; k++) if (words[(y + row) * image.width + x + k] !== words[i]) return false;
        return true;
      };
      while (y + h < bottom && whole(h)) h++;
      // A sliver is a piece of something drawn, not a box.
      if (w < 2 || h < 2 || ++boxes > 64) return 0;
      for (let row = 0; row < h; row++) seen.fill(1, i + row * image.width, i + row * image.width + w);
    }
  }
  return boxes;
}

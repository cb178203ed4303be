/**
 * Takes the background out of a picture. A pixel on the edge is a mixture of what is in front and what is behind it: how much of each is
 * reckoned from the clean pixels beside it, and only what is in front is left, so that no fringe of the old ground comes along.
 */
import { rgbOfHex } from '../colour/hex.ts';
import { distanceSquared, oklabInto, oklabOf, type Oklab } from '../colour/oklab.ts';
import type { KnockOut } from '../livery/paint.ts';
import type { Image8 } from '../raster/image.ts';
import { selectLike } from '../raster/selection.ts';

/** How many pixels beside the background can be mixtures with it. */
const EDGE = 2;
/** How far away the clean colour of an edge pixel is looked for. */
const LOOK = 4;
/** Distance of two colours, 0..1 a channel, below which they cannot be told apart well enough to unmix them. */
const TOO_NEAR = 0.03;

/** Marks what counts as background; the rest is 0. */
function backgroundOf({ width, height, data }: Image8, { hex, tolerance, connected }: KnockOut): Uint8Array {
  const [r, g, b] = rgbOfHex(hex);
  const ground = oklabOf(r / 255, g / 255, b / 255);
  const most = (tolerance / 100) ** 2;
  const like = new Uint8Array(width * height);
  const lab: Oklab = [0, 0, 0];
  let [last, lastLike] = [-1, 0];
  for (let i = 0, o = 0; i < like.length; i++, o += 4) {
    // What is nearly clear already is no part of the picture.
    if (data[o + 3] < 8) {
      like[i] = 1;
      continue;
    }
    const value = (data[o] << 16) | (data[o + 1] << 8) | data[o + 2];
    if (value !== last) {
      oklabInto(data[o] / 255, data[o + 1] / 255, data[o + 2] / 255, lab);
      [last, lastLike] = [value, distanceSquared(lab, ground) <= most ? 1 : 0];
    }
    like[i] = lastLike;
  }
  return connected ? fromBorder(like, width, height) : like;
}

/** Of what is marked, what hangs together with the border. */
function fromBorder(like: Uint8Array, width: number, height: number): Uint8Array {
  const border = [
    ...Array.from({ length: width }, (_, x) => [x, (height - 1) * width + x]).flat(),
    ...Array.from({ length: height }, (_, y) => [y * width, y * width + width - 1]).flat(),
  ];
  return selectLike(width, height, border, (i) => like[i], true).data;
}

/** How many pixels each lies from the background, sideways or aslant; beyond `most` all the same. */
function distances(background: Uint8Array, width: number, height: number, most: number): Uint8Array {
  const far = new Uint8Array(background.length).fill(most + 1);
  let rim: number[] = [];
  for (let i = 0; i < background.length; i++) {
    if (background[i] === 0) continue;
    far[i] = 0;
    const x = i % width;
    const inner =
      x > 0 &&
      x < width - 1 &&
      i >= width &&
      i < background.length - width &&
      background[i - 1] &&
      background[i + 1] &&
      background[i - width] &&
      background[i + width];
    if (!inner) rim.push(i);
  }
  for (let step = 1; step <= most; step++) {
    const next: number[] = [];
    for (const i of rim) {
      const [x, y] = [i % width, Math.floor(i / width)];
      for (let dy = -1; dy <= 1; dy++) {
        for (let dx = -1; dx <= 1; dx++) {
          if (x + dx < 0 || x + dx >= width || y + dy < 0 || y + dy >= height) continue;
          const n = i + dy * width + dx;
          if (far[n] <= step) continue;
          far[n] = step;
          next.push(n);
        }
      }
    }
    rim = next;
  }
  return far;
}

/**
 * @param image straight RGBA8, sRGB; not changed
 * @returns the same picture with a clear background, edges unmixed from it
 */
export function knockOut(image: Image8, setting: KnockOut): Image8 {
  const { width, height, data } = image;
  const background = backgroundOf(image, setting);
  const far = distances(background, width, height, EDGE);
  const ground = rgbOfHex(setting.hex);
  const out = data.slice();
  const clean = [0, 0, 0];
  for (let i = 0, o = 0; i < far.length; i++, o += 4) {
    if (far[i] === 0) {
      out.fill(0, o, o + 4);
      continue;
    }
    if (far[i] > EDGE || !cleanBeside(image, far, ground, i, clean)) continue;
    // The share of what is in front, by least squares along the way from the ground to it, in the encoding that pictures are mixed in.
    let dot = 0;
    for (let c = 0; c < 3; c++) dot += (data[o + c] - ground[c]) * (clean[c] - ground[c]);
    const share = dot / squareFrom(ground, clean, 0);
    if (share >= 0.985) continue;
    for (let c = 0; c < 3; c++) out[o + c] = Math.round(clean[c]);
    out[o + 3] = share <= 0 ? 0 : Math.round(data[o + 3] * share);
  }
  return { width, height, data: out };
}

/** The square of how far a colour at `o` lies from the ground, 8-bit steps. */
function squareFrom(ground: readonly number[], colour: ArrayLike<number>, o: number): number {
  let square = 0;
  for (let c = 0; c < 3; c++) square += (colour[o + c] - ground[c]) * (colour[o + c] - ground[c]);
  return square;
}

/** The colour in front at an edge pixel, from the clean pixels nearest to it; of lines too thin for any, from their purest pixel. */
function cleanBeside(
  { width, height, data }: Image8,
  far: Uint8Array,
  ground: readonly number[],
  i: number,
  into: number[],
): boolean {
  const [x, y] = [i % width, Math.floor(i / width)];
  const sum = [0, 0, 0];
  let weights = 0;
  let [purest, away] = [-1, 0];
  for (let dy = -LOOK; dy <= LOOK; dy++) {
    for (let dx = -LOOK; dx <= LOOK; dx++) {
      if (x + dx < 0 || x + dx >= width || y + dy < 0 || y + dy >= height) continue;
      const n = i + dy * width + dx;
      if (far[n] === 0) continue;
      if (far[n] > EDGE) {
        const square = dx * dx + dy * dy;
        const weight = 1 / (square * square);
        for (let c = 0; c < 3; c++) sum[c] += data[n * 4 + c] * weight;
        weights += weight;
      } else if (Math.max(Math.abs(dx), Math.abs(dy)) <= EDGE) {
        const distance = squareFrom(ground, data, n * 4);
        if (distance > away) [purest, away] = [n, distance];
      }
    }
  }
  for (let c = 0; c < 3; c++) into[c] = weights > 0 ? sum[c] / weights : purest >= 0 ? data[purest * 4 + c] : ground[c];
  return squareFrom(ground, into, 0) > 255 * TOO_NEAR * (255 * TOO_NEAR);
}

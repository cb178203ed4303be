/**
 * Takes the background out of a picture. A pixel on the edge is a mixture of what is in front and what is behind it: how much of each is
 * reckoned from the clean pixels beside it, and only what is in front is left, so that no fringe of the old ground comes along.
 */
import { rgbOfHex } from '../colour/hex.ts';
import { oklabInto, oklabOf, type Oklab } from '../colour/oklab.ts';
import type { KnockOut } from '../livery/paint.ts';
import type { Image8 } from '../raster/image.ts';

/** How many pixels beside the background can be mixtures with it. */
const EDGE = 2;
/** How far away the clean colour of an edge pixel is looked for. */
const LOOK = 4;
/** OKLab distance below which two colours cannot be told apart well enough to unmix them. */
const TOO_NEAR = 0.03;

/** Marks what counts as background: 1; the rest: 0. */
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
      const far = (lab[0] - ground[0]) ** 2 + (lab[1] - ground[1]) ** 2 + (lab[2] - ground[2]) ** 2;
      [last, lastLike] = [value, far <= most ? 1 : 0];
    }
    like[i] = lastLike;
  }
  return connected ? fromBorder(like, width, height) : like;
}

/** Of what is marked, what hangs together with the border. */
function fromBorder(like: Uint8Array, width: number, height: number): Uint8Array {
  const out = new Uint8Array(like.length);
  const waiting: number[] = [];
  const visit = (i: number) => {
    if (like[i] === 0 || out[i] === 1) return;
    out[i] = 1;
    waiting.push(i);
  };
  for (let x = 0; x < width; x++) {
    visit(x);
    visit((height - 1) * width + x);
  }
  for (let y = 0; y < height; y++) {
    visit(y * width);
    visit(y * width + width - 1);
  }
  for (let i = waiting.pop(); i !== undefined; i = waiting.pop()) {
    const x = i % width;
    if (x > 0) visit(i - 1);
    if (x < width - 1) visit(i + 1);
    if (i >= width) visit(i - width);
    if (i < like.length - width) visit(i + width);
  }
  return out;
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
    let [dot, square] = [0, 0];
    for (let c = 0; c < 3; c++) {
      dot += (data[o + c] - ground[c]) * (clean[c] - ground[c]);
      square += (clean[c] - ground[c]) ** 2;
    }
    const share = dot / square;
    if (share >= 0.985) continue;
    for (let c = 0; c < 3; c++) out[o + c] = Math.round(clean[c]);
    out[o + 3] = share <= 0 ? 0 : Math.round(data[o + 3] * share);
  }
  return { width, height, data: out };
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
        const weight = 1 / (dx * dx + dy * dy) ** 2;
        for (let c = 0; c < 3; c++) sum[c] += data[n * 4 + c] * weight;
        weights += weight;
      } else if (Math.max(Math.abs(dx), Math.abs(dy)) <= EDGE) {
        const distance = Math.hypot(...ground.map((v, c) => data[n * 4 + c] - v));
        if (distance > away) [purest, away] = [n, distance];
      }
    }
  }
  for (let c = 0; c < 3; c++) into[c] = weights > 0 ? sum[c] / weights : purest >= 0 ? data[purest * 4 + c] : ground[c];
  return Math.hypot(...ground.map((v, c) => (into[c] - v) / 255)) > TOO_NEAR;
}

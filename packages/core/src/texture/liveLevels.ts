/** Mip levels for showing a picture that changes in places: only what depends on a change is made again. */
import { LINEAR_OF_SRGB8, srgb8OfLinear } from '../colour/srgb.ts';
import { fullMipCount, mipSize } from './mips.ts';

/** What lies under texels that are not covered: sRGB, as all three channels. */
const GROUND = 128;
/** Bits of linear light that are dropped before it is looked up: less than half a step of 8-bit sRGB anywhere. */
const DROPPED = 9;
const SRGB8 = Uint8Array.from({ length: (1 << (24 - DROPPED)) + 1 }, (_, i) => srgb8OfLinear(i << DROPPED));

export interface LiveLevel {
  width: number;
  height: number;
  /** Opaque RGBA8, sRGB, row 0 at the top. */
  data: Uint8Array;
}

/** All levels of a picture that begins as ground alone. */
export function liveLevels(width: number, height: number): LiveLevel[] {
  return Array.from({ length: fullMipCount(width, height) }, (_, level) => {
    const size = mipSize(width, height, level);
    const data = new Uint8Array(size.width * size.height * 4).fill(GROUND);
    for (let i = 3; i < data.length; i += 4) data[i] = 255;
    return { ...size, data };
  });
}

/**
 * Puts a rectangle of straight RGBA8 (sRGB) over the ground, and brings every level up to it: each texel averages the light of the four
 * that it stands for. What reaches out of the picture is left away.
 * @param side its width, and its height where that is left out
 */
export function putLive(
  levels: readonly LiveLevel[],
  pixels: Uint8ClampedArray,
  side: number,
  x: number,
  y: number,
  height = side,
): void {
  const [top] = levels;
  let box = { left: x, top: y, right: Math.min(top.width, x + side), bottom: Math.min(top.height, y + height) };
  for (let row = box.top; row < box.bottom; row++) {
    let from = (row - y) * side * 4;
    for (let o = (row * top.width + x) * 4; o < (row * top.width + box.right) * 4; o += 4, from += 4) {
      const alpha = pixels[from + 3];
      for (let c = 0; c < 3; c++)
        top.data[o + c] =
          alpha === 255 ? pixels[from + c] : (pixels[from + c] * alpha + GROUND * (255 - alpha) + 127) / 255;
    }
  }
  for (let level = 1; level < levels.length; level++) {
    box = { left: box.left >> 1, top: box.top >> 1, right: (box.right + 1) >> 1, bottom: (box.bottom + 1) >> 1 };
    halve(levels[level - 1], levels[level], box);
  }
}

function halve(
  from: LiveLevel,
  to: LiveLevel,
  box: { left: number; top: number; right: number; bottom: number },
): void {
  // A side of one texel stays; of an odd side the last texel stands for itself.
  const [right, bottom] = [Math.min(box.right, to.width), Math.min(box.bottom, to.height)];
  for (let y = Math.min(box.top, to.height - 1); y < bottom; y++) {
    const up = Math.min(y * 2, from.height - 1) * from.width;
    const down = Math.min(y * 2 + 1, from.height - 1) * from.width;
    for (let x = Math.min(box.left, to.width - 1); x < right; x++) {
      const left = Math.min(x * 2, from.width - 1);
      const next = Math.min(x * 2 + 1, from.width - 1);
      const at = (y * to.width + x) * 4;
      for (let c = 0; c < 3; c++) {
        const light =
          LINEAR_OF_SRGB8[from.data[(up + left) * 4 + c]] +
          LINEAR_OF_SRGB8[from.data[(up + next) * 4 + c]] +
          LINEAR_OF_SRGB8[from.data[(down + left) * 4 + c]] +
          LINEAR_OF_SRGB8[from.data[(down + next) * 4 + c]];
        to.data[at + c] = SRGB8[light >> (DROPPED + 2)];
      }
    }
  }
}

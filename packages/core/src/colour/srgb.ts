/**
 * The sRGB transfer function (IEC 61966-2-1) as integer tables.
 *
 * Linear light is held as an integer, 0 to LINEAR_ONE (2^24). Math.pow builds the tables once; engines may differ in its last
 * bit, which cannot change a table entry: no entry lies within 1e-5 of a rounding boundary (srgb.test.ts holds that).
 */
export const LINEAR_ONE = 1 << 24;

/** sRGB-encoded value 0..1 to linear light 0..1. */
export function srgbToLinear(value: number): number {
  return value <= 0.04045 ? value / 12.92 : Math.pow((value + 0.055) / 1.055, 2.4);
}

/** Linear light 0..1 to sRGB-encoded value 0..1. */
export function linearToSrgb(value: number): number {
  return value <= 0.0031308 ? value * 12.92 : 1.055 * Math.pow(value, 1 / 2.4) - 0.055;
}

/** Linear light (0..LINEAR_ONE) of each 8-bit sRGB value. */
export const LINEAR_OF_SRGB8: Int32Array = Int32Array.from({ length: 256 }, (_, i) =>
  Math.round(srgbToLinear(i / 255) * LINEAR_ONE),
);

/** THRESHOLD[i] is the least linear value (0..LINEAR_ONE) that rounds to the 8-bit sRGB value i + 1. */
export const THRESHOLD: Int32Array = Int32Array.from({ length: 255 }, (_, i) =>
  Math.ceil(srgbToLinear((i + 0.5) / 255) * LINEAR_ONE),
);

const COARSE_BITS = 12;
const COARSE: Uint8Array = Uint8Array.from({ length: (1 << COARSE_BITS) + 1 }, (_, i) =>
  search(i << (24 - COARSE_BITS), 0),
);

function search(linear: number, from: number): number {
  let value = from;
  while (value < 255 && linear >= THRESHOLD[value]) value++;
  return value;
}

/** Nearest 8-bit sRGB value of a linear value (0..LINEAR_ONE; clamped). */
export function srgb8OfLinear(linear: number): number {
  const clamped = linear < 0 ? 0 : linear > LINEAR_ONE ? LINEAR_ONE : linear;
  return search(clamped, COARSE[clamped >>> (24 - COARSE_BITS)]);
}

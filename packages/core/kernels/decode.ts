/**
 * Blocks back to texels. BC7: Khronos Data Format Specification 1.3, section 20; the others: section 18 and 19. Where the standard
 * leaves the rounding of a mix open (BC1 to BC5), it is cut to a whole number.
 */
import {
  ANCHORS, PARTITION_BYTES2, PARTITION_BYTES3, SCRATCH, WEIGHTS, getB, getI, getV, putB, putI, putV,
} from './memory';

const LOWS: i32 = SCRATCH + 640; // three ends of i32 r g b a
const HIGHS: i32 = SCRATCH + 704;
const FIRST: i32 = SCRATCH + 768; // indices
const SECOND: i32 = SCRATCH + 784;
const PALETTE: i32 = SCRATCH + 800;
/** Sixteen decoded texels, RGBA8. */
export const DECODED: i32 = SCRATCH + 896;

let from: i32 = 0;
let at: i32 = 0;

function take(bits: i32): i32 {
  const value = (getI(from + (at >> 3)) >>> (at & 7)) & ((1 << bits) - 1);
  at += bits;
  return value;
}

function anchor(subsets: i32, partition: i32, i: i32): i32 {
  if (i == 0) return 1;
  if (subsets == 2) return getB(ANCHORS + partition) == i ? 1 : 0;
  if (subsets == 3) return getB(ANCHORS + 64 + partition) == i || getB(ANCHORS + 128 + partition) == i ? 1 : 0;
  return 0;
}

// @ts-ignore: decorator
@inline
function unquantise(value: i32, bits: i32): i32 {
  const x = value << (8 - bits);
  return x | (x >> bits);
}

/** The BC7 block at `source` into DECODED; a block of no mode is clear black, as the standard says. */
export function decodeBc7(source: i32): void {
  const head = getB(source);
  if (head == 0) {
    for (let k = 0; k < 64; k += 16) putV(DECODED + k, i32x4.splat(0));
    return;
  }
  let mode = 0;
  while (((head >> mode) & 1) == 0) mode++;
  // The last bytes are read past the block's end by up to three: the host leaves room.
  from = source;
  at = mode + 1;
  const subsets = mode == 0 || mode == 2 ? 3 : mode == 1 || mode == 3 || mode == 7 ? 2 : 1;
  const partition = subsets == 1 ? 0 : take(mode == 0 ? 4 : 6);
  const rotation = mode == 4 || mode == 5 ? take(2) : 0;
  const selector = mode == 4 ? take(1) : 0;
  const colourBits = mode == 0 ? 4 : mode == 1 ? 6 : mode == 2 || mode == 4 || mode == 7 ? 5 : 7;
  const alphaBits = mode == 4 ? 6 : mode == 5 ? 8 : mode == 6 ? 7 : mode == 7 ? 5 : 0;
  for (let c = 0; c < 4; c++) {
    for (let s = 0; s < subsets; s++) {
      if (c == 3 && alphaBits == 0) {
        putI(LOWS + s * 16 + 12, 255);
        putI(HIGHS + s * 16 + 12, 255);
      } else {
        putI(LOWS + s * 16 + c * 4, take(c == 3 ? alphaBits : colourBits));
        putI(HIGHS + s * 16 + c * 4, take(c == 3 ? alphaBits : colourBits));
      }
    }
  }
  const each = mode == 0 || mode == 3 || mode == 6 || mode == 7;
  const channels = alphaBits == 0 ? 3 : 4;
  for (let s = 0; s < subsets; s++) {
    let p = 0;
    let q = 0;
    if (each) {
      p = take(1);
      q = take(1);
    } else if (mode == 1) {
      p = take(1);
      q = p;
    }
    const more = each || mode == 1 ? 1 : 0;
    for (let c = 0; c < channels; c++) {
      const bits = (c == 3 ? alphaBits : colourBits) + more;
      const low = LOWS + s * 16 + c * 4;
      const high = HIGHS + s * 16 + c * 4;
      putI(low, unquantise((getI(low) << more) | p, bits));
      putI(high, unquantise((getI(high) << more) | q, bits));
    }
  }
  const bits = mode == 6 ? 4 : mode < 2 ? 3 : 2;
  for (let i = 0; i < 16; i++) putB(FIRST + i, take(bits - anchor(subsets, partition, i)));
  let colourAt = FIRST;
  let colourIndex = bits;
  let alphaAt = FIRST;
  let alphaIndex = bits;
  if (mode == 4 || mode == 5) {
    const second = mode == 4 ? 3 : 2;
    for (let i = 0; i < 16; i++) putB(SECOND + i, take(second - (i == 0 ? 1 : 0)));
    alphaAt = SECOND;
    alphaIndex = second;
    if (selector == 1) {
      colourAt = SECOND;
      colourIndex = 3;
      alphaAt = FIRST;
      alphaIndex = 2;
    }
  }
  putV(FIRST, i8x16.swizzle(getV(WEIGHTS + (bits - 2) * 16), getV(FIRST)));
  if (mode == 4 || mode == 5) putV(SECOND, i8x16.swizzle(getV(WEIGHTS + (mode == 4 ? 16 : 0)), getV(SECOND)));
  const map = subsets == 2 ? PARTITION_BYTES2 + partition * 16 : PARTITION_BYTES3 + partition * 16;
  for (let s = 0; s < subsets; s++) {
    const low = getV(LOWS + s * 16);
    const step = i32x4.sub(getV(HIGHS + s * 16), low);
    putV(LOWS + s * 16, i32x4.add(i32x4.shl(low, 6), i32x4.splat(32)));
    putV(HIGHS + s * 16, step);
  }
  for (let i = 0; i < 16; i++) {
    const s = subsets == 1 ? 0 : getB(map + i);
    let weight = i32x4.splat(getB(colourAt + i));
    if (alphaAt != colourAt) weight = i32x4.replace_lane(weight, 3, getB(alphaAt + i));
    const value = i32x4.shr_s(i32x4.add(i32x4.mul(getV(HIGHS + s * 16), weight), getV(LOWS + s * 16)), 6);
    const short = i16x8.narrow_i32x4_s(value, value);
    let texel = i8x16.narrow_i16x8_u(short, short);
    if (rotation == 1) texel = i8x16.shuffle(texel, texel, 3, 1, 2, 0, 3, 1, 2, 0, 3, 1, 2, 0, 3, 1, 2, 0);
    else if (rotation == 2) texel = i8x16.shuffle(texel, texel, 0, 3, 2, 1, 0, 3, 2, 1, 0, 3, 2, 1, 0, 3, 2, 1);
    else if (rotation == 3) texel = i8x16.shuffle(texel, texel, 0, 1, 3, 2, 0, 1, 3, 2, 0, 1, 3, 2, 0, 1, 3, 2);
    putI(DECODED + i * 4, i32x4.extract_lane(texel, 0));
  }
}

function wide565(colour: i32): i32 {
  const r = colour >> 11;
  const g = (colour >> 5) & 63;
  const b = colour & 31;
  return (r << 3) | (r >> 2) | (((g << 2) | (g >> 4)) << 8) | (((b << 3) | (b >> 2)) << 16) | (255 << 24);
}

/** The mix (first a + second b) / of of two packed colours, opaque. */
function mix(a: i32, b: i32, first: i32, second: i32, reciprocal: i32): i32 {
  let out = 255 << 24;
  for (let k = 0; k < 24; k += 8) out |= ((((a >> k) & 255) * first + ((b >> k) & 255) * second) * reciprocal >> 16) << k;
  return out;
}

/** The colours at `source` into DECODED. @param colourOnly 1 in BC2 and BC3: always four levels */
export function decodeBc1(source: i32, colourOnly: i32): void {
  const ends = getI(source);
  const c0 = ends & 0xffff;
  const c1 = ends >>> 16;
  const a = wide565(c0);
  const b = wide565(c1);
  putI(PALETTE, a);
  putI(PALETTE + 4, b);
  if (c0 > c1 || colourOnly == 1) {
    putI(PALETTE + 8, mix(a, b, 2, 1, 21846));
    putI(PALETTE + 12, mix(a, b, 1, 2, 21846));
  } else {
    putI(PALETTE + 8, mix(a, b, 1, 1, 32768));
    putI(PALETTE + 12, 0);
  }
  const index = getI(source + 4);
  for (let i = 0; i < 16; i++) putI(DECODED + i * 4, getI(PALETTE + ((index >>> (i * 2)) & 3) * 4));
}

/** One channel at `source` into byte `channel` of the texels in DECODED. @param signed 1 when the ends are signed; 0 then becomes 128 */
export function decodeBc4(source: i32, channel: i32, signed: i32): void {
  let a = getB(source);
  let b = getB(source + 1);
  let least = 0;
  let most = 255;
  if (signed == 1) {
    // -128 means the same as -127.
    a = a > 127 ? (a == 128 ? 1 : a - 128) : a + 128;
    b = b > 127 ? (b == 128 ? 1 : b - 128) : b + 128;
    least = 1;
  }
  putB(PALETTE, a);
  putB(PALETTE + 1, b);
  if (a > b) {
    for (let k = 1; k < 7; k++) putB(PALETTE + 1 + k, ((7 - k) * a + k * b) * 9363 >> 16);
  } else {
    for (let k = 1; k < 5; k++) putB(PALETTE + 1 + k, ((5 - k) * a + k * b) * 13108 >> 16);
    putB(PALETTE + 6, least);
    putB(PALETTE + 7, most);
  }
  const first = getI(source + 2) & 0xffffff;
  const second = getI(source + 5) & 0xffffff;
  for (let i = 0; i < 8; i++) {
    putB(DECODED + i * 4 + channel, getB(PALETTE + ((first >> (i * 3)) & 7)));
    putB(DECODED + 32 + i * 4 + channel, getB(PALETTE + ((second >> (i * 3)) & 7)));
  }
}

/** Explicit alpha of BC2. */
export function decodeAlpha4(source: i32): void {
  for (let i = 0; i < 16; i++) putB(DECODED + i * 4 + 3, ((getB(source + (i >> 1)) >> ((i & 1) * 4)) & 15) * 17);
}

/** DECODED black and opaque, for formats that carry fewer channels. */
export function blank(): void {
  for (let k = 0; k < 64; k += 16) putV(DECODED + k, i32x4.splat(-0x1000000));
}

/** A line through some texels of a block: its axis, its quantised ends, the nearest indices, and the error. Shared by BC1 and BC7. */
import { FACTORS, INDEX, SCRATCH, TEXELS, WEIGHTS, getI, getV, laneF, laneI, putI, putV, splat8, splatF, toF } from './memory';

/** Where `quantise` leaves its choice: codes of both ends with their p-bits (i32x4 r g b a), then the same expanded to 8 bits as ends. */
export const CODE_LOW: i32 = SCRATCH;
export const CODE_HIGH: i32 = SCRATCH + 16;
export const END_LOW: i32 = SCRATCH + 32;
export const END_HIGH: i32 = SCRATCH + 48;
/** Where `line` and `solve` leave the ends they want: f32x4 r g b a, 0..255. */
export const WANT_LOW: i32 = SCRATCH + 64;
export const WANT_HIGH: i32 = SCRATCH + 80;
/** Where `solve` leaves the curvature of the error: f32 of a a, 2 a b, b b. */
export const CURVE: i32 = SCRATCH + 96;
const COVARIANCE: i32 = SCRATCH + 128;
const STEPS: i32 = SCRATCH + 256;

/** Sums of four vectors of i32 at once: lane n is the sum of the n-th. */
export function sum4(a: v128, b: v128, c: v128, d: v128): v128 {
  const ab = i32x4.add(i32x4.shuffle(a, b, 0, 1, 4, 5), i32x4.shuffle(a, b, 2, 3, 6, 7));
  const cd = i32x4.add(i32x4.shuffle(c, d, 0, 1, 4, 5), i32x4.shuffle(c, d, 2, 3, 6, 7));
  return i32x4.add(i32x4.shuffle(ab, cd, 0, 2, 4, 6), i32x4.shuffle(ab, cd, 1, 3, 5, 7));
}

// @ts-ignore: decorator
@inline
export function sum1(a: v128): i32 {
  const b = i32x4.add(a, i32x4.shuffle(a, a, 2, 3, 0, 1));
  return i32x4.extract_lane(b, 0) + i32x4.extract_lane(b, 1);
}

/** Four texels of each of four rows into TEXELS. */
export function loadTexels(source: i32, stride: i32): void {
  putV(TEXELS, getV(source));
  putV(TEXELS + 16, getV(source + stride));
  putV(TEXELS + 32, getV(source + 2 * stride));
  putV(TEXELS + 48, getV(source + 3 * stride));
}

/** Which bits of TEXELS differ from those of the first texel. */
export function varied(): v128 {
  const v0 = getV(TEXELS);
  const first = i32x4.shuffle(v0, v0, 0, 0, 0, 0);
  return v128.or(
    v128.or(v128.xor(v0, first), v128.xor(getV(TEXELS + 16), first)),
    v128.or(v128.xor(getV(TEXELS + 32), first), v128.xor(getV(TEXELS + 48), first)),
  );
}

/** Makes a set of TEXELS: channels apart, then in pairs. */
export function spread(set: i32): void {
  for (let half = 0; half < 2; half++) {
    const v0 = getV(TEXELS + half * 32);
    const v1 = getV(TEXELS + half * 32 + 16);
    const at = set + half * 16;
    const rg = i8x16.shuffle(v0, v1, 0, 4, 8, 12, 16, 20, 24, 28, 1, 5, 9, 13, 17, 21, 25, 29);
    const ba = i8x16.shuffle(v0, v1, 2, 6, 10, 14, 18, 22, 26, 30, 3, 7, 11, 15, 19, 23, 27, 31);
    putV(at, i16x8.extend_low_i8x16_u(rg));
    putV(at + 32, i16x8.extend_high_i8x16_u(rg));
    putV(at + 64, i16x8.extend_low_i8x16_u(ba));
    putV(at + 96, i16x8.extend_high_i8x16_u(ba));
  }
  pair(set);
}

/** Works out a set's pairs from its channels. */
export function pair(set: i32): void {
  for (let half = 0; half < 2; half++) {
    const r = getV(set + half * 16);
    const g = getV(set + 32 + half * 16);
    const b = getV(set + 64 + half * 16);
    const a = getV(set + 96 + half * 16);
    const at = set + 128 + half * 32;
    putV(at, i16x8.shuffle(r, g, 0, 8, 1, 9, 2, 10, 3, 11));
    putV(at + 16, i16x8.shuffle(r, g, 4, 12, 5, 13, 6, 14, 7, 15));
    putV(at + 64, i16x8.shuffle(b, a, 0, 8, 1, 9, 2, 10, 3, 11));
    putV(at + 80, i16x8.shuffle(b, a, 4, 12, 5, 13, 6, 14, 7, 15));
  }
}

/** Sums of r, g, b, a over masked texels: i32x4. */
export function sums(set: i32, mask: i32): v128 {
  const m0 = getV(mask);
  const m1 = getV(mask + 16);
  const one = i16x8.splat(1);
  return sum4(
    i32x4.dot_i16x8_s(i16x8.add(v128.and(getV(set), m0), v128.and(getV(set + 16), m1)), one),
    i32x4.dot_i16x8_s(i16x8.add(v128.and(getV(set + 32), m0), v128.and(getV(set + 48), m1)), one),
    i32x4.dot_i16x8_s(i16x8.add(v128.and(getV(set + 64), m0), v128.and(getV(set + 80), m1)), one),
    i32x4.dot_i16x8_s(i16x8.add(v128.and(getV(set + 96), m0), v128.and(getV(set + 112), m1)), one),
  );
}

// @ts-ignore: decorator
@inline
function products(x0: v128, x1: v128, set: i32, channel: i32): v128 {
  return i32x4.add(
    i32x4.dot_i16x8_s(x0, getV(set + channel * 32)),
    i32x4.dot_i16x8_s(x1, getV(set + channel * 32 + 16)),
  );
}

/** Principal axis of masked texels, its longest part 1000 (i32x4); zero when they are all alike. Power iteration, four rounds. */
export function axisOf(set: i32, mask: i32, total: v128, count: f64, channels: i32): v128 {
  const m0 = getV(mask);
  const m1 = getV(mask + 16);
  const zero = i32x4.splat(0);
  const r0 = v128.and(getV(set), m0);
  const r1 = v128.and(getV(set + 16), m1);
  const g0 = v128.and(getV(set + 32), m0);
  const g1 = v128.and(getV(set + 48), m1);
  const b0 = v128.and(getV(set + 64), m0);
  const b1 = v128.and(getV(set + 80), m1);
  const rr = products(r0, r1, set, 0);
  const rg = products(r0, r1, set, 1);
  const rb = products(r0, r1, set, 2);
  const gg = products(g0, g1, set, 1);
  const gb = products(g0, g1, set, 2);
  const bb = products(b0, b1, set, 2);
  let ra = zero;
  let ga = zero;
  let ba = zero;
  let aa = zero;
  if (channels == 4) {
    const a0 = v128.and(getV(set + 96), m0);
    const a1 = v128.and(getV(set + 112), m1);
    ra = products(a0, a1, set, 0);
    ga = products(a0, a1, set, 1);
    ba = products(a0, a1, set, 2);
    aa = products(a0, a1, set, 3);
  }
  let mean = f32x4.convert_i32x4_s(total);
  if (channels == 3) mean = f32x4.replace_lane(mean, 3, 0);
  const over = f32x4.mul(mean, splatF(1.0 / count));
  const rowR = f32x4.sub(f32x4.convert_i32x4_s(sum4(rr, rg, rb, ra)), f32x4.mul(mean, f32x4.shuffle(over, over, 0, 0, 0, 0)));
  const rowG = f32x4.sub(f32x4.convert_i32x4_s(sum4(rg, gg, gb, ga)), f32x4.mul(mean, f32x4.shuffle(over, over, 1, 1, 1, 1)));
  const rowB = f32x4.sub(f32x4.convert_i32x4_s(sum4(rb, gb, bb, ba)), f32x4.mul(mean, f32x4.shuffle(over, over, 2, 2, 2, 2)));
  let rowA = f32x4.splat(0);
  let v = rowR;
  let most = laneF(rowR, 0);
  if (laneF(rowG, 1) > most) {
    most = laneF(rowG, 1);
    v = rowG;
  }
  if (laneF(rowB, 2) > most) {
    most = laneF(rowB, 2);
    v = rowB;
  }
  if (channels == 4) {
    rowA = f32x4.sub(f32x4.convert_i32x4_s(sum4(ra, ga, ba, aa)), f32x4.mul(mean, f32x4.shuffle(over, over, 3, 3, 3, 3)));
    if (laneF(rowA, 3) > most) {
      most = laneF(rowA, 3);
      v = rowA;
    }
  }
  if (most < 0.01) return zero;
  for (let round = 0; round < 4; round++) {
    let next = f32x4.mul(rowR, f32x4.shuffle(v, v, 0, 0, 0, 0));
    next = f32x4.add(next, f32x4.mul(rowG, f32x4.shuffle(v, v, 1, 1, 1, 1)));
    next = f32x4.add(next, f32x4.mul(rowB, f32x4.shuffle(v, v, 2, 2, 2, 2)));
    if (channels == 4) next = f32x4.add(next, f32x4.mul(rowA, f32x4.shuffle(v, v, 3, 3, 3, 3)));
    v = next;
  }
  const size = f32x4.abs(v);
  let longest = f32x4.max(size, f32x4.shuffle(size, size, 2, 3, 0, 1));
  longest = f32x4.max(longest, f32x4.shuffle(longest, longest, 1, 0, 3, 2));
  return i32x4.trunc_sat_f32x4_s(f32x4.mul(v, f32x4.div(f32x4.splat(1000), longest)));
}

/** Projections of the sixteen texels on an integer axis into four vectors at `out`. */
export function project(set: i32, axis: v128, out: i32): void {
  const ends = i16x8.narrow_i32x4_s(axis, axis);
  const rg = i32x4.shuffle(ends, ends, 0, 0, 0, 0);
  const ba = i32x4.shuffle(ends, ends, 1, 1, 1, 1);
  for (let k = 0; k < 64; k += 16) {
    putV(out + k, i32x4.add(i32x4.dot_i16x8_s(getV(set + 128 + k), rg), i32x4.dot_i16x8_s(getV(set + 192 + k), ba)));
  }
}

/** Ends of the masked texels' spread along an axis into WANT_LOW and WANT_HIGH. */
export function line(set: i32, mask: i32, total: v128, count: f64, axis: v128): void {
  project(set, axis, COVARIANCE);
  const m0 = getV(mask);
  const m1 = getV(mask + 16);
  const far = i32x4.splat(0x7fffffff);
  const near = i32x4.splat(-0x7fffffff);
  let k = i32x4.extend_low_i16x8_s(m0);
  let p = getV(COVARIANCE);
  let least = v128.bitselect(p, far, k);
  let most = v128.bitselect(p, near, k);
  k = i32x4.extend_high_i16x8_s(m0);
  p = getV(COVARIANCE + 16);
  least = i32x4.min_s(least, v128.bitselect(p, far, k));
  most = i32x4.max_s(most, v128.bitselect(p, near, k));
  k = i32x4.extend_low_i16x8_s(m1);
  p = getV(COVARIANCE + 32);
  least = i32x4.min_s(least, v128.bitselect(p, far, k));
  most = i32x4.max_s(most, v128.bitselect(p, near, k));
  k = i32x4.extend_high_i16x8_s(m1);
  p = getV(COVARIANCE + 48);
  least = i32x4.min_s(least, v128.bitselect(p, far, k));
  most = i32x4.max_s(most, v128.bitselect(p, near, k));
  least = i32x4.min_s(least, i32x4.shuffle(least, least, 2, 3, 0, 1));
  least = i32x4.min_s(least, i32x4.shuffle(least, least, 1, 0, 3, 2));
  most = i32x4.max_s(most, i32x4.shuffle(most, most, 2, 3, 0, 1));
  most = i32x4.max_s(most, i32x4.shuffle(most, most, 1, 0, 3, 2));
  const length = toF(sum1(i32x4.mul(axis, axis)));
  const middle = toF(sum1(i32x4.mul(axis, total))) / count;
  const mean = f32x4.mul(f32x4.convert_i32x4_s(total), splatF(1.0 / count));
  const along = f32x4.convert_i32x4_s(axis);
  const scale = length > 0.0 ? 1.0 / length : 0.0;
  putV(WANT_LOW, f32x4.add(mean, f32x4.mul(along, splatF((toF(laneI(least, 0)) - middle) * scale))));
  putV(WANT_HIGH, f32x4.add(mean, f32x4.mul(along, splatF((toF(laneI(most, 0)) - middle) * scale))));
}

// @ts-ignore: decorator
@inline
function channelError(error: v128, set: i32, f0: v128, f1: v128, m0: v128, m1: v128, step: v128, base: v128, weight: v128): v128 {
  const x0 = v128.and(i16x8.sub(getV(set), i16x8.shr_s(i16x8.add(i16x8.mul(f0, step), base), 6)), m0);
  const x1 = v128.and(i16x8.sub(getV(set + 16), i16x8.shr_s(i16x8.add(i16x8.mul(f1, step), base), 6)), m1);
  return i32x4.add(
    error,
    i32x4.add(i32x4.dot_i16x8_s(x0, i16x8.mul(x0, weight)), i32x4.dot_i16x8_s(x1, i16x8.mul(x1, weight))),
  );
}

// @ts-ignore: decorator
@inline
function placed(set: i32, k: i32, rg: v128, ba: v128, offset: v128, scale: v128): v128 {
  const along = i32x4.add(i32x4.dot_i16x8_s(getV(set + 128 + k), rg), i32x4.dot_i16x8_s(getV(set + 192 + k), ba));
  const place = f32x4.mul(f32x4.convert_i32x4_s(i32x4.sub(along, offset)), scale);
  return i32x4.trunc_sat_f32x4_s(f32x4.add(place, f32x4.splat(0.5)));
}

/** For each texel the nearest of the evenly spaced levels 0 to `top` between two ends (r g b a twice, i16): sixteen bytes. */
// @ts-ignore: decorator
@inline
export function nearest(set: i32, low: v128, high: v128, weights: v128, top: i32): v128 {
  const step = i16x8.sub(high, low);
  const pull = i16x8.mul(step, weights);
  const from = i32x4.dot_i16x8_s(low, pull);
  const span = i32x4.dot_i16x8_s(step, pull);
  const offset = i32x4.splat(i32x4.extract_lane(from, 0) + i32x4.extract_lane(from, 1));
  const length = i32x4.extract_lane(span, 0) + i32x4.extract_lane(span, 1);
  const scale = splatF(length > 0 ? toF(top) / toF(length) : 0.0);
  const rg = i32x4.shuffle(pull, pull, 0, 0, 0, 0);
  const ba = i32x4.shuffle(pull, pull, 1, 1, 1, 1);
  const t0 = placed(set, 0, rg, ba, offset, scale);
  const t1 = placed(set, 16, rg, ba, offset, scale);
  const t2 = placed(set, 32, rg, ba, offset, scale);
  const t3 = placed(set, 48, rg, ba, offset, scale);
  return i8x16.min_u(
    i8x16.narrow_i16x8_u(i16x8.narrow_i32x4_s(t0, t1), i16x8.narrow_i32x4_s(t2, t3)),
    splat8(top),
  );
}

/** Whether the fit at hand holds opaque texels: 1 those in PINS on the high end, 2 all texels on a line of alpha 255, 0 none. */
let pinned: i32 = 0;

/** Sixteen bytes: all ones where a texel is held on the high end. */
const PINS: i32 = SCRATCH + 1792;

/**
 * Nearest indices for two ends (r g b a twice, i16, 0..255) into INDEX and FACTORS, and the weighted squared error over masked texels.
 * @param weights of the channels, r g b a twice, i16
 */
export function evaluate(set: i32, mask: i32, low: v128, high: v128, weights: v128, bits: i32, channels: i32): i32 {
  const step = i16x8.sub(high, low);
  let index = nearest(set, low, high, weights, (1 << bits) - 1);
  // Opaque texels lie on the high end, where alpha is 255.
  if (pinned != 0) index = v128.bitselect(splat8((1 << bits) - 1), index, getV(PINS));
  const factors = i8x16.swizzle(getV(WEIGHTS + (bits - 2) * 16), index);
  const f0 = i16x8.extend_low_i8x16_u(factors);
  const f1 = i16x8.extend_high_i8x16_u(factors);
  putV(INDEX, index);
  putV(FACTORS, f0);
  putV(FACTORS + 16, f1);
  const base = i16x8.add(i16x8.shl(low, 6), i16x8.splat(32));
  const m0 = getV(mask);
  const m1 = getV(mask + 16);
  let error = i32x4.splat(0);
  error = channelError(
    error, set, f0, f1, m0, m1,
    i16x8.shuffle(step, step, 0, 0, 0, 0, 0, 0, 0, 0),
    i16x8.shuffle(base, base, 0, 0, 0, 0, 0, 0, 0, 0),
    i16x8.shuffle(weights, weights, 0, 0, 0, 0, 0, 0, 0, 0),
  );
  error = channelError(
    error, set + 32, f0, f1, m0, m1,
    i16x8.shuffle(step, step, 1, 1, 1, 1, 1, 1, 1, 1),
    i16x8.shuffle(base, base, 1, 1, 1, 1, 1, 1, 1, 1),
    i16x8.shuffle(weights, weights, 1, 1, 1, 1, 1, 1, 1, 1),
  );
  error = channelError(
    error, set + 64, f0, f1, m0, m1,
    i16x8.shuffle(step, step, 2, 2, 2, 2, 2, 2, 2, 2),
    i16x8.shuffle(base, base, 2, 2, 2, 2, 2, 2, 2, 2),
    i16x8.shuffle(weights, weights, 2, 2, 2, 2, 2, 2, 2, 2),
  );
  if (channels == 4) {
    error = channelError(
      error, set + 96, f0, f1, m0, m1,
      i16x8.shuffle(step, step, 3, 3, 3, 3, 3, 3, 3, 3),
      i16x8.shuffle(base, base, 3, 3, 3, 3, 3, 3, 3, 3),
      i16x8.shuffle(weights, weights, 3, 3, 3, 3, 3, 3, 3, 3),
    );
  }
  return sum1(error);
}

/**
 * Least-squares ends for the factors in FACTORS into WANT_LOW and WANT_HIGH, the curvature into CURVE.
 * @param unit what the factors are parts of: 64 for BC7
 * @returns 0 when the factors are all alike and decide nothing
 */
export function solve(set: i32, mask: i32, total: v128, count: i32, unit: i32): i32 {
  const f0 = v128.and(getV(FACTORS), getV(mask));
  const f1 = v128.and(getV(FACTORS + 16), getV(mask + 16));
  const zero = i32x4.splat(0);
  const one = i16x8.splat(1);
  const own = sum4(
    i32x4.dot_i16x8_s(i16x8.add(f0, f1), one),
    i32x4.add(i32x4.dot_i16x8_s(f0, f0), i32x4.dot_i16x8_s(f1, f1)),
    zero,
    zero,
  );
  const s = i32x4.extract_lane(own, 0);
  const bb = i32x4.extract_lane(own, 1);
  const ab = unit * s - bb;
  const aa = unit * unit * count - 2 * unit * s + bb;
  const det = toF(aa) * toF(bb) - toF(ab) * toF(ab);
  if (det < 1.0) return 0;
  const highs = sum4(products(f0, f1, set, 0), products(f0, f1, set, 1), products(f0, f1, set, 2), products(f0, f1, set, 3));
  const lows = i32x4.sub(i32x4.mul(total, i32x4.splat(unit)), highs);
  const xb = f32x4.convert_i32x4_s(highs);
  const xa = f32x4.convert_i32x4_s(lows);
  const scale = toF(unit) / det;
  const low = f32x4.sub(f32x4.mul(xa, splatF(toF(bb) * scale)), f32x4.mul(xb, splatF(toF(ab) * scale)));
  const high = f32x4.sub(f32x4.mul(xb, splatF(toF(aa) * scale)), f32x4.mul(xa, splatF(toF(ab) * scale)));
  putV(WANT_LOW, low);
  putV(WANT_HIGH, high);
  putV(CURVE, splatF(toF(aa)));
  putV(CURVE + 16, splatF(2.0 * toF(ab)));
  putV(CURVE + 32, splatF(toF(bb)));
  return 1;
}

/** The curvature to use before any indices are known: factors spread evenly. */
export function evenCurve(): void {
  putV(CURVE, f32x4.splat(1));
  putV(CURVE + 16, f32x4.splat(1));
  putV(CURVE + 32, f32x4.splat(1));
}

// @ts-ignore: decorator
@inline
export function expand(code: v128, bits: i32): v128 {
  if (bits == 8) return code;
  return v128.or(i32x4.shl(code, 8 - bits), i32x4.shr_u(code, 2 * bits - 8));
}

/** The two codes about the wanted value, one vector of codes and one of what they are off by, each, at `out`. */
function neighbours(want: v128, bits: i32, pBit: i32, out: i32): void {
  const scaled = f32x4.mul(want, splatF(toF((1 << bits) - 1) / 255.0));
  let low: v128;
  let high: v128;
  const zero = i32x4.splat(0);
  if (pBit < 0) {
    const top = i32x4.splat((1 << bits) - 1);
    low = i32x4.min_s(i32x4.trunc_sat_f32x4_s(scaled), top);
    high = i32x4.min_s(i32x4.add(low, i32x4.splat(1)), top);
  } else {
    const top = i32x4.splat((1 << (bits - 1)) - 1);
    const p = i32x4.splat(pBit);
    const q = f32x4.mul(f32x4.sub(scaled, f32x4.convert_i32x4_s(p)), f32x4.splat(0.5));
    low = i32x4.min_s(i32x4.max_s(i32x4.trunc_sat_f32x4_s(q), zero), top);
    high = i32x4.min_s(i32x4.add(low, i32x4.splat(1)), top);
    low = v128.or(i32x4.shl(low, 1), p);
    high = v128.or(i32x4.shl(high, 1), p);
  }
  putV(out, low);
  putV(out + 16, f32x4.sub(f32x4.convert_i32x4_s(expand(low, bits)), want));
  putV(out + 32, high);
  putV(out + 48, f32x4.sub(f32x4.convert_i32x4_s(expand(high, bits)), want));
}

/** No p-bits; one for each end; one for both; both are 1. */
export const P_NONE: i32 = 0;
export const P_EACH: i32 = 1;
export const P_SHARED: i32 = 2;
export const P_ONES: i32 = 3;

/**
 * Codes for WANT_LOW and WANT_HIGH such that the error as CURVE predicts it is least: both ends are rounded together, channel by
 * channel, and the p-bits chosen with them. Leaves CODE_LOW, CODE_HIGH, END_LOW, END_HIGH.
 * @param bits of a channel, p-bit included
 */
export function quantise(weights: v128, bits: i32, pBits: i32): void {
  const zero = f32x4.splat(0);
  const full = f32x4.splat(255);
  const low = f32x4.min(f32x4.max(getV(WANT_LOW), zero), full);
  const high = f32x4.min(f32x4.max(getV(WANT_HIGH), zero), full);
  const firstP = pBits == P_NONE ? -1 : pBits == P_ONES ? 1 : 0;
  const lastP = pBits == P_NONE ? -1 : 1;
  for (let p = firstP; p <= lastP; p++) {
    const at = STEPS + (p == 1 ? 128 : 0);
    neighbours(low, bits, p, at);
    neighbours(high, bits, p, at + 64);
  }
  const weight = f32x4.convert_i32x4_s(i32x4.extend_low_i16x8_s(weights));
  const aa = getV(CURVE);
  const ab = getV(CURVE + 16);
  const bb = getV(CURVE + 32);
  let least = 1e30;
  for (let p = firstP; p <= lastP; p++) {
    const a = STEPS + (p == 1 ? 128 : 0);
    const l0 = getV(a + 16);
    const l1 = getV(a + 48);
    const al0 = f32x4.mul(f32x4.mul(l0, l0), aa);
    const al1 = f32x4.mul(f32x4.mul(l1, l1), aa);
    const x0 = f32x4.mul(l0, ab);
    const x1 = f32x4.mul(l1, ab);
    // Alpha of 255 asks for a p-bit of one.
    if (pinned == 2 && p == 0) continue;
    for (let q = firstP; q <= lastP; q++) {
      if (pBits == P_SHARED && p != q) continue;
      if (pinned != 0 && q == 0) continue;
      const b = STEPS + (q == 1 ? 128 : 0) + 64;
      const h0 = getV(b + 16);
      const h1 = getV(b + 48);
      const bh0 = f32x4.mul(f32x4.mul(h0, h0), bb);
      const bh1 = f32x4.mul(f32x4.mul(h1, h1), bb);
      const c00 = f32x4.add(f32x4.add(al0, bh0), f32x4.mul(x0, h0));
      const c01 = f32x4.add(f32x4.add(al0, bh1), f32x4.mul(x0, h1));
      const c10 = f32x4.add(f32x4.add(al1, bh0), f32x4.mul(x1, h0));
      const c11 = f32x4.add(f32x4.add(al1, bh1), f32x4.mul(x1, h1));
      const up0 = f32x4.lt(c01, c00);
      const up1 = f32x4.lt(c11, c10);
      const c0 = f32x4.min(c00, c01);
      const c1 = f32x4.min(c10, c11);
      const lowUp = f32x4.lt(c1, c0);
      const cost = f32x4.mul(f32x4.min(c0, c1), weight);
      const sum = f32x4.add(cost, f32x4.shuffle(cost, cost, 2, 3, 0, 1));
      const total = laneF(sum, 0) + laneF(sum, 1);
      if (total < least) {
        least = total;
        const highUp = v128.bitselect(up1, up0, lowUp);
        putV(CODE_LOW, v128.bitselect(getV(a + 32), getV(a), lowUp));
        putV(CODE_HIGH, v128.bitselect(getV(b + 32), getV(b), highUp));
      }
    }
  }
  putEnds(bits);
}

/** END_LOW and END_HIGH of CODE_LOW and CODE_HIGH. */
export function putEnds(bits: i32): void {
  const low = expand(getV(CODE_LOW), bits);
  const high = expand(getV(CODE_HIGH), bits);
  putV(END_LOW, i16x8.narrow_i32x4_s(low, low));
  putV(END_HIGH, i16x8.narrow_i32x4_s(high, high));
}

/** A fit's record: error, codes, ends, indices. */
export const RECORD: i32 = 96;
export const R_LOW: i32 = 16;
export const R_HIGH: i32 = 32;
export const R_INDEX: i32 = 48;
export const R_END_LOW: i32 = 64;
export const R_END_HIGH: i32 = 80;

export function keep(out: i32, error: i32): void {
  putI(out, error);
  putV(out + R_LOW, getV(CODE_LOW));
  putV(out + R_HIGH, getV(CODE_HIGH));
  putV(out + R_INDEX, getV(INDEX));
  putV(out + R_END_LOW, getV(END_LOW));
  putV(out + R_END_HIGH, getV(END_HIGH));
}

/**
 * Fits a line to masked texels and writes the record at `out`.
 * @param rounds of least squares after the first guess
 * @param nudges of single codes after that, for the patient
 * @returns the weighted squared error
 */
export function fit(
  set: i32, mask: i32, count: i32, weights: v128, channels: i32, bits: i32, pBits: i32, indexBits: i32, rounds: i32, nudges: i32, out: i32,
): i32 {
  const total = sums(set, mask);
  const axis = axisOf(set, mask, total, toF(count), channels);
  line(set, mask, total, toF(count), axis);
  evenCurve();
  quantise(weights, bits, pBits);
  let best = evaluate(set, mask, getV(END_LOW), getV(END_HIGH), weights, indexBits, channels);
  keep(out, best);
  best = improve(set, mask, total, count, weights, channels, bits, pBits, indexBits, rounds, out, best);
  for (let n = 0; n < nudges; n++) {
    if (best == 0) break;
    const before = best;
    best = nudge(set, mask, weights, channels, bits, pBits, indexBits, out, best);
    if (best == before) break;
    best = improve(set, mask, total, count, weights, channels, bits, pBits, indexBits, 1, out, best);
  }
  return best;
}

/**
 * Fits a line whose high end has alpha 255 to masked texels, with the opaque ones on that end; or a line of alpha 255, whichever is
 * nearer. Begins with the ends of the record at `out`, which an earlier fit left, and writes the record there.
 * @param opaque masks of texels whose alpha is 255, as those of a subset
 * @returns the weighted squared error
 */
export function fitPinned(
  set: i32, mask: i32, opaque: i32, count: i32, weights: v128, bits: i32, pBits: i32, indexBits: i32, rounds: i32, out: i32,
): i32 {
  const held0 = v128.and(getV(opaque), getV(mask));
  const held1 = v128.and(getV(opaque + 16), getV(mask + 16));
  const total = sums(set, mask);
  const ones = i32x4.add(
    i32x4.dot_i16x8_s(held0, i16x8.splat(-1)),
    i32x4.dot_i16x8_s(held1, i16x8.splat(-1)),
  );
  const number = sum1(ones);
  const low = getV(out + R_END_LOW);
  const high = getV(out + R_END_HIGH);
  let best = 0x7fffffff;
  if (number < count) {
    // The colour of the opaque texels, on the average, on the high end.
    putV(PIN_MASK, held0);
    putV(PIN_MASK + 16, held1);
    const middle = f32x4.mul(f32x4.convert_i32x4_s(sums(set, PIN_MASK)), splatF(1.0 / toF(number)));
    putV(PINS, i8x16.narrow_i16x8_s(held0, held1));
    const up = i16x8.extract_lane_s(low, 3) > i16x8.extract_lane_s(high, 3);
    putV(WANT_LOW, f32x4.convert_i32x4_s(i32x4.extend_low_i16x8_s(up ? high : low)));
    putV(WANT_HIGH, middle);
    pinned = 1;
    best = refine(set, mask, total, count, weights, bits, pBits, indexBits, rounds, out, best);
  }
  // All on a line of alpha 255, where that loses less than the opaque texels' colours would by lying in one place.
  if (number == count || lostOpaque(set, mask) * i16x8.extract_lane_s(weights, 3) < best) {
    putV(PINS, i32x4.splat(0));
    putV(WANT_LOW, f32x4.convert_i32x4_s(i32x4.extend_low_i16x8_s(low)));
    putV(WANT_HIGH, f32x4.convert_i32x4_s(i32x4.extend_low_i16x8_s(high)));
    pinned = 2;
    best = refine(set, mask, total, count, weights, bits, pBits, indexBits, rounds, out, best);
  }
  pinned = 0;
  return best;
}

/** Squared error of the masked texels' alpha when all of them decode to 255. */
function lostOpaque(set: i32, mask: i32): i32 {
  const full = i16x8.splat(255);
  const x0 = v128.and(i16x8.sub(full, getV(set + 96)), getV(mask));
  const x1 = v128.and(i16x8.sub(full, getV(set + 112)), getV(mask + 16));
  return sum1(i32x4.add(i32x4.dot_i16x8_s(x0, x0), i32x4.dot_i16x8_s(x1, x1)));
}

/** From the ends in WANT_LOW and WANT_HIGH, as `pinned` has it, to the record at `out` where it beats what is there. */
function refine(
  set: i32, mask: i32, total: v128, count: i32, weights: v128, bits: i32, pBits: i32, indexBits: i32, rounds: i32, out: i32, start: i32,
): i32 {
  let best = start;
  let before = 0x7fffffff;
  evenCurve();
  for (let round = 0; round <= rounds; round++) {
    if (round > 0 && solve(set, mask, total, count, 64) == 0) break;
    if (pinned == 2) putV(WANT_LOW, f32x4.replace_lane(getV(WANT_LOW), 3, 255));
    putV(WANT_HIGH, f32x4.replace_lane(getV(WANT_HIGH), 3, 255));
    quantise(weights, bits, pBits);
    const error = evaluate(set, mask, getV(END_LOW), getV(END_HIGH), weights, indexBits, 4);
    if (error < best) {
      best = error;
      keep(out, best);
    }
    if (error >= before || error == 0) break;
    before = error;
  }
  return best;
}

/** Two masks of eight texels. */
const PIN_MASK: i32 = SCRATCH + 1808;

function improve(
  set: i32, mask: i32, total: v128, count: i32, weights: v128, channels: i32, bits: i32, pBits: i32, indexBits: i32, rounds: i32, out: i32, start: i32,
): i32 {
  let best = start;
  for (let round = 0; round < rounds; round++) {
    if (best == 0) break;
    if (solve(set, mask, total, count, 64) == 0) break;
    quantise(weights, bits, pBits);
    const error = evaluate(set, mask, getV(END_LOW), getV(END_HIGH), weights, indexBits, channels);
    if (error >= best) break;
    best = error;
    keep(out, best);
  }
  return best;
}

/** Tries each code of each end one step down and up; keeps what helps. FACTORS are those of the record on return. */
function nudge(set: i32, mask: i32, weights: v128, channels: i32, bits: i32, pBits: i32, indexBits: i32, out: i32, start: i32): i32 {
  let best = start;
  const top = (1 << bits) - 1;
  const stride = pBits == P_NONE ? 1 : 2;
  for (let end = R_LOW; end <= R_HIGH; end += 16) {
    for (let c = 0; c < channels; c++) {
      for (let turn = 0; turn < 2; turn++) {
        putV(CODE_LOW, getV(out + R_LOW));
        putV(CODE_HIGH, getV(out + R_HIGH));
        const at = (end == R_LOW ? CODE_LOW : CODE_HIGH) + c * 4;
        const code = getI(at) + (turn == 0 ? -stride : stride);
        if (code < 0) continue;
        if (code > top) continue;
        putI(at, code);
        putEnds(bits);
        const error = evaluate(set, mask, getV(END_LOW), getV(END_HIGH), weights, indexBits, channels);
        if (error < best) {
          best = error;
          keep(out, best);
        }
      }
    }
  }
  // Leave the factors of what was kept for the next round of least squares.
  evaluate(set, mask, getV(out + R_END_LOW), getV(out + R_END_HIGH), weights, indexBits, channels);
  return best;
}

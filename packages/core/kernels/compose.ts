/**
 * Compositing of 16-bit premultiplied RGBA, eight bytes a texel, in this memory. src/compose/blend.ts and src/raster/tile16.ts define
 * every function here in plain TypeScript, and say where the formulas come from; results are equal to the bit.
 */
import { getB, getI, getV, putI, putV, texel16, twice16, half16 } from './memory';

/** The blend modes that integers do, in the order of INTEGER_MODES (src/compose/blend.ts). */
const NORMAL: i32 = 0;
const MULTIPLY: i32 = 1;
const SCREEN: i32 = 2;
const OVERLAY: i32 = 3;
const DARKEN: i32 = 4;
const LIGHTEN: i32 = 5;
const HARD_LIGHT: i32 = 6;
const DIFFERENCE: i32 = 7;
const EXCLUSION: i32 = 8;
const LINEAR_DODGE: i32 = 9;
const LINEAR_BURN: i32 = 10;
const LINEAR_LIGHT: i32 = 11;
const PIN_LIGHT: i32 = 12;

// @ts-ignore: decorator
@inline
function round(product: v128): v128 {
  const t = i32x4.add(product, i32x4.splat(32768));
  return i32x4.shr_u(i32x4.add(t, i32x4.shr_u(t, 16)), 16);
}
/** a * b / 65535, rounded, in four lanes. */
// @ts-ignore: decorator
@inline
function mul(a: v128, b: v128): v128 {
  return round(i32x4.mul(a, b));
}
/** The same in eight lanes of 16 bits. */
// @ts-ignore: decorator
@inline
function mul8(a: v128, b: v128): v128 {
  return i16x8.narrow_i32x4_u(round(i32x4.extmul_low_i16x8_u(a, b)), round(i32x4.extmul_high_i16x8_u(a, b)));
}
// @ts-ignore: decorator
@inline
function alphas(v: v128): v128 {
  return i16x8.shuffle(v, v, 3, 3, 3, 3, 7, 7, 7, 7);
}
// @ts-ignore: decorator
@inline
function alpha4(v: v128): v128 {
  return i32x4.shuffle(v, v, 3, 3, 3, 3);
}

/** Source over backdrop, in place. @param n texels, an even number */
export function over(backdrop: i32, source: i32, n: i32): void {
  const end = source + n * 8;
  const full = i16x8.splat(-1);
  let b = backdrop;
  for (let s = source; s < end; s += 16) {
    const v = getV(s);
    if (v128.any_true(v)) {
      const a = alphas(v);
      if (i16x8.all_true(i16x8.eq(a, full))) putV(b, v);
      else putV(b, i16x8.add(v, mul8(getV(b), v128.xor(a, full))));
    }
    b += 16;
  }
}

/** What the mode makes of both, times both alphas. */
// @ts-ignore: decorator
@inline
function mixed(mode: i32, s: v128, b: v128, sa: v128, ba: v128): v128 {
  if (mode == NORMAL) return mul(s, ba);
  if (mode == MULTIPLY) return mul(s, b);
  const sb = mul(s, ba);
  const bs = mul(b, sa);
  if (mode == DARKEN) return i32x4.min_s(sb, bs);
  if (mode == LIGHTEN) return i32x4.max_s(sb, bs);
  if (mode == DIFFERENCE) return i32x4.sub(i32x4.max_s(sb, bs), i32x4.min_s(sb, bs));
  const zero = i32x4.splat(0);
  if (mode == SCREEN) return i32x4.max_s(i32x4.sub(i32x4.add(sb, bs), mul(s, b)), zero);
  if (mode == EXCLUSION) return i32x4.max_s(i32x4.sub(i32x4.add(sb, bs), i32x4.shl(mul(s, b), 1)), zero);
  const both = mul(sa, ba);
  if (mode == LINEAR_DODGE) return i32x4.min_s(i32x4.add(sb, bs), both);
  if (mode == LINEAR_BURN) return i32x4.max_s(i32x4.sub(i32x4.add(sb, bs), both), zero);
  const twice = i32x4.shl(sb, 1);
  if (mode == LINEAR_LIGHT)
    return i32x4.max_s(i32x4.min_s(i32x4.sub(i32x4.add(bs, twice), both), both), zero);
  if (mode == PIN_LIGHT)
    return v128.bitselect(
      i32x4.max_s(bs, i32x4.sub(twice, both)),
      i32x4.min_s(bs, twice),
      i32x4.gt_s(i32x4.shl(s, 1), sa),
    );
  const dark = i32x4.shl(mul(s, b), 1);
  const light = i32x4.max_s(i32x4.sub(both, i32x4.shl(mul(i32x4.sub(ba, b), i32x4.sub(sa, s)), 1)), zero);
  if (mode == HARD_LIGHT) return v128.bitselect(light, dark, i32x4.gt_s(i32x4.shl(s, 1), sa));
  return v128.bitselect(light, dark, i32x4.gt_s(i32x4.shl(b, 1), ba));
}

// @ts-ignore: decorator
@inline
function each(mode: i32, atop: i32, backdrop: i32, source: i32, n: i32): void {
  const one = i32x4.splat(65535);
  const last = i32x4.replace_lane(i32x4.splat(0), 3, -1);
  const end = source + n * 8;
  let at = backdrop;
  for (let from = source; from < end; from += 8) {
    const s = texel16(from);
    if (v128.any_true(s)) {
      const b = texel16(at);
      const sa = alpha4(s);
      const ba = alpha4(b);
      const rest = i32x4.sub(one, sa);
      const kept = mul(b, rest);
      let value = i32x4.add(kept, mixed(mode, s, b, sa, ba));
      let alpha = ba;
      if (atop == 0) {
        alpha = i32x4.add(sa, mul(ba, rest));
        value = i32x4.add(value, mul(s, i32x4.sub(one, ba)));
      }
      value = v128.bitselect(alpha, i32x4.min_s(value, alpha), last);
      half16(at, i16x8.narrow_i32x4_u(value, value));
    }
    at += 8;
  }
}

/** Blends `n` texels in place. @param atop 1: only where the backdrop has paint, whose alpha stays */
export function blend(mode: i32, atop: i32, backdrop: i32, source: i32, n: i32): void {
  if (mode == NORMAL) {
    if (atop == 0 && (n & 1) == 0) over(backdrop, source, n);
    else each(NORMAL, atop, backdrop, source, n);
  } else if (mode == MULTIPLY) each(MULTIPLY, atop, backdrop, source, n);
  else if (mode == SCREEN) each(SCREEN, atop, backdrop, source, n);
  else if (mode == OVERLAY) each(OVERLAY, atop, backdrop, source, n);
  else if (mode == DARKEN) each(DARKEN, atop, backdrop, source, n);
  else if (mode == LIGHTEN) each(LIGHTEN, atop, backdrop, source, n);
  else if (mode == HARD_LIGHT) each(HARD_LIGHT, atop, backdrop, source, n);
  else if (mode == DIFFERENCE) each(DIFFERENCE, atop, backdrop, source, n);
  else if (mode == EXCLUSION) each(EXCLUSION, atop, backdrop, source, n);
  else if (mode == LINEAR_DODGE) each(LINEAR_DODGE, atop, backdrop, source, n);
  else if (mode == LINEAR_BURN) each(LINEAR_BURN, atop, backdrop, source, n);
  else if (mode == LINEAR_LIGHT) each(LINEAR_LIGHT, atop, backdrop, source, n);
  else if (mode == PIN_LIGHT) each(PIN_LIGHT, atop, backdrop, source, n);
}

/** Every value times one share of 65535. @param n texels, an even number */
export function fadeAll(at: i32, n: i32, share: i32): void {
  const by = i16x8.splat(<i16>share);
  const end = at + n * 8;
  for (let k = at; k < end; k += 16) putV(k, mul8(getV(k), by));
}

/** Every texel times its own share of 65535, two bytes each. @param n texels, an even number */
export function fadeEach(at: i32, shares: i32, n: i32): void {
  const end = at + n * 8;
  let from = shares;
  for (let k = at; k < end; k += 16) {
    const pair = getI(from);
    if (pair == 0) putV(k, i32x4.splat(0));
    else if (pair != -1) {
      const both = i32x4.splat(pair);
      putV(k, mul8(getV(k), i16x8.shuffle(both, both, 0, 0, 0, 0, 1, 1, 1, 1)));
    }
    from += 4;
  }
}

/** One colour through coverage of 16 bits, into texels that held nothing. @param colour address of one texel */
export function tint(at: i32, shares: i32, colour: i32, n: i32): void {
  const paint = twice16(colour);
  const end = at + n * 8;
  let from = shares;
  for (let k = at; k < end; k += 16) {
    const pair = getI(from);
    if (pair == 0) putV(k, i32x4.splat(0));
    else {
      const both = i32x4.splat(pair);
      putV(k, mul8(paint, i16x8.shuffle(both, both, 0, 0, 0, 0, 1, 1, 1, 1)));
    }
    from += 4;
  }
}

/** Texels of 8 bits straight to 16 bits premultiplied. */
export function premultiply(source: i32, n: i32, out: i32): void {
  for (let i = 0; i < n; i++) {
    const bytes = getI(source + i * 4);
    if ((bytes >>> 24) == 255) {
      const wide = i16x8.extend_low_i8x16_u(i32x4.splat(bytes));
      half16(out + i * 8, i16x8.mul(wide, i16x8.splat(257)));
    } else if ((bytes >>> 24) == 0) {
      putI(out + i * 8, 0);
      putI(out + i * 8 + 4, 0);
    } else {
      const a = getB(source + i * 4 + 3);
      const v = i32x4.extend_low_i16x8_u(i16x8.extend_low_i8x16_u(i32x4.splat(bytes)));
      // colour * alpha * 257 / 255, rounded: products of 16 bits with (a * 257) rounded by mul are the same.
      const value = mul(i32x4.mul(v, i32x4.splat(257)), i32x4.splat(a * 257));
      half16(out + i * 8, i16x8.narrow_i32x4_u(i32x4.replace_lane(value, 3, a * 257), value));
    }
  }
}

/**
 * A row of 16-bit premultiplied texels to straight RGBA8, rounded with its row of eight thresholds (float32, four of the same each).
 * @param x0 column of the first texel
 */
export function straightRow(source: i32, n: i32, out: i32, thresholds: i32, x0: i32): void {
  for (let x = 0; x < n; x++) {
    const t = texel16(source + x * 8);
    const a = alpha4(t);
    if (!v128.any_true(a)) {
      putI(out + x * 4, 0);
      continue;
    }
    const d = getV(thresholds + ((x0 + x) & 7) * 16);
    const v = f32x4.convert_i32x4_s(t);
    const alpha = f32x4.add(f32x4.div(v, f32x4.splat(257)), d);
    let f = f32x4.add(f32x4.div(f32x4.mul(v, f32x4.splat(255)), f32x4.convert_i32x4_s(a)), d);
    f = v128.bitselect(alpha, f, i32x4.replace_lane(i32x4.splat(0), 3, -1));
    const wide = i32x4.trunc_sat_f32x4_s(f);
    const short = i16x8.narrow_i32x4_s(wide, wide);
    putI(out + x * 4, i32x4.extract_lane(i8x16.narrow_i16x8_u(short, short), 0));
  }
}

/** Averages 2 x 2 texels. @param width of the result */
export function halveRow(upper: i32, lower: i32, out: i32, width: i32): void {
  for (let x = 0; x < width; x++) {
    const a = i32x4.add(texel16(upper + x * 16), texel16(upper + x * 16 + 8));
    const b = i32x4.add(texel16(lower + x * 16), texel16(lower + x * 16 + 8));
    const v = i32x4.shr_u(i32x4.add(i32x4.add(a, b), i32x4.splat(2)), 2);
    half16(out + x * 8, i16x8.narrow_i32x4_u(v, v));
  }
}

/**
 * Coverage that builds up: each texel of a row of 16-bit coverage moves towards full by its share of a dab.
 * @param dab shares of 65535, two bytes each; both rows hold `n` texels, a multiple of 8
 */
export function dabRow(coverage: i32, dab: i32, n: i32): void {
  const full = i16x8.splat(-1);
  const end = coverage + n * 2;
  let d = dab;
  for (let c = coverage; c < end; c += 16) {
    const by = getV(d);
    if (v128.any_true(by)) {
      const has = getV(c);
      putV(c, i16x8.add(has, mul8(v128.xor(has, full), by)));
    }
    d += 16;
  }
}

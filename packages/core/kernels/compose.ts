/**
 * Compositing of 16-bit premultiplied RGBA, eight bytes a texel, in this memory. src/raster/blend.ts and src/raster/tile16.ts define
 * every function here in plain TypeScript, and say where the formulas come from; results are equal to the bit.
 */
import { getB, getH, getI, getV, half16, higher, lower, pair16, putH, putI, putV, splatF, texel16, toF, toI, twice16, } from './memory';

/** The blend modes in the order of KERNEL_MODES (src/raster/blend.ts). */
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
const SUBTRACT: i32 = 13;
const SOFT_LIGHT: i32 = 14;
const COLOR_DODGE: i32 = 15;
const COLOR_BURN: i32 = 16;
const VIVID_LIGHT: i32 = 17;
const DIVIDE: i32 = 18;
const HUE: i32 = 19;
const SATURATION: i32 = 20;
const COLOR: i32 = 21;
const LUMINOSITY: i32 = 22;
const DARKER_COLOR: i32 = 23;
const LIGHTER_COLOR: i32 = 24;

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
export function mul8(a: v128, b: v128): v128 {
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
  const sb = mul(s, ba);
  const bs = mul(b, sa);
  if (mode == DARKEN) return i32x4.min_s(sb, bs);
  if (mode == LIGHTEN) return i32x4.max_s(sb, bs);
  if (mode == DIFFERENCE) return i32x4.sub(i32x4.max_s(sb, bs), i32x4.min_s(sb, bs));
  const zero = i32x4.splat(0);
  if (mode == EXCLUSION) return i32x4.max_s(i32x4.sub(i32x4.add(sb, bs), i32x4.shl(mul(s, b), 1)), zero);
  const both = mul(sa, ba);
  if (mode == LINEAR_DODGE) return i32x4.min_s(i32x4.add(sb, bs), both);
  if (mode == SUBTRACT) return i32x4.max_s(i32x4.sub(bs, sb), zero);
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

/** Two texels on opaque ones: the same values as mixed and each give, in lanes of 16 bits. */
// @ts-ignore: decorator
@inline
function pair(mode: i32, s: v128, b: v128, sa: v128): v128 {
  const full = i16x8.splat(-1);
  if (mode == MULTIPLY) return mul8(b, i16x8.add(v128.xor(sa, full), s));
  if (mode == SCREEN) return i16x8.add(s, mul8(b, v128.xor(s, full)));
  const kept = mul8(b, v128.xor(sa, full));
  if (mode == OVERLAY || mode == HARD_LIGHT) {
    const bright = mode == OVERLAY ? i16x8.shr_s(b, 15) : i16x8.gt_u(s, i16x8.sub(sa, s));
    const twice = i16x8.shl(mul8(v128.xor(b, bright), v128.bitselect(i16x8.sub(sa, s), s, bright)), 1);
    return i16x8.add_sat_u(kept, v128.bitselect(i16x8.sub_sat_u(sa, twice), twice, bright));
  }
  const bs = mul8(b, sa);
  if (mode == DARKEN) return i16x8.add_sat_u(kept, i16x8.min_u(s, bs));
  if (mode == LIGHTEN) return i16x8.add_sat_u(kept, i16x8.max_u(s, bs));
  if (mode == DIFFERENCE) return i16x8.add_sat_u(kept, i16x8.sub(i16x8.max_u(s, bs), i16x8.min_u(s, bs)));
  if (mode == LINEAR_DODGE) return i16x8.add_sat_u(kept, i16x8.min_u(i16x8.add_sat_u(s, bs), sa));
  if (mode == LINEAR_BURN) return i16x8.add_sat_u(kept, i16x8.sub_sat_u(bs, i16x8.sub(sa, s)));
  if (mode == SUBTRACT) return i16x8.add_sat_u(kept, i16x8.sub_sat_u(bs, s));
  const both = mul8(s, b);
  return i16x8.add_sat_u(kept, i16x8.add_sat_u(i16x8.sub(s, both), i16x8.sub_sat_u(bs, both)));
}

// @ts-ignore: decorator
@inline
function each(mode: i32, atop: i32, backdrop: i32, source: i32, n: i32): void {
  const last = i32x4.replace_lane(i32x4.splat(0), 3, -1);
  const both = v128.or(i16x8.replace_lane(i16x8.splat(0), 3, -1), i16x8.replace_lane(i16x8.splat(0), 7, -1));
  const full = i16x8.splat(-1);
  const end = source + n * 8;
  let at = backdrop;
  let from = source;
  if ((n & 1) == 0 && mode != NORMAL && mode != LINEAR_LIGHT && mode != PIN_LIGHT) {
    for (; from < end; from += 16) {
      const s = getV(from);
      if (v128.any_true(s)) {
        const b = getV(at);
        if (i16x8.all_true(i16x8.eq(alphas(b), full))) putV(at, v128.or(pair(mode, s, b, alphas(s)), both));
        else {
          one(mode, atop, at, from, last);
          one(mode, atop, at + 8, from + 8, last);
        }
      }
      at += 16;
    }
    return;
  }
  for (; from < end; from += 8) {
    one(mode, atop, at, from, last);
    at += 8;
  }
}

// @ts-ignore: decorator
@inline
function one(mode: i32, atop: i32, at: i32, from: i32, last: v128): void {
  const s = texel16(from);
  if (!v128.any_true(s)) return;
  const top = i32x4.splat(65535);
  const b = texel16(at);
  const sa = alpha4(s);
  const ba = alpha4(b);
  const rest = i32x4.sub(top, sa);
  let value = b;
  let alpha = ba;
  if (atop == 0) alpha = i32x4.add(sa, mul(ba, rest));
  if (mode == SCREEN) {
    let own = s;
    if (atop == 1) own = mul(s, ba);
    value = i32x4.add(own, mul(b, i32x4.sub(top, s)));
  } else {
    if (mode == MULTIPLY) value = mul(b, i32x4.add(rest, s));
    else value = i32x4.add(mul(b, rest), mixed(mode, s, b, sa, ba));
    if (atop == 0) value = i32x4.add(value, mul(s, i32x4.sub(top, ba)));
  }
  value = v128.bitselect(alpha, i32x4.min_s(value, alpha), last);
  half16(at, i16x8.narrow_i32x4_u(value, value));
}

// @ts-ignore: decorator
@inline
function choose(yes: v128, no: v128, when: v128): v128 {
  return v128.bitselect(yes, no, when);
}
// @ts-ignore: decorator
@inline
function dodge(b: v128, s: v128, one: v128, zero: v128): v128 {
  const open = choose(one, f32x4.min(one, f32x4.div(b, f32x4.sub(one, s))), f32x4.ge(s, one));
  return choose(zero, open, f32x4.eq(b, zero));
}
// @ts-ignore: decorator
@inline
function burn(b: v128, s: v128, one: v128, zero: v128): v128 {
  const shut = f32x4.sub(one, f32x4.min(one, f32x4.div(f32x4.sub(one, b), s)));
  return choose(one, choose(zero, shut, f32x4.le(s, zero)), f32x4.ge(b, one));
}

/** The published formulas that divide, in float32. */
// @ts-ignore: decorator
@inline
function formula(mode: i32, b: v128, s: v128): v128 {
  const one = f32x4.splat(1);
  const zero = f32x4.splat(0);
  const half = f32x4.splat(0.5);
  if (mode == COLOR_DODGE) return dodge(b, s, one, zero);
  if (mode == COLOR_BURN) return burn(b, s, one, zero);
  const twice = f32x4.add(s, s);
  if (mode == VIVID_LIGHT)
    return choose(burn(b, twice, one, zero), dodge(b, f32x4.sub(twice, one), one, zero), f32x4.le(s, half));
  const quotient = choose(one, f32x4.div(b, s), f32x4.le(s, b));
  return choose(zero, quotient, f32x4.eq(b, zero));
}

/** @param factor one less twice the source */
// @ts-ignore: decorator
@inline
function softDark(b: v128, factor: v128): v128 {
  return f32x4.sub(b, f32x4.mul(f32x4.mul(factor, b), f32x4.sub(f32x4.splat(1), b)));
}
/** @param factor twice the source less one */
// @ts-ignore: decorator
@inline
function softLight(b: v128, factor: v128): v128 {
  const low = f32x4.mul(f32x4.add(f32x4.mul(f32x4.sub(f32x4.mul(f32x4.splat(16), b), f32x4.splat(12)), b), f32x4.splat(4)), b);
  const d = choose(low, f32x4.sqrt(b), f32x4.le(b, f32x4.splat(0.25)));
  return f32x4.add(b, f32x4.mul(factor, f32x4.sub(d, b)));
}

/** Soft light of what the source says: `kind` 0 in each channel by itself, 1 all dark, 2 all light. */
// @ts-ignore: decorator
@inline
function softMix(b: v128, cs: v128, kind: i32): v128 {
  const one = f32x4.splat(1);
  const twice = f32x4.add(cs, cs);
  let mix = b;
  if (kind == 1) mix = softDark(b, f32x4.sub(one, twice));
  else if (kind == 2) mix = softLight(b, f32x4.sub(twice, one));
  else {
    const dark = softDark(b, f32x4.sub(one, twice));
    mix = choose(dark, softLight(b, f32x4.sub(twice, one)), f32x4.le(cs, f32x4.splat(0.5)));
  }
  return mix;
}

/** Whether a colour's channels are all dark, all light, or neither; see softMix. */
// @ts-ignore: decorator
@inline
function softKind(cs: v128, colours: v128): i32 {
  const dark = f32x4.le(cs, f32x4.splat(0.5));
  if (!v128.any_true(v128.and(dark, colours))) return 2;
  if (!v128.any_true(v128.and(v128.xor(dark, i32x4.splat(-1)), colours))) return 1;
  return 0;
}

/** One texel by a formula of straight colours. */
// @ts-ignore: decorator
@inline
function oneByFormula(mode: i32, atop: i32, at: i32, s: v128, last: v128): void {
  const top = i32x4.splat(65535);
  const b = texel16(at);
  const sa = alpha4(s);
  const ba = alpha4(b);
  const rest = i32x4.sub(top, sa);
  let value = mul(b, rest);
  let alpha = ba;
  if (atop == 0) {
    alpha = i32x4.add(sa, mul(ba, rest));
    value = i32x4.add(value, mul(s, i32x4.sub(top, ba)));
  }
  if (v128.any_true(ba)) {
    const cs = f32x4.div(f32x4.convert_i32x4_s(s), f32x4.convert_i32x4_s(sa));
    let cb = f32x4.mul(f32x4.convert_i32x4_s(b), splatF(1 / 65535));
    if (i32x4.extract_lane(ba, 0) != 65535) cb = f32x4.div(f32x4.convert_i32x4_s(b), f32x4.convert_i32x4_s(ba));
    let mix = cb;
    if (mode == SOFT_LIGHT) mix = softMix(cb, cs, 0);
    else mix = formula(mode, cb, cs);
    // Adding 2^23 leaves the nearest whole number in the last bits.
    mix = f32x4.add(f32x4.mul(mix, f32x4.convert_i32x4_s(mul(sa, ba))), f32x4.splat(8388608));
    value = i32x4.add(value, v128.and(mix, i32x4.splat(0xffff)));
  }
  value = choose(alpha, i32x4.min_s(value, alpha), last);
  half16(at, i16x8.narrow_i32x4_u(value, value));
}

/**
 * Soft light. What only the source says is kept from texel to texel, paint being of one colour over long runs; two texels of one colour on
 * opaque ones go together.
 */
// @ts-ignore: decorator
@inline
function eachSoft(atop: i32, backdrop: i32, source: i32, n: i32): void {
  const last = i32x4.replace_lane(i32x4.splat(0), 3, -1);
  const colours = v128.xor(last, i32x4.splat(-1));
  const opaque = v128.or(i16x8.replace_lane(i16x8.splat(0), 3, -1), i16x8.replace_lane(i16x8.splat(0), 7, -1));
  const full = i16x8.splat(-1);
  const share = splatF(1 / 65535);
  const whole = f32x4.splat(8388608);
  const low = i32x4.splat(0xffff);
  let held = i32x4.splat(0);
  let cs = f32x4.splat(0);
  let both = f32x4.splat(0);
  let kind = 0;
  let at = backdrop;
  const end = source + n * 8;
  let from = source;
  while (from < end) {
    let pair = false;
    if (from + 16 <= end) {
      const v = getV(from);
      pair = true;
      if (v128.any_true(v)) {
        const b = getV(at);
        const alike = i16x8.all_true(i16x8.eq(v, i16x8.shuffle(v, v, 4, 5, 6, 7, 0, 1, 2, 3)));
        pair = alike && i16x8.all_true(i16x8.eq(alphas(b), full));
        if (pair) {
          if (!i16x8.all_true(i16x8.eq(v, held))) {
            held = v;
            const s = texel16(from);
            both = f32x4.convert_i32x4_s(alpha4(s));
            cs = f32x4.div(f32x4.convert_i32x4_s(s), both);
            kind = softKind(cs, colours);
          }
          const first = f32x4.mul(f32x4.convert_i32x4_s(i32x4.extend_low_i16x8_u(b)), share);
          const second = f32x4.mul(f32x4.convert_i32x4_s(i32x4.extend_high_i16x8_u(b)), share);
          const one = v128.and(f32x4.add(f32x4.mul(softMix(first, cs, kind), both), whole), low);
          const two = v128.and(f32x4.add(f32x4.mul(softMix(second, cs, kind), both), whole), low);
          const kept = mul8(b, v128.xor(alphas(v), full));
          putV(at, v128.or(i16x8.add_sat_u(kept, i16x8.narrow_i32x4_u(one, two)), opaque));
        }
      }
    }
    if (pair) {
      from += 16;
      at += 16;
    } else {
      const s = texel16(from);
      if (v128.any_true(s)) oneByFormula(SOFT_LIGHT, atop, at, s, last);
      from += 8;
      at += 8;
    }
  }
}

// @ts-ignore: decorator
@inline
function eachByFormula(mode: i32, atop: i32, backdrop: i32, source: i32, n: i32): void {
  const last = i32x4.replace_lane(i32x4.splat(0), 3, -1);
  const end = source + n * 8;
  let at = backdrop;
  for (let from = source; from < end; from += 8) {
    const s = texel16(from);
    if (v128.any_true(s)) oneByFormula(mode, atop, at, s, last);
    at += 8;
  }
}

// @ts-ignore: decorator
@inline
function lum(r: f64, g: f64, b: f64): f64 {
  return 0.3 * r + 0.59 * g + 0.11 * b;
}
// @ts-ignore: decorator
@inline
function least(r: f64, g: f64, b: f64): f64 {
  return lower(lower(r, g), b);
}
// @ts-ignore: decorator
@inline
function most(r: f64, g: f64, b: f64): f64 {
  return higher(higher(r, g), b);
}
/** One channel of a colour brought back into 0..1: `l` its luminosity, `n` and `x` its least and most channel. */
// @ts-ignore: decorator
@inline
function clip(v: f64, l: f64, n: f64, x: f64): f64 {
  let out = v;
  if (n < 0) out = l + ((out - l) * l) / (l - n);
  if (x > 1) out = l + ((out - l) * (1 - l)) / (x - l);
  return out;
}

// @ts-ignore: decorator
@inline
function putWhole(at: i32, from: i32, own: f64, rest: f64, both: f64, mix: f64, alpha: i32): void {
  const value = toI(toF(getH(from)) * own + toF(getH(at)) * rest + both * mix + 0.5);
  putH(at, value > alpha ? alpha : value);
}

/** The modes that look at a whole colour, in doubles. */
// @ts-ignore: decorator
@inline
function eachWhole(mode: i32, atop: i32, backdrop: i32, source: i32, n: i32): void {
  for (let i = 0; i < n; i++) {
    const from = source + i * 8;
    const at = backdrop + i * 8;
    const sa = toF(getH(from + 6));
    const ba = toF(getH(at + 6));
    if (sa == 0 || (atop == 1 && ba == 0)) continue;
    const s0 = toF(getH(from)) / sa;
    const s1 = toF(getH(from + 2)) / sa;
    const s2 = toF(getH(from + 4)) / sa;
    let b0: f64 = 0;
    let b1: f64 = 0;
    let b2: f64 = 0;
    if (ba > 0) {
      b0 = toF(getH(at)) / ba;
      b1 = toF(getH(at + 2)) / ba;
      b2 = toF(getH(at + 4)) / ba;
    }
    let m0 = b0;
    let m1 = b1;
    let m2 = b2;
    if (mode == DARKER_COLOR || mode == LIGHTER_COLOR) {
      const ls = lum(s0, s1, s2);
      const lb = lum(b0, b1, b2);
      if (mode == DARKER_COLOR ? ls < lb : ls > lb) {
        m0 = s0;
        m1 = s1;
        m2 = s2;
      }
    } else {
      let wanted = lum(b0, b1, b2);
      if (mode == LUMINOSITY) wanted = lum(s0, s1, s2);
      if (mode == COLOR || mode == HUE) {
        m0 = s0;
        m1 = s1;
        m2 = s2;
      }
      if (mode == HUE || mode == SATURATION) {
        const sat = mode == HUE ? most(b0, b1, b2) - least(b0, b1, b2) : most(s0, s1, s2) - least(s0, s1, s2);
        const low = least(m0, m1, m2);
        const range = most(m0, m1, m2) - low;
        m0 = range > 0 ? ((m0 - low) * sat) / range : 0;
        m1 = range > 0 ? ((m1 - low) * sat) / range : 0;
        m2 = range > 0 ? ((m2 - low) * sat) / range : 0;
      }
      const d = wanted - lum(m0, m1, m2);
      m0 = m0 + d;
      m1 = m1 + d;
      m2 = m2 + d;
      const l = lum(m0, m1, m2);
      const low = least(m0, m1, m2);
      const high = most(m0, m1, m2);
      m0 = clip(m0, l, low, high);
      m1 = clip(m1, l, low, high);
      m2 = clip(m2, l, low, high);
    }
    const both = (sa * ba) / 65535;
    const own = atop == 1 ? 0 : (65535 - ba) / 65535;
    const rest = (65535 - sa) / 65535;
    const alpha = atop == 1 ? toI(ba) : toI(sa + ba - both + 0.5);
    putWhole(at, from, own, rest, both, m0, alpha);
    putWhole(at + 2, from + 2, own, rest, both, m1, alpha);
    putWhole(at + 4, from + 4, own, rest, both, m2, alpha);
    putH(at + 6, alpha);
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
  else if (mode == SUBTRACT) each(SUBTRACT, atop, backdrop, source, n);
  else if (mode == SOFT_LIGHT) eachSoft(atop, backdrop, source, n);
  else if (mode == COLOR_DODGE) eachByFormula(COLOR_DODGE, atop, backdrop, source, n);
  else if (mode == COLOR_BURN) eachByFormula(COLOR_BURN, atop, backdrop, source, n);
  else if (mode == VIVID_LIGHT) eachByFormula(VIVID_LIGHT, atop, backdrop, source, n);
  else if (mode == DIVIDE) eachByFormula(DIVIDE, atop, backdrop, source, n);
  else if (mode == HUE) eachWhole(HUE, atop, backdrop, source, n);
  else if (mode == SATURATION) eachWhole(SATURATION, atop, backdrop, source, n);
  else if (mode == COLOR) eachWhole(COLOR, atop, backdrop, source, n);
  else if (mode == LUMINOSITY) eachWhole(LUMINOSITY, atop, backdrop, source, n);
  else if (mode == DARKER_COLOR) eachWhole(DARKER_COLOR, atop, backdrop, source, n);
  else if (mode == LIGHTER_COLOR) eachWhole(LIGHTER_COLOR, atop, backdrop, source, n);
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

// @ts-ignore: decorator
@inline
function rounded(v: v128, d: v128): v128 {
  // Adding one and a half times 2^23 leaves the nearest whole number in the last bits.
  return v128.and(f32x4.add(f32x4.add(v, d), f32x4.splat(12582912)), i32x4.splat(0xffff));
}
// @ts-ignore: decorator
@inline
function straightTexel(from: i32, d: v128, last: v128): v128 {
  const t = texel16(from);
  const a = i32x4.extract_lane(t, 3);
  if (a == 0) return i32x4.splat(0);
  const v = f32x4.convert_i32x4_s(t);
  let f = f32x4.mul(v, splatF(1 / 257));
  if (a != 65535) {
    const free = f32x4.div(f32x4.mul(v, f32x4.splat(255)), f32x4.convert_i32x4_s(i32x4.splat(a)));
    f = v128.bitselect(f, free, last);
  }
  return rounded(f, d);
}

/**
 * A row of 16-bit premultiplied texels to straight RGBA8, rounded with its row of eight thresholds (float32, four of the same each).
 * @param x0 column of the first texel
 */
export function straightRow(source: i32, n: i32, out: i32, thresholds: i32, x0: i32): void {
  const last = i32x4.replace_lane(i32x4.splat(0), 3, -1);
  let x = 0;
  while (x + 4 <= n) {
    const from = source + x * 8;
    const a = straightTexel(from, getV(thresholds + ((x0 + x) & 7) * 16), last);
    const b = straightTexel(from + 8, getV(thresholds + ((x0 + x + 1) & 7) * 16), last);
    const c = straightTexel(from + 16, getV(thresholds + ((x0 + x + 2) & 7) * 16), last);
    const d = straightTexel(from + 24, getV(thresholds + ((x0 + x + 3) & 7) * 16), last);
    putV(out + x * 4, i8x16.narrow_i16x8_u(i16x8.narrow_i32x4_s(a, b), i16x8.narrow_i32x4_s(c, d)));
    x += 4;
  }
  while (x < n) {
    const one = straightTexel(source + x * 8, getV(thresholds + ((x0 + x) & 7) * 16), last);
    const short = i16x8.narrow_i32x4_s(one, one);
    putI(out + x * 4, i32x4.extract_lane(i8x16.narrow_i16x8_u(short, short), 0));
    x += 1;
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

// @ts-ignore: decorator
@inline
function entries(out: i32, ramp: i32, at: v128, most: v128): void {
  const index = i32x4.max_s(i32x4.min_s(i32x4.trunc_sat_f64x2_s_zero(at), most), i32x4.splat(0));
  putV(out, pair16(ramp + i32x4.extract_lane(index, 0) * 8, ramp + i32x4.extract_lane(index, 1) * 8));
}

/** A row through a fade: texel x takes entry `(at + x * slope) >> 16` of the ramp; none of these lies outside of it. */
export function rampRow(out: i32, n: i32, ramp: i32, at: i32, slope: i32): void {
  let to = out;
  let place = at;
  const end = out + (n >> 1) * 16;
  while (to < end) {
    const next = place + slope;
    putV(to, pair16(ramp + (place >> 16) * 8, ramp + (next >> 16) * 8));
    place = next + slope;
    to += 16;
  }
  if ((n & 1) == 1) {
    putI(to, getI(ramp + (place >> 16) * 8));
    putI(to + 4, getI(ramp + (place >> 16) * 8 + 4));
  }
}

/** The same by the distance from a point: `px + x * step` to the right, and `py2` the square of how far below. */
export function radialRow(out: i32, n: i32, ramp: i32, steps: i32, px: f64, step: f64, py2: f64, scale: f64): void {
  const most = i32x4.splat(steps);
  const two = f64x2.splat(2);
  const down = f64x2.splat(py2);
  const by = f64x2.splat(scale);
  const half = f64x2.splat(0.5);
  const stride = f64x2.splat(step);
  const left = f64x2.splat(px);
  let x = f64x2.replace_lane(f64x2.splat(0), 1, 1);
  for (let i = 0; i < n; i += 2) {
    const dx = f64x2.add(left, f64x2.mul(x, stride));
    entries(out + i * 8, ramp, f64x2.add(f64x2.mul(f64x2.sqrt(f64x2.add(f64x2.mul(dx, dx), down)), by), half), most);
    x = f64x2.add(x, two);
  }
}

/** One texel, again and again. @param colour address of it @param n texels, two at least */
export function fillRun(at: i32, colour: i32, n: i32): void {
  const v = twice16(colour);
  const last = at + n * 8 - 16;
  for (let k = at; k < last; k += 16) putV(k, v);
  putV(last, v);
}

/** One premultiplied texel over all of the backdrop, in place. @param colour address of the texel @param n texels, an even number */
export function overAll(backdrop: i32, colour: i32, n: i32): void {
  const v = twice16(colour);
  const rest = v128.xor(alphas(v), i16x8.splat(-1));
  const end = backdrop + n * 8;
  for (let k = backdrop; k < end; k += 16) putV(k, i16x8.add(v, mul8(getV(k), rest)));
}

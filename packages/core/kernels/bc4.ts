/**
 * BC4 blocks, also the alpha of BC3 and each half of BC5 (Khronos Data Format Specification 1.3, sections 18.3 and 19.1): two ends and
 * eight levels between them, or six with 0 and 255 besides.
 */
import { SCRATCH, SETTINGS, getB, getI, getV, putI, putV, splatF, toF, toI } from './memory';
import { sum1 } from './fit';
import { extreme, levels } from './scalar';

const ROUNDS: i32 = SETTINGS + 52; // rounds of steps about the best ends
const REACH: i32 = SETTINGS + 56; // codes that a step may go

const INNER: i32 = SETTINGS + 60; // 1: ends beyond the texels' own range are tried

const LEVEL: i32 = SCRATCH + 512; // 16 levels as last evaluated: 0 to 7 or 5 along the line, 14 for 0, 15 for 255
const KEPT: i32 = SCRATCH + 528; // the levels of the best ends

let best: i32 = 0;
let bestLow: i32 = 0;
let bestHigh: i32 = 0;
let bestTop: i32 = 0;

// @ts-ignore: decorator
@inline
function levelsOf(low: i32, step: i32, first: i32, reciprocal: i32): v128 {
  const n = i32x4.add(i32x4.replace_lane(i32x4.replace_lane(i32x4.replace_lane(i32x4.splat(0), 1, 1), 2, 2), 3, 3), i32x4.splat(first));
  return i32x4.shr_u(i32x4.mul(i32x4.add(i32x4.splat(low), i32x4.mul(n, i32x4.splat(step))), i32x4.splat(reciprocal)), 16);
}

/** Nearest levels for two ends, low < high, into LEVEL, and the squared error. @param top 7 for eight levels, 5 for six, 0 and 255 */
function evaluate(channel: i32, low: i32, high: i32, top: i32): i32 {
  const x0 = getV(channel);
  const x1 = getV(channel + 16);
  const scale = splatF(toF(top) / toF(high - low));
  // Levels are cut down to whole numbers, by three sevenths on average: texels are placed as much higher.
  const half = splatF(0.5 + (0.43 * toF(top)) / toF(high - low));
  let level = levels(x0, x1, low, scale, half, top);
  // floor(x / 7) = x * 9363 >> 16 and floor(x / 5) = x * 13108 >> 16 for x up to 1785.
  const reciprocal = top == 7 ? 9363 : 13108;
  const palette = i8x16.narrow_i16x8_u(
    i16x8.narrow_i32x4_s(levelsOf(low * top, high - low, 0, reciprocal), levelsOf(low * top, high - low, 4, reciprocal)),
    i16x8.replace_lane(i16x8.splat(0), 7, 255),
  );
  const values = i8x16.narrow_i16x8_u(x0, x1);
  let decoded = i8x16.swizzle(palette, level);
  if (top == 5) {
    const off = v128.or(i8x16.sub_sat_u(values, decoded), i8x16.sub_sat_u(decoded, values));
    const toZero = i8x16.lt_u(values, off);
    const toFull = i8x16.lt_u(v128.not(values), off);
    level = v128.bitselect(i8x16.splat(14), v128.bitselect(i8x16.splat(15), level, toFull), toZero);
    decoded = i8x16.swizzle(palette, level);
  }
  putV(LEVEL, level);
  const e0 = i16x8.sub(x0, i16x8.extend_low_i8x16_u(decoded));
  const e1 = i16x8.sub(x1, i16x8.extend_high_i8x16_u(decoded));
  return sum1(i32x4.add(i32x4.dot_i16x8_s(e0, e0), i32x4.dot_i16x8_s(e1, e1)));
}

function attempt(channel: i32, low: i32, high: i32, top: i32): bool {
  if (low < 0 || high > 255 || low >= high) return false;
  const error = evaluate(channel, low, high, top);
  if (error >= best) return false;
  best = error;
  bestLow = low;
  bestHigh = high;
  bestTop = top;
  putV(KEPT, getV(LEVEL));
  return true;
}

/** Ends by least squares for the levels in KEPT; tried when they differ. @param fixed 1 when the high end has to stay */
function solveEnds(channel: i32, top: i32, fixed: i32): bool {
  const level = getV(KEPT);
  const inside = i8x16.lt_u(level, i8x16.splat(8));
  const m0 = i16x8.extend_low_i8x16_s(inside);
  const m1 = i16x8.extend_high_i8x16_s(inside);
  const l0 = v128.and(i16x8.extend_low_i8x16_u(level), m0);
  const l1 = v128.and(i16x8.extend_high_i8x16_u(level), m1);
  const x0 = v128.and(getV(channel), m0);
  const x1 = v128.and(getV(channel + 16), m1);
  const one = i16x8.splat(1);
  const n = sum1(i32x4.dot_i16x8_s(i16x8.add(m0, m1), i16x8.splat(-1)));
  const s = sum1(i32x4.dot_i16x8_s(i16x8.add(l0, l1), one));
  const bb = sum1(i32x4.add(i32x4.dot_i16x8_s(l0, l0), i32x4.dot_i16x8_s(l1, l1)));
  const xb = sum1(i32x4.add(i32x4.dot_i16x8_s(l0, x0), i32x4.dot_i16x8_s(l1, x1)));
  const xs = sum1(i32x4.dot_i16x8_s(i16x8.add(x0, x1), one));
  const ab = top * s - bb;
  const aa = top * top * n - 2 * top * s + bb;
  const xa = top * xs - xb;
  const det = toF(aa) * toF(bb) - toF(ab) * toF(ab);
  if (det < 1.0) return false;
  const unit = toF(top);
  let low = ((toF(bb) * toF(xa) - toF(ab) * toF(xb)) * unit) / det;
  let high = ((toF(aa) * toF(xb) - toF(ab) * toF(xa)) * unit) / det;
  if (fixed == 1) {
    low = (unit * toF(xa) - 255.0 * toF(ab)) / toF(aa);
    high = 255.0;
  }
  return attempt(channel, low < 0.0 ? 0 : toI(low + 0.5), high > 255.0 ? 255 : toI(high + 0.5), top);
}

/** Ends beyond the range from `least` to `most`, so that these two meet inner levels: with few values all may be met exactly. */
function inner(channel: i32, least: i32, most: i32, top: i32, fixed: i32): void {
  const range = toF(most - least);
  for (let a = 0; a < top; a++) {
    for (let b = fixed == 1 ? top : a + 1; b <= top; b++) {
      const gap = range / toF(b - a);
      const low = toF(least) - gap * toF(a);
      const high = toF(most) + gap * toF(top - b);
      if (low > -0.5 && high < 255.5) attempt(channel, toI(low + 0.5), toI(high + 0.5), top);
      if (best == 0) return;
    }
  }
}

/** Steps about the best ends of one kind until none helps. */
function search(channel: i32, top: i32, fixed: i32): void {
  if (bestTop != top) return;
  const reach = getI(REACH);
  for (let round = 0; round < getI(ROUNDS); round++) {
    if (best == 0) return;
    const low = bestLow;
    const high = bestHigh;
    let helped = false;
    for (let a = -reach; a <= reach; a++) {
      for (let b = fixed == 1 ? 0 : -reach; b <= (fixed == 1 ? 0 : reach); b++) {
        if (a == 0 && b == 0) continue;
        if (attempt(channel, low + a, high + b, top)) helped = true;
      }
    }
    if (!helped) return;
  }
}

/**
 * Encodes one channel of BLOCK into 8 bytes at `out`.
 * @param channel address of its two vectors of i16
 * @param exact 1 when a value of 255 has to come out as 255
 */
export function encodeBc4(channel: i32, exact: i32, out: i32): void {
  const x0 = getV(channel);
  const x1 = getV(channel + 16);
  const least = extreme(x0, x1, 0);
  const most = extreme(x0, x1, 1);
  if (least == most) {
    putI(out, least | (least << 8));
    putI(out + 4, 0);
    return;
  }
  const fixed = exact == 1 && most == 255 ? 1 : 0;
  best = 0x7fffffff;
  attempt(channel, least, most, 7);
  if (best > 0 && solveEnds(channel, 7, fixed)) solveEnds(channel, 7, fixed);
  if (best > 0 && getI(INNER) == 1) inner(channel, least, most, 7, fixed);
  if (best > 0) search(channel, 7, fixed);
  if (best > 0 && (least == 0 || most == 255)) {
    // 0 and 255 come for nothing: the ends are those of the rest.
    const zero = i16x8.splat(0);
    const full = i16x8.splat(255);
    const m0 = v128.or(i16x8.eq(x0, zero), i16x8.eq(x0, full));
    const m1 = v128.or(i16x8.eq(x1, zero), i16x8.eq(x1, full));
    const low = extreme(v128.bitselect(full, x0, m0), v128.bitselect(full, x1, m1), 0);
    const high = extreme(v128.bitselect(zero, x0, m0), v128.bitselect(zero, x1, m1), 1);
    let helped = false;
    if (low < high) helped = attempt(channel, low, high, 5);
    else if (low == high) helped = attempt(channel, low == 255 ? 254 : low, low == 255 ? 255 : low + 1, 5);
    else helped = attempt(channel, 0, 255, 5);
    if (helped) {
      if (solveEnds(channel, 5, 0)) solveEnds(channel, 5, 0);
      search(channel, 5, 0);
    }
  }
  write(out);
}

function write(out: i32): void {
  const level = getV(KEPT);
  let codes: v128;
  if (bestTop == 7) {
    // Ends high, low: level 7 is code 0, level 0 code 1, the others 8 less the level.
    codes = i8x16.sub(i8x16.splat(8), level);
    codes = v128.bitselect(i8x16.splat(0), codes, i8x16.eq(level, i8x16.splat(7)));
    codes = v128.bitselect(i8x16.splat(1), codes, i8x16.eq(level, i8x16.splat(0)));
  } else {
    // Ends low, high: level 0 is code 0, level 5 code 1, the others one more; 14 and 15 are 6 and 7.
    codes = i8x16.add(i8x16.splat(1), level);
    codes = v128.bitselect(i8x16.splat(0), codes, i8x16.eq(level, i8x16.splat(0)));
    codes = v128.bitselect(i8x16.splat(1), codes, i8x16.eq(level, i8x16.splat(5)));
    codes = v128.bitselect(i8x16.splat(6), codes, i8x16.eq(level, i8x16.splat(14)));
    codes = v128.bitselect(i8x16.splat(7), codes, i8x16.eq(level, i8x16.splat(15)));
  }
  putV(LEVEL, codes);
  let first = 0;
  let second = 0;
  for (let i = 0; i < 8; i++) {
    first |= getB(LEVEL + i) << (i * 3);
    second |= getB(LEVEL + 8 + i) << (i * 3);
  }
  const ends = bestTop == 7 ? bestHigh | (bestLow << 8) : bestLow | (bestHigh << 8);
  putI(out, ends | (first << 16));
  putI(out + 4, ((first >>> 16) & 0xff) | (second << 8));
}

/**
 * BC1 colour blocks, also the colour of BC2 and BC3 (Khronos Data Format Specification 1.3, section 18.1). Ends are found by a line
 * through the texels, then by trying every way to cut the texels, in order along that line, into clusters of one level each.
 */
import {
  BEST, BLOCK, CLUSTERS, CLUSTERS3, FACTORS, FLAT5, FLAT6, FULL, INDEX, OPAQUE, ORDER, PREFIX, SCRATCH, SETTINGS, TEXELS, TRIAL, getB,
  getF, getI, getV, laneF, laneI, putB, putF, putI, putV, splatF, toF, toI, zeroI,
} from './memory';
import {
  CODE_HIGH, CODE_LOW, CURVE, END_HIGH, END_LOW, RECORD, R_END_HIGH, R_END_LOW, R_HIGH, R_INDEX, R_LOW, WANT_HIGH, WANT_LOW, axisOf,
  evenCurve, keep, line, nearest, project, solve, spread, sum1, sums, varied,
} from './fit';

const ROUNDS: i32 = SETTINGS + 16;
const NUDGES: i32 = SETTINGS + 20;
const CUTS: i32 = SETTINGS + 24; // orders to cut into clusters
const LEVELS3: i32 = SETTINGS + 28; // 1: three levels may be tried
const CLEAR: i32 = SETTINGS + 32; // 1: texels under half alpha become clear
const ENOUGH: i32 = SETTINGS + 36;
const WHOLE: i32 = SETTINGS + 40; // 1: clusters at the ends may be empty

const REMAPS: i32 = SETTINGS + 48; // other uses of the four levels to try, up to 11
const NUDGE_UNDER: i32 = SETTINGS + 44; // errors that are nudged: where the ends' own coarseness is what is left

const PROJECTED: i32 = SCRATCH + 384;
const FOUR: i32 = TRIAL;
const THREE: i32 = TRIAL + RECORD;

// @ts-ignore: decorator
@inline
function expand565(code: v128): v128 {
  const five = v128.or(i32x4.shl(code, 3), i32x4.shr_u(code, 2));
  const six = v128.or(i32x4.shl(code, 2), i32x4.shr_u(code, 4));
  return i32x4.shuffle(five, six, 0, 5, 2, 3);
}

// @ts-ignore: decorator
@inline
function putEnds565(): void {
  const low = expand565(getV(CODE_LOW));
  const high = expand565(getV(CODE_HIGH));
  putV(END_LOW, i16x8.narrow_i32x4_s(low, low));
  putV(END_HIGH, i16x8.narrow_i32x4_s(high, high));
}

/** Codes for WANT_LOW and WANT_HIGH, both ends rounded together so that the error that CURVE predicts is least. */
function quantise565(): void {
  const zero = f32x4.splat(0);
  const full = f32x4.splat(255);
  const low = f32x4.min(f32x4.max(getV(WANT_LOW), zero), full);
  const high = f32x4.min(f32x4.max(getV(WANT_HIGH), zero), full);
  const top = i32x4.replace_lane(i32x4.replace_lane(i32x4.splat(31), 1, 63), 3, 0);
  const scale = f32x4.mul(f32x4.convert_i32x4_s(top), splatF(1.0 / 255.0));
  const one = i32x4.splat(1);
  const a0 = i32x4.min_s(i32x4.trunc_sat_f32x4_s(f32x4.mul(low, scale)), top);
  const a1 = i32x4.min_s(i32x4.add(a0, one), top);
  const b0 = i32x4.min_s(i32x4.trunc_sat_f32x4_s(f32x4.mul(high, scale)), top);
  const b1 = i32x4.min_s(i32x4.add(b0, one), top);
  const l0 = f32x4.sub(f32x4.convert_i32x4_s(expand565(a0)), low);
  const l1 = f32x4.sub(f32x4.convert_i32x4_s(expand565(a1)), low);
  const h0 = f32x4.sub(f32x4.convert_i32x4_s(expand565(b0)), high);
  const h1 = f32x4.sub(f32x4.convert_i32x4_s(expand565(b1)), high);
  const aa = getV(CURVE);
  const ab = getV(CURVE + 16);
  const bb = getV(CURVE + 32);
  const al0 = f32x4.mul(f32x4.mul(l0, l0), aa);
  const al1 = f32x4.mul(f32x4.mul(l1, l1), aa);
  const bh0 = f32x4.mul(f32x4.mul(h0, h0), bb);
  const bh1 = f32x4.mul(f32x4.mul(h1, h1), bb);
  const x0 = f32x4.mul(l0, ab);
  const x1 = f32x4.mul(l1, ab);
  const c00 = f32x4.add(f32x4.add(al0, bh0), f32x4.mul(x0, h0));
  const c01 = f32x4.add(f32x4.add(al0, bh1), f32x4.mul(x0, h1));
  const c10 = f32x4.add(f32x4.add(al1, bh0), f32x4.mul(x1, h0));
  const c11 = f32x4.add(f32x4.add(al1, bh1), f32x4.mul(x1, h1));
  const up0 = f32x4.lt(c01, c00);
  const up1 = f32x4.lt(c11, c10);
  const lowUp = f32x4.lt(f32x4.min(c10, c11), f32x4.min(c00, c01));
  const highUp = v128.bitselect(up1, up0, lowUp);
  putV(CODE_LOW, v128.bitselect(a1, a0, lowUp));
  putV(CODE_HIGH, v128.bitselect(b1, b0, highUp));
  putEnds565();
}

// @ts-ignore: decorator
@inline
function channelError(error: v128, set: i32, decoded: v128, m0: v128, m1: v128, weight: v128): v128 {
  const x0 = v128.and(i16x8.sub(getV(set), i16x8.extend_low_i8x16_u(decoded)), m0);
  const x1 = v128.and(i16x8.sub(getV(set + 16), i16x8.extend_high_i8x16_u(decoded)), m1);
  return i32x4.add(
    error,
    i32x4.add(i32x4.dot_i16x8_s(x0, i16x8.mul(x0, weight)), i32x4.dot_i16x8_s(x1, i16x8.mul(x1, weight))),
  );
}

/** Nearest of `levels` (4 or 3) mixes of END_LOW and END_HIGH into INDEX and FACTORS; the weighted squared error over masked texels. */
function evaluateLevels(mask: i32, levels: i32): i32 {
  const low = getV(END_LOW);
  const high = getV(END_HIGH);
  const weights = getV(SETTINGS);
  const index = nearest(BLOCK, low, high, weights, levels - 1);
  putV(INDEX, index);
  putV(FACTORS, i16x8.extend_low_i8x16_u(index));
  putV(FACTORS + 16, i16x8.extend_high_i8x16_u(index));
  const a = i32x4.extend_low_i16x8_s(low);
  const b = i32x4.extend_low_i16x8_s(high);
  let palette: v128;
  if (levels == 4) {
    const third = i32x4.splat(21846);
    const both = i32x4.add(a, b);
    const m = i32x4.shr_u(i32x4.mul(i32x4.add(both, a), third), 16);
    const n = i32x4.shr_u(i32x4.mul(i32x4.add(both, b), third), 16);
    palette = i8x16.narrow_i16x8_u(i16x8.narrow_i32x4_s(a, m), i16x8.narrow_i32x4_s(n, b));
  } else {
    const m = i32x4.shr_u(i32x4.add(a, b), 1);
    palette = i8x16.narrow_i16x8_u(i16x8.narrow_i32x4_s(a, m), i16x8.narrow_i32x4_s(b, b));
  }
  const place = i8x16.shl(index, 2);
  const m0 = getV(mask);
  const m1 = getV(mask + 16);
  let error = i32x4.splat(0);
  error = channelError(error, BLOCK, i8x16.swizzle(palette, place), m0, m1, i16x8.shuffle(weights, weights, 0, 0, 0, 0, 0, 0, 0, 0));
  error = channelError(
    error, BLOCK + 32, i8x16.swizzle(palette, i8x16.add(place, i8x16.splat(1))), m0, m1,
    i16x8.shuffle(weights, weights, 1, 1, 1, 1, 1, 1, 1, 1),
  );
  error = channelError(
    error, BLOCK + 64, i8x16.swizzle(palette, i8x16.add(place, i8x16.splat(2))), m0, m1,
    i16x8.shuffle(weights, weights, 2, 2, 2, 2, 2, 2, 2, 2),
  );
  return sum1(error);
}

/** Least squares from FACTORS, as long as it helps. */
function improve(mask: i32, total: v128, count: i32, levels: i32, rounds: i32, out: i32, start: i32): i32 {
  let best = start;
  for (let round = 0; round < rounds; round++) {
    if (best == 0) break;
    if (solve(BLOCK, mask, total, count, levels - 1) == 0) break;
    quantise565();
    const error = evaluateLevels(mask, levels);
    if (error >= best) break;
    best = error;
    keep(out, best);
  }
  return best;
}

/** What cuts explain whose sums of sums are x, y, z and four neighbouring entries of PREFIX. */
// @ts-ignore: decorator
@inline
function explained(x: v128, y: v128, z: v128, group: i32, wr: v128, wg: v128, wb: v128, factors: i32): v128 {
  const px = f32x4.add(x, getV(PREFIX + group * 16));
  const py = f32x4.add(y, getV(PREFIX + 80 + group * 16));
  const pz = f32x4.add(z, getV(PREFIX + 160 + group * 16));
  const square = f32x4.add(
    f32x4.add(f32x4.mul(f32x4.mul(px, px), wr), f32x4.mul(f32x4.mul(py, py), wg)),
    f32x4.mul(f32x4.mul(pz, pz), wb),
  );
  return f32x4.mul(square, getV(factors));
}

// @ts-ignore: decorator
@inline
function fourFrom(n: i32): v128 {
  const number = i32x4.replace_lane(i32x4.replace_lane(i32x4.replace_lane(i32x4.splat(0), 1, 1), 2, 2), 3, 3);
  return i32x4.add(number, i32x4.splat(n));
}

/** Sorts the texels by their projections: their places into ORDER. */
function order(axis: v128): void {
  project(BLOCK, axis, PROJECTED);
  for (let k = 0; k < 4; k++) {
    putV(PROJECTED + k * 16, i32x4.add(i32x4.shl(getV(PROJECTED + k * 16), 4), fourFrom(k * 4)));
  }
  const k0 = getV(PROJECTED);
  const k1 = getV(PROJECTED + 16);
  const k2 = getV(PROJECTED + 32);
  const k3 = getV(PROJECTED + 48);
  let r0 = i32x4.splat(0);
  let r1 = r0;
  let r2 = r0;
  let r3 = r0;
  for (let i = 0; i < 64; i += 4) {
    const key = i32x4.splat(getI(PROJECTED + i));
    r0 = i32x4.sub(r0, i32x4.gt_s(k0, key));
    r1 = i32x4.sub(r1, i32x4.gt_s(k1, key));
    r2 = i32x4.sub(r2, i32x4.gt_s(k2, key));
    r3 = i32x4.sub(r3, i32x4.gt_s(k3, key));
  }
  const rank = i8x16.narrow_i16x8_u(i16x8.narrow_i32x4_s(r0, r1), i16x8.narrow_i32x4_s(r2, r3));
  putV(ORDER + 16, rank);
  for (let i = 0; i < 16; i++) putB(ORDER + getB(ORDER + 16 + i), i);
}

/** Sums of the texels in order, less their mean, into PREFIX: 17 of each channel. */
function prefix(total: v128): void {
  const mean = f32x4.mul(f32x4.convert_i32x4_s(total), splatF(1.0 / 16.0));
  let sum = f32x4.splat(0);
  for (let i = 0; i <= 16; i++) {
    putF(PREFIX + i * 4, laneF(sum, 0));
    putF(PREFIX + 80 + i * 4, laneF(sum, 1));
    putF(PREFIX + 160 + i * 4, laneF(sum, 2));
    if (i < 16) {
      const texel = zeroI(TEXELS + getB(ORDER + i) * 4);
      const value = f32x4.convert_i32x4_s(i32x4.extend_low_i16x8_u(i16x8.extend_low_i8x16_u(texel)));
      sum = f32x4.add(sum, f32x4.sub(value, mean));
    }
  }
}

/** The cut into four clusters that explains most: i, j, k as (i * 17 + j) * 20 + k. */
function cut4(wr: v128, wg: v128, wb: v128): i32 {
  let most = f32x4.splat(-1);
  let where = i32x4.splat(0);
  const whole = getI(WHOLE);
  const lastGroup = whole == 1 ? 4 : 3;
  for (let i = 1 - whole; i < 16; i++) {
    const ix = getF(PREFIX + i * 4);
    const iy = getF(PREFIX + 80 + i * 4);
    const iz = getF(PREFIX + 160 + i * 4);
    for (let j = i; j < 16 + whole; j++) {
      const x = splatF(ix + getF(PREFIX + j * 4));
      const y = splatF(iy + getF(PREFIX + 80 + j * 4));
      const z = splatF(iz + getF(PREFIX + 160 + j * 4));
      const row = (i * 17 + j) * 20;
      for (let group = j >> 2; group <= lastGroup; group++) {
        const gain = explained(x, y, z, group, wr, wg, wb, CLUSTERS + (row + group * 4) * 4);
        const more = f32x4.gt(gain, most);
        most = f32x4.max(most, gain);
        where = v128.bitselect(fourFrom(row + group * 4), where, more);
      }
    }
  }
  return pick(most, where);
}

/** The cut into three clusters: i, j as i * 20 + j. */
function cut3(wr: v128, wg: v128, wb: v128): i32 {
  let most = f32x4.splat(-1);
  let where = i32x4.splat(0);
  for (let i = 0; i < 17; i++) {
    const x = splatF(getF(PREFIX + i * 4));
    const y = splatF(getF(PREFIX + 80 + i * 4));
    const z = splatF(getF(PREFIX + 160 + i * 4));
    const row = i * 20;
    for (let group = i >> 2; group <= 4; group++) {
      const gain = explained(x, y, z, group, wr, wg, wb, CLUSTERS3 + (row + group * 4) * 4);
      const more = f32x4.gt(gain, most);
      most = f32x4.max(most, gain);
      where = v128.bitselect(fourFrom(row + group * 4), where, more);
    }
  }
  return pick(most, where);
}

/** The place of the largest gain; of equal ones the first. */
function pick(most: v128, where: v128): i32 {
  let gain = laneF(most, 0);
  let place = laneI(where, 0);
  for (let lane = 1; lane < 4; lane++) {
    const g = laneF(most, lane);
    const p = laneI(where, lane);
    if (g > gain || (g == gain && p < place)) {
      gain = g;
      place = p;
    }
  }
  return place;
}

/** Gives each texel in order its cluster's level as factor. */
function cutFactors(i: i32, j: i32, k: i32): void {
  for (let n = 0; n < 16; n++) putB(INDEX + getB(ORDER + n), (n >= i ? 1 : 0) + (n >= j ? 1 : 0) + (n >= k ? 1 : 0));
  putV(FACTORS, i16x8.extend_low_i8x16_u(getV(INDEX)));
  putV(FACTORS + 16, i16x8.extend_high_i8x16_u(getV(INDEX)));
}

/** Steps of single codes at both ends; keeps what helps. */
function nudge(mask: i32, levels: i32, out: i32, start: i32): i32 {
  let best = start;
  for (let end = R_LOW; end <= R_HIGH; end += 16) {
    for (let c = 0; c < 3; c++) {
      for (let turn = 0; turn < 2; turn++) {
        putV(CODE_LOW, getV(out + R_LOW));
        putV(CODE_HIGH, getV(out + R_HIGH));
        const at = (end == R_LOW ? CODE_LOW : CODE_HIGH) + c * 4;
        const code = getI(at) + (turn == 0 ? -1 : 1);
        if (code < 0) continue;
        if (code > (c == 1 ? 63 : 31)) continue;
        putI(at, code);
        putEnds565();
        const error = evaluateLevels(mask, levels);
        if (error < best) {
          best = error;
          keep(out, best);
        }
      }
    }
  }
  return best;
}

/** Steps of single codes in two of the six places at once; keeps what helps. */
function nudgePairs(mask: i32, levels: i32, out: i32, start: i32): i32 {
  let best = start;
  for (let p = 0; p < 5; p++) {
    for (let q = p + 1; q < 6; q++) {
      for (let turn = 0; turn < 4; turn++) {
        putV(CODE_LOW, getV(out + R_LOW));
        putV(CODE_HIGH, getV(out + R_HIGH));
        if (step(p, (turn & 1) * 2 - 1) == 0) continue;
        if (step(q, (turn & 2) - 1) == 0) continue;
        putEnds565();
        const error = evaluateLevels(mask, levels);
        if (error < best) {
          best = error;
          keep(out, best);
        }
      }
    }
  }
  return best;
}

/** Moves one of the six codes; 0 when that leaves its range. */
function step(place: i32, by: i32): i32 {
  const c = place >= 3 ? place - 3 : place;
  const at = (place >= 3 ? CODE_HIGH : CODE_LOW) + c * 4;
  const code = getI(at) + by;
  if (code < 0) return 0;
  if (code > (c == 1 ? 63 : 31)) return 0;
  putI(at, code);
  return 1;
}

/** What becomes of levels 0 1 2 3, a byte each, the lowest first: clusters move to other levels, whose ends may be met more nearly. */
function remapOf(n: i32): i32 {
  if (n == 0) return 0x02020101;
  if (n == 1) return 0x02020000;
  if (n == 2) return 0x03030101;
  if (n == 3) return 0x02010100;
  if (n == 4) return 0x03020201;
  if (n == 5) return 0x02020100;
  if (n == 6) return 0x03020101;
  if (n == 7) return 0x02010000;
  if (n == 8) return 0x03030201;
  if (n == 9) return 0x03010000;
  return 0x03030200;
}

function remap(mask: i32, total: v128, count: i32, out: i32, start: i32): i32 {
  let best = start;
  const level = getV(out + R_INDEX);
  for (let n = 0; n < getI(REMAPS); n++) {
    const other = i8x16.swizzle(i32x4.splat(remapOf(n)), level);
    putV(FACTORS, i16x8.extend_low_i8x16_u(other));
    putV(FACTORS + 16, i16x8.extend_high_i8x16_u(other));
    if (solve(BLOCK, mask, total, count, 3) == 0) continue;
    quantise565();
    const error = evaluateLevels(mask, 4);
    if (error < best) {
      best = error;
      keep(out, best);
      best = improve(mask, total, count, 4, 1, out, best);
    }
  }
  return best;
}

/** For texels nearly alike: ends whose mix meets their mean, however far apart; kept when it helps. */
function fitFlat(mask: i32, total: v128, count: i32, out: i32, start: i32): i32 {
  const half = count >> 1;
  for (let c = 0; c < 3; c++) {
    const sum = laneI(total, 0) * (c == 0 ? 1 : 0) + laneI(total, 1) * (c == 1 ? 1 : 0) + laneI(total, 2) * (c == 2 ? 1 : 0);
    const mean = toI(toF(sum + half) / toF(count));
    const table = (c == 1 ? FLAT6 : FLAT5) + mean * 2;
    putI(CODE_LOW + c * 4, getB(table));
    putI(CODE_HIGH + c * 4, getB(table + 1));
  }
  putI(CODE_LOW + 12, 0);
  putI(CODE_HIGH + 12, 0);
  putEnds565();
  const error = evaluateLevels(mask, 4);
  if (error >= start) return start;
  keep(out, error);
  return error;
}

/** Six directions to order the texels by when their own are used up. */
function fixedAxis(n: i32): v128 {
  const r = n == 1 || n == 2 ? 0 : 1000;
  const g = n == 0 || n == 2 ? 0 : n == 4 ? -1000 : 1000;
  const b = n == 0 || n == 1 ? 0 : n == 5 ? -1000 : 1000;
  return i32x4.replace_lane(i32x4.replace_lane(i32x4.replace_lane(i32x4.splat(0), 0, r), 1, g), 2, b);
}

/** The best ends for `levels` mixes over masked texels, into the record at `out`. */
function fitLevels(mask: i32, total: v128, count: i32, axis: v128, levels: i32, out: i32): i32 {
  line(BLOCK, mask, total, toF(count), axis);
  evenCurve();
  quantise565();
  let best = evaluateLevels(mask, levels);
  keep(out, best);
  best = improve(mask, total, count, levels, getI(ROUNDS), out, best);
  if (levels == 4 && best < getI(NUDGE_UNDER)) best = fitFlat(mask, total, count, out, best);
  if (count == 16 && getI(CUTS) > 0 && best > getI(ENOUGH)) {
    const weights = f32x4.convert_i32x4_s(i32x4.extend_low_i16x8_s(getV(SETTINGS)));
    const wr = f32x4.shuffle(weights, weights, 0, 0, 0, 0);
    const wg = f32x4.shuffle(weights, weights, 1, 1, 1, 1);
    const wb = f32x4.shuffle(weights, weights, 2, 2, 2, 2);
    let along = axis;
    let fixed = 0;
    for (let n = 0; n < getI(CUTS); n++) {
      order(along);
      prefix(total);
      if (levels == 4) {
        const place = cut4(wr, wg, wb);
        const i = toI(toF(place) / 340.0);
        const j = toI(toF(place - i * 340) / 20.0);
        cutFactors(i, j, place - i * 340 - j * 20);
      } else {
        const place = cut3(wr, wg, wb);
        const i = toI(toF(place) / 20.0);
        cutFactors(i, place - i * 20, 16);
      }
      if (solve(BLOCK, mask, total, count, levels - 1) == 0) break;
      quantise565();
      let error = evaluateLevels(mask, levels);
      const before = best;
      if (error < best) {
        best = error;
        keep(out, best);
      }
      best = improve(mask, total, count, levels, getI(ROUNDS), out, error < best ? error : best);
      if (best < before) {
        const apart = i16x8.sub(getV(out + R_END_HIGH), getV(out + R_END_LOW));
        along = i32x4.replace_lane(i32x4.extend_low_i16x8_s(apart), 3, 0);
      } else {
        if (fixed == 6) break;
        along = fixedAxis(fixed++);
      }
    }
  }
  if (levels == 4 && best > 0 && best < getI(NUDGE_UNDER)) best = remap(mask, total, count, out, best);
  for (let n = 0; n < getI(NUDGES); n++) {
    if (best == 0 || best >= getI(NUDGE_UNDER)) break;
    const before = best;
    best = nudge(mask, levels, out, best);
    if (n > 0) best = nudgePairs(mask, levels, out, best);
    putV(END_LOW, getV(out + R_END_LOW));
    putV(END_HIGH, getV(out + R_END_HIGH));
    evaluateLevels(mask, levels);
    best = improve(mask, total, count, levels, 2, out, best);
    if (n > 0 && best == before) break;
  }
  return best;
}

// @ts-ignore: decorator
@inline
function pack565(codes: i32): i32 {
  return (getI(codes) << 11) | (getI(codes + 4) << 5) | getI(codes + 8);
}

/** The low bit of each of sixteen indices in its place among two-bit ones. */
function apart(bits: i32): i32 {
  let x = bits & 0xffff;
  x = (x | (x << 8)) & 0x00ff00ff;
  x = (x | (x << 4)) & 0x0f0f0f0f;
  x = (x | (x << 2)) & 0x33333333;
  x = (x | (x << 1)) & 0x55555555;
  return x;
}

function putIndices(index: v128): void {
  const low = i8x16.bitmask(i8x16.shl(index, 7));
  const high = i8x16.bitmask(i8x16.shl(index, 6));
  putI(BEST + 4, apart(low) | (apart(high) << 1));
}

/** Levels 0 to 3 along the line, to the order in which a block lists its colours. */
function write4(record: i32): void {
  const low = pack565(record + R_LOW);
  const high = pack565(record + R_HIGH);
  const level = getV(record + R_INDEX);
  if (low == high) {
    putI(BEST, low | (low << 16));
    putI(BEST + 4, 0);
    return;
  }
  // Colour 0 has to be the larger number. Levels 0 1 2 3 are its codes 0 2 3 1, or 1 3 2 0 from the other end.
  const codes = i32x4.splat(low > high ? 0x01030200 : 0x00020301);
  putI(BEST, low > high ? low | (high << 16) : high | (low << 16));
  putIndices(i8x16.swizzle(codes, level));
}

function write3(record: i32, clear: v128): void {
  const low = pack565(record + R_LOW);
  const high = pack565(record + R_HIGH);
  const level = getV(record + R_INDEX);
  // Colour 0 must not be the larger number. Levels 0 1 2 are its codes 0 2 1, or 1 2 0 from the other end.
  const codes = i32x4.splat(low <= high ? 0x03010200 : 0x03000201);
  putI(BEST, low <= high ? low | (high << 16) : high | (low << 16));
  putIndices(v128.or(i8x16.swizzle(codes, level), v128.and(clear, i8x16.splat(3))));
}

function writeFlat(): void {
  const r = getB(TEXELS);
  const g = getB(TEXELS + 1);
  const b = getB(TEXELS + 2);
  const a = (getB(FLAT5 + r * 2) << 11) | (getB(FLAT6 + g * 2) << 5) | getB(FLAT5 + b * 2);
  const z = (getB(FLAT5 + r * 2 + 1) << 11) | (getB(FLAT6 + g * 2 + 1) << 5) | getB(FLAT5 + b * 2 + 1);
  // The tables hold the ends for two thirds of the first and one of the second: code 2, or 3 when they change places.
  putI(BEST, a >= z ? a | (z << 16) : z | (a << 16));
  putI(BEST + 4, a == z ? 0 : a > z ? -0x55555556 : -1);
}

/** Encodes the colour of TEXELS into 8 bytes at BEST. @param colourOnly 1 in BC2 and BC3, where four levels are always meant */
export function encodeBc1(colourOnly: i32): void {
  const differ = varied();
  const punch = colourOnly == 0 && getI(CLEAR) == 1 ? 1 : 0;
  if (!v128.any_true(v128.and(differ, i32x4.splat(0x00ffffff))) && (punch == 0 || (!v128.any_true(differ) && getB(TEXELS + 3) >= 128))) {
    writeFlat();
    return;
  }
  spread(BLOCK);
  let mask = FULL;
  let count = 16;
  let clear = i8x16.splat(0);
  if (punch == 1) {
    const half = i16x8.splat(127);
    const o0 = i16x8.gt_s(getV(BLOCK + 96), half);
    const o1 = i16x8.gt_s(getV(BLOCK + 112), half);
    putV(OPAQUE, o0);
    putV(OPAQUE + 16, o1);
    clear = v128.not(i8x16.narrow_i16x8_s(o0, o1));
    count = 16 - sum1(i32x4.dot_i16x8_s(i16x8.add(v128.not(o0), v128.not(o1)), i16x8.splat(-1)));
    mask = OPAQUE;
    if (count == 0) {
      putI(BEST, -0x10000);
      putI(BEST + 4, -1);
      return;
    }
  }
  const total = i32x4.replace_lane(sums(BLOCK, mask), 3, 0);
  const axis = i32x4.replace_lane(axisOf(BLOCK, mask, total, toF(count), 3), 3, 0);
  if (count < 16) {
    fitLevels(mask, total, count, axis, 3, THREE);
    write3(THREE, clear);
    return;
  }
  const four = fitLevels(mask, total, 16, axis, 4, FOUR);
  if (colourOnly == 0 && getI(LEVELS3) == 1 && four > getI(ENOUGH)) {
    const three = fitLevels(mask, total, 16, axis, 3, THREE);
    if (three < four) {
      write3(THREE, clear);
      return;
    }
  }
  write4(FOUR);
}

/** One channel by itself: the alpha of BC7's modes 4 and 5. */
import { FACTORS, INDEX, WEIGHTS, getV, putI, putV, splat16, splat8, splatF, toF, toI } from './memory';
import { R_HIGH, R_INDEX, R_LOW, sum1 } from './fit';

export const S_ERROR: i32 = 0;

export function extreme(x0: v128, x1: v128, most: i32): i32 {
  let v = most == 1 ? i16x8.max_s(x0, x1) : i16x8.min_s(x0, x1);
  let w = i16x8.shuffle(v, v, 4, 5, 6, 7, 0, 1, 2, 3);
  v = most == 1 ? i16x8.max_s(v, w) : i16x8.min_s(v, w);
  w = i16x8.shuffle(v, v, 2, 3, 0, 1, 6, 7, 4, 5);
  v = most == 1 ? i16x8.max_s(v, w) : i16x8.min_s(v, w);
  w = i16x8.shuffle(v, v, 1, 0, 3, 2, 5, 4, 7, 6);
  v = most == 1 ? i16x8.max_s(v, w) : i16x8.min_s(v, w);
  return i16x8.extract_lane_s(v, 0);
}

// @ts-ignore: decorator
@inline
function place(x: v128, scale: v128, half: v128): v128 {
  return i32x4.trunc_sat_f32x4_s(f32x4.add(f32x4.mul(f32x4.convert_i32x4_s(x), scale), half));
}

/** The level 0 to `top` of each of sixteen values: (value - low) * scale + half, cut. Sixteen bytes. */
// @ts-ignore: decorator
@inline
export function levels(x0: v128, x1: v128, low: i32, scale: v128, half: v128, top: i32): v128 {
  const from = splat16(low);
  const d0 = i16x8.sub(x0, from);
  const d1 = i16x8.sub(x1, from);
  return i8x16.min_u(
    i8x16.narrow_i16x8_u(
      i16x8.narrow_i32x4_s(place(i32x4.extend_low_i16x8_s(d0), scale, half), place(i32x4.extend_high_i16x8_s(d0), scale, half)),
      i16x8.narrow_i32x4_s(place(i32x4.extend_low_i16x8_s(d1), scale, half), place(i32x4.extend_high_i16x8_s(d1), scale, half)),
    ),
    splat8(top),
  );
}

/** Nearest indices for two ends, into INDEX and FACTORS; the squared error. */
function evaluate1(channel: i32, low: i32, high: i32, bits: i32): i32 {
  const x0 = getV(channel);
  const x1 = getV(channel + 16);
  const top = (1 << bits) - 1;
  const scale = splatF(high > low ? toF(top) / toF(high - low) : 0.0);
  const index = levels(x0, x1, low, scale, f32x4.splat(0.5), top);
  const factors = i8x16.swizzle(getV(WEIGHTS + (bits - 2) * 16), index);
  const f0 = i16x8.extend_low_i8x16_u(factors);
  const f1 = i16x8.extend_high_i8x16_u(factors);
  putV(INDEX, index);
  putV(FACTORS, f0);
  putV(FACTORS + 16, f1);
  const base = splat16((low * 64 + 32));
  const step = splat16((high - low));
  const e0 = i16x8.sub(x0, i16x8.shr_s(i16x8.add(i16x8.mul(f0, step), base), 6));
  const e1 = i16x8.sub(x1, i16x8.shr_s(i16x8.add(i16x8.mul(f1, step), base), 6));
  return sum1(i32x4.add(i32x4.dot_i16x8_s(e0, e0), i32x4.dot_i16x8_s(e1, e1)));
}

// @ts-ignore: decorator
@inline
function wide(code: i32, bits: i32): i32 {
  return bits == 8 ? code : (code << 2) | (code >> 4);
}

function codeOf(value: f64, bits: i32): i32 {
  const x = bits == 8 ? value : value * (63.0 / 255.0);
  const code = toI(x + 0.5);
  const top = (1 << bits) - 1;
  return value <= 0.0 ? 0 : code > top ? top : code;
}

/**
 * Fits one channel and writes the record at `out`: error, codes of both ends in their first lane, indices.
 * @param channel two vectors of i16
 * @param bits 8 or 6, without p-bits
 * @param exact 1 when a value of 255 has to come out as 255
 */
export function fitScalar(channel: i32, bits: i32, indexBits: i32, exact: i32, out: i32): void {
  const x0 = getV(channel);
  const x1 = getV(channel + 16);
  const least = extreme(x0, x1, 0);
  const most = extreme(x0, x1, 1);
  const fixed = exact == 1 && most == 255 ? 1 : 0;
  let best = 0x7fffffff;
  let low = codeOf(toF(least), bits);
  let high = codeOf(toF(most), bits);
  for (let round = 0; round < 4; round++) {
    const error = evaluate1(channel, wide(low, bits), wide(high, bits), indexBits);
    if (error >= best) return;
    best = error;
    putI(out, best);
    putI(out + R_LOW, low);
    putI(out + R_HIGH, high);
    putV(out + R_INDEX, getV(INDEX));
    if (best == 0) return;
    // Least squares for the indices just found.
    const f0 = getV(FACTORS);
    const f1 = getV(FACTORS + 16);
    const one = i16x8.splat(1);
    const s = sum1(i32x4.dot_i16x8_s(i16x8.add(f0, f1), one));
    const bb = sum1(i32x4.add(i32x4.dot_i16x8_s(f0, f0), i32x4.dot_i16x8_s(f1, f1)));
    const xb = sum1(i32x4.add(i32x4.dot_i16x8_s(f0, x0), i32x4.dot_i16x8_s(f1, x1)));
    const xs = sum1(i32x4.dot_i16x8_s(i16x8.add(x0, x1), one));
    const ab = 64 * s - bb;
    const aa = 65536 - 128 * s + bb;
    const xa = 64 * xs - xb;
    const det = toF(aa) * toF(bb) - toF(ab) * toF(ab);
    if (det < 1.0) return;
    if (fixed == 1) low = codeOf((64.0 * toF(xa) - 255.0 * toF(ab)) / toF(aa), bits);
    else {
      low = codeOf(((toF(bb) * toF(xa) - toF(ab) * toF(xb)) * 64.0) / det, bits);
      high = codeOf(((toF(aa) * toF(xb) - toF(ab) * toF(xa)) * 64.0) / det, bits);
    }
    if (high < low) return;
  }
}

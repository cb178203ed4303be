/** Rows of texels for mip levels: to float32 in linear light, weighted sums across and down, and back to 8 bits. */
import { four, getB, getI, getV, laneF, putB, putV, splatPair, toI } from './memory';

/** f32 x 256: what a byte of colour means. */
export const MEANING: i32 = 0x200000;
/** 65536 bytes: the byte of a value 0..1 in 65535ths. */
export const BYTE_OF: i32 = 0x201000;

/** f32 x 256: what a byte of alpha means, 0..1. */
export const ALPHA: i32 = 0x200400;

/** Four floats for an RGBA8 texel, each byte's meaning; alpha 0..1. @param weigh 1: colour times alpha */
export function meanRow(source: i32, count: i32, out: i32, weigh: i32): void {
  const last = i32x4.replace_lane(i32x4.splat(0), 3, -1);
  for (let i = 0; i < count; i++) {
    const at = source + i * 4;
    const alpha = splatPair(ALPHA + getB(at + 3) * 4);
    let v = four(MEANING + getB(at) * 4, MEANING + getB(at + 1) * 4, MEANING + getB(at + 2) * 4);
    if (weigh == 1) v = f32x4.mul(v, alpha);
    putV(out + i * 16, v128.bitselect(alpha, v, last));
  }
}

/**
 * Each output texel from its own window: `taps` weights and where the window starts, (1 + taps) x 4 bytes for each. Four texels go side by
 * side, each with its own sum, so that no addition waits for the one before.
 */
export function acrossRow(source: i32, windows: i32, taps: i32, out: i32, count: i32): void {
  const stride = (1 + taps) * 4;
  let x = 0;
  for (; x + 4 <= count; x += 4) {
    let w = windows + x * stride;
    let from0 = source + getI(w) * 16;
    let from1 = source + getI(w + stride) * 16;
    let from2 = source + getI(w + 2 * stride) * 16;
    let from3 = source + getI(w + 3 * stride) * 16;
    let sum0 = f32x4.splat(0);
    let sum1 = f32x4.splat(0);
    let sum2 = f32x4.splat(0);
    let sum3 = f32x4.splat(0);
    for (let k = 0; k < taps; k++) {
      w += 4;
      sum0 = f32x4.add(sum0, f32x4.mul(getV(from0), splatPair(w)));
      sum1 = f32x4.add(sum1, f32x4.mul(getV(from1), splatPair(w + stride)));
      sum2 = f32x4.add(sum2, f32x4.mul(getV(from2), splatPair(w + 2 * stride)));
      sum3 = f32x4.add(sum3, f32x4.mul(getV(from3), splatPair(w + 3 * stride)));
      from0 += 16;
      from1 += 16;
      from2 += 16;
      from3 += 16;
    }
    const to = out + x * 16;
    putV(to, sum0);
    putV(to + 16, sum1);
    putV(to + 32, sum2);
    putV(to + 48, sum3);
  }
  for (; x < count; x++) {
    let w = windows + x * stride;
    let from = source + getI(w) * 16;
    let sum = f32x4.splat(0);
    for (let k = 0; k < taps; k++) {
      w += 4;
      sum = f32x4.add(sum, f32x4.mul(getV(from), splatPair(w)));
      from += 16;
    }
    putV(out + x * 16, sum);
  }
}

/** The weighted sum of rows, in their order. @param rows of each row its address and its weight (i32, f32), 8 bytes */
export function sumRows(rows: i32, taps: i32, out: i32, count: i32): void {
  const to = count * 16;
  const ends = rows + taps * 8;
  let at = 0;
  for (; at + 64 <= to; at += 64) {
    let row = getI(rows) + at;
    let weight = splatPair(rows + 4);
    let sum0 = f32x4.mul(getV(row), weight);
    let sum1 = f32x4.mul(getV(row + 16), weight);
    let sum2 = f32x4.mul(getV(row + 32), weight);
    let sum3 = f32x4.mul(getV(row + 48), weight);
    for (let k = rows + 8; k < ends; k += 8) {
      row = getI(k) + at;
      weight = splatPair(k + 4);
      sum0 = f32x4.add(sum0, f32x4.mul(getV(row), weight));
      sum1 = f32x4.add(sum1, f32x4.mul(getV(row + 16), weight));
      sum2 = f32x4.add(sum2, f32x4.mul(getV(row + 32), weight));
      sum3 = f32x4.add(sum3, f32x4.mul(getV(row + 48), weight));
    }
    putV(out + at, sum0);
    putV(out + at + 16, sum1);
    putV(out + at + 32, sum2);
    putV(out + at + 48, sum3);
  }
  for (; at < to; at += 16) {
    let sum = f32x4.mul(getV(getI(rows) + at), splatPair(rows + 4));
    for (let k = rows + 8; k < ends; k += 8) sum = f32x4.add(sum, f32x4.mul(getV(getI(k) + at), splatPair(k + 4)));
    putV(out + at, sum);
  }
}

/** What the last step does: colour that was weighted by alpha is freed of it; normals are brought to length one. */
export const PLAIN: i32 = 0;
export const WEIGHTED: i32 = 1;
export const NORMAL: i32 = 2;

/** Rounds a row to RGBA8. @param alphaScale what alpha is multiplied by before it is rounded */
export function byteRow(source: i32, count: i32, out: i32, kind: i32, alphaScale: f64): void {
  const one = f32x4.splat(1);
  const zero = f32x4.splat(0);
  for (let x = 0; x < count; x++) {
    let v = getV(source + x * 16);
    const alpha = f32x4.shuffle(v, v, 3, 3, 3, 3);
    // Alpha of one weighs nothing: dividing by it changes no bit.
    if (kind == WEIGHTED && laneF(alpha, 0) != 1.0) v = f32x4.div(v, f32x4.max(alpha, f32x4.splat(0.0000001)));
    else if (kind == NORMAL) {
      const square = f32x4.mul(v, v);
      const x2 = f32x4.shuffle(square, square, 0, 0, 0, 0);
      const y2 = f32x4.shuffle(square, square, 1, 1, 1, 1);
      const z2 = f32x4.shuffle(square, square, 2, 2, 2, 2);
      const length = f32x4.sqrt(f32x4.add(f32x4.add(x2, y2), z2));
      v = f32x4.div(v, f32x4.max(length, f32x4.splat(0.0000001)));
      v = f32x4.add(f32x4.mul(v, f32x4.splat(0.5)), f32x4.splat(0.5));
    }
    v = f32x4.min(f32x4.max(v, zero), one);
    const code = i32x4.trunc_sat_f32x4_s(f32x4.add(f32x4.mul(v, f32x4.splat(65535)), f32x4.splat(0.5)));
    const at = out + x * 4;
    const clear = kind == WEIGHTED && laneF(alpha, 0) <= 0.0;
    putB(at, clear ? 0 : getB(BYTE_OF + i32x4.extract_lane(code, 0)));
    putB(at + 1, clear ? 0 : getB(BYTE_OF + i32x4.extract_lane(code, 1)));
    putB(at + 2, clear ? 0 : getB(BYTE_OF + i32x4.extract_lane(code, 2)));
    const a = laneF(alpha, 0) * alphaScale;
    putB(at + 3, a <= 0.0 ? 0 : a >= 1.0 ? 255 : toI(a * 255.0 + 0.5));
  }
}

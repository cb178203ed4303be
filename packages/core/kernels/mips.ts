/** Rows of texels for mip levels: to float32 in linear light, weighted sums across and down, and back to 8 bits. */
import { four, getB, getI, getV, laneF, putB, putV, splatF, splatPair, toI } from './memory';

/** f32 x 256: what a byte of colour means. */
export const MEANING: i32 = 0x200000;
/** 65536 bytes: the byte of a value 0..1 in 65535ths. */
export const BYTE_OF: i32 = 0x201000;

/** Four floats for an RGBA8 texel, each byte's meaning; alpha 0..1. @param weigh 1: colour times alpha */
export function meanRow(source: i32, count: i32, out: i32, weigh: i32): void {
  for (let i = 0; i < count; i++) {
    const at = source + i * 4;
    const alpha = toAlpha(getB(at + 3));
    let v = four(MEANING + getB(at) * 4, MEANING + getB(at + 1) * 4, MEANING + getB(at + 2) * 4);
    if (weigh == 1) v = f32x4.mul(v, alpha);
    putV(out + i * 16, v128.bitselect(alpha, v, lastLane()));
  }
}

// @ts-ignore: decorator
@inline
function lastLane(): v128 {
  return i32x4.replace_lane(i32x4.splat(0), 3, -1);
}

// @ts-ignore: decorator
@inline
function toAlpha(byte: i32): v128 {
  return f32x4.div(f32x4.convert_i32x4_s(i32x4.splat(byte)), f32x4.splat(255));
}

/** Each output texel from its own window: `taps` weights and where the window starts, (1 + taps) x 4 bytes for each. */
export function acrossRow(source: i32, windows: i32, taps: i32, out: i32, count: i32): void {
  let w = windows;
  for (let x = 0; x < count; x++) {
    let from = source + getI(w) * 16;
    w += 4;
    let sum = f32x4.splat(0);
    for (let k = 0; k < taps; k++) {
      sum = f32x4.add(sum, f32x4.mul(getV(from), splatPair(w)));
      from += 16;
      w += 4;
    }
    putV(out + x * 16, sum);
  }
}

/** sum += row * weight, or sum = row * weight. */
export function addRow(sum: i32, row: i32, weight: f64, count: i32, first: i32): void {
  const w = splatF(weight);
  const to = count * 16;
  if (first == 1) {
    for (let k = 0; k < to; k += 16) putV(sum + k, f32x4.mul(getV(row + k), w));
  } else {
    for (let k = 0; k < to; k += 16) putV(sum + k, f32x4.add(getV(sum + k), f32x4.mul(getV(row + k), w)));
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
    if (kind == WEIGHTED) v = f32x4.div(v, f32x4.max(alpha, f32x4.splat(0.0000001)));
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

/** BC7 blocks: which modes and partitions to try, and how they are written (Khronos Data Format Specification 1.3, section 20). */
import {
  ANCHORS, BEST, BLOCK, COUNTS2, COUNTS3, ESTIMATE2, ESTIMATE3, ESTIMATES, FEATURES, FLAT7, FULL, OPAQUE, PARTITION_BYTES2,
  PARTITION_BYTES3, SCRATCH, SETTINGS, SUBSETS2, SUBSETS3, TEXELS, TRIAL, TURNED, WEIGHTS, getB, getF, getI, getV, laneF, putF, putI,
  putV, splat16, splat8, splatPair, toF, toI,
} from './memory';
import {
  P_EACH, P_NONE, P_ONES, P_SHARED, RECORD, R_END_HIGH, R_END_LOW, R_HIGH, R_INDEX, R_LOW, fit, fitPinned, pair,
  spread, varied,
} from './fit';
import { S_ERROR, fitScalar } from './scalar';

/** Settings of a run, i32 each, after the channel weights (i16, r g b a twice). */
const ROUNDS: i32 = SETTINGS + 16;
const NUDGES: i32 = SETTINGS + 20;
const TWOS: i32 = SETTINGS + 24; // partitions of two to try in full
const THREES: i32 = SETTINGS + 28; // partitions of three
const TURNS: i32 = SETTINGS + 32; // separate channels to try
const ENOUGH: i32 = SETTINGS + 36; // an error at which to stop
const SPLIT_AT: i32 = SETTINGS + 40; // an error from which partitions are tried

const ALPHA_TWOS: i32 = SETTINGS + 44; // partitions of two to try in full where there is alpha

const HARD_AT: i32 = SETTINGS + 48; // an error from which more of everything is tried
/** Partitions of two, of two where there is alpha, and of three that are tried on hard blocks. */
const HARD_TWOS: i32 = 6;
const HARD_THREES: i32 = 3;
const HARD_ALPHA_TWOS: i32 = 16;

const NO_ERROR: i32 = 0x7fffffff;
const SCALAR: i32 = TRIAL + 4 * RECORD;

let best: i32 = 0;
let bit: i32 = 0;
/** Rounds of nudging in the fits to come: none while looking for the mode, some for the one that was found. */
let nudges: i32 = 0;
/** The best candidate's mode, its partition or separate channel, and its index selector. */
let bestMode: i32 = 0;
let bestShape: i32 = 0;
let bestSelector: i32 = 0;

function found(error: i32, mode: i32, shape: i32, selector: i32): void {
  best = error;
  bestMode = mode;
  bestShape = shape;
  bestSelector = selector;
}

function put(value: i32, bits: i32): void {
  const at = BEST + ((bit >> 5) << 2);
  const shift = bit & 31;
  putI(at, getI(at) | (value << shift));
  if (shift + bits > 32) putI(at + 4, value >>> (32 - shift));
  bit += bits;
}

function start(mode: i32): void {
  putV(BEST, i32x4.splat(0));
  putI(BEST + 16, 0);
  bit = 0;
  put(1 << mode, mode + 1);
}

/** Turns a record about when the index of its anchor has its top bit set, since that bit is not written. */
function settle(record: i32, anchor: i32, indexBits: i32): void {
  if (getB(record + R_INDEX + anchor) >> (indexBits - 1) == 0) return;
  const low = getV(record + R_LOW);
  putV(record + R_LOW, getV(record + R_HIGH));
  putV(record + R_HIGH, low);
  putV(record + R_INDEX, i8x16.sub(splat8(((1 << indexBits) - 1)), getV(record + R_INDEX)));
}

function putChannel(records: i32, subsets: i32, channel: i32, bits: i32, drop: i32): void {
  for (let s = 0; s < subsets; s++) {
    put(getI(records + s * RECORD + R_LOW + channel * 4) >> drop, bits);
    put(getI(records + s * RECORD + R_HIGH + channel * 4) >> drop, bits);
  }
}

function putIndices(index: i32, bits: i32): void {
  put(getB(index), bits - 1);
  for (let i = 1; i < 16; i++) put(getB(index + i), bits);
}

function anchorOf(subsets: i32, partition: i32, subset: i32): i32 {
  if (subset == 0) return 0;
  if (subsets == 2) return getB(ANCHORS + partition);
  return getB(ANCHORS + subset * 64 + partition);
}

/** Writes the records of a mode with subsets. */
function writeSubsets(mode: i32, partitionBits: i32, partition: i32, subsets: i32, bits: i32, pBits: i32, indexBits: i32, alpha: i32): void {
  for (let s = 0; s < subsets; s++) settle(TRIAL + s * RECORD, anchorOf(subsets, partition, s), indexBits);
  start(mode);
  put(partition, partitionBits);
  const drop = pBits == P_NONE ? 0 : 1;
  for (let c = 0; c < 3 + alpha; c++) putChannel(TRIAL, subsets, c, bits - drop, drop);
  if (drop == 1) {
    for (let s = 0; s < subsets; s++) {
      put(getI(TRIAL + s * RECORD + R_LOW) & 1, 1);
      if (pBits != P_SHARED) put(getI(TRIAL + s * RECORD + R_HIGH) & 1, 1);
    }
  }
  const map = subsets == 2 ? PARTITION_BYTES2 + partition * 16 : PARTITION_BYTES3 + partition * 16;
  const second = subsets > 1 ? anchorOf(subsets, partition, 1) : 0;
  const third = subsets > 2 ? anchorOf(subsets, partition, 2) : 0;
  for (let i = 0; i < 16; i++) {
    const s = subsets == 1 ? 0 : getB(map + i);
    const short = i == 0 || i == second || i == third ? 1 : 0;
    put(getB(TRIAL + s * RECORD + R_INDEX + i), indexBits - short);
  }
}

/** Whether opaque texels of a fitted subset decode to alpha 255. @param channel where alpha lies in the set */
function opaqueHeld(record: i32, mask: i32, channel: i32, indexBits: i32): bool {
  const factors = i8x16.swizzle(getV(WEIGHTS + (indexBits - 2) * 16), getV(record + R_INDEX));
  const low = getV(record + R_END_LOW);
  const high = getV(record + R_END_HIGH);
  let a: i32;
  let b: i32;
  if (channel == 3) {
    a = i16x8.extract_lane_s(low, 3);
    b = i16x8.extract_lane_s(high, 3);
  } else if (channel == 2) {
    a = i16x8.extract_lane_s(low, 2);
    b = i16x8.extract_lane_s(high, 2);
  } else if (channel == 1) {
    a = i16x8.extract_lane_s(low, 1);
    b = i16x8.extract_lane_s(high, 1);
  } else {
    a = i16x8.extract_lane_s(low, 0);
    b = i16x8.extract_lane_s(high, 0);
  }
  const base = splat16((a * 64 + 32));
  const step = splat16((b - a));
  const full = i16x8.splat(255);
  const v0 = i16x8.shr_s(i16x8.add(i16x8.mul(i16x8.extend_low_i8x16_u(factors), step), base), 6);
  const v1 = i16x8.shr_s(i16x8.add(i16x8.mul(i16x8.extend_high_i8x16_u(factors), step), base), 6);
  const wrong = v128.or(
    v128.and(v128.and(i16x8.ne(v0, full), getV(OPAQUE)), getV(mask)),
    v128.and(v128.and(i16x8.ne(v1, full), getV(OPAQUE + 16)), getV(mask + 16)),
  );
  return !v128.any_true(wrong);
}

function trySingle(channels: i32): void {
  const weights = channels == 4 ? getV(SETTINGS) : colourOnly(getV(SETTINGS));
  const pBits = channels == 4 ? P_EACH : P_ONES;
  let error = fit(BLOCK, FULL, 16, weights, channels, 8, pBits, 4, getI(ROUNDS), nudges, TRIAL);
  if (error >= best) return;
  if (channels == 4) {
    if (!opaqueHeld(TRIAL, FULL, 3, 4)) {
      error = fitPinned(BLOCK, FULL, OPAQUE, 16, weights, 8, pBits, 4, getI(ROUNDS), TRIAL);
      if (error >= best) return;
      if (!opaqueHeld(TRIAL, FULL, 3, 4)) return;
    }
  } else {
    putI(TRIAL + R_LOW + 12, 255);
    putI(TRIAL + R_HIGH + 12, 255);
  }
  found(error, 6, 0, 0);
  writeSubsets(6, 0, 0, 1, 8, P_EACH, 4, 1);
}

// @ts-ignore: decorator
@inline
function colourOnly(weights: v128): v128 {
  return i16x8.replace_lane(i16x8.replace_lane(weights, 3, 0), 7, 0);
}

/** One mode of two or three subsets on one partition; kept when it beats the best. */
function trySubsets(mode: i32, partition: i32): void {
  const subsets = mode == 0 || mode == 2 ? 3 : 2;
  const partitionBits = mode == 0 ? 4 : 6;
  const bits = mode == 7 ? 6 : mode == 3 ? 8 : mode == 1 ? 7 : 5;
  const pBits = mode == 1 ? P_SHARED : mode == 2 ? P_NONE : P_EACH;
  const indexBits = mode < 2 ? 3 : 2;
  const channels = mode == 7 ? 4 : 3;
  const weights = channels == 4 ? getV(SETTINGS) : colourOnly(getV(SETTINGS));
  let error = 0;
  let rest = 16;
  for (let s = 0; s < subsets; s++) {
    const mask = subsets == 2 ? SUBSETS2 + partition * 64 + s * 32 : SUBSETS3 + partition * 96 + s * 32;
    let count = rest;
    if (subsets == 2) count = s == 0 ? 16 - toI(getF(COUNTS2 + partition * 4)) : rest;
    else if (s < 2) {
      const ones = toI(getF(COUNTS3 + partition * 4));
      const twos = toI(getF(COUNTS3 + 256 + partition * 4));
      count = s == 0 ? 16 - ones - twos : ones;
    }
    rest -= count;
    const record = TRIAL + s * RECORD;
    let own = fit(BLOCK, mask, count, weights, channels, bits, pBits, indexBits, getI(ROUNDS), nudges, record);
    if (channels == 4 && !opaqueHeld(record, mask, 3, indexBits)) {
      own = fitPinned(BLOCK, mask, OPAQUE, count, weights, bits, pBits, indexBits, getI(ROUNDS), record);
      if (!opaqueHeld(record, mask, 3, indexBits)) return;
    }
    error += own;
    if (error >= best) return;
  }
  found(error, mode, partition, 0);
  writeSubsets(mode, partitionBits, partition, subsets, bits, pBits, indexBits, channels - 3);
}

/** Modes 4 and 5: three channels on a line, the fourth by itself. @param turn 0 for alpha apart, 1 to 3 for red, green, blue apart */
function tryApart(mode: i32, turn: i32, selector: i32): void {
  let set = BLOCK;
  let weights = getV(SETTINGS);
  if (turn > 0) {
    set = TURNED;
    for (let k = 0; k < 128; k += 16) putV(TURNED + k, getV(BLOCK + k));
    const at = (turn - 1) * 32;
    putV(TURNED + at, getV(BLOCK + 96));
    putV(TURNED + at + 16, getV(BLOCK + 112));
    putV(TURNED + 96, getV(BLOCK + at));
    putV(TURNED + 112, getV(BLOCK + at + 16));
    pair(TURNED);
    if (turn == 1) weights = i16x8.shuffle(weights, weights, 3, 1, 2, 0, 7, 5, 6, 4);
    else if (turn == 2) weights = i16x8.shuffle(weights, weights, 0, 3, 2, 1, 4, 7, 6, 5);
    else weights = i16x8.shuffle(weights, weights, 0, 1, 3, 2, 4, 5, 7, 6);
  }
  const colourIndex = mode == 5 ? 2 : 2 + selector;
  const scalarIndex = mode == 5 ? 2 : 3 - selector;
  const scalarWeight = i16x8.extract_lane_s(weights, 3);
  let error = 0;
  fitScalar(set + 96, mode == 5 ? 8 : 6, scalarIndex, turn == 0 ? 1 : 0, SCALAR);
  error = getI(SCALAR + S_ERROR) * scalarWeight;
  if (error >= best) return;
  error += fit(set, FULL, 16, colourOnly(weights), 3, mode == 5 ? 7 : 5, P_NONE, colourIndex, getI(ROUNDS), nudges, TRIAL);
  if (error >= best) return;
  // A turned block has alpha among its colours: opaque texels must come out opaque there.
  if (turn > 0 && !opaqueHeld(TRIAL, FULL, turn - 1, colourIndex)) return;
  found(error, mode, turn, selector);
  settle(TRIAL, 0, colourIndex);
  settle(SCALAR, 0, scalarIndex);
  start(mode);
  put(turn, 2);
  if (mode == 4) put(selector, 1);
  for (let c = 0; c < 3; c++) putChannel(TRIAL, 1, c, mode == 5 ? 7 : 5, 0);
  putChannel(SCALAR, 1, 0, mode == 5 ? 8 : 6, 0);
  if (mode == 5 || selector == 0) {
    putIndices(TRIAL + R_INDEX, 2);
    putIndices(SCALAR + R_INDEX, scalarIndex);
  } else {
    putIndices(SCALAR + R_INDEX, 2);
    putIndices(TRIAL + R_INDEX, 3);
  }
}

const R: i32 = 0;
const G: i32 = 1;
const B: i32 = 2;
const A: i32 = 3;

// @ts-ignore: decorator
@inline
function putFeature(n: i32, x0: v128, x1: v128): void {
  putV(FEATURES + n * 32, x0);
  putV(FEATURES + n * 32 + 16, x1);
}

/** Midpoint of a channel, so that differences fit 8 bits and products 16. */
function centre(channel: i32, half: i32): v128 {
  const x0 = getV(BLOCK + channel * 32);
  const x1 = getV(BLOCK + channel * 32 + 16);
  let least = i16x8.min_s(x0, x1);
  let most = i16x8.max_s(x0, x1);
  least = i16x8.min_s(least, i16x8.shuffle(least, least, 4, 5, 6, 7, 0, 1, 2, 3));
  most = i16x8.max_s(most, i16x8.shuffle(most, most, 4, 5, 6, 7, 0, 1, 2, 3));
  least = i16x8.min_s(least, i16x8.shuffle(least, least, 2, 3, 0, 1, 6, 7, 4, 5));
  most = i16x8.max_s(most, i16x8.shuffle(most, most, 2, 3, 0, 1, 6, 7, 4, 5));
  least = i16x8.min_s(least, i16x8.shuffle(least, least, 1, 0, 3, 2, 5, 4, 7, 6));
  most = i16x8.max_s(most, i16x8.shuffle(most, most, 1, 0, 3, 2, 5, 4, 7, 6));
  const middle = i16x8.shr_s(i16x8.add(least, most), 1);
  return i16x8.sub(half == 0 ? x0 : x1, middle);
}

/** Features r g b, rr rg rb gg gb bb, and with alpha a, ra ga ba aa. */
function putFeatures(channels: i32): void {
  const r0 = centre(R, 0);
  const r1 = centre(R, 1);
  const g0 = centre(G, 0);
  const g1 = centre(G, 1);
  const b0 = centre(B, 0);
  const b1 = centre(B, 1);
  putFeature(0, r0, r1);
  putFeature(1, g0, g1);
  putFeature(2, b0, b1);
  putFeature(3, i16x8.mul(r0, r0), i16x8.mul(r1, r1));
  putFeature(4, i16x8.mul(r0, g0), i16x8.mul(r1, g1));
  putFeature(5, i16x8.mul(r0, b0), i16x8.mul(r1, b1));
  putFeature(6, i16x8.mul(g0, g0), i16x8.mul(g1, g1));
  putFeature(7, i16x8.mul(g0, b0), i16x8.mul(g1, b1));
  putFeature(8, i16x8.mul(b0, b0), i16x8.mul(b1, b1));
  if (channels == 3) return;
  const a0 = centre(A, 0);
  const a1 = centre(A, 1);
  putFeature(9, a0, a1);
  putFeature(10, i16x8.mul(a0, r0), i16x8.mul(a1, r1));
  putFeature(11, i16x8.mul(a0, g0), i16x8.mul(a1, g1));
  putFeature(12, i16x8.mul(a0, b0), i16x8.mul(a1, b1));
  putFeature(13, i16x8.mul(a0, a0), i16x8.mul(a1, a1));
}

function sumFeature(n: i32): v128 {
  const one = i16x8.splat(1);
  const x = i32x4.add(i32x4.dot_i16x8_s(getV(FEATURES + n * 32), one), i32x4.dot_i16x8_s(getV(FEATURES + n * 32 + 16), one));
  const y = i32x4.add(x, i32x4.shuffle(x, x, 2, 3, 0, 1));
  return f32x4.convert_i32x4_s(i32x4.add(y, i32x4.shuffle(y, y, 1, 0, 3, 2)));
}

/** Sums of features (f32x4: four partitions at once) over all texels, over one subset, and over what is left: 14 vectors each. */
const TOTALS: i32 = SCRATCH + 1024;
const PART: i32 = SCRATCH + 1248;
const REST: i32 = SCRATCH + 1472;

/** Sums of the features over the texels of one subset in four partitions into PART. */
function gather(masks: i32, features: i32): void {
  for (let n = 0; n < features; n++) {
    const from = FEATURES + n * 32;
    let sum = i32x4.dot_i16x8_s(getV(masks), splatPair(from));
    sum = i32x4.add(sum, i32x4.dot_i16x8_s(getV(masks + 16), splatPair(from + 4)));
    sum = i32x4.add(sum, i32x4.dot_i16x8_s(getV(masks + 32), splatPair(from + 8)));
    sum = i32x4.add(sum, i32x4.dot_i16x8_s(getV(masks + 48), splatPair(from + 12)));
    sum = i32x4.add(sum, i32x4.dot_i16x8_s(getV(masks + 64), splatPair(from + 16)));
    sum = i32x4.add(sum, i32x4.dot_i16x8_s(getV(masks + 80), splatPair(from + 20)));
    sum = i32x4.add(sum, i32x4.dot_i16x8_s(getV(masks + 96), splatPair(from + 24)));
    sum = i32x4.add(sum, i32x4.dot_i16x8_s(getV(masks + 112), splatPair(from + 28)));
    putV(PART + n * 16, f32x4.convert_i32x4_s(sum));
  }
}

/** An entry of the scatter: a sum of products less the product of sums over the count. */
// @ts-ignore: decorator
@inline
function scatter(product: i32, a: v128, b: v128, n: v128): v128 {
  return f32x4.sub(getV(product), f32x4.mul(f32x4.mul(a, b), n));
}

// @ts-ignore: decorator
@inline
function square(a: v128): v128 {
  return f32x4.mul(a, a);
}

/**
 * What rounding to the weights of a line leaves, as a share of the spread along it. Where all texels lie on one line, as at the edges of
 * lettering, this alone tells partitions apart. Tried on thin strokes and emblems: 0.005 is best for opaque ones, nothing where there is alpha.
 */
const ROUNDED: f32 = 0.005;

/** How far, squared, texels with the sums at `at` lie from a line through them, nearly: trace less Frobenius norm of the scatter. */
function offLine(count: v128, at: i32, channels: i32): v128 {
  const n = f32x4.div(f32x4.splat(1), f32x4.max(count, f32x4.splat(1)));
  const r = getV(at);
  const g = getV(at + 16);
  const b = getV(at + 32);
  const rr = scatter(at + 48, r, r, n);
  const rg = scatter(at + 64, r, g, n);
  const rb = scatter(at + 80, r, b, n);
  const gg = scatter(at + 96, g, g, n);
  const gb = scatter(at + 112, g, b, n);
  const bb = scatter(at + 128, b, b, n);
  let trace = f32x4.add(f32x4.add(rr, gg), bb);
  let cross = f32x4.add(f32x4.add(square(rg), square(rb)), square(gb));
  let own = f32x4.add(f32x4.add(square(rr), square(gg)), square(bb));
  if (channels == 4) {
    const a = getV(at + 144);
    const aa = scatter(at + 208, a, a, n);
    const ra = scatter(at + 160, r, a, n);
    const ga = scatter(at + 176, g, a, n);
    const ba = scatter(at + 192, b, a, n);
    trace = f32x4.add(trace, aa);
    cross = f32x4.add(cross, f32x4.add(f32x4.add(square(ra), square(ga)), square(ba)));
    own = f32x4.add(own, square(aa));
  }
  const rounded = channels == 4 ? trace : f32x4.mul(trace, f32x4.splat(1 + ROUNDED));
  return f32x4.sub(rounded, f32x4.sqrt(f32x4.add(own, f32x4.add(cross, cross))));
}

/** For all 64 partitions into two or three: what the lines through the subsets would leave, into ESTIMATES. Needs FEATURES. */
function estimate(subsets: i32, channels: i32): void {
  const features = channels == 4 ? 14 : 9;
  for (let n = 0; n < features; n++) putV(TOTALS + n * 16, sumFeature(n));
  for (let group = 0; group < 16; group++) {
    let sum = f32x4.splat(0);
    let left = f32x4.splat(16);
    for (let n = 0; n < features; n++) putV(REST + n * 16, getV(TOTALS + n * 16));
    for (let s = 0; s < subsets - 1; s++) {
      gather((subsets == 2 ? ESTIMATE2 : ESTIMATE3 + s * 2048) + group * 128, features);
      const count = getV((subsets == 2 ? COUNTS2 : COUNTS3 + s * 256) + group * 16);
      sum = f32x4.add(sum, offLine(count, PART, channels));
      left = f32x4.sub(left, count);
      for (let n = 0; n < features; n++) putV(REST + n * 16, f32x4.sub(getV(REST + n * 16), getV(PART + n * 16)));
    }
    putV(ESTIMATES + group * 16, f32x4.add(sum, offLine(left, REST, channels)));
  }
}

/** Estimates are of lines that need not be rounded to: how far above the best they may lie. */
const LOOSE: f64 = 8;

/** Takes the lowest of the first `count` estimates out; -1 when none is under the limit. */
function takeLowest(count: i32, limit: f64): i32 {
  let least = f32x4.splat(1e30);
  for (let k = 0; k < count * 4; k += 16) least = f32x4.min(least, getV(ESTIMATES + k));
  least = f32x4.min(least, f32x4.shuffle(least, least, 2, 3, 0, 1));
  least = f32x4.min(least, f32x4.shuffle(least, least, 1, 0, 3, 2));
  if (laneF(least, 0) >= limit) return -1;
  for (let k = 0; k < count * 4; k += 16) {
    const hit = i32x4.bitmask(f32x4.eq(getV(ESTIMATES + k), least));
    if (hit != 0) {
      const lane = (hit & 1) != 0 ? 0 : (hit & 2) != 0 ? 1 : (hit & 4) != 0 ? 2 : 3;
      putF(ESTIMATES + k + lane * 4, 1e30);
      return (k >> 2) + lane;
    }
  }
  return -1;
}

/** Squared deviation of the block's colours from which it counts as one of strong contrast. */
const SHARP: f64 = 30000;

/** How far the block's colours lie from their mean, squared and summed. Needs FEATURES. */
function contrast(): f64 {
  const n = 1.0 / 16.0;
  let sum = 0.0;
  const r = laneF(sumFeature(0), 0);
  sum += laneF(sumFeature(3), 0) - r * r * n;
  const g = laneF(sumFeature(1), 0);
  sum += laneF(sumFeature(6), 0) - g * g * n;
  const b = laneF(sumFeature(2), 0);
  sum += laneF(sumFeature(8), 0) - b * b * n;
  return sum;
}

function tryTwos(channels: i32): void {
  if (getI(TWOS) == 0) return;
  putFeatures(channels);
  estimate(2, channels);
  const tries = channels == 4 ? getI(ALPHA_TWOS) : getI(TWOS);
  // Edges of strong contrast lie well on one line, and are let down by its rounded ends: two lines of finer ends hold them.
  const sharp = getI(HARD_AT) < NO_ERROR && contrast() > SHARP;
  const most = channels == 4 ? HARD_ALPHA_TWOS : HARD_TWOS;
  for (let n = 0; n < most || n < tries; n++) {
    if (n >= tries && best <= getI(HARD_AT) && !sharp) return;
    const partition = takeLowest(64, toF(best) * LOOSE);
    if (partition < 0) return;
    if (channels == 4) trySubsets(7, partition);
    else {
      trySubsets(1, partition);
      trySubsets(3, partition);
    }
    if (best <= getI(ENOUGH)) return;
  }
}

function tryThrees(): void {
  const tries = best > getI(HARD_AT) ? HARD_THREES : getI(THREES);
  if (tries == 0) return;
  estimate(3, 3);
  for (let n = 0; n < tries; n++) {
    const partition = takeLowest(64, toF(best) * LOOSE);
    if (partition < 0) return;
    if (partition < 16) trySubsets(0, partition);
    trySubsets(2, partition);
    if (best <= getI(ENOUGH)) return;
  }
}

/** A colour channel apart: the most promising, or each. Needs FEATURES. */
function tryTurns(): void {
  if (getI(TURNS) == 0) return;
  const only = getI(TURNS) < 3 && best <= getI(HARD_AT) ? promising() : 0;
  for (let turn = 1; turn < 4; turn++) {
    if (only != 0 && turn != only) continue;
    tryApart(5, turn, 0);
    tryApart(4, turn, 0);
    tryApart(4, turn, 1);
    if (best <= getI(ENOUGH)) return;
  }
}

/** Which colour channel the other two are best off without: 1 to 3. Needs FEATURES. */
function promising(): i32 {
  const n = toF(1) / 16.0;
  const r = laneF(sumFeature(0), 0);
  const g = laneF(sumFeature(1), 0);
  const b = laneF(sumFeature(2), 0);
  const rr = laneF(sumFeature(3), 0) - r * r * n;
  const rg = laneF(sumFeature(4), 0) - r * g * n;
  const rb = laneF(sumFeature(5), 0) - r * b * n;
  const gg = laneF(sumFeature(6), 0) - g * g * n;
  const gb = laneF(sumFeature(7), 0) - g * b * n;
  const bb = laneF(sumFeature(8), 0) - b * b * n;
  // What a line leaves of two channels: the smaller root of their scatter, here by product over sum.
  const noR = (gg * bb - gb * gb) / (gg + bb + 1.0);
  const noG = (rr * bb - rb * rb) / (rr + bb + 1.0);
  const noB = (rr * gg - rg * rg) / (rr + gg + 1.0);
  if (noR <= noG && noR <= noB) return 1;
  if (noG <= noB) return 2;
  return 3;
}

function writeFlat(): void {
  best = 0;
  start(5);
  put(0, 2);
  for (let c = 0; c < 3; c++) {
    const value = getB(TEXELS + c);
    put(getB(FLAT7 + value * 2), 7);
    put(getB(FLAT7 + value * 2 + 1), 7);
  }
  put(getB(TEXELS + 3), 8);
  put(getB(TEXELS + 3), 8);
  put(1, 1);
  for (let i = 1; i < 16; i++) put(1, 2);
  put(0, 31);
}

/** Encodes the block in TEXELS into 16 bytes at BEST. */
export function encodeBc7(): void {
  if (!v128.any_true(varied())) {
    writeFlat();
    return;
  }
  spread(BLOCK);
  const full = i16x8.splat(255);
  const o0 = i16x8.eq(getV(BLOCK + 96), full);
  const o1 = i16x8.eq(getV(BLOCK + 112), full);
  putV(OPAQUE, o0);
  putV(OPAQUE + 16, o1);
  best = NO_ERROR;
  nudges = 0;
  const channels = i16x8.all_true(o0) && i16x8.all_true(o1) ? 3 : 4;
  search(channels);
  if (best == 0) return;
  nudges = getI(NUDGES) == 0 && best > getI(HARD_AT) ? 1 : getI(NUDGES);
  if (nudges == 0) return;
  if (bestMode == 6) trySingle(channels);
  else if (bestMode == 4 || bestMode == 5) tryApart(bestMode, bestShape, bestSelector);
  else trySubsets(bestMode, bestShape);
}

function search(channels: i32): void {
  trySingle(channels);
  if (channels == 3) {
    if (best <= getI(SPLIT_AT)) return;
  } else {
    if (best <= getI(ENOUGH)) return;
    tryAlphaApart();
  }
  if (best <= getI(ENOUGH)) return;
  tryTwos(channels);
  if (best <= getI(ENOUGH)) return;
  if (getI(TWOS) > 0) tryTurns();
  if (best <= getI(ENOUGH)) return;
  if (channels == 3) tryThrees();
}

/** Alpha apart. */
function tryAlphaApart(): void {
  tryApart(5, 0, 0);
  if (best <= getI(ENOUGH)) return;
  tryApart(4, 0, 0);
  tryApart(4, 0, 1);
}

/**
 * Where everything lies in the kernels' memory, and how it is reached. The TypeScript twin (testing/twin.ts) replaces the functions
 * of this file and the vector instructions, and runs the very same source. For that, the kernels keep to a discipline: scalars are
 * i32 without overflow or division, or f64; float32 only in vectors; no arrays, objects, strings or static data.
 */

/** Tables, written once by src/kernels/kernel.ts, which has these addresses from here. */
export const WEIGHTS: i32 = 0x400; // interpolation factors of 64, 16 bytes for each of 2, 3 and 4 index bits
export const SUBSETS2: i32 = 0x500; // per partition: i16 masks of subset 0 (16 texels), then of subset 1: 64 bytes
export const SUBSETS3: i32 = 0x1500; // the same for three subsets: 96 bytes
export const ESTIMATE2: i32 = 0x2d00; // 16 groups x 8 pairs of texels: i16 0 or 1 for four partitions: 2 KB
export const ESTIMATE3: i32 = 0x3500; // 2 x 2 KB: for subset 1 and subset 2
export const COUNTS2: i32 = 0x4500; // f32 x 64: texels in subset 1
export const COUNTS3: i32 = 0x4600; // 2 x f32 x 64: texels in subsets 1 and 2
export const ANCHORS: i32 = 0x4800; // 3 x 64 bytes: second of two, second of three, third of three
export const FLAT7: i32 = 0x4900; // 256 x 2 bytes: 7-bit ends whose mix at 21/64 is the value
export const FLAT5: i32 = 0x4b00; // 256 x 2 bytes: 5-bit ends whose two-thirds mix comes nearest
export const FLAT6: i32 = 0x4d00; // the same for 6 bits
export const CLUSTERS: i32 = 0x5000; // f32: gain factors of the cluster fit, [i][j][k], 17 x 17 x 20: 23120 bytes
export const CLUSTERS3: i32 = 0xab00; // the same for three levels, [i][j], 17 x 20: 1360 bytes
export const PARTITION_BYTES2: i32 = 0xb100; // 64 x 16 bytes: the subset of each texel
export const PARTITION_BYTES3: i32 = 0xb500;
export const FULL: i32 = 0xb900; // i16 mask of all sixteen texels

/** Settings, written before a run. */
export const SETTINGS: i32 = 0xb980;

/** The block at hand. */
export const TEXELS: i32 = 0xc000; // 64 bytes RGBA8
export const BLOCK: i32 = 0xc100; // a set: 8 vectors of i16 (r, g, b, a of texels 0-7, 8-15), 4 of pairs r g, 4 of pairs b a
export const TURNED: i32 = 0xc200; // the same with a channel and alpha changed over
export const OPAQUE: i32 = 0xc300; // i16 mask of texels whose alpha is 255
export const INDEX: i32 = 0xc340; // what evaluate chose: 16 indices
export const FACTORS: i32 = 0xc360; // and their factors of 64 as i16
export const TRIAL: i32 = 0xc400; // what one fit found, a record of 64 bytes each
export const BEST: i32 = 0xc600; // the best candidate of the block
export const SCRATCH: i32 = 0xc800;
export const FEATURES: i32 = 0xd000; // i32 pairs for the partition estimate: 14 x 8
export const ESTIMATES: i32 = 0xd400; // f32 x 64
export const PREFIX: i32 = 0xd600; // f32 sums in order, three channels x 20
export const ORDER: i32 = 0xd800; // 16 keys, then the order
export const SEEN: i32 = 0xe000; // 512 blocks already met: 64 bytes of texels, 16 of result
export const SEEN_COUNT: i32 = 512;

/** Where the host puts rows of texels and finds results; the rest of the memory. */
export const ROOM: i32 = 0x20000;

// @ts-ignore: decorator
@inline
export function getV(at: i32): v128 {
  return v128.load(at);
}
// @ts-ignore: decorator
@inline
export function putV(at: i32, value: v128): void {
  v128.store(at, value);
}
// @ts-ignore: decorator
@inline
export function getI(at: i32): i32 {
  return load<i32>(at);
}
// @ts-ignore: decorator
@inline
export function putI(at: i32, value: i32): void {
  store<i32>(at, value);
}
// @ts-ignore: decorator
@inline
export function getB(at: i32): i32 {
  return load<u8>(at);
}
// @ts-ignore: decorator
@inline
export function putB(at: i32, value: i32): void {
  store<u8>(at, <u8>value);
}
// @ts-ignore: decorator
@inline
export function getH(at: i32): i32 {
  return load<u16>(at);
}
// @ts-ignore: decorator
@inline
export function putH(at: i32, value: i32): void {
  store<u16>(at, <u16>value);
}
// @ts-ignore: decorator
@inline
export function getF(at: i32): f64 {
  return <f64>load<f32>(at);
}
// @ts-ignore: decorator
@inline
export function putF(at: i32, value: f64): void {
  store<f32>(at, <f32>value);
}
// @ts-ignore: decorator
@inline
export function splatPair(at: i32): v128 {
  return v128.load32_splat(at);
}
// @ts-ignore: decorator
@inline
export function splatF(value: f64): v128 {
  return f32x4.splat(<f32>value);
}
/** One float32 lane as f64. */
// @ts-ignore: decorator
@inline
export function laneF(v: v128, lane: i32): f64 {
  if (lane == 0) return <f64>f32x4.extract_lane(v, 0);
  if (lane == 1) return <f64>f32x4.extract_lane(v, 1);
  if (lane == 2) return <f64>f32x4.extract_lane(v, 2);
  return <f64>f32x4.extract_lane(v, 3);
}
// @ts-ignore: decorator
@inline
export function laneI(v: v128, lane: i32): i32 {
  if (lane == 0) return i32x4.extract_lane(v, 0);
  if (lane == 1) return i32x4.extract_lane(v, 1);
  if (lane == 2) return i32x4.extract_lane(v, 2);
  return i32x4.extract_lane(v, 3);
}
/** Truncates towards zero. */
// @ts-ignore: decorator
@inline
export function toI(value: f64): i32 {
  return <i32>value;
}
// @ts-ignore: decorator
@inline
export function toF(value: i32): f64 {
  return <f64>value;
}
// @ts-ignore: decorator
@inline
export function splat8(value: i32): v128 {
  return i8x16.splat(<i8>value);
}
// @ts-ignore: decorator
@inline
export function splat16(value: i32): v128 {
  return i16x8.splat(<i16>value);
}
/** Four bytes in the first lane, zero above. */
// @ts-ignore: decorator
@inline
export function zeroI(at: i32): v128 {
  return v128.load32_zero(at);
}
/** Three float32 of memory and a zero. */
// @ts-ignore: decorator
@inline
export function four(x: i32, y: i32, z: i32): v128 {
  return f32x4.replace_lane(f32x4.replace_lane(v128.load32_zero(x), 1, load<f32>(y)), 2, load<f32>(z));
}
/** A texel of four 16-bit values, each in a lane of 32 bits. */
// @ts-ignore: decorator
@inline
export function texel16(at: i32): v128 {
  return v128.load16x4_u(at);
}
/** The lower half of a vector: one texel of four 16-bit values. */
// @ts-ignore: decorator
@inline
export function half16(at: i32, value: v128): void {
  v128.store64_lane(at, value, 0);
}
/** One texel of four 16-bit values, twice. */
// @ts-ignore: decorator
@inline
export function twice16(at: i32): v128 {
  return v128.load64_splat(at);
}
/** Two texels of four 16-bit values. */
// @ts-ignore: decorator
@inline
export function pair16(a: i32, b: i32): v128 {
  return v128.load64_lane(b, v128.load64_zero(a), 1);
}
// @ts-ignore: decorator
@inline
export function lower(a: f64, b: f64): f64 {
  return min<f64>(a, b);
}
// @ts-ignore: decorator
@inline
export function higher(a: f64, b: f64): f64 {
  return max<f64>(a, b);
}

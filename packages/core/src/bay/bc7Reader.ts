/**
 * The stand-in games' own BC7 reader, from the published description and apart from the product's decoder, so that a mistake
 * in one is not hidden by the same mistake in the other. Only the published tables are shared.
 */
import { ANCHOR_2, ANCHOR_3A, ANCHOR_3B, MODES, PARTITIONS_2, PARTITIONS_3, WEIGHTS } from '../published/bc7.ts';

/** The 128 bits of a block, first to last, as four 32-bit words that are shifted along. */
const words = new Int32Array(4);

function take(count: number): number {
  if (count === 0) return 0;
  const value = words[0] & ((1 << count) - 1);
  const up = 32 - count;
  words[0] = (words[0] >>> count) | (words[1] << up);
  words[1] = (words[1] >>> count) | (words[2] << up);
  words[2] = (words[2] >>> count) | (words[3] << up);
  words[3] = words[3] >>> count;
  return value;
}

/** Endpoints, four channels each, up to three subsets of two. */
const ends = new Int32Array(24);
const first = new Int32Array(16);
const second = new Int32Array(16);
const texels = new Uint8Array(64);

const lerp = (a: number, b: number, w: number) => (a * (64 - w) + b * w + 32) >> 6;

/** Decodes a whole level: RGBA8, rows as stored. */
export function readBc7(bytes: Uint8Array, width: number, height: number): Uint8Array {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const out = new Uint8Array(width * height * 4);
  const across = Math.ceil(width / 4);
  for (let block = 0; block * 16 < bytes.length; block++) {
    for (let k = 0; k < 4; k++) words[k] = view.getInt32(block * 16 + k * 4, true);
    readBlock();
    const left = (block % across) * 4;
    const top = Math.floor(block / across) * 4;
    const wide = Math.min(4, width - left) * 4;
    for (let y = 0; y < 4 && top + y < height; y++) {
      const to = ((top + y) * width + left) * 4;
      for (let k = 0; k < wide; k++) out[to + k] = texels[y * 16 + k];
    }
  }
  return out;
}

function readBlock(): void {
  let number = 0;
  while (number < 8 && take(1) === 0) number++;
  if (number === 8) {
    texels.fill(0);
    return;
  }
  const m = MODES[number];
  const shape = take(m.partitionBits);
  const rotation = take(m.rotationBits);
  const swap = take(m.selectorBits) === 1;
  const count = m.subsets * 2;
  for (let c = 0; c < 3; c++) for (let e = 0; e < count; e++) ends[e * 4 + c] = take(m.colourBits);
  for (let e = 0; e < count; e++) ends[e * 4 + 3] = take(m.alphaBits);
  if (m.pBits === 'each') for (let e = 0; e < count; e++) pushBit(e, m.alphaBits, take(1));
  if (m.pBits === 'shared') {
    for (let s = 0; s < 2; s++) {
      const bit = take(1);
      pushBit(s * 2, m.alphaBits, bit);
      pushBit(s * 2 + 1, m.alphaBits, bit);
    }
  }
  const extra = m.pBits === 'none' ? 0 : 1;
  for (let i = 0; i < count * 4; i++) {
    const stored = (i & 3) === 3 ? m.alphaBits : m.colourBits;
    if (stored === 0) ends[i] = 255;
    else {
      const v = ends[i] << (8 - stored - extra);
      ends[i] = v + (v >> (stored + extra));
    }
  }
  const member = m.subsets === 3 ? PARTITIONS_3[shape] : m.subsets === 2 ? PARTITIONS_2[shape] : null;
  const anchorA = m.subsets === 3 ? ANCHOR_3A[shape] : m.subsets === 2 ? ANCHOR_2[shape] : 0;
  const anchorB = m.subsets === 3 ? ANCHOR_3B[shape] : 0;
  for (let i = 0; i < 16; i++) {
    const short = i === 0 || i === anchorA || i === anchorB ? 1 : 0;
    first[i] = take(m.indexBits - short);
  }
  const two = m.secondIndexBits > 0;
  if (two) for (let i = 0; i < 16; i++) second[i] = take(m.secondIndexBits - (i === 0 ? 1 : 0));
  const firstWeights = WEIGHTS[m.indexBits];
  const secondWeights = two ? WEIGHTS[m.secondIndexBits] : firstWeights;
  for (let i = 0; i < 16; i++) {
    const low = member ? member[i] * 8 : 0;
    const one = firstWeights[first[i]];
    const other = two ? secondWeights[second[i]] : one;
    const colour = swap ? other : one;
    const alpha = swap ? one : other;
    const o = i * 4;
    for (let c = 0; c < 3; c++) texels[o + c] = lerp(ends[low + c], ends[low + 4 + c], colour);
    texels[o + 3] = lerp(ends[low + 3], ends[low + 7], alpha);
    if (rotation > 0) {
      const held = texels[o + rotation - 1];
      texels[o + rotation - 1] = texels[o + 3];
      texels[o + 3] = held;
    }
  }
}

/** The p-bit becomes the lowest bit of every stored channel of an endpoint. */
function pushBit(end: number, alphaBits: number, bit: number): void {
  for (let c = 0; c < 3; c++) ends[end * 4 + c] = (ends[end * 4 + c] << 1) | bit;
  if (alphaBits > 0) ends[end * 4 + 3] = (ends[end * 4 + 3] << 1) | bit;
}

import { ANCHOR_2, ANCHOR_3A, ANCHOR_3B, MODES, PARTITIONS_2, PARTITIONS_3, WEIGHTS } from '../published/bc7.ts';

const ends = new Int32Array(3 * 2 * 4);
const first = new Uint8Array(16);
const second = new Uint8Array(16);

/**
 * Decodes one BC7 block (all eight modes; Khronos Data Format Specification 1.3, section 20.1).
 * @param source 16 bytes at `at`
 * @param out 64 bytes: RGBA8 of the 16 texels, straight alpha, row by row. A reserved block (no mode bit) decodes to zeros.
 */
export function decodeBc7Block(source: Uint8Array, at: number, out: Uint8Array): void {
  let position = 0;
  const read = (bits: number): number => {
    // No field is longer than 8 bits, so that it lies in two bytes; the last byte has none after it.
    const byte = at + (position >> 3);
    const pair = source[byte] | ((position < 120 ? source[byte + 1] : 0) << 8);
    const value = (pair >> (position & 7)) & ((1 << bits) - 1);
    position += bits;
    return value;
  };
  let number = 0;
  while (number < 8 && read(1) === 0) number++;
  if (number === 8) {
    out.fill(0);
    return;
  }
  const mode = MODES[number];
  const partition = read(mode.partitionBits);
  const rotation = read(mode.rotationBits);
  const selector = read(mode.selectorBits);
  const count = mode.subsets * 2;
  for (let c = 0; c < 3; c++) for (let e = 0; e < count; e++) ends[e * 4 + c] = read(mode.colourBits);
  for (let e = 0; e < count; e++) ends[e * 4 + 3] = read(mode.alphaBits);
  let colourBits = mode.colourBits;
  let alphaBits = mode.alphaBits;
  if (mode.pBits !== 'none') {
    const shared = mode.pBits === 'shared';
    for (let e = 0, p = 0; e < count; e++) {
      if (!shared || e % 2 === 0) p = read(1);
      for (let c = 0; c < 4; c++) ends[e * 4 + c] = (ends[e * 4 + c] << 1) | p;
    }
    colourBits++;
    if (alphaBits) alphaBits++;
  }
  for (let e = 0; e < count; e++) {
    for (let c = 0; c < 3; c++) ends[e * 4 + c] = widen(ends[e * 4 + c], colourBits);
    ends[e * 4 + 3] = alphaBits ? widen(ends[e * 4 + 3], alphaBits) : 255;
  }
  const subsetOf = mode.subsets === 2 ? PARTITIONS_2[partition] : mode.subsets === 3 ? PARTITIONS_3[partition] : null;
  const anchored = (i: number) =>
    i === 0 ||
    (mode.subsets === 2 && i === ANCHOR_2[partition]) ||
    (mode.subsets === 3 && (i === ANCHOR_3A[partition] || i === ANCHOR_3B[partition]));
  for (let i = 0; i < 16; i++) first[i] = read(mode.indexBits - (anchored(i) ? 1 : 0));
  if (mode.secondIndexBits) for (let i = 0; i < 16; i++) second[i] = read(mode.secondIndexBits - (i === 0 ? 1 : 0));
  const w1 = WEIGHTS[mode.indexBits];
  const w2 = WEIGHTS[mode.secondIndexBits] ?? w1;
  for (let i = 0; i < 16; i++) {
    const e = (subsetOf ? subsetOf[i] : 0) * 8;
    let colourWeight = w1[first[i]];
    let alphaWeight = colourWeight;
    if (mode.secondIndexBits) {
      if (selector) colourWeight = w2[second[i]];
      else alphaWeight = w2[second[i]];
    }
    for (let c = 0; c < 4; c++) {
      const w = c < 3 ? colourWeight : alphaWeight;
      out[i * 4 + c] = (ends[e + c] * (64 - w) + ends[e + 4 + c] * w + 32) >> 6;
    }
    if (rotation) {
      const c = i * 4 + rotation - 1;
      const alpha = out[i * 4 + 3];
      out[i * 4 + 3] = out[c];
      out[c] = alpha;
    }
  }
}

function widen(value: number, bits: number): number {
  const shifted = value << (8 - bits);
  return shifted | (shifted >> bits);
}

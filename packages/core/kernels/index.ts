/** What the host calls: rows of blocks, encoded and decoded in this memory. */
import { BEST, BLOCK, SEEN, SEEN_COUNT, SETTINGS, TEXELS, getB, getI, getV, putB, putI, putV, toF, toI } from './memory';
import { DECODED, blank, decodeAlpha4, decodeBc1, decodeBc4, decodeBc7 } from './decode';
import { loadTexels, spread } from './fit';
import { encodeBc1 } from './bc1';
import { encodeBc4 } from './bc4';
import { encodeBc7 } from './bc7';

export { blend, fadeAll, fadeEach, fillRun, halveRow, overAll, premultiply, radialRow, rampRow, straightRow, tint } from './compose';
export { acrossRow, byteRow, meanRow, sumRows } from './mips';
export { cover } from './paint';

/** 1: colour under alpha 0 is free. */
const FREE: i32 = SETTINGS + 64;

/** Forgets the blocks already met; the host calls it when the settings change. */
export function forget(): void {
  for (let k = 0; k < SEEN_COUNT * 80; k += 16) putV(SEEN + k, i32x4.splat(0));
}

/** Where the block in TEXELS would be among those already met. */
function seenAt(): i32 {
  let h = i32x4.add(i32x4.mul(getV(TEXELS), i32x4.splat(0x2545f491)), getV(TEXELS + 16));
  h = i32x4.add(i32x4.mul(v128.xor(h, i32x4.shr_u(h, 15)), i32x4.splat(0x4f6cdd1d)), getV(TEXELS + 32));
  h = i32x4.add(i32x4.mul(v128.xor(h, i32x4.shr_u(h, 13)), i32x4.splat(0x1b873593)), getV(TEXELS + 48));
  h = i32x4.mul(v128.xor(h, i32x4.shr_u(h, 16)), i32x4.splat(0x5bd1e995));
  h = v128.xor(h, i32x4.shuffle(h, h, 2, 3, 0, 1));
  h = v128.xor(i32x4.mul(h, i32x4.splat(0x2545f491)), i32x4.shuffle(h, h, 1, 0, 3, 2));
  return SEEN + ((i32x4.extract_lane(h, 0) >>> 9) & (SEEN_COUNT - 1)) * 80;
}

function seen(place: i32): bool {
  const other = v128.or(
    v128.or(v128.xor(getV(TEXELS), getV(place)), v128.xor(getV(TEXELS + 16), getV(place + 16))),
    v128.or(v128.xor(getV(TEXELS + 32), getV(place + 32)), v128.xor(getV(TEXELS + 48), getV(place + 48))),
  );
  return !v128.any_true(other) && v128.any_true(getV(place + 64));
}

function remember(place: i32): void {
  for (let k = 0; k < 64; k += 16) putV(place + k, getV(TEXELS + k));
  putV(place + 64, getV(BEST));
}

/** The formats by number; BC5 signed is any other. */
const BC1: i32 = 1;
const BC2: i32 = 2;
const BC3: i32 = 3;
const BC4: i32 = 4;
const BC5: i32 = 5;
const BC7: i32 = 7;
const BC4_SIGNED: i32 = 14;

/** Texels of alpha 0 take the mean colour of the others: what lies under them does not matter. */
function freeClear(): void {
  let r = 0;
  let g = 0;
  let b = 0;
  let n = 0;
  for (let i = 0; i < 64; i += 4) {
    if (getB(TEXELS + i + 3) == 0) continue;
    r += getB(TEXELS + i);
    g += getB(TEXELS + i + 1);
    b += getB(TEXELS + i + 2);
    n++;
  }
  if (n == 16) return;
  if (n > 0) {
    const half = toF(n) * 0.5;
    r = toI((toF(r) + half) / toF(n));
    g = toI((toF(g) + half) / toF(n));
    b = toI((toF(b) + half) / toF(n));
  }
  for (let i = 0; i < 64; i += 4) if (getB(TEXELS + i + 3) == 0) putI(TEXELS + i, r | (g << 8) | (b << 16));
}

function encode(format: i32): void {
  if (format == BC7) encodeBc7();
  else if (format == BC1) encodeBc1(0);
  else if (format == BC3) {
    encodeBc1(1);
    const low = getI(BEST);
    const high = getI(BEST + 4);
    spread(BLOCK);
    encodeBc4(BLOCK + 96, 1, BEST);
    putI(BEST + 8, low);
    putI(BEST + 12, high);
  } else if (format == BC2) {
    encodeBc1(1);
    putI(BEST + 8, getI(BEST));
    putI(BEST + 12, getI(BEST + 4));
    // Explicit alpha, rounded to 4 bits.
    for (let i = 0; i < 16; i += 2) {
      const low = (getB(TEXELS + i * 4 + 3) * 15 + 135) >> 8;
      const high = (getB(TEXELS + i * 4 + 7) * 15 + 135) >> 8;
      putB(BEST + (i >> 1), low | (high << 4));
    }
  } else {
    spread(BLOCK);
    encodeBc4(BLOCK, 0, BEST);
    if (format == BC5) encodeBc4(BLOCK + 32, 0, BEST + 8);
  }
}

/** Encodes a row of `columns` blocks from four rows of texels at `source`, `stride` bytes apart, to `out`. */
export function row(format: i32, source: i32, stride: i32, columns: i32, out: i32): void {
  const small = format == BC1 || format == BC4;
  const free = getI(FREE);
  for (let x = 0; x < columns; x++) {
    loadTexels(source + x * 16, stride);
    if (free == 1) freeClear();
    const place = seenAt();
    if (!seen(place)) {
      encode(format);
      remember(place);
    }
    if (small) {
      putI(out + x * 8, getI(place + 64));
      putI(out + x * 8 + 4, getI(place + 68));
    } else putV(out + x * 16, getV(place + 64));
  }
}

/** Decodes a row of blocks at `source` to four rows of texels at `out`, `stride` bytes apart. */
export function unrow(format: i32, source: i32, columns: i32, out: i32, stride: i32): void {
  const size = format == BC1 || format == BC4 || format == BC4_SIGNED ? 8 : 16;
  for (let x = 0; x < columns; x++) {
    const block = source + x * size;
    if (format == BC7) decodeBc7(block);
    else if (format == BC1) decodeBc1(block, 0);
    else if (format == BC2) {
      decodeBc1(block + 8, 1);
      decodeAlpha4(block);
    } else if (format == BC3) {
      decodeBc1(block + 8, 1);
      decodeBc4(block, 3, 0);
    } else {
      const signed = format > 10 ? 1 : 0;
      blank();
      decodeBc4(block, 0, signed);
      if (size == 16) decodeBc4(block + 8, 1, signed);
    }
    for (let y = 0; y < 4; y++) putV(out + y * stride + x * 16, getV(DECODED + y * 16));
  }
}

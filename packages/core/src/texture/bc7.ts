import { ANCHOR_2, PARTITIONS_2, WEIGHTS } from '../published/bc7.ts';
import { LineFit } from './block.ts';

/**
 * BC7 encoder: modes 6, 5, 1, 3 and 7 of the eight (Khronos Data Format Specification 1.3, section 20.1).
 * Mode 5 writes flat blocks exactly and keeps alpha apart; 6 takes smooth blocks with or without alpha; 1 and 3 take opaque
 * blocks of two colour families; 7 those with alpha. Texels that are opaque in the source stay exactly opaque.
 */
const fit = new LineFit();

/** One trial: everything that is needed to write it. */
class Trial {
  error = Infinity;
  mode = 6;
  partition = 0;
  /** Quantised endpoint values without p-bits, [subset * 2 + end][channel]. */
  readonly ends = new Int32Array(16);
  readonly pBits = new Uint8Array(4);
  readonly index = new Uint8Array(16);
  readonly alphaIndex = new Uint8Array(16);

  take(other: Trial): void {
    this.error = other.error;
    this.mode = other.mode;
    this.partition = other.partition;
    this.ends.set(other.ends);
    this.pBits.set(other.pBits);
    this.index.set(other.index);
    this.alphaIndex.set(other.alphaIndex);
  }
}

const best = new Trial();
const trial = new Trial();
const wide = new Int32Array(8);
const palette = new Int32Array(64);
const weight = new Float64Array(16);
const tryEnds = new Int32Array(8);
const tryIndex = new Uint8Array(16);

export type Effort = 'fast' | 'normal' | 'best';
/** How many of the 64 partitions get a full trial. */
const PARTITION_TRIALS: Record<Effort, number> = { fast: 1, normal: 4, best: 16 };

/** Encodes one block of 16 texels (64 bytes RGBA8, sRGB or data alike) into 16 bytes at `out[at]`. */
export function encodeBc7Block(block: Uint8Array, out: Uint8Array, at: number, effort: Effort): void {
  let opaque = true;
  let flat = true;
  for (let i = 0; i < 64; i++) {
    if ((i & 3) === 3 && block[i] !== 255) opaque = false;
    if (block[i] !== block[i & 3]) flat = false;
  }
  if (flat) {
    writeFlat(block, out, at);
    return;
  }
  best.error = Infinity;
  trySingle(block, opaque);
  if (best.error > 0 && !opaque) trySplitAlpha(block);
  if (best.error > (effort === 'fast' ? 48 : 8)) {
    const picks = likelyPartitions(block, opaque ? 3 : 4, PARTITION_TRIALS[effort]);
    for (const partition of picks) {
      if (opaque) {
        tryPair(block, partition, 1);
        tryPair(block, partition, 3);
      } else tryPair(block, partition, 7);
    }
  }
  write(best, out, at);
}

/** Mode 6: one line through RGBA, 7 bits and a p-bit for each end, 4-bit indices. */
function trySingle(block: Uint8Array, opaque: boolean): void {
  trial.mode = 6;
  trial.partition = 0;
  trial.error = Infinity;
  fit.fit(block, 4, null, 0);
  refine(block, trial, 0, null, 4, 7, opaque ? 'ones' : 'each', 4, 4);
  if (trial.error < best.error) best.take(trial);
}

/** Modes 1, 3 and 7: two lines. */
function tryPair(block: Uint8Array, partition: number, mode: 1 | 3 | 7): void {
  const member = PARTITIONS_2[partition];
  trial.mode = mode;
  trial.partition = partition;
  let total = 0;
  for (let subset = 0; subset < 2; subset++) {
    trial.error = Infinity;
    const channels = mode === 7 ? 4 : 3;
    fit.fit(block, channels, member, subset);
    if (mode === 1) refine(block, trial, subset, member, 3, 6, 'shared', 3, 2);
    else if (mode === 3) refine(block, trial, subset, member, 3, 7, 'each', 2, 2);
    else refine(block, trial, subset, member, 4, 5, 'each', 2, 2);
    total += trial.error;
    if (total >= best.error) return;
  }
  if (mode === 7 && losesOpaque(block, trial, member)) return;
  trial.error = total;
  best.take(trial);
}

/** Whether a mode 7 trial would decode an opaque texel to less than 255. */
function losesOpaque(block: Uint8Array, t: Trial, member: Uint8Array): boolean {
  for (let i = 0; i < 16; i++) {
    if (block[i * 4 + 3] !== 255) continue;
    const s = member[i] * 2;
    const end = (k: number) => {
      const v = (t.ends[(s + k) * 4 + 3] << 1) | t.pBits[s + k];
      return (v << 2) | (v >> 4);
    };
    const w = WEIGHTS[2][t.index[i]];
    if ((end(0) * (64 - w) + end(1) * w + 32) >> 6 !== 255) return true;
  }
  return false;
}

/**
 * Quantises the fitted line, assigns indices, and refits by least squares while that helps. Writes the best of the rounds into
 * `t` for one subset and leaves that subset's squared error in `t.error`.
 */
function refine(
  block: Uint8Array,
  t: Trial,
  subset: number,
  member: Uint8Array | null,
  channels: number,
  bits: number,
  pMode: 'ones' | 'each' | 'shared',
  indexBits: number,
  rounds: number,
): void {
  const w = WEIGHTS[indexBits];
  const levels = w.length;
  for (let round = 0; round < rounds; round++) {
    const p = quantise(channels, bits, pMode);
    // Palette, then the nearest entry for each texel.
    const total = bits + 1;
    for (let c = 0; c < channels; c++) {
      for (let e = 0; e < 2; e++) {
        const v = (tryEnds[e * 4 + c] << 1) | ((p >> e) & 1);
        const s = v << (8 - total);
        wide[e * 4 + c] = s | (s >> total);
      }
      for (let k = 0; k < levels; k++) palette[k * 4 + c] = (wide[c] * (64 - w[k]) + wide[4 + c] * w[k] + 32) >> 6;
    }
    let error = 0;
    for (let i = 0; i < 16; i++) {
      if (member && member[i] !== subset) continue;
      const o = i * 4;
      let nearest = 0;
      let least = 1e12;
      for (let k = 0; k < levels; k++) {
        const q = k * 4;
        const dr = block[o] - palette[q];
        const dg = block[o + 1] - palette[q + 1];
        const db = block[o + 2] - palette[q + 2];
        let d = dr * dr + dg * dg + db * db;
        if (channels === 4) {
          const da = block[o + 3] - palette[q + 3];
          d += da * da;
          // A texel that is opaque stays opaque, whatever it costs elsewhere.
          if (da !== 0 && block[o + 3] === 255) d += 1e6;
        }
        if (d < least) {
          least = d;
          nearest = k;
        }
      }
      error += least;
      tryIndex[i] = nearest;
      weight[i] = w[nearest] / 64;
    }
    if (error < t.error) {
      t.error = error;
      for (let e = 0; e < 2; e++) {
        for (let c = 0; c < channels; c++) t.ends[(subset * 2 + e) * 4 + c] = tryEnds[e * 4 + c];
        t.pBits[subset * 2 + e] = (p >> e) & 1;
      }
      for (let i = 0; i < 16; i++) if (!member || member[i] === subset) t.index[i] = tryIndex[i];
    } else if (round > 0) return;
    if (error === 0 || round === rounds - 1 || !fit.solve(block, channels, member, subset, weight)) return;
  }
}

/** Quantises fit.low and fit.high into tryEnds; returns the p-bits (bit 0 for the low end, bit 1 for the high). */
function quantise(channels: number, bits: number, pMode: 'ones' | 'each' | 'shared'): number {
  const top = (1 << bits) - 1;
  const scale = ((1 << (bits + 1)) - 1) / 255;
  const errors = [0, 0, 0, 0];
  for (let e = 0; e < 2; e++) {
    const end = e ? fit.high : fit.low;
    for (let p = 0; p < 2; p++) {
      for (let c = 0; c < channels; c++) {
        const ideal = Math.max(0, Math.min(255, end[c])) * scale;
        const q = Math.max(0, Math.min(top, Math.floor((ideal - p) / 2 + 0.5)));
        const d = ideal - (q * 2 + p);
        errors[e * 2 + p] += d * d;
      }
    }
  }
  let p0 = errors[1] < errors[0] ? 1 : 0;
  let p1 = errors[3] < errors[2] ? 1 : 0;
  if (pMode === 'ones') p0 = p1 = 1;
  if (pMode === 'shared') p0 = p1 = errors[1] + errors[3] < errors[0] + errors[2] ? 1 : 0;
  for (let c = 0; c < channels; c++) {
    const low = Math.max(0, Math.min(255, fit.low[c])) * scale;
    const high = Math.max(0, Math.min(255, fit.high[c])) * scale;
    tryEnds[c] = Math.max(0, Math.min(top, Math.floor((low - p0) / 2 + 0.5)));
    tryEnds[4 + c] = Math.max(0, Math.min(top, Math.floor((high - p1) / 2 + 0.5)));
  }
  if (pMode === 'ones') tryEnds[3] = tryEnds[7] = 127;
  return p0 | (p1 << 1);
}

/** Mode 5 without rotation: RGB at 7 bits and alpha at 8, each with its own 2-bit indices. */
function trySplitAlpha(block: Uint8Array): void {
  trial.mode = 5;
  trial.partition = 0;
  const w = WEIGHTS[2];
  let alphaLow = 255;
  let alphaHigh = 0;
  for (let i = 3; i < 64; i += 4) {
    if (block[i] < alphaLow) alphaLow = block[i];
    if (block[i] > alphaHigh) alphaHigh = block[i];
  }
  let error = 0;
  for (let i = 0; i < 16; i++) {
    let least = 1e12;
    for (let k = 0; k < 4; k++) {
      const value = (alphaLow * (64 - w[k]) + alphaHigh * w[k] + 32) >> 6;
      const d = block[i * 4 + 3] - value;
      const cost = d * d + (d !== 0 && block[i * 4 + 3] === 255 ? 1e6 : 0);
      if (cost < least) {
        least = cost;
        trial.alphaIndex[i] = k;
      }
    }
    error += least;
  }
  fit.fit(block, 3, null, 0);
  let colourError = Infinity;
  for (let round = 0; round < 3; round++) {
    for (let c = 0; c < 3; c++) {
      for (let e = 0; e < 2; e++) {
        const q = Math.max(
          0,
          Math.min(127, Math.floor((Math.max(0, Math.min(255, e ? fit.high[c] : fit.low[c])) * 127) / 255 + 0.5)),
        );
        tryEnds[e * 4 + c] = q;
        wide[e * 4 + c] = (q << 1) | (q >> 6);
      }
      for (let k = 0; k < 4; k++) palette[k * 4 + c] = (wide[c] * (64 - w[k]) + wide[4 + c] * w[k] + 32) >> 6;
    }
    let sum = 0;
    for (let i = 0; i < 16; i++) {
      let least = 1e12;
      for (let k = 0; k < 4; k++) {
        const dr = block[i * 4] - palette[k * 4];
        const dg = block[i * 4 + 1] - palette[k * 4 + 1];
        const db = block[i * 4 + 2] - palette[k * 4 + 2];
        const d = dr * dr + dg * dg + db * db;
        if (d < least) {
          least = d;
          tryIndex[i] = k;
        }
      }
      sum += least;
      weight[i] = w[tryIndex[i]] / 64;
    }
    if (sum >= colourError) break;
    colourError = sum;
    trial.ends.set(tryEnds);
    trial.index.set(tryIndex);
    if (sum === 0 || !fit.solve(block, 3, null, 0, weight)) break;
  }
  trial.ends[3] = alphaLow;
  trial.ends[7] = alphaHigh;
  trial.error = error + colourError;
  if (trial.error < best.error) best.take(trial);
}

const scores = new Float64Array(64);
const sums = new Float64Array(8);

/** The partitions whose two halves vary least about their own lines (estimated by variance minus its largest share). */
function likelyPartitions(block: Uint8Array, channels: number, count: number): number[] {
  for (let p = 0; p < 64; p++) {
    const member = PARTITIONS_2[p];
    let score = 0;
    for (let s = 0; s < 2; s++) {
      sums.fill(0);
      let n = 0;
      for (let i = 0; i < 16; i++) {
        if (member[i] !== s) continue;
        n++;
        for (let c = 0; c < channels; c++) {
          const v = block[i * 4 + c];
          sums[c] += v;
          sums[4 + c] += v * v;
        }
      }
      for (let c = 0; c < channels; c++) score += sums[4 + c] - (sums[c] * sums[c]) / n;
    }
    scores[p] = score;
  }
  const picks: number[] = [];
  while (picks.length < count) {
    let at = -1;
    for (let p = 0; p < 64; p++) if ((at < 0 || scores[p] < scores[at]) && !picks.includes(p)) at = p;
    picks.push(at);
  }
  return picks;
}

/** For each 8-bit value the pair of 7-bit ends whose mix at weight 21/64 is exactly that value. */
const FLAT_ENDS = (() => {
  const table = new Uint8Array(512);
  for (let value = 0; value < 256; value++) {
    let found = false;
    for (let low = 0; low < 128 && !found; low++) {
      for (let high = 0; high < 128 && !found; high++) {
        const l = (low << 1) | (low >> 6);
        const h = (high << 1) | (high >> 6);
        if ((l * 43 + h * 21 + 32) >> 6 === value && Math.abs(low - high) < 4) {
          table[value * 2] = low;
          table[value * 2 + 1] = high;
          found = true;
        }
      }
    }
  }
  return table;
})();

/** A block of one colour, exactly, in mode 5: all colour indices 1, alpha at both ends. */
function writeFlat(block: Uint8Array, out: Uint8Array, at: number): void {
  const t = best;
  t.mode = 5;
  t.partition = 0;
  for (let c = 0; c < 3; c++) {
    t.ends[c] = FLAT_ENDS[block[c] * 2];
    t.ends[4 + c] = FLAT_ENDS[block[c] * 2 + 1];
  }
  t.ends[3] = t.ends[7] = block[3];
  t.index.fill(1);
  t.alphaIndex.fill(0);
  write(t, out, at);
}

/** Swaps a subset's ends where its anchor texel would need the top index bit, which is not stored. */
function fixAnchor(t: Trial, subset: number, member: Uint8Array | null, anchor: number, indexBits: number): void {
  if (t.index[anchor] < 1 << (indexBits - 1)) return;
  const channels = t.mode === 5 ? 3 : 4;
  for (let c = 0; c < channels; c++) {
    const a = subset * 8 + c;
    [t.ends[a], t.ends[a + 4]] = [t.ends[a + 4], t.ends[a]];
  }
  [t.pBits[subset * 2], t.pBits[subset * 2 + 1]] = [t.pBits[subset * 2 + 1], t.pBits[subset * 2]];
  const top = (1 << indexBits) - 1;
  for (let i = 0; i < 16; i++) if (!member || member[i] === subset) t.index[i] = top - t.index[i];
}

function write(t: Trial, out: Uint8Array, at: number): void {
  for (let i = 0; i < 16; i++) out[at + i] = 0;
  let position = 0;
  const put = (value: number, bits: number): void => {
    while (bits > 0) {
      const room = 8 - (position & 7);
      const take = bits < room ? bits : room;
      out[at + (position >> 3)] |= (value & ((1 << take) - 1)) << (position & 7);
      value >>= take;
      bits -= take;
      position += take;
    }
  };
  put(1 << t.mode, t.mode + 1);
  if (t.mode === 5) {
    put(0, 2);
    fixAnchor(t, 0, null, 0, 2);
    if (t.alphaIndex[0] >= 2) {
      [t.ends[3], t.ends[7]] = [t.ends[7], t.ends[3]];
      for (let i = 0; i < 16; i++) t.alphaIndex[i] = 3 - t.alphaIndex[i];
    }
    for (let c = 0; c < 3; c++) for (let e = 0; e < 2; e++) put(t.ends[e * 4 + c], 7);
    put(t.ends[3], 8);
    put(t.ends[7], 8);
    for (let i = 0; i < 16; i++) put(t.index[i], i === 0 ? 1 : 2);
    for (let i = 0; i < 16; i++) put(t.alphaIndex[i], i === 0 ? 1 : 2);
    return;
  }
  if (t.mode === 6) {
    fixAnchor(t, 0, null, 0, 4);
    for (let c = 0; c < 4; c++) for (let e = 0; e < 2; e++) put(t.ends[e * 4 + c], 7);
    put(t.pBits[0], 1);
    put(t.pBits[1], 1);
    for (let i = 0; i < 16; i++) put(t.index[i], i === 0 ? 3 : 4);
    return;
  }
  const member = PARTITIONS_2[t.partition];
  const anchor = ANCHOR_2[t.partition];
  const indexBits = t.mode === 1 ? 3 : 2;
  const [bits, channels] = t.mode === 1 ? [6, 3] : t.mode === 3 ? [7, 3] : [5, 4];
  put(t.partition, 6);
  fixAnchor(t, 0, member, 0, indexBits);
  fixAnchor(t, 1, member, anchor, indexBits);
  for (let c = 0; c < channels; c++) for (let e = 0; e < 4; e++) put(t.ends[e * 4 + c], bits);
  if (t.mode === 1) {
    put(t.pBits[0], 1);
    put(t.pBits[2], 1);
  } else for (let e = 0; e < 4; e++) put(t.pBits[e], 1);
  for (let i = 0; i < 16; i++) put(t.index[i], i === 0 || i === anchor ? indexBits - 1 : indexBits);
}

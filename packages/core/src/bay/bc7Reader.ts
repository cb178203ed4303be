/**
 * The stand-in games' own BC7 reader, from the published description and apart from the product's decoder, so that a mistake
 * in one is not hidden by the same mistake in the other. Only the published tables are shared.
 */
import { ANCHOR_2, ANCHOR_3A, ANCHOR_3B, MODES, PARTITIONS_2, PARTITIONS_3, WEIGHTS } from '../published/bc7.ts';

/** Bits first to last from 16 bytes, as four 32-bit words shifted along. */
class Bits {
  private words: [number, number, number, number];

  constructor(view: DataView, at: number) {
    this.words = [0, 4, 8, 12].map((o) => view.getUint32(at + o, true)) as [number, number, number, number];
  }

  take(count: number): number {
    if (count === 0) return 0;
    const [a, b, c, d] = this.words;
    const value = a & ((1 << count) - 1);
    const up = 32 - count;
    this.words = [(a >>> count) | (b << up), (b >>> count) | (c << up), (c >>> count) | (d << up), d >>> count];
    return value;
  }
}

const lerp = (a: number, b: number, w: number) => (a * (64 - w) + b * w + 32) >> 6;

/** Decodes a whole level: RGBA8, rows as stored. */
export function readBc7(bytes: Uint8Array, width: number, height: number): Uint8Array {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const out = new Uint8Array(width * height * 4);
  const across = Math.ceil(width / 4);
  for (let block = 0; block * 16 < bytes.length; block++) {
    const texels = readBlock(new Bits(view, block * 16));
    const left = (block % across) * 4;
    const top = Math.floor(block / across) * 4;
    texels.forEach((texel, i) => {
      const x = left + (i & 3);
      const y = top + (i >> 2);
      if (x < width && y < height) out.set(texel, (y * width + x) * 4);
    });
  }
  return out;
}

function readBlock(bits: Bits): number[][] {
  let number = 0;
  while (number < 8 && bits.take(1) === 0) number++;
  if (number === 8) return Array.from({ length: 16 }, () => [0, 0, 0, 0]);
  const m = MODES[number];
  const shape = bits.take(m.partitionBits);
  const rotation = bits.take(m.rotationBits);
  const swap = bits.take(m.selectorBits);
  const ends = Array.from({ length: m.subsets * 2 }, () => [0, 0, 0, 0]);
  for (const channel of [0, 1, 2]) for (const end of ends) end[channel] = bits.take(m.colourBits);
  for (const end of ends) end[3] = bits.take(m.alphaBits);
  const p =
    m.pBits === 'each'
      ? ends.map(() => bits.take(1))
      : m.pBits === 'shared'
        ? [bits.take(1), bits.take(1)].flatMap((b) => [b, b])
        : null;
  const whole = ends.map((end, e) =>
    end.map((value, channel) => {
      const stored = channel === 3 ? m.alphaBits : m.colourBits;
      if (stored === 0) return 255;
      const length = stored + (p ? 1 : 0);
      const v = (p ? value * 2 + p[e] : value) << (8 - length);
      return v + (v >> length);
    }),
  );
  const subset = (i: number) =>
    m.subsets === 3 ? PARTITIONS_3[shape][i] : m.subsets === 2 ? PARTITIONS_2[shape][i] : 0;
  const anchors =
    m.subsets === 3 ? [0, ANCHOR_3A[shape], ANCHOR_3B[shape]] : m.subsets === 2 ? [0, ANCHOR_2[shape]] : [0];
  const firsts = Array.from({ length: 16 }, (_, i) => bits.take(m.indexBits - (anchors.includes(i) ? 1 : 0)));
  const seconds = m.secondIndexBits ? firsts.map((_, i) => bits.take(m.secondIndexBits - (i === 0 ? 1 : 0))) : null;
  return firsts.map((first, i) => {
    const [low, high] = [whole[subset(i) * 2], whole[subset(i) * 2 + 1]];
    const one = WEIGHTS[m.indexBits][first];
    const two = seconds ? WEIGHTS[m.secondIndexBits][seconds[i]] : one;
    const [colour, alpha] = swap ? [two, one] : [one, two];
    const texel = [
      lerp(low[0], high[0], colour),
      lerp(low[1], high[1], colour),
      lerp(low[2], high[2], colour),
      lerp(low[3], high[3], alpha),
    ];
    if (rotation > 0) [texel[rotation - 1], texel[3]] = [texel[3], texel[rotation - 1]];
    return texel;
  });
}

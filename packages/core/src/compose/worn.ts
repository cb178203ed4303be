/** Texels of what is drawn as its coverage in one value; see finish/derived.ts. */
import type { Dims, Wears } from '../livery/tree.ts';
import type { Texel } from '../raster/blend.ts';
import { mul16 } from '../raster/mul16.ts';
import { ONE } from '../raster/tile16.ts';

/** Half of what 16 bits cover, rounded up. */
const HALF = 32768;

/** One value in place of colours, coverage kept; without one nothing is there. @param out 16-bit premultiplied RGBA, in place */
export function wear(out: Uint16Array, texel: Wears['texel']): void {
  if (!texel) return void out.fill(0);
  if (texel === 'own') return;
  const [r, g, b] = texel;
  for (let i = 0; i < out.length; i += 4) {
    const a = out[i + 3];
    if (a === 0) continue;
    out[i] = mul16(r, a);
    out[i + 1] = mul16(g, a);
    out[i + 2] = mul16(b, a);
  }
}

/** The one texel of what covers evenly by a share. */
export function wornTexel({ texel, hard }: Wears, share: number): Texel {
  const a = hard ? whole(share) : share;
  return texel && texel !== 'own' && a > 0
    ? [mul16(texel[0], a), mul16(texel[1], a), mul16(texel[2], a), a]
    : [0, 0, 0, 0];
}

/** Of what is there whole or not at all: shares that are so, too. In place. */
export function wornShares(shares: Uint16Array, wears: Wears | undefined): Uint16Array {
  if (wears?.hard) for (let i = 0; i < shares.length; i++) shares[i] = whole(shares[i]);
  return shares;
}

const whole = (share: number): number => (share >= HALF ? ONE : 0);

/** What covers at least half is there whole, the rest is not there. @param values what stands where it is; null: its own, made whole */
export function harden(out: Uint16Array, values: Uint16Array | null): void {
  for (let i = 0; i < out.length; i += 4) {
    const a = out[i + 3];
    if (a >= HALF && (!values || values[i + 3] >= HALF)) {
      for (let c = 0; c < 3; c++)
        out[i + c] = values ? values[i + c] : Math.min(ONE, Math.round((out[i + c] * ONE) / a));
      out[i + 3] = ONE;
    } else if (a > 0) out.fill(0, i, i + 4);
  }
}

/** Colours by shares of 65535, one for all or one a sample; coverage stays. In place. */
export function lightBy(out: Uint16Array, share: number, each: Uint16Array | null): void {
  for (let i = 0, k = 0; i < out.length; i += 4, k++) {
    const by = each ? mul16(share, each[k]) : share;
    if (by === ONE) continue;
    for (let c = i; c < i + 3; c++) out[c] = mul16(out[c], by);
  }
}

/** Luma of encoded colours, shares of 65536 (ITU-R BT.709, section 3.2). */
const [RED, GREEN, BLUE] = [13933, 46871, 4732];

/** Colours as they are at night; coverage stays. In place. */
export function dim(out: Uint16Array, { by: [r, g, b], colour }: Dims): void {
  for (let i = 0; i < out.length; i += 4) {
    if (out[i + 3] === 0) continue;
    const y = (out[i] * RED + out[i + 1] * GREEN + out[i + 2] * BLUE + 32768) >>> 16;
    const rest = mul16(y, ONE - colour);
    out[i] = mul16(mul16(out[i], colour) + rest, r);
    out[i + 1] = mul16(mul16(out[i + 1], colour) + rest, g);
    out[i + 2] = mul16(mul16(out[i + 2], colour) + rest, b);
  }
}

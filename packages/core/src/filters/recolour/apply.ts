import type { SrgbRgb } from '../../colour/hex.ts';
import { oklabInto, oklabOf, rgbOfOklab, type Oklab } from '../../colour/oklab.ts';
import type { FilterOf } from '../../livery/paint.ts';
import { eachColour, type FilterKind } from '../kind.ts';

const STEPS = 512;

/**
 * A colour takes over, and the shading stays: hue and chroma are the colour's, lightness is the colour's plus how far the texel is from
 * the middle lightness of what is recoloured, times the contrast. Works in OKLab; strength mixes with what was there.
 */
export const recolour: FilterKind<FilterOf<'recolour'>> = {
  apply(filter, texels, _region, env) {
    const ramp = rampOf(filter, env.colour(filter.paint));
    const strength = filter.strength / 100;
    const lab: Oklab = [0, 0, 0];
    eachColour(texels, (rgb) => {
      oklabInto(rgb[0], rgb[1], rgb[2], lab);
      const at = (lab[0] <= 0 ? 0 : lab[0] >= 1 ? 1 : lab[0]) * STEPS;
      const low = at | 0;
      for (let c = 0; c < 3; c++) {
        const from = ramp[low * 3 + c];
        const made = from + (ramp[low * 3 + 3 + c] - from) * (at - low);
        rgb[c] += (made - rgb[c]) * strength;
      }
    });
  },
};

/** Encoded sRGB for each lightness of the original, STEPS + 2 entries of three. */
function rampOf({ contrast, middle }: FilterOf<'recolour'>, colour: SrgbRgb): Float64Array {
  const [L, a, b] = oklabOf(colour[0] / 255, colour[1] / 255, colour[2] / 255);
  const ramp = new Float64Array((STEPS + 2) * 3);
  for (let i = 0; i < STEPS + 2; i++)
    ramp.set(rgbOfOklab([L + ((Math.min(i, STEPS) / STEPS - middle) * contrast) / 100, a, b]), i * 3);
  return ramp;
}

/** A difference of OKLab lightness that can be seen side by side: about one unit of CIE L* at mid grey. */
const VISIBLE = 0.01;

/** What becomes of a picture's shading when it is recoloured. */
export interface Shading {
  /** Lightness of its darkest and lightest twentieth, OKLab L 0..1. */
  before: [low: number, high: number];
  after: [low: number, high: number];
  /** Why shading is lost; null when it is not. */
  lost: 'dark' | 'light' | null;
}

/** @param range lightness between which nine tenths of the picture lie, OKLab L */
export function shadingLeft(filter: FilterOf<'recolour'>, colour: SrgbRgb, range: [number, number]): Shading {
  const [L] = oklabOf(colour[0] / 255, colour[1] / 255, colour[2] / 255);
  const map = (v: number) => Math.max(0, Math.min(1, L + ((v - filter.middle) * filter.contrast) / 100));
  const after: [number, number] = [map(range[0]), map(range[1])];
  // Eight bits of sRGB hold few steps near black: what counts is what is left of the picture's own range, and of each half of it.
  const kept = after[1] - after[0];
  const wanted = ((range[1] - range[0]) * filter.contrast) / 100;
  const [under, over] = [filter.middle - range[0], range[1] - filter.middle].map(
    (half) => (half * filter.contrast) / 100,
  );
  const half = (whole: number, left: number) => whole > VISIBLE && left < whole * 0.6;
  const [dark, light] = [half(under, L - after[0]), half(over, after[1] - L)];
  const all = kept < VISIBLE * 2 || kept < wanted * 0.4;
  const lost = range[1] - range[0] > VISIBLE && (all || dark || light);
  const both = dark && light;
  return {
    before: range,
    after,
    lost: lost ? (both || (!dark && !light) ? (L < 0.5 ? 'dark' : 'light') : dark ? 'dark' : 'light') : null,
  };
}

import type { SrgbRgb } from '../colour/hex.ts';
import type { Filter, FilterOf, Paint } from '../livery/paint.ts';

/** Where the samples of a picture lie on the sheet, as in layers/kind.ts. */
export interface FilterRegion {
  x: number;
  y: number;
  width: number;
  height: number;
  step: number;
}

export interface FilterEnv {
  colour(paint: Paint): SrgbRgb;
  /** Where patterns begin: the layer's place, so that they move along with it. Texels. */
  origin: { x: number; y: number };
}

/** One kind of filter. */
export interface FilterKind<F extends Filter> {
  /** How far beyond a texel it looks, texels; left out: it looks at the texel alone. */
  margin?(filter: F): number;
  /** Changes 16-bit premultiplied RGBA of a region in place. */
  apply(filter: F, texels: Uint16Array, region: FilterRegion, env: FilterEnv): void;
}

export type FilterKinds = { [K in Filter['kind']]: FilterKind<FilterOf<K>> };

/** Gives each texel that has paint to a function as straight 0..1 sRGB, and takes back what it makes of it; alpha stays. */
export function eachColour(texels: Uint16Array, change: (rgb: [number, number, number], i: number) => void): void {
  const rgb: [number, number, number] = [0, 0, 0];
  let [r, g, b, a] = [-1, -1, -1, -1];
  const last = [0, 0, 0];
  for (let i = 0; i < texels.length; i += 4) {
    const alpha = texels[i + 3];
    if (alpha === 0) continue;
    // Flat areas are common: the same value again has the same outcome.
    if (texels[i] !== r || texels[i + 1] !== g || texels[i + 2] !== b || alpha !== a) {
      r = texels[i];
      g = texels[i + 1];
      b = texels[i + 2];
      a = alpha;
      rgb[0] = r / a;
      rgb[1] = g / a;
      rgb[2] = b / a;
      change(rgb, i);
      for (let c = 0; c < 3; c++) {
        const v = rgb[c] <= 0 ? 0 : rgb[c] >= 1 ? a : (rgb[c] * a + 0.5) | 0;
        last[c] = v;
      }
    }
    texels[i] = last[0];
    texels[i + 1] = last[1];
    texels[i + 2] = last[2];
  }
}

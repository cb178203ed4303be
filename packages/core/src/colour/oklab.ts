/**
 * OKLab (Björn Ottosson, "A perceptual color space for image processing", 2020, https://bottosson.github.io/posts/oklab/), from and to
 * encoded sRGB (IEC 61966-2-1), by arithmetic that every engine does alike.
 */
import { cbrt, pow } from './steady.ts';

/** L 0..1, a and b about -0.4..0.4. */
export type Oklab = [L: number, a: number, b: number];

const TOP = 65535;
let linear: Float64Array | null = null;
let encoded: Float64Array | null = null;

/** Linear light of every 16-bit sRGB value. */
function linearOf16(): Float64Array {
  return (linear ??= Float64Array.from({ length: TOP + 1 }, (_, i) => {
    const v = i / TOP;
    return v <= 0.04045 ? v / 12.92 : pow((v + 0.055) / 1.055, 2.4);
  }));
}

/** sRGB-encoded values of linear light in steps of 1/65535. */
function encodedOf(): Float64Array {
  return (encoded ??= Float64Array.from({ length: TOP + 2 }, (_, i) => {
    const v = i / TOP;
    return v <= 0.0031308 ? v * 12.92 : 1.055 * pow(v, 1 / 2.4) - 0.055;
  }));
}

/** Encoded sRGB 0..1 of linear light; clamped. */
export function encode(light: number): number {
  const table = encodedOf();
  const at = light <= 0 ? 0 : light >= 1 ? TOP : light * TOP;
  const low = at | 0;
  return table[low] + (table[low + 1] - table[low]) * (at - low);
}

/** Linear light 0..1 of an encoded value 0..1. */
export function decode(value: number): number {
  const table = linearOf16();
  const at = value <= 0 ? 0 : value >= 1 ? TOP : value * TOP;
  const low = at | 0;
  return low >= TOP ? 1 : table[low] + (table[low + 1] - table[low]) * (at - low);
}

/** OKLab of encoded sRGB 0..1, into `out`. */
export function oklabInto(r: number, g: number, b: number, out: Oklab): void {
  const [lr, lg, lb] = [decode(r), decode(g), decode(b)];
  const l = cbrt(0.4122214708 * lr + 0.5363325363 * lg + 0.0514459929 * lb);
  const m = cbrt(0.2119034982 * lr + 0.6806995451 * lg + 0.1073969566 * lb);
  const s = cbrt(0.0883024619 * lr + 0.2817188376 * lg + 0.6299787005 * lb);
  out[0] = 0.2104542553 * l + 0.793617785 * m - 0.0040720468 * s;
  out[1] = 1.9779984951 * l - 2.428592205 * m + 0.4505937099 * s;
  out[2] = 0.0259040371 * l + 0.7827717662 * m - 0.808675766 * s;
}

export function oklabOf(r: number, g: number, b: number): Oklab {
  const out: Oklab = [0, 0, 0];
  oklabInto(r, g, b, out);
  return out;
}

/** The square of the distance of two colours, in arithmetic that every engine does alike. */
export function distanceSquared(a: Oklab, b: Oklab): number {
  const [dl, da, db] = [a[0] - b[0], a[1] - b[1], a[2] - b[2]];
  return dl * dl + da * da + db * db;
}

/** Linear light of OKLab; outside 0..1 what sRGB cannot show. */
function lightOf([L, a, b]: Oklab): [number, number, number] {
  const l = L + 0.3963377774 * a + 0.2158037573 * b;
  const m = L - 0.1055613458 * a - 0.0638541728 * b;
  const s = L - 0.0894841775 * a - 1.291485548 * b;
  const [l3, m3, s3] = [l * l * l, m * m * m, s * s * s];
  return [
    4.0767416621 * l3 - 3.3077115913 * m3 + 0.2309699292 * s3,
    -1.2684380046 * l3 + 2.6097574011 * m3 - 0.3413193965 * s3,
    -0.0041960863 * l3 - 0.7034186147 * m3 + 1.707614701 * s3,
  ];
}

/** Encoded sRGB 0..1 of OKLab; what is outside sRGB loses chroma at its lightness until it fits. */
export function rgbOfOklab(lab: Oklab): [number, number, number] {
  const fits = (light: readonly number[]) => light.every((v) => v >= -1e-6 && v <= 1 + 1e-6);
  const L = lab[0] < 0 ? 0 : lab[0] > 1 ? 1 : lab[0];
  let light = lightOf([L, lab[1], lab[2]]);
  if (!fits(light)) {
    let [low, high] = [0, 1];
    for (let k = 0; k < 12; k++) {
      const share = (low + high) / 2;
      if (fits(lightOf([L, lab[1] * share, lab[2] * share]))) low = share;
      else high = share;
    }
    light = lightOf([L, lab[1] * low, lab[2] * low]);
  }
  return [encode(light[0]), encode(light[1]), encode(light[2])];
}

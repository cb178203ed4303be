import type { SrgbRgb } from './hex.ts';
import { LINEAR_OF_SRGB8, LINEAR_ONE } from './srgb.ts';

/** CIE L*a*b*, D65. */
export type Lab = readonly [l: number, a: number, b: number];

/** Reference white D65, 2 degrees (IEC 61966-2-1). */
const WHITE = [0.95047, 1, 1.08883] as const;

/** 8-bit sRGB to CIELAB (matrix of IEC 61966-2-1; CIE 15:2004 for L*a*b*). */
export function labOfSrgb8(r8: number, g8: number, b8: number): Lab {
  const [r, g, b] = [
    LINEAR_OF_SRGB8[r8] / LINEAR_ONE,
    LINEAR_OF_SRGB8[g8] / LINEAR_ONE,
    LINEAR_OF_SRGB8[b8] / LINEAR_ONE,
  ];
  const x = f((0.4124564 * r + 0.3575761 * g + 0.1804375 * b) / WHITE[0]);
  const y = f((0.2126729 * r + 0.7151522 * g + 0.072175 * b) / WHITE[1]);
  const z = f((0.0193339 * r + 0.119192 * g + 0.9503041 * b) / WHITE[2]);
  return [116 * y - 16, 500 * (x - y), 200 * (y - z)];
}

export const labOf = ([r, g, b]: SrgbRgb): Lab => labOfSrgb8(r, g, b);

const f = (t: number) => (t > 216 / 24389 ? Math.cbrt(t) : ((24389 / 27) * t + 16) / 116);

const rad = Math.PI / 180;
const hueOf = (b: number, a: number) => (a === 0 && b === 0 ? 0 : (Math.atan2(b, a) / rad + 360) % 360);

/**
 * Colour difference CIEDE2000 with unit weights (Sharma, Wu and Dalal, "The CIEDE2000 color-difference formula: implementation
 * notes, supplementary test data, and mathematical observations", 2005). For measuring only: it is in no pixel path.
 */
export function ciede2000(one: Lab, two: Lab): number {
  const [l1, a1, b1] = one;
  const [l2, a2, b2] = two;
  const mean7 = ((Math.hypot(a1, b1) + Math.hypot(a2, b2)) / 2) ** 7;
  const g = 0.5 * (1 - Math.sqrt(mean7 / (mean7 + 25 ** 7)));
  const [ap1, ap2] = [a1 * (1 + g), a2 * (1 + g)];
  const [c1, c2] = [Math.hypot(ap1, b1), Math.hypot(ap2, b2)];
  const [h1, h2] = [hueOf(b1, ap1), hueOf(b2, ap2)];
  const grey = c1 * c2 === 0;
  const turn = h2 - h1;
  const dh = grey ? 0 : turn > 180 ? turn - 360 : turn < -180 ? turn + 360 : turn;
  const dL = l2 - l1;
  const dC = c2 - c1;
  const dH = 2 * Math.sqrt(c1 * c2) * Math.sin((dh / 2) * rad);
  const l = (l1 + l2) / 2;
  const c = (c1 + c2) / 2;
  const sum = h1 + h2;
  const h = grey ? sum : Math.abs(h1 - h2) <= 180 ? sum / 2 : sum < 360 ? (sum + 360) / 2 : (sum - 360) / 2;
  const t =
    1 -
    0.17 * Math.cos((h - 30) * rad) +
    0.24 * Math.cos(2 * h * rad) +
    0.32 * Math.cos((3 * h + 6) * rad) -
    0.2 * Math.cos((4 * h - 63) * rad);
  const sL = 1 + (0.015 * (l - 50) ** 2) / Math.sqrt(20 + (l - 50) ** 2);
  const sC = 1 + 0.045 * c;
  const sH = 1 + 0.015 * c * t;
  const rC = 2 * Math.sqrt(c ** 7 / (c ** 7 + 25 ** 7));
  const rT = -Math.sin(2 * 30 * Math.exp(-(((h - 275) / 25) ** 2)) * rad) * rC;
  return Math.sqrt((dL / sL) ** 2 + (dC / sC) ** 2 + (dH / sH) ** 2 + rT * (dC / sC) * (dH / sH));
}

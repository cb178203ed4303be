/**
 * The blend modes of W3C Compositing and Blending Level 1 (sections 9 and 10), and nine more that layered files use, on 16-bit
 * premultiplied RGBA.
 * Colours are mixed in the sheet's own encoding. "normal" is integer arithmetic; the others divide out alpha, use the
 * published formula on 0..1 doubles (only + - * / and sqrt, which every engine rounds alike), and round half up once.
 */
import type { BlendMode } from '../livery/layer.ts';
import { mul16 } from '../raster/mul16.ts';

type Separable = (backdrop: number, source: number) => number;
type Rgb = [number, number, number];

const hardLight: Separable = (b, s) => (s <= 0.5 ? b * 2 * s : b + (2 * s - 1) - b * (2 * s - 1));

function dodge(b: number, s: number): number {
  return b === 0 ? 0 : s >= 1 ? 1 : Math.min(1, b / (1 - s));
}

function burn(b: number, s: number): number {
  return b >= 1 ? 1 : s <= 0 ? 0 : 1 - Math.min(1, (1 - b) / s);
}

const SEPARABLE: Partial<Record<BlendMode, Separable>> = {
  multiply: (b, s) => b * s,
  screen: (b, s) => b + s - b * s,
  overlay: (b, s) => hardLight(s, b),
  darken: (b, s) => (b < s ? b : s),
  lighten: (b, s) => (b > s ? b : s),
  'color-dodge': dodge,
  'color-burn': burn,
  'hard-light': hardLight,
  'soft-light': (b, s) => {
    if (s <= 0.5) return b - (1 - 2 * s) * b * (1 - b);
    const d = b <= 0.25 ? ((16 * b - 12) * b + 4) * b : Math.sqrt(b);
    return b + (2 * s - 1) * (d - b);
  },
  difference: (b, s) => (b > s ? b - s : s - b),
  exclusion: (b, s) => b + s - 2 * b * s,
  // The formulas of these nine are common practice, no source; an independent reader of layered files agrees (layered.test.ts).
  'linear-dodge': (b, s) => (b + s > 1 ? 1 : b + s),
  'linear-burn': (b, s) => (b + s < 1 ? 0 : b + s - 1),
  'vivid-light': (b, s) => (s <= 0.5 ? burn(b, 2 * s) : dodge(b, 2 * s - 1)),
  'linear-light': (b, s) => {
    const v = b + 2 * s - 1;
    return v < 0 ? 0 : v > 1 ? 1 : v;
  },
  'pin-light': (b, s) => (s <= 0.5 ? (b < 2 * s ? b : 2 * s) : b > 2 * s - 1 ? b : 2 * s - 1),
  divide: (b, s) => (b === 0 ? 0 : s <= b ? 1 : b / s),
  subtract: (b, s) => (b > s ? b - s : 0),
};

const lum = (c: Rgb) => 0.3 * c[0] + 0.59 * c[1] + 0.11 * c[2];
const sat = (c: Rgb) => Math.max(c[0], c[1], c[2]) - Math.min(c[0], c[1], c[2]);

function clipColour(c: Rgb): Rgb {
  const l = lum(c);
  const n = Math.min(c[0], c[1], c[2]);
  const x = Math.max(c[0], c[1], c[2]);
  let out = c;
  if (n < 0) out = out.map((v) => l + ((v - l) * l) / (l - n)) as Rgb;
  if (x > 1) out = out.map((v) => l + ((v - l) * (1 - l)) / (x - l)) as Rgb;
  return out;
}

function setLum(c: Rgb, l: number): Rgb {
  const d = l - lum(c);
  return clipColour([c[0] + d, c[1] + d, c[2] + d]);
}

function setSat(c: Rgb, s: number): Rgb {
  const low = Math.min(c[0], c[1], c[2]);
  const range = sat(c);
  return range > 0 ? [((c[0] - low) * s) / range, ((c[1] - low) * s) / range, ((c[2] - low) * s) / range] : [0, 0, 0];
}

const WHOLE: Partial<Record<BlendMode, (backdrop: Rgb, source: Rgb) => Rgb>> = {
  hue: (b, s) => setLum(setSat(s, sat(b)), lum(b)),
  saturation: (b, s) => setLum(setSat(b, sat(s)), lum(b)),
  color: (b, s) => setLum(s, lum(b)),
  luminosity: (b, s) => setLum(b, lum(s)),
  'darker-color': (b, s) => (lum(s) < lum(b) ? s : b),
  'lighter-color': (b, s) => (lum(s) > lum(b) ? s : b),
};

/** Composites `source` over `backdrop` in place; both 16-bit premultiplied RGBA of one length. */
export function blendOver(backdrop: Uint16Array, source: Uint16Array, mode: BlendMode): void {
  if (mode === 'normal') return blendNormal(backdrop, source);
  if (mode === 'multiply') return blendMultiply(backdrop, source);
  if (mode === 'screen') return blendScreen(backdrop, source);
  const separable = SEPARABLE[mode];
  if (separable) blendSeparable(backdrop, source, separable);
  else blendWhole(backdrop, source, WHOLE[mode]!);
}

/**
 * Composites `source` in place only where `backdrop` has paint, whose alpha stays (source-atop, W3C Compositing and Blending Level 1, 9.1.8):
 * what a layer clipped to the one below it does.
 */
export function blendAtop(backdrop: Uint16Array, source: Uint16Array, mode: BlendMode): void {
  const separable = SEPARABLE[mode] ?? null;
  const whole = WHOLE[mode] ?? null;
  const b: Rgb = [0, 0, 0];
  const s: Rgb = [0, 0, 0];
  for (let i = 0; i < source.length; i += 4) {
    const sa = source[i + 3];
    const ba = backdrop[i + 3];
    if (sa === 0 || ba === 0) continue;
    for (let c = 0; c < 3; c++) {
      b[c] = backdrop[i + c] / ba;
      s[c] = source[i + c] / sa;
    }
    const mixed: Rgb = separable
      ? [separable(b[0], s[0]), separable(b[1], s[1]), separable(b[2], s[2])]
      : whole
        ? whole(b, s)
        : s;
    const share = sa / 65535;
    for (let c = 0; c < 3; c++) {
      const value = (ba * (b[c] + (mixed[c] - b[c]) * share) + 0.5) | 0;
      backdrop[i + c] = value > ba ? ba : value;
    }
  }
}

function blendNormal(backdrop: Uint16Array, source: Uint16Array): void {
  for (let i = 0; i < source.length; i += 4) {
    const a = source[i + 3];
    if (a === 0) continue;
    if (a === 65535) {
      backdrop[i] = source[i];
      backdrop[i + 1] = source[i + 1];
      backdrop[i + 2] = source[i + 2];
      backdrop[i + 3] = 65535;
      continue;
    }
    const rest = 65535 - a;
    backdrop[i] = source[i] + mul16(backdrop[i], rest);
    backdrop[i + 1] = source[i + 1] + mul16(backdrop[i + 1], rest);
    backdrop[i + 2] = source[i + 2] + mul16(backdrop[i + 2], rest);
    backdrop[i + 3] = a + mul16(backdrop[i + 3], rest);
  }
}

/** Multiply needs no division: with premultiplied values its formula is s (1 - ab) + b (1 - as) + s b. */
function blendMultiply(backdrop: Uint16Array, source: Uint16Array): void {
  for (let i = 0; i < source.length; i += 4) {
    const sa = source[i + 3];
    if (sa === 0) continue;
    const ba = backdrop[i + 3];
    const alpha = sa + mul16(ba, 65535 - sa);
    for (let c = i; c < i + 3; c++) {
      const value = mul16(source[c], 65535 - ba) + mul16(backdrop[c], 65535 - sa) + mul16(source[c], backdrop[c]);
      backdrop[c] = value > alpha ? alpha : value;
    }
    backdrop[i + 3] = alpha;
  }
}

/** Nor does screen: s + b - s b. */
function blendScreen(backdrop: Uint16Array, source: Uint16Array): void {
  for (let i = 0; i < source.length; i += 4) {
    const sa = source[i + 3];
    if (sa === 0) continue;
    const alpha = sa + mul16(backdrop[i + 3], 65535 - sa);
    for (let c = i; c < i + 3; c++) {
      const value = source[c] + backdrop[c] - mul16(source[c], backdrop[c]);
      backdrop[c] = value > alpha ? alpha : value;
    }
    backdrop[i + 3] = alpha;
  }
}

function blendSeparable(backdrop: Uint16Array, source: Uint16Array, mix: Separable): void {
  for (let i = 0; i < source.length; i += 4) {
    const sa = source[i + 3];
    if (sa === 0) continue;
    const ba = backdrop[i + 3];
    const [s0, s1, s2] = [source[i], source[i + 1], source[i + 2]];
    if (ba === 0) {
      backdrop[i] = s0;
      backdrop[i + 1] = s1;
      backdrop[i + 2] = s2;
      backdrop[i + 3] = sa;
      continue;
    }
    const [b0, b1, b2] = [backdrop[i], backdrop[i + 1], backdrop[i + 2]];
    const both = (sa * ba) / 65535;
    const onlySource = (65535 - ba) / 65535;
    const onlyBackdrop = (65535 - sa) / 65535;
    const alpha = (sa + ba - both + 0.5) | 0;
    const v0 = (s0 * onlySource + b0 * onlyBackdrop + both * mix(b0 / ba, s0 / sa) + 0.5) | 0;
    const v1 = (s1 * onlySource + b1 * onlyBackdrop + both * mix(b1 / ba, s1 / sa) + 0.5) | 0;
    const v2 = (s2 * onlySource + b2 * onlyBackdrop + both * mix(b2 / ba, s2 / sa) + 0.5) | 0;
    backdrop[i] = v0 > alpha ? alpha : v0;
    backdrop[i + 1] = v1 > alpha ? alpha : v1;
    backdrop[i + 2] = v2 > alpha ? alpha : v2;
    backdrop[i + 3] = alpha;
  }
}

function blendWhole(backdrop: Uint16Array, source: Uint16Array, mix: (b: Rgb, s: Rgb) => Rgb): void {
  const b: Rgb = [0, 0, 0];
  const s: Rgb = [0, 0, 0];
  for (let i = 0; i < source.length; i += 4) {
    const sa = source[i + 3];
    if (sa === 0) continue;
    const ba = backdrop[i + 3];
    for (let c = 0; c < 3; c++) {
      b[c] = ba ? backdrop[i + c] / ba : 0;
      s[c] = source[i + c] / sa;
    }
    const mixed = mix(b, s);
    const both = (sa * ba) / 65535;
    const onlySource = (65535 - ba) / 65535;
    const onlyBackdrop = (65535 - sa) / 65535;
    const alpha = (sa + ba - both + 0.5) | 0;
    for (let c = 0; c < 3; c++) {
      const value = (source[i + c] * onlySource + backdrop[i + c] * onlyBackdrop + both * mixed[c] + 0.5) | 0;
      backdrop[i + c] = value > alpha ? alpha : value;
    }
    backdrop[i + 3] = alpha;
  }
}

/**
 * The blend modes of W3C Compositing and Blending Level 1 (sections 9 and 10), and nine more that layered files use, on 16-bit
 * premultiplied RGBA. Colours are mixed in the sheet's own encoding.
 *
 * Fourteen modes need no division when their formula is multiplied out by both alphas: these are integers throughout, each product
 * rounded once (mul16). Five divide, in float32; the six that look at a whole colour do so in doubles (only + - * / and sqrt, which every
 * engine rounds alike). This file defines them; the kernels are held to it bit by bit (kernels/compose.test.ts).
 */
import type { BlendMode } from './modes.ts';
import { mul16 } from './mul16.ts';
import { ONE } from './tile16.ts';
import { colourFor, inArena, kernelOf } from './arena.ts';

/** The modes by their number in kernels/compose.ts. */
const KERNEL_MODES: readonly BlendMode[] = [
  'normal',
  'multiply',
  'screen',
  'overlay',
  'darken',
  'lighten',
  'hard-light',
  'difference',
  'exclusion',
  'linear-dodge',
  'linear-burn',
  'linear-light',
  'pin-light',
  'subtract',
  'soft-light',
  'color-dodge',
  'color-burn',
  'vivid-light',
  'divide',
  'hue',
  'saturation',
  'color',
  'luminosity',
  'darker-color',
  'lighter-color',
];

/** What a mode makes of backdrop and source, times both alphas, from premultiplied values. */
type Mixed = (s: number, b: number, sa: number, ba: number) => number;

const light = (s: number, b: number, sa: number, ba: number) => Math.max(0, mul16(sa, ba) - 2 * mul16(ba - b, sa - s));

// The formulas of the four linear ones and pin-light are common practice, no source; an independent reader of layered files agrees
// (layered.test.ts).
const MIXED: Partial<Record<BlendMode, Mixed>> = {
  normal: (s, _b, _sa, ba) => mul16(s, ba),
  overlay: (s, b, sa, ba) => (2 * b <= ba ? 2 * mul16(s, b) : light(s, b, sa, ba)),
  darken: (s, b, sa, ba) => Math.min(mul16(s, ba), mul16(b, sa)),
  lighten: (s, b, sa, ba) => Math.max(mul16(s, ba), mul16(b, sa)),
  'hard-light': (s, b, sa, ba) => (2 * s <= sa ? 2 * mul16(s, b) : light(s, b, sa, ba)),
  difference: (s, b, sa, ba) => Math.abs(mul16(s, ba) - mul16(b, sa)),
  exclusion: (s, b, sa, ba) => Math.max(0, mul16(s, ba) + mul16(b, sa) - 2 * mul16(s, b)),
  'linear-dodge': (s, b, sa, ba) => Math.min(mul16(s, ba) + mul16(b, sa), mul16(sa, ba)),
  'linear-burn': (s, b, sa, ba) => Math.max(0, mul16(s, ba) + mul16(b, sa) - mul16(sa, ba)),
  'linear-light': (s, b, sa, ba) => {
    const both = mul16(sa, ba);
    return Math.max(0, Math.min(both, mul16(b, sa) + 2 * mul16(s, ba) - both));
  },
  subtract: (s, b, sa, ba) => Math.max(0, mul16(b, sa) - mul16(s, ba)),
  'pin-light': (s, b, sa, ba) => {
    const twice = 2 * mul16(s, ba);
    return 2 * s <= sa ? Math.min(mul16(b, sa), twice) : Math.max(mul16(b, sa), twice - mul16(sa, ba));
  },
};

type Rgb = [number, number, number];

const f = Math.fround;
const WHOLE_SHARE = f(1 / 65535);
/** A formula on 0..1 in float32. */
type Separable = (backdrop: number, source: number) => number;

const dodge: Separable = (b, s) => (b === 0 ? 0 : s >= 1 ? 1 : Math.min(1, f(b / f(1 - s))));
const burn: Separable = (b, s) => (b >= 1 ? 1 : s <= 0 ? 0 : f(1 - Math.min(1, f(f(1 - b) / s))));

const SEPARABLE: Partial<Record<BlendMode, Separable>> = {
  'color-dodge': dodge,
  'color-burn': burn,
  'soft-light': (b, s) => {
    const twice = f(s + s);
    if (s <= 0.5) return f(b - f(f(f(1 - twice) * b) * f(1 - b)));
    const d = b <= 0.25 ? f(f(f(f(f(16 * b) - 12) * b) + 4) * b) : f(Math.sqrt(b));
    return f(b + f(f(twice - 1) * f(d - b)));
  },
  // Common practice, no source, like the linear ones above.
  'vivid-light': (b, s) => (s <= 0.5 ? burn(b, f(s + s)) : dodge(b, f(f(s + s) - 1))),
  divide: (b, s) => (b === 0 ? 0 : s <= b ? 1 : f(b / s)),
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

/**
 * Composites `source` over `backdrop` in place; both 16-bit premultiplied RGBA of one length.
 * @param atop only where `backdrop` has paint, whose alpha stays (source-atop, W3C Compositing and Blending Level 1, 9.1.8): what a layer
 * clipped to the one below it does
 */
export function blendOver(backdrop: Uint16Array, source: Uint16Array, mode: BlendMode, atop = false): void {
  if (inArena(backdrop) && inArena(source)) {
    kernelOf().blend(
      KERNEL_MODES.indexOf(mode),
      atop ? 1 : 0,
      backdrop.byteOffset,
      source.byteOffset,
      source.length >> 2,
    );
    return;
  }
  const [mixed, separable] = [MIXED[mode], SEPARABLE[mode]];
  if (mode === 'multiply') blendMultiply(backdrop, source, atop);
  else if (mode === 'screen') blendScreen(backdrop, source, atop);
  else if (mixed) blendIntegers(backdrop, source, mixed, atop);
  else if (separable) blendSeparable(backdrop, source, separable, atop);
  else blendWhole(backdrop, source, WHOLE[mode]!, atop);
}

/** Multiply: what is left of the backdrop and what both make of it are one product. */
function blendMultiply(backdrop: Uint16Array, source: Uint16Array, atop: boolean): void {
  for (let i = 0; i < source.length; i += 4) {
    const sa = source[i + 3];
    if (sa === 0) continue;
    const ba = backdrop[i + 3];
    const rest = ONE - sa;
    const alpha = atop ? ba : sa + mul16(ba, rest);
    for (let c = i; c < i + 3; c++) {
      const value = mul16(backdrop[c], rest + source[c]) + (atop ? 0 : mul16(source[c], ONE - ba));
      backdrop[c] = value > alpha ? alpha : value;
    }
    backdrop[i + 3] = alpha;
  }
}

/** Screen: multiplied out, alpha falls out of the formula. */
function blendScreen(backdrop: Uint16Array, source: Uint16Array, atop: boolean): void {
  for (let i = 0; i < source.length; i += 4) {
    const sa = source[i + 3];
    if (sa === 0) continue;
    const ba = backdrop[i + 3];
    const alpha = atop ? ba : sa + mul16(ba, ONE - sa);
    for (let c = i; c < i + 3; c++) {
      const value = (atop ? mul16(source[c], ba) : source[c]) + mul16(backdrop[c], ONE - source[c]);
      backdrop[c] = value > alpha ? alpha : value;
    }
    backdrop[i + 3] = alpha;
  }
}

function blendIntegers(backdrop: Uint16Array, source: Uint16Array, mixed: Mixed, atop: boolean): void {
  const plain = mixed === MIXED.normal && !atop;
  for (let i = 0; i < source.length; i += 4) {
    const sa = source[i + 3];
    if (sa === 0) continue;
    const ba = backdrop[i + 3];
    const rest = ONE - sa;
    if (plain) {
      for (let c = i; c < i + 4; c++) backdrop[c] = source[c] + mul16(backdrop[c], rest);
      continue;
    }
    const alpha = atop ? ba : sa + mul16(ba, rest);
    for (let c = i; c < i + 3; c++) {
      const own = atop ? 0 : mul16(source[c], ONE - ba);
      const value = own + mul16(backdrop[c], rest) + mixed(source[c], backdrop[c], sa, ba);
      backdrop[c] = value > alpha ? alpha : value;
    }
    backdrop[i + 3] = alpha;
  }
}

function blendSeparable(backdrop: Uint16Array, source: Uint16Array, mix: Separable, atop: boolean): void {
  for (let i = 0; i < source.length; i += 4) {
    const sa = source[i + 3];
    if (sa === 0) continue;
    const ba = backdrop[i + 3];
    const rest = ONE - sa;
    const both = mul16(sa, ba);
    const alpha = atop ? ba : sa + mul16(ba, rest);
    for (let c = i; c < i + 3; c++) {
      const [s, b] = [source[c], backdrop[c]];
      const own = atop ? 0 : mul16(s, ONE - ba);
      const straight = ba === ONE ? f(b * WHOLE_SHARE) : f(b / ba);
      // Adding 2^23 in float32 rounds to the nearest whole number.
      const mixed = ba === 0 ? 0 : f(f(mix(straight, f(s / sa)) * both) + 8388608) - 8388608;
      const value = mul16(b, rest) + own + mixed;
      backdrop[c] = value > alpha ? alpha : value;
    }
    backdrop[i + 3] = alpha;
  }
}

function blendWhole(backdrop: Uint16Array, source: Uint16Array, mix: (b: Rgb, s: Rgb) => Rgb, atop: boolean): void {
  const b: Rgb = [0, 0, 0];
  const s: Rgb = [0, 0, 0];
  for (let i = 0; i < source.length; i += 4) {
    const sa = source[i + 3];
    const ba = backdrop[i + 3];
    if (sa === 0 || (atop && ba === 0)) continue;
    for (let c = 0; c < 3; c++) {
      b[c] = ba ? backdrop[i + c] / ba : 0;
      s[c] = source[i + c] / sa;
    }
    const mixed = mix(b, s);
    const both = (sa * ba) / ONE;
    const onlySource = atop ? 0 : (ONE - ba) / ONE;
    const onlyBackdrop = (ONE - sa) / ONE;
    const alpha = atop ? ba : (sa + ba - both + 0.5) | 0;
    for (let c = 0; c < 3; c++) {
      const value = (source[i + c] * onlySource + backdrop[i + c] * onlyBackdrop + both * mixed[c] + 0.5) | 0;
      backdrop[i + c] = value > alpha ? alpha : value;
    }
    backdrop[i + 3] = alpha;
  }
}

/** Every value of 16-bit premultiplied RGBA times one share of 65535. */
export function fadeAll(texels: Uint16Array, share: number): void {
  if (share >= ONE) return;
  if (inArena(texels)) kernelOf().fadeAll(texels.byteOffset, texels.length >> 2, share);
  else for (let i = 0; i < texels.length; i++) texels[i] = mul16(texels[i], share);
}

/** Every texel of 16-bit premultiplied RGBA times its own share of 65535. */
export function fadeEach(texels: Uint16Array, shares: Uint16Array): void {
  if (inArena(texels) && inArena(shares)) {
    kernelOf().fadeEach(texels.byteOffset, shares.byteOffset, texels.length >> 2);
    return;
  }
  for (let i = 0, o = 0; o < texels.length; i++) {
    const share = shares[i];
    for (let c = 0; c < 4; c++, o++) texels[o] = mul16(texels[o], share);
  }
}

/** One 16-bit premultiplied texel. */
export type Texel = readonly [r: number, g: number, b: number, a: number];

/** Fills with one texel. */
export function fill(texels: Uint16Array, texel: Texel): void {
  fillRun(texels, texel, 0, texels.length >> 2);
}

/** Fills the texels `from` to `to` (exclusive) with one. */
export function fillRun(texels: Uint16Array, texel: Texel, from: number, to: number): void {
  if (to - from < 8) {
    for (let i = from * 4; i < to * 4; i++) texels[i] = texel[i & 3];
    return;
  }
  if (inArena(texels)) {
    kernelOf().fillRun(texels.byteOffset + from * 8, colourFor(...texel), to - from);
    return;
  }
  texels.set(texel, from * 4);
  // Doubled until it is full.
  for (let done = 1; done < to - from; done *= 2)
    texels.copyWithin((from + done) * 4, from * 4, (from + Math.min(done, to - from - done)) * 4);
}

/** Puts one texel over all of a backdrop by source-over, in place; see blendOver. */
export function overAll(backdrop: Uint16Array, texel: Texel): void {
  if (texel[3] === ONE) return fill(backdrop, texel);
  if (inArena(backdrop)) {
    kernelOf().overAll(backdrop.byteOffset, colourFor(...texel), backdrop.length >> 2);
    return;
  }
  const rest = ONE - texel[3];
  for (let i = 0; i < backdrop.length; i++) backdrop[i] = texel[i & 3] + mul16(backdrop[i], rest);
}

/** Fills with one opaque colour (8-bit sRGB) through coverage of 16 bits. */
export function tint(texels: Uint16Array, shares: Uint16Array, colour: readonly [number, number, number]): void {
  const [r, g, b] = colour.map((v) => v * 257);
  if (inArena(texels) && inArena(shares)) {
    kernelOf().tint(texels.byteOffset, shares.byteOffset, colourFor(r, g, b, ONE), texels.length >> 2);
    return;
  }
  for (let i = 0, o = 0; o < texels.length; i++, o += 4) {
    const share = shares[i];
    texels[o] = mul16(r, share);
    texels[o + 1] = mul16(g, share);
    texels[o + 2] = mul16(b, share);
    texels[o + 3] = share;
  }
}

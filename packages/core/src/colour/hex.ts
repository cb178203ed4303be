import { LINEAR_OF_SRGB8, LINEAR_ONE } from './srgb.ts';

/** 8-bit sRGB triple, each 0..255. */
export type SrgbRgb = readonly [r: number, g: number, b: number] & { readonly __brand?: 'srgb' };

export const HEX = /^#[0-9a-f]{6}$/;

/** `#rrggbb` (lower case) to an 8-bit sRGB triple. */
export function rgbOfHex(hex: string): SrgbRgb {
  const n = Number.parseInt(hex.slice(1), 16);
  return [n >> 16, (n >> 8) & 255, n & 255];
}

export function hexOfRgb([r, g, b]: SrgbRgb): string {
  return '#' + ((1 << 24) | (r << 16) | (g << 8) | b).toString(16).slice(1);
}

/** Relative luminance, 0..1 (WCAG 2.2, "relative luminance"; coefficients of IEC 61966-2-1 primaries). */
export function luminance([r, g, b]: SrgbRgb): number {
  return (0.2126 * LINEAR_OF_SRGB8[r] + 0.7152 * LINEAR_OF_SRGB8[g] + 0.0722 * LINEAR_OF_SRGB8[b]) / LINEAR_ONE;
}

/**
 * Contrast ratio, 1..21 (WCAG 2.2, "contrast ratio").
 * @example
 * import { contrast } from './colour/hex.ts';
 * contrast([255, 255, 255], [0, 0, 0]); // 21
 */
export function contrast(a: SrgbRgb, b: SrgbRgb): number {
  const [hi, lo] = [luminance(a), luminance(b)].sort((x, y) => y - x);
  return (hi + 0.05) / (lo + 0.05);
}

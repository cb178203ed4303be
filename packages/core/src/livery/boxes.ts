/** Parameter boxes: pixels of a sheet that a game reads as settings. They are colours to the painter, and pixels only in what is delivered. */
import type { Livery } from './livery.ts';
import type { ParameterBox, Template } from './template.ts';

/** Straight RGBA, 0..255 each, of `#rrggbbaa`. */
export function rgbaOfHex8(hex: string): readonly [r: number, g: number, b: number, a: number] {
  const n = Number.parseInt(hex.slice(1), 16);
  return [(n >>> 24) & 255, (n >> 16) & 255, (n >> 8) & 255, n & 255];
}

/** A hex value with eight digits: one that says no alpha takes that of another. */
export const withAlphaOf = (hex: string, other: string): string =>
  (/^#[0-9a-f]{6}$/i.test(hex) ? hex + other.slice(7) : hex).toLowerCase();

/** The boxes of a sheet with the colours that a livery gives them. */
export function boxesOf(livery: Livery, template: Pick<Template, 'sheets'>, sheet: string): ParameterBox[] {
  const own = livery.sheets.find((s) => s.key === sheet)?.boxes ?? {};
  const boxes = template.sheets.find((s) => s.key === sheet)?.boxes ?? [];
  return boxes.map((box) => ({ ...box, hex: own[box.key] ?? box.hex }));
}

/**
 * Writes boxes into straight RGBA8 pixels, whatever was painted there: colour under alpha 0 is kept, for games read it.
 * @param region of the sheet that the pixels show, every `step` texels; see layers/kind.ts
 */
export function stampBoxes(
  data: Uint8Array | Uint8ClampedArray,
  region: { x: number; y: number; width: number; height: number; step: number },
  boxes: readonly ParameterBox[],
): void {
  const { x, y, width, height, step } = region;
  const first = (edge: number, origin: number) => Math.max(0, Math.ceil((edge - origin - (step >> 1)) / step));
  for (const box of boxes) {
    const rgba = rgbaOfHex8(box.hex);
    const right = Math.min(width, first(box.left + box.width, x));
    const bottom = Math.min(height, first(box.top + box.height, y));
    for (let row = first(box.top, y); row < bottom; row++)
      for (let column = first(box.left, x); column < right; column++) data.set(rgba, (row * width + column) * 4);
  }
}

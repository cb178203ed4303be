import { parse, type Font } from 'opentype.js/dist/opentype.mjs';
import { InputError } from '../errors.ts';
import type { Contour } from './coverage.ts';
import { turnOf } from '../raster/turn.ts';

/** A font ready for lettering. Outlines are in units of the capital height: y = 0 on the baseline, -1 at the top of a capital. */
export interface LetterFont {
  /** Closed outlines of a line of text and its advance width; the first glyph starts at x = 0. */
  outline(text: string, spacing: number, slant: number): { contours: readonly Contour[]; width: number };
}

/** Reads a TTF, OTF or WOFF font. @throws InputError when the bytes are not a font */
export function readFont(bytes: Uint8Array): LetterFont {
  let font: Font;
  try {
    font = parse(bytes.slice().buffer);
  } catch {
    throw new InputError('This file is not a font that can be read; TTF, OTF and WOFF are.');
  }
  const capital = font.charToGlyph('H').getBoundingBox();
  const capHeight = capital.y2 > 0 ? capital.y2 : font.unitsPerEm * 0.7;
  const cache = new Map<string, { contours: readonly Contour[]; width: number }>();
  return {
    outline(text, spacing, slant) {
      const key = `${spacing}/${slant}/${text}`;
      const known = cache.get(key);
      if (known) return known;
      if (cache.size > 200) cache.clear();
      const made = layOut(font, text, capHeight, spacing / 100, slant);
      cache.set(key, made);
      return made;
    },
  };
}

function layOut(font: Font, text: string, capHeight: number, spacing: number, slant: number) {
  const { cos, sin } = turnOf(slant);
  const lean = sin / cos;
  const contours: Contour[] = [];
  // Character by character: some shipped faces have substitution tables that the library cannot read.
  const glyphs = [...text].map((character) => font.charToGlyph(character));
  let pen = 0;
  glyphs.forEach((glyph, i) => {
    const pull = i > 0 ? font.getKerningValue(glyphs[i - 1], glyph) / capHeight : 0;
    pen += pull;
    let points: number[] = [];
    let [x, y] = [0, 0];
    const put = (fx: number, fy: number) => {
      const py = -fy / capHeight;
      points.push(pen + fx / capHeight - py * lean, py);
    };
    for (const c of glyph.path.commands) {
      if (c.type === 'M') {
        if (points.length >= 6) contours.push(Float64Array.from(points));
        points = [];
        put(c.x, c.y);
      } else if (c.type === 'L') put(c.x, c.y);
      else if (c.type === 'Q') {
        for (let k = 1; k <= CURVE_STEPS; k++) {
          const t = k / CURVE_STEPS;
          const s = 1 - t;
          put(s * s * x + 2 * s * t * c.x1 + t * t * c.x, s * s * y + 2 * s * t * c.y1 + t * t * c.y);
        }
      } else if (c.type === 'C') {
        for (let k = 1; k <= CURVE_STEPS; k++) {
          const t = k / CURVE_STEPS;
          const s = 1 - t;
          put(
            s * s * s * x + 3 * s * s * t * c.x1 + 3 * s * t * t * c.x2 + t * t * t * c.x,
            s * s * s * y + 3 * s * s * t * c.y1 + 3 * s * t * t * c.y2 + t * t * t * c.y,
          );
        }
      }
      if (c.type !== 'Z') [x, y] = [c.x, c.y];
    }
    if (points.length >= 6) contours.push(Float64Array.from(points));
    pen += (glyph.advanceWidth ?? 0) / capHeight + (i < glyphs.length - 1 ? spacing : 0);
  });
  return { contours, width: pen };
}

/** Lines per curve: at capitals of 400 texels a quarter bow is off by under a tenth of a texel. */
const CURVE_STEPS = 12;

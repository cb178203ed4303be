/** Drawings: checked on import, kept as drawings, rasterised by one WebAssembly everywhere. */
import { initWasm, Resvg } from '@resvg/resvg-wasm';
import { InputError } from '../errors.ts';
import { newImage, type Image8 } from '../raster/image.ts';
import { checkSvgBudget } from './svgBudget.ts';

let ready: Promise<void> | null = null;

/**
 * Starts the rasteriser; must have been awaited before drawSvg.
 * @param wasm gives its WebAssembly, which is large: it is asked once, and again only when that failed
 */
export function startSvg(wasm: () => BufferSource | Promise<BufferSource | Response>): Promise<void> {
  ready ??= Promise.resolve(wasm())
    .then((source) => initWasm(source))
    .catch((error: unknown) => {
      ready = null;
      throw error;
    });
  return ready;
}

const REFUSED: readonly [RegExp, string][] = [
  [/<script|\son[a-z]+\s*=/i, 'This SVG holds a script; save it without scripts.'],
  [/<!ENTITY|<!DOCTYPE[^>]*\[/i, 'This SVG declares entities; save it as plain SVG.'],
  [
    /(?:href|src)\s*=\s*["'](?!#|data:image\/(?:png|jpeg))/i,
    'This SVG refers to something outside itself; embed it or leave it out.',
  ],
  [/url\(\s*["']?(?!#)[^)]/i, 'This SVG refers to something outside itself; embed it or leave it out.'],
  [/<foreignObject/i, 'This SVG embeds a web page (foreignObject), which cannot be painted.'],
  [/<text[\s>]/i, 'This SVG holds live text; turn the text into outlines first, so that it looks the same everywhere.'],
];

export interface SvgFacts {
  /** The drawing with hex colours written as #rrggbb in lower case. */
  text: string;
  ratio: number;
  /** As it says itself, in pixels of 1/96 inch. */
  width: number;
  height: number;
  /** Flat colours in order of first use. */
  colours: string[];
}

/** A side that is missing follows from the other and the view box (CSS 2.2, 10.3.2 and 10.6.2: a ratio of its own keeps). */
function withBothSides(source: string): string {
  return source.replace(/<svg\b[^>]*>/, (root) => {
    const said = (name: string) => new RegExp(`\\s${name}\\s*=\\s*["']([^"']*)["']`).exec(root)?.[1].trim();
    const box = (said('viewBox') ?? '').split(/[\s,]+/).map(Number);
    const sides = [said('width'), said('height')].map((text) => /^([\d.]+(?:e[+-]?\d+)?)([a-z]*)$/i.exec(text ?? ''));
    if (box.length !== 4 || !(box[2] > 0 && box[3] > 0) || (sides[0] === null) === (sides[1] === null)) return root;
    const [lacks, from, ratio] = sides[0]
      ? (['height', sides[0], box[3] / box[2]] as const)
      : (['width', sides[1]!, box[2] / box[3]] as const);
    const bare = root.replace(new RegExp(`\\s${lacks}\\s*=\\s*["'][^"']*["']`), '');
    return bare.replace(/^<svg\b/, `<svg ${lacks}="${Number(from[1]) * ratio}${from[2]}"`);
  });
}

/** Checks a drawing. @throws InputError in one sentence */
export function readSvg(source: string): SvgFacts {
  if (source.length > 8_000_000) throw new InputError('This SVG is larger than 8 MB of text.');
  if (!/<svg[\s>]/.test(source)) throw new InputError('This file is not an SVG drawing.');
  for (const [pattern, sentence] of REFUSED) if (pattern.test(source)) throw new InputError(sentence);
  checkSvgBudget(source);
  const text = withBothSides(source)
    .replace(/#([0-9a-fA-F]{6})\b/g, (hex) => hex.toLowerCase())
    .replace(/#([0-9a-fA-F])([0-9a-fA-F])([0-9a-fA-F])(?=["';\s})])/g, (_, r: string, g: string, b: string) =>
      `#${r}${r}${g}${g}${b}${b}`.toLowerCase(),
    );
  let size: { width: number; height: number };
  try {
    const drawing = new Resvg(text, { font: { loadSystemFonts: false } });
    size = { width: drawing.width, height: drawing.height };
    drawing.free();
  } catch {
    throw new InputError('This SVG cannot be read: it is cut off or not well formed.');
  }
  const ratio = size.width / size.height;
  if (!(ratio >= 0.001 && ratio <= 1000))
    throw new InputError('This SVG has no usable size; give it a width and a height or a viewBox.');
  const [width, height] = [size.width, size.height].map((side) => Math.round(side * 100) / 100);
  return { text, ratio, width, height, colours: [...new Set(text.match(/#[0-9a-f]{6}\b/g) ?? [])] };
}

/** Rasterises so that the longer side has `side` pixels: straight RGBA8, row 0 at the top. @throws InputError when it would take too much */
export function drawSvg(svg: string, side: number): Image8 {
  checkSvgBudget(svg);
  const probe = new Resvg(svg, { font: { loadSystemFonts: false } });
  const mode = probe.width >= probe.height ? 'width' : 'height';
  probe.free();
  const drawing = new Resvg(svg, { fitTo: { mode, value: side }, font: { loadSystemFonts: false } });
  const rendered = drawing.render();
  const { width, height } = rendered;
  const premultiplied = rendered.pixels;
  const image = newImage(width, height);
  for (let i = 0; i < premultiplied.length; i += 4) {
    const a = premultiplied[i + 3];
    if (a === 0) continue;
    for (let c = 0; c < 3; c++) image.data[i + c] = Math.min(255, Math.floor((premultiplied[i + c] * 255) / a + 0.5));
    image.data[i + 3] = a;
  }
  rendered.free();
  drawing.free();
  return image;
}

import type { SrgbRgb } from '../colour/hex.ts';
import type { FieldKey } from '../livery/fields.ts';
import type { Layer, LayerKind, LayerOf, Paint } from '../livery/layer.ts';
import type { Stroke } from '../livery/paint.ts';
import type { StrokePatches } from '../paint/strokes.ts';
import type { Image8 } from '../raster/image.ts';
import type { Texel } from '../raster/blend.ts';
import type { Picture } from '../raster/picture.ts';
import type { SheetSurface } from '../surface/surface.ts';
import type { LetterFont } from '../shapes/font.ts';

/**
 * The part of a sheet to draw: `width` x `height` samples, each standing for `step` x `step` texels, from texel (x, y).
 * `step` is 1 for everything that is delivered; larger steps make drafts of zoomed-out views.
 */
export interface Region {
  x: number;
  y: number;
  width: number;
  height: number;
  step: number;
}

/** What layers draw with; everything is decoded beforehand, so that drawing never waits. */
export interface LayerEnv {
  colour(paint: Paint): SrgbRgb;
  particulars: Record<string, string>;
  picture(layer: LayerOf<'decal'>): Picture;
  /** Pixels of a picture that lies texel for texel: straight RGBA8. */
  image(blob: string): Image8;
  font(key: string): LetterFont;
  stroke(stroke: Pick<Stroke, 'blob' | 'tiles'>): StrokePatches;
  /** What the model is like under the sheet's samples of so many texels. */
  surface(step: number): SheetSurface;
  /** What is worked out of the model, at its corners, and the surface of so many texels a sample whose corners they are; see surface/baked. */
  field(name: FieldKey, step: number): { surface: SheetSurface; corners: Float32Array };
}

/** Half-open box in texels. */
export interface Box {
  left: number;
  top: number;
  right: number;
  bottom: number;
}

/** One kind of layer. */
export interface Kind<L extends Layer> {
  /** The texels that the layer can touch; null: the whole sheet. */
  bounds(layer: L, env: LayerEnv): Box | null;
  /** Whether a layer without bounds can touch a region all the same; left out: it can. */
  reaches?(layer: L, region: Region): boolean;
  /** The one texel that the layer has all over a region; null, or left out: that is not known. */
  uniform?(layer: L, region: Region, env: LayerEnv): Texel | null;
  /** Draws into `out`: 16-bit premultiplied RGBA of the region, zeroed beforehand. Opacity, parts and blending come after. */
  draw(layer: L, region: Region, env: LayerEnv, out: Uint16Array): void;
}

export type DrawnKind = Exclude<LayerKind, 'group' | 'adjust'>;
export type Kinds = { [K in DrawnKind]: Kind<LayerOf<K>> };

/** A colour at full opacity. */
export const opaque = (colour: SrgbRgb): Texel => [colour[0] * 257, colour[1] * 257, colour[2] * 257, 65535];

/** The least and the most of `x * right + y * down` over the middles of a region's samples, measured from (fromX, fromY). */
export function spanOf(region: Region, fromX: number, fromY: number, right: number, down: number): [number, number] {
  const { step } = region;
  const [x0, y0] = [region.x + 0.5 * step - fromX, region.y + 0.5 * step - fromY];
  const [x1, y1] = [x0 + (region.width - 1) * step, y0 + (region.height - 1) * step];
  const [a, b, c, d] = [x0 * right, x1 * right, y0 * down, y1 * down];
  return [Math.min(a, b) + Math.min(c, d), Math.max(a, b) + Math.max(c, d)];
}

/** How far two ways of reckoning a distance within a sheet can lie apart, in texels. */
export const HAIR = 1e-6;

/** Writes a colour through coverage (0..1) over what `out` holds at sample i. */
export function putOver(out: Uint16Array, i: number, colour: SrgbRgb, coverage: number): void {
  if (coverage <= 0) return;
  const o = i * 4;
  if (coverage >= 1) {
    out[o] = colour[0] * 257;
    out[o + 1] = colour[1] * 257;
    out[o + 2] = colour[2] * 257;
    out[o + 3] = 65535;
    return;
  }
  const rest = 1 - coverage;
  out[o] = (colour[0] * 257 * coverage + out[o] * rest + 0.5) | 0;
  out[o + 1] = (colour[1] * 257 * coverage + out[o + 1] * rest + 0.5) | 0;
  out[o + 2] = (colour[2] * 257 * coverage + out[o + 2] * rest + 0.5) | 0;
  out[o + 3] = (65535 * coverage + out[o + 3] * rest + 0.5) | 0;
}

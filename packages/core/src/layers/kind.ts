import type { SrgbRgb } from '../colour/hex.ts';
import type { Layer, LayerKind, LayerOf, Paint } from '../livery/layer.ts';
import type { Stroke } from '../livery/paint.ts';
import type { StrokePatches } from '../paint/strokes.ts';
import type { Image8 } from '../raster/image.ts';
import type { Picture } from '../raster/picture.ts';
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
  /** Draws into `out`: 16-bit premultiplied RGBA of the region, zeroed beforehand. Opacity, parts and blending come after. */
  draw(layer: L, region: Region, env: LayerEnv, out: Uint16Array): void;
}

export type DrawnKind = Exclude<LayerKind, 'group' | 'adjust'>;
export type Kinds = { [K in DrawnKind]: Kind<LayerOf<K>> };

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

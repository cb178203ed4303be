import type { Layer, LayerOf } from '../livery/layer.ts';
import { belt } from './belt/draw.ts';
import { brush } from './brush/draw.ts';
import { chequer } from './chequer/draw.ts';
import { decal } from './decal/draw.ts';
import { fade } from './fade/draw.ts';
import { halftone } from './halftone/draw.ts';
import { hazard } from './hazard/draw.ts';
import type { Box, DrawnKind, Kind, Kinds, LayerEnv, Region } from './kind.ts';
import { lettering } from './lettering/draw.ts';
import { boundsOnModel, drawOnModel, reachesOnModel } from './onModel.ts';
import { picture } from './picture/draw.ts';
import { shape } from './shape/draw.ts';
import { solid } from './solid/draw.ts';
import { stripe } from './stripe/draw.ts';
import { stripeSet } from './stripeSet/draw.ts';
import { wear } from './wear/draw.ts';
import type { Texel } from '../raster/blend.ts';

/** Every kind of layer that has a picture of its own, by its name in the document. */
const KINDS: Kinds = {
  solid,
  fade,
  stripe,
  'stripe-set': stripeSet,
  chequer,
  decal,
  lettering,
  picture,
  brush,
  shape,
  hazard,
  halftone,
  belt,
  wear,
};

export type DrawnLayer = LayerOf<DrawnKind>;

/** Groups and adjustments have no picture of their own. */
export const isDrawn = (layer: Layer): layer is DrawnLayer => layer.kind !== 'group' && layer.kind !== 'adjust';

/** What draws a layer in a plane: that of a sheet, or one of its own. */
export function kindOf(layer: DrawnLayer): Kind<Layer> {
  return KINDS[layer.kind] as unknown as Kind<Layer>;
}

/** The texels that a layer can touch; null: the whole sheet. */
export function boundsOf(layer: DrawnLayer, env: LayerEnv): Box | null {
  const kind = kindOf(layer);
  return layer.on ? boundsOnModel(layer, layer.on, kind, env) : kind.bounds(layer, env);
}

const meet = (a: Box, { x, y, width, height, step }: Region) =>
  a.left < x + width * step && a.right > x && a.top < y + height * step && a.bottom > y;

/** Whether a layer can touch any texel of a region. */
export function reaches(layer: DrawnLayer, region: Region, env: LayerEnv): boolean {
  const kind = kindOf(layer);
  if (layer.on) return reachesOnModel(layer, layer.on, kind, region, env);
  const bounds = kind.bounds(layer, env);
  return (!bounds || meet(bounds, region)) && kind.reaches?.(layer, region) !== false;
}

/** The one texel that a layer has all over a region; null: that is not known. */
export const uniformIn = (layer: DrawnLayer, region: Region, env: LayerEnv): Texel | null =>
  layer.on ? null : (kindOf(layer).uniform?.(layer, region, env) ?? null);

/** Draws a layer's own picture into zeroed `out`; see Kind. */
export function drawLayer(layer: DrawnLayer, region: Region, env: LayerEnv, out: Uint16Array): void {
  const kind = kindOf(layer);
  if (layer.on) drawOnModel(layer, layer.on, kind, region, env, out);
  else kind.draw(layer, region, env, out);
}

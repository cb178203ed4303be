import type { Layer, LayerOf } from '../livery/layer.ts';
import { belt } from './belt/draw.ts';
import { brush } from './brush/draw.ts';
import { chequer } from './chequer/draw.ts';
import { decal } from './decal/draw.ts';
import { fade } from './fade/draw.ts';
import { halftone } from './halftone/draw.ts';
import { hazard } from './hazard/draw.ts';
import type { DrawnKind, Kind, Kinds } from './kind.ts';
import { lettering } from './lettering/draw.ts';
import { picture } from './picture/draw.ts';
import { shape } from './shape/draw.ts';
import { solid } from './solid/draw.ts';
import { stripe } from './stripe/draw.ts';
import { stripeSet } from './stripeSet/draw.ts';

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
};

export type DrawnLayer = LayerOf<DrawnKind>;

/** Groups and adjustments have no picture of their own. */
export const isDrawn = (layer: Layer): layer is DrawnLayer => layer.kind !== 'group' && layer.kind !== 'adjust';

export function kindOf<L extends DrawnLayer>(layer: L): Kind<L> {
  return KINDS[layer.kind] as unknown as Kind<L>;
}

import type { Layer, LayerOf } from '../livery/layer.ts';
import { brush } from './brush.ts';
import { chequer } from './chequer.ts';
import { decal } from './decal.ts';
import { fade } from './fade.ts';
import { halftone } from './halftone.ts';
import { hazard } from './hazard.ts';
import type { DrawnKind, Kind, Kinds } from './kind.ts';
import { lettering } from './lettering.ts';
import { picture } from './picture.ts';
import { shape } from './shape.ts';
import { solid } from './solid.ts';
import { stripe } from './stripe.ts';
import { stripeSet } from './stripeSet.ts';

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
};

export type DrawnLayer = LayerOf<DrawnKind>;

/** Groups and adjustments have no picture of their own. */
export const isDrawn = (layer: Layer): layer is DrawnLayer => layer.kind !== 'group' && layer.kind !== 'adjust';

export function kindOf<L extends DrawnLayer>(layer: L): Kind<L> {
  return KINDS[layer.kind] as unknown as Kind<L>;
}

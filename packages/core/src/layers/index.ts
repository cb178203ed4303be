import type { Layer, LayerKind } from '../livery/layer.ts';
import { chequer } from './chequer.ts';
import { decal } from './decal.ts';
import { fade } from './fade.ts';
import type { Kind, Kinds } from './kind.ts';
import { lettering } from './lettering.ts';
import { picture } from './picture.ts';
import { solid } from './solid.ts';
import { stripe } from './stripe.ts';
import { stripeSet } from './stripeSet.ts';

/** Every kind of layer, by its name in the document. */
const KINDS: Kinds = { solid, fade, stripe, 'stripe-set': stripeSet, chequer, decal, lettering, picture };

export function kindOf<L extends Layer>(layer: L): Kind<L> {
  return KINDS[layer.kind as LayerKind] as unknown as Kind<L>;
}

/** What every layer has, whatever its kind. */
import { z } from 'zod';
import { BLEND_MODES } from '../raster/modes.ts';
import { FinishId, LayerId } from './ids.ts';
import { Lit } from './night.ts';
import { Filter, Mask, percent } from './paint.ts';
import { Projector } from './projector.ts';
import { words } from './words.ts';

export const PHASES = ['Base', 'Pattern', 'Marks', 'Wear', 'Retouch'] as const;
export type Phase = (typeof PHASES)[number];

export const CHANNELS = ['red', 'green', 'blue', 'alpha'] as const;

export const layerBase = {
  id: LayerId,
  name: words(80, 1),
  phase: z.enum(PHASES),
  hidden: z.boolean(),
  locked: z.boolean(),
  opacity: percent,
  blend: z.enum(BLEND_MODES),
  /** Keys of the parts that the layer keeps to; empty: the whole sheet. */
  parts: z.array(z.string().max(60)).max(200),
  /** Layers of several sheets that say the same here are one layer that runs over all of them; see across.ts. */
  across: z.string().max(64).optional(),
  /** The group that it belongs to, a layer of the same map; one that is gone counts as none. See tree.ts. */
  group: LayerId.optional(),
  /** Of the layers of one choice those of one option are meant to be seen; see choices.ts. */
  oneOf: z.strictObject({ of: words(80, 1), is: words(80, 1) }).optional(),
  /** It shows only where the next layer below it, in the same group, that is not clipped itself has paint. */
  clipped: z.boolean().optional(),
  /** It lies on the model: what it is drawn in is a plane of its own, brought there by this, and the same on every sheet. */
  on: Projector.optional(),
  /** How it is finished where it covers; left out: as its group is, or as what is under it. See finish.ts. */
  finish: FinishId.optional(),
  /** It brings its finish alone: colours stay as they are under it. */
  finishOnly: z.literal(true).optional(),
  /** It gives light at night; a group lights all that it holds. See night.ts. */
  lit: Lit.optional(),
  mask: Mask.optional(),
  /** Done to the layer's own picture, in this order. */
  filters: z.array(Filter).max(12).optional(),
  /** The only channels that it changes; left out: all. Of alpha it changes the value, by its grey. */
  channels: z.array(z.enum(CHANNELS)).min(1).max(4).optional(),
};

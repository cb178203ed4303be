import { z } from 'zod';
import { layerBase } from '../../livery/layerBase.ts';
import { Paint } from '../../livery/paint.ts';
import { metre } from '../../livery/settings.ts';
import { metres } from '../../livery/values.ts';
import { NO_PLACE, PAINT, round, type LayerData } from '../data.ts';

/** A band round the model between two planes, the same on every sheet; it is defined on the model alone. */
export const BeltLayer = z.strictObject({
  kind: z.literal('belt'),
  ...layerBase,
  paint: Paint,
  /** What is measured: up from the ground, forward, or to starboard; see AXES in draw.ts. */
  along: z.enum(['height', 'length', 'width']),
  /** Between which planes, in metres of the model. */
  from: metres,
  to: metres,
  /** How wide each edge runs out, half of it on either side; 0: as crisp as a texel. */
  soft: z.number().min(0).max(10_000),
});

export const belt: LayerData<z.infer<typeof BeltLayer>> = {
  ...NO_PLACE,
  name: 'Belt',
  onModel: true,
  paints: ({ paint }) => [paint],
  place: () => [
    { is: 'choice', key: 'along', label: 'along', options: ['height', 'length', 'width'] },
    [metre('from', 'from', -10_000), metre('to', 'to', -10_000)],
    [metre('soft', 'softness')],
  ],
  colours: [PAINT],
  numbers: ({ along, from, to }) => `${along} ${round(from, 3)} to ${round(to, 3)} m`,
  makers: [
    {
      key: 'belt',
      phase: 'Pattern',
      name: 'Belt',
      what: 'a band round the model, over all its sheets',
      // Below the middle, where bodies and hulls are widest.
      make: ({ model, paint }) => ({
        paint: paint(1),
        along: 'height',
        from: round(model.low[1] + 0.3 * (model.high[1] - model.low[1]), 3),
        to: round(model.low[1] + 0.38 * (model.high[1] - model.low[1]), 3),
        soft: 0,
      }),
    },
  ],
};

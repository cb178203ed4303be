import { z } from 'zod';
import { layerBase } from '../../livery/layerBase.ts';
import { NO_PLACE, type LayerData } from '../data.ts';

/** Changes everything below it, by its filters. */
export const AdjustLayer = z.strictObject({ kind: z.literal('adjust'), ...layerBase });

const LEVELS = { kind: 'levels', channel: 'all', black: 0, white: 255, gamma: 1, outBlack: 0, outWhite: 255 };

export const adjust: LayerData<z.infer<typeof AdjustLayer>> = {
  ...NO_PLACE,
  name: 'Adjustment',
  ofSheet: true,
  paints: () => [],
  colours: [],
  makers: [
    {
      key: 'adjust',
      phase: 'Retouch',
      name: 'Adjustment',
      what: 'levels, hue, recolour and more for all that is below',
      make: () => ({ filters: [LEVELS] }),
    },
  ],
};

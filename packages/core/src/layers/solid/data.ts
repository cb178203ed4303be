import { z } from 'zod';
import { layerBase } from '../../livery/layerBase.ts';
import { Paint } from '../../livery/paint.ts';
import { NO_PLACE, PAINT, type LayerData } from '../data.ts';

export const SolidLayer = z.strictObject({ kind: z.literal('solid'), ...layerBase, paint: Paint });

export const solid: LayerData<z.infer<typeof SolidLayer>> = {
  ...NO_PLACE,
  name: 'Solid',
  paints: ({ paint }) => [paint],
  colours: [PAINT],
  makers: [
    {
      key: 'solid',
      phase: 'Base',
      name: 'Solid',
      what: 'one colour over the sheet or some parts',
      make: ({ paint }) => ({ paint: paint(0) }),
    },
  ],
};

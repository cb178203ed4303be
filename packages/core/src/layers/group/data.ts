import { z } from 'zod';
import { layerBase } from '../../livery/layerBase.ts';
import { NO_PLACE, type LayerData } from '../data.ts';

/** Holds other layers: those whose `group` names it. */
export const GroupLayer = z.strictObject({
  kind: z.literal('group'),
  ...layerBase,
  /** Its layers blend with what is below the group, as if there were none. */
  through: z.boolean(),
});

export const group: LayerData<z.infer<typeof GroupLayer>> = {
  ...NO_PLACE,
  name: 'Group',
  ofSheet: true,
  paints: () => [],
  colours: [],
  makers: [],
};

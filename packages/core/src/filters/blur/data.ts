import { z } from 'zod';
import { slide, type FilterData } from '../data.ts';

/** Standard deviation, texels. */
export const BlurFilter = z.strictObject({
  kind: z.literal('blur'),
  radius: z.number().min(0.1).max(128),
});

export const blur: FilterData<z.infer<typeof BlurFilter>> = {
  name: 'Soften',
  what: 'out of focus',
  paints: () => [],
  rows: [slide('radius', 'radius', 0.1, 64, 'px', 0.1)],
  tones: false,
  alone: false,
  begin: () => ({ radius: 4 }),
};

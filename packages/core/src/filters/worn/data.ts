import { z } from 'zod';
import { percent, seed } from '../../livery/values.ts';
import { slide, type FilterData } from '../data.ts';

/** Coverage broken by noise, and faded. */
export const WornFilter = z.strictObject({
  kind: z.literal('worn'),
  amount: percent,
  size: z.number().min(1).max(512),
  fade: percent,
  seed,
});

export const worn: FilterData<z.infer<typeof WornFilter>> = {
  name: 'Worn',
  what: 'broken and faded',
  paints: () => [],
  rows: [
    slide('amount', 'worn away', 0, 100),
    slide('size', 'size of flakes', 1, 256, 'px'),
    slide('fade', 'faded', 0, 100),
    slide('seed', 'seed', 0, 999999, ''),
  ],
  tones: false,
  alone: false,
  begin: (start) => ({ amount: 30, size: 24, fade: 10, seed: start.seed }),
};

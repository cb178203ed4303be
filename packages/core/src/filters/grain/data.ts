import { z } from 'zod';
import { percent, seed } from '../../livery/values.ts';
import { slide, type FilterData } from '../data.ts';

export const GrainFilter = z.strictObject({
  kind: z.literal('grain'),
  amount: percent,
  size: z.number().min(1).max(64),
  coloured: z.boolean(),
  seed,
});

export const grain: FilterData<z.infer<typeof GrainFilter>> = {
  name: 'Grain',
  what: 'specks of light and dark',
  paints: () => [],
  rows: [
    slide('amount', 'amount', 0, 100),
    slide('size', 'size', 1, 64, 'px'),
    { is: 'tick', key: 'coloured', label: 'Coloured' },
    slide('seed', 'seed', 0, 999999, ''),
  ],
  tones: false,
  alone: true,
  begin: (start) => ({ amount: 12, size: 2, coloured: false, seed: start.seed }),
};

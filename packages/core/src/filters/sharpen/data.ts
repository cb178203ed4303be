import { z } from 'zod';
import { slide, type FilterData } from '../data.ts';

export const SharpenFilter = z.strictObject({
  kind: z.literal('sharpen'),
  radius: z.number().min(0.1).max(32),
  amount: z.number().min(0).max(500),
});

export const sharpen: FilterData<z.infer<typeof SharpenFilter>> = {
  name: 'Sharpen',
  what: 'crisper edges',
  paints: () => [],
  rows: [slide('radius', 'radius', 0.1, 16, 'px', 0.1), slide('amount', 'amount', 0, 500)],
  tones: false,
  alone: false,
  begin: () => ({ radius: 1.5, amount: 80 }),
};

import { z } from 'zod';
import { HEX } from '../../colour/hex.ts';
import { Paint, percent } from '../../livery/values.ts';
import { slide, type FilterData } from '../data.ts';

/** One colour becomes another; the distance is Euclidean in OKLab times 100. */
export const ReplaceFilter = z.strictObject({
  kind: z.literal('replace'),
  from: z.string().regex(HEX),
  to: Paint,
  tolerance: percent,
  soft: percent,
});

export const replace: FilterData<z.infer<typeof ReplaceFilter>> = {
  name: 'Replace a colour',
  what: 'one becomes another, its shades along',
  paints: ({ to }) => [to],
  rows: [
    { is: 'hex', key: 'from', label: 'from' },
    { is: 'paint', key: 'to', label: 'to' },
    slide('tolerance', 'tolerance', 0, 60),
    slide('soft', 'soft edge', 0, 40),
    'patch',
  ],
  tones: false,
  alone: true,
  begin: ({ paint, hex }) => ({ from: hex, to: paint, tolerance: 12, soft: 6 }),
};

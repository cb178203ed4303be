import { z } from 'zod';
import { slide, type FilterData } from '../data.ts';

/** 8-bit sRGB ends, and the exponent between them. */
export const LevelsFilter = z.strictObject({
  kind: z.literal('levels'),
  channel: z.enum(['all', 'red', 'green', 'blue']),
  black: z.number().min(0).max(254),
  white: z.number().min(1).max(255),
  gamma: z.number().min(0.1).max(10),
  outBlack: z.number().min(0).max(255),
  outWhite: z.number().min(0).max(255),
});

export const levels: FilterData<z.infer<typeof LevelsFilter>> = {
  name: 'Levels',
  what: 'darkest, lightest and middle values',
  paints: () => [],
  rows: [
    'histogram',
    { is: 'choice', key: 'channel', label: 'channel', options: ['all', 'red', 'green', 'blue'] },
    slide('black', 'darkest', 0, 254, ''),
    slide('gamma', 'middle', 0.1, 4, '', 0.05),
    slide('white', 'lightest', 1, 255, ''),
    slide('outBlack', 'darkest becomes', 0, 255, ''),
    slide('outWhite', 'lightest becomes', 0, 255, ''),
  ],
  tones: true,
  alone: true,
  begin: () => ({ channel: 'all', black: 0, white: 255, gamma: 1, outBlack: 0, outWhite: 255 }),
};

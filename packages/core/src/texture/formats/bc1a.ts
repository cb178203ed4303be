import { bc1, COLOUR_BLOCKS } from './bc1.ts';
import type { BlockFormat } from './kind.ts';

/** The same with blocks of clear texels: the fifth setting. */
const clear = (settings: readonly number[]) => settings.map((value, i) => (i === 4 ? 1 : value));
const { fast, normal, best } = COLOUR_BLOCKS.settings;

export const bc1a = {
  ...bc1,
  name: 'BC1 with 1-bit alpha',
  alpha: 'bit',
  channels: 'rgba',
  kernel: {
    ...COLOUR_BLOCKS,
    number: 1,
    settings: { fast: clear(fast), normal: clear(normal), best: clear(best) },
  },
} as const satisfies BlockFormat;

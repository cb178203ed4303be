import type { BlockKernel } from '../encoding.ts';
import type { BlockFormat } from './kind.ts';

/** Of the colour of BC1, BC2 and BC3: rounds, nudges, cuts, three levels, clear, enough, whole, nudge under, remaps. */
export const COLOUR_BLOCKS: Omit<BlockKernel, 'number'> = {
  settings: {
    fast: [1, 0, 0, 0, 0, 0, 0, 300, 0],
    normal: [2, 0, 0, 1, 0, 8, 0, 300, 3],
    best: [2, 8, 2, 1, 0, 0, 1, 0x7fffffff, 11],
  },
  errors: [5, 7],
};

export const bc1 = {
  name: 'BC1',
  alpha: 'none',
  channels: 'rgb',
  blockBytes: 8,
  texelBytes: 0,
  kernel: { ...COLOUR_BLOCKS, number: 1 },
  dds: { codes: ['DXT1'], dxgi: [71, 72], typeless: 70 },
  withClear: 'bc1a',
  coarse: true,
  tried: true,
} as const satisfies BlockFormat;

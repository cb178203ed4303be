import { COLOUR_BLOCKS } from './bc1.ts';
import type { BlockFormat } from './kind.ts';

export const bc4 = {
  name: 'BC4',
  alpha: 'none',
  channels: 'r',
  blockBytes: 8,
  texelBytes: 0,
  kernel: { ...COLOUR_BLOCKS, number: 4 },
  dds: { codes: ['ATI1', 'BC4U'], dxgi: [80], typeless: 79 },
} as const satisfies BlockFormat;

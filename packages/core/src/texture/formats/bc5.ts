import { COLOUR_BLOCKS } from './bc1.ts';
import type { BlockFormat } from './kind.ts';

export const bc5 = {
  name: 'BC5',
  alpha: 'none',
  channels: 'rg',
  blockBytes: 16,
  texelBytes: 0,
  kernel: { ...COLOUR_BLOCKS, number: 5 },
  dds: { codes: ['ATI2', 'BC5U'], dxgi: [83], typeless: 82 },
} as const satisfies BlockFormat;

import { COLOUR_BLOCKS } from './bc1.ts';
import type { BlockFormat } from './kind.ts';

export const bc2 = {
  name: 'BC2',
  alpha: 'full',
  channels: 'rgba',
  blockBytes: 16,
  texelBytes: 0,
  kernel: { ...COLOUR_BLOCKS, number: 2 },
  dds: { codes: ['DXT3', 'DXT2'], premultiplied: ['DXT2'], dxgi: [74, 75], typeless: 73 },
  coarse: true,
  tried: true,
} as const satisfies BlockFormat;

import { COLOUR_BLOCKS } from './bc1.ts';
import type { BlockFormat } from './kind.ts';

export const bc3 = {
  name: 'BC3',
  alpha: 'full',
  channels: 'rgba',
  blockBytes: 16,
  texelBytes: 0,
  kernel: { ...COLOUR_BLOCKS, number: 3 },
  dds: { codes: ['DXT5', 'DXT4'], premultiplied: ['DXT4'], dxgi: [77, 78], typeless: 76 },
  coarse: true,
  tried: true,
} as const satisfies BlockFormat;

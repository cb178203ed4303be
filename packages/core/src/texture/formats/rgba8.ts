import { bytesInOrder, type RowFormat } from './kind.ts';

export const rgba8 = {
  name: 'uncompressed RGBA',
  alpha: 'full',
  channels: 'rgba',
  ...bytesInOrder([0, 1, 2, 3]),
  dds: { masks: [32, 0xff, 0xff00, 0xff0000, 0xff000000], dxgi: [28, 29], typeless: 27 },
} as const satisfies RowFormat;

import { bytesInOrder, type RowFormat } from './kind.ts';

export const bgra8 = {
  name: 'uncompressed BGRA',
  alpha: 'full',
  channels: 'rgba',
  ...bytesInOrder([2, 1, 0, 3]),
  dds: { masks: [32, 0xff0000, 0xff00, 0xff, 0xff000000], dxgi: [87, 91], typeless: 90 },
} as const satisfies RowFormat;

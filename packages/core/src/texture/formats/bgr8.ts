import { bytesInOrder, type RowFormat } from './kind.ts';

export const bgr8 = {
  name: 'uncompressed BGR',
  alpha: 'none',
  channels: 'rgb',
  ...bytesInOrder([2, 1, 0]),
  dds: { masks: [24, 0xff0000, 0xff00, 0xff, 0] },
} as const satisfies RowFormat;

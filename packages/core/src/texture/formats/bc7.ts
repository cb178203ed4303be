import type { BlockFormat } from './kind.ts';

export const bc7 = {
  name: 'BC7',
  alpha: 'full',
  channels: 'rgba',
  blockBytes: 16,
  texelBytes: 0,
  kernel: {
    number: 7,
    /**
     * Rounds of least squares, rounds of nudging, partitions of two, of three, turns, enough, split at, partitions of two where there is
     * alpha; and an error from which a block is a hard one, on which more of each is tried: thin lettering, edges of emblems.
     */
    settings: {
      fast: [1, 0, 1, 0, 0, 40, 400, 1, 0x7fffffff],
      normal: [2, 0, 2, 0, 1, 8, 8, 4, 1200],
      best: [2, 2, 6, 4, 3, 2, 2, 20, 60],
    },
    errors: [5, 6, 8],
  },
  dds: { dxgi: [98, 99], typeless: 97 },
  tried: true,
} as const satisfies BlockFormat;

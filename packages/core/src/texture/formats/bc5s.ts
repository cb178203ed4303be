import { bc5 } from './bc5.ts';
import type { BlockFormat } from './kind.ts';

export const bc5s = {
  ...bc5,
  name: 'BC5 signed',
  kernel: { ...bc5.kernel, number: 15 },
  dds: { codes: ['BC5S'], dxgi: [84] },
} as const satisfies BlockFormat;

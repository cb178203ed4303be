import { bc4 } from './bc4.ts';
import type { BlockFormat } from './kind.ts';

export const bc4s = {
  ...bc4,
  name: 'BC4 signed',
  kernel: { ...bc4.kernel, number: 14 },
  dds: { codes: ['BC4S'], dxgi: [81] },
} as const satisfies BlockFormat;

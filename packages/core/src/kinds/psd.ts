import { beginsWith, type FileKindData } from './kind.ts';

export const psd = {
  name: 'PSD',
  is: 'layered',
  endings: ['psd', 'psb'],
  begins: (bytes) => bytes.length > 26 && beginsWith(bytes, '8BPS'),
} as const satisfies FileKindData;

import { beginsWith, type FileKindData } from './kind.ts';

export const dds = {
  name: 'DDS',
  is: 'texture',
  endings: ['dds'],
  begins: (bytes) => beginsWith(bytes, 'DDS '),
} as const satisfies FileKindData;

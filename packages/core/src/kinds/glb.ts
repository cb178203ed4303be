import { beginsWith, type FileKindData } from './kind.ts';

export const glb = {
  name: 'glTF',
  is: 'model',
  endings: ['glb'],
  begins: (bytes) => beginsWith(bytes, 'glTF'),
} as const satisfies FileKindData;

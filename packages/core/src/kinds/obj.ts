import type { FileKindData } from './kind.ts';

export const obj = { name: 'OBJ', is: 'model', endings: ['obj'] } as const satisfies FileKindData;

import type { FileKindData } from './kind.ts';

export const mtl = { name: 'MTL', is: 'materials', endings: ['mtl'] } as const satisfies FileKindData;

import type { FileKindData } from './kind.ts';

export const tga = { name: 'TGA', is: 'texture', endings: ['tga'] } as const satisfies FileKindData;

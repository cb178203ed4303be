import type { FileKindData } from './kind.ts';

export const gltf = { name: 'glTF', is: 'model', endings: ['gltf'] } as const satisfies FileKindData;

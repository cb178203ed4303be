import { beginsWith, type FileKindData } from './kind.ts';

export const picture = {
  name: 'PNG, JPEG, WebP',
  is: 'texture',
  endings: ['png', 'jpg', 'jpeg', 'webp'],
  begins: (bytes) =>
    beginsWith(bytes, '\x89PNG') ||
    beginsWith(bytes, '\xff\xd8\xff') ||
    (beginsWith(bytes, 'RIFF') && beginsWith(bytes, 'WEBP', 8)),
} as const satisfies FileKindData;

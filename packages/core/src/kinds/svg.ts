import type { FileKindData } from './kind.ts';

export const svg = {
  name: 'SVG',
  is: 'drawing',
  endings: ['svg'],
  /** Its first element is `svg`, whatever stands before that. */
  begins: (bytes) =>
    /^\ufeff?\s*(<\?xml[^>]*\?>\s*)?(<!--[\s\S]*?-->\s*|<!DOCTYPE[^>[]*(\[[^\]]*\])?[^>]*>\s*)*<svg[\s>]/i.test(
      new TextDecoder().decode(bytes.subarray(0, 4096)),
    ),
} as const satisfies FileKindData;

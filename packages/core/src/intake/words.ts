/**
 * The words of a file's or layer's name: split at anything that is not a letter or digit, and where small letters meet capitals.
 * @example
 * import { wordsOf } from './intake/words.ts';
 * wordsOf('HullPort_D2.tga'); // ['hull', 'port', 'd', '2', 'tga']
 */
export function wordsOf(name: string): string[] {
  return name
    .replace(/([a-z])([A-Z])/g, '$1 $2')
    .replace(/([A-Z]+)([A-Z][a-z])/g, '$1 $2')
    .replace(/([a-zA-Z])(\d)/g, '$1 $2')
    .replace(/(\d)([a-zA-Z])/g, '$1 $2')
    .toLowerCase()
    .split(/[^\p{L}\p{N}]+/u)
    .filter(Boolean);
}

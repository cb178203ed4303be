/**
 * Lower case, words joined by hyphens, everything else left out.
 * @example
 * import { slugOf } from './livery/slug.ts';
 * slugOf('Tern & Tide, Post 7'); // 'tern-tide-post-7'
 */
export function slugOf(value: string): string {
  return value
    .normalize('NFD')
    .replace(/\p{M}/gu, '')
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^-+|-+$/g, '');
}

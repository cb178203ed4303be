import type { Understood } from '@wet-lacquer/core/intake/understood.ts';

/** What was found by looking at a file that was brought. */
export interface Looked {
  understood: Understood;
  /** Small PNG of what it looks like; null: it does not look like anything. */
  preview: Uint8Array | null;
  /** For a layered file: where our picture and its own differ, as PNG; null: they do not, or it has none. */
  difference: Uint8Array | null;
  /** Pictures inside a model: they become files of their own. */
  inside?: { name: string; bytes: Uint8Array }[];
}

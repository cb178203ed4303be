/** Texts among the files that a template keeps; runs in threads. */
import { languageOf } from '@wet-lacquer/core/languages/index.ts';
import type { KeptText } from '@wet-lacquer/core/delivery/newName.ts';
import { renamed } from '@wet-lacquer/core/delivery/textChange.ts';
import { looksLikeText, readExactly } from '@wet-lacquer/core/files/textFile.ts';

/** A larger text is data. */
const LARGEST = 2 * 1024 * 1024;
/** Of all texts together. */
const MOST = 16 * 1024 * 1024;

export interface KeptTexts {
  texts: KeptText[];
  /** Files that cannot be changed here, and how often they name each of the words. */
  binary: { name: string; times: number }[];
}

/** @param files in their order; texts beyond the budget count as files that cannot be changed */
export function textsAmong(task: { files: { name: string; bytes: Uint8Array }[]; words: string[] }): KeptTexts {
  const texts: KeptText[] = [];
  const binary: KeptTexts['binary'] = [];
  let held = 0;
  for (const { name, bytes } of task.files) {
    if (bytes.length <= LARGEST && held + bytes.length <= MOST && looksLikeText(bytes)) {
      held += bytes.length;
      const { text } = readExactly(bytes);
      texts.push({ name, language: languageOf(name, text), text });
    } else binary.push({ name, times: timesNamed(bytes, task.words) });
  }
  return { texts, binary };
}

/** How often some words stand in a file that is no text, a byte a character. */
function timesNamed(bytes: Uint8Array, words: readonly string[]): number {
  if (words.length === 0) return 0;
  const { times } = renamed(
    Buffer.from(bytes).toString('latin1'),
    words.map((word) => ({ word, by: '' })),
  );
  return times.reduce((sum, n) => sum + n, 0);
}

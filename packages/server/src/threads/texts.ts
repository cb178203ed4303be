/** Texts among the files that a template keeps; runs in threads. */
import { languageOf, type KeptText } from '@wet-lacquer/core/delivery/newName.ts';
import { looksLikeText, readExactly } from '@wet-lacquer/core/files/textFile.ts';
import { timesNamed } from '@wet-lacquer/core/files/references.ts';

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
    } else binary.push({ name, times: task.words.reduce((sum, word) => sum + timesNamed(bytes, word), 0) });
  }
  return { texts, binary };
}

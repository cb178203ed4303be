import { asLine, type Span, type TextLanguage } from './kind.ts';

/** Key, value and remark of a line; a colour in hex digits is no remark. */
const LINE = /^(\s*([^=;#]+?)\s*=\s*)(#[0-9a-fA-F]{6}(?:[0-9a-fA-F]{2})?(?![0-9a-fA-F])|[^;#]*?)(\s*(?:[;#].*)?)$/;

interface IniPair {
  section: string;
  key: string;
  value: string;
  /** Where its line begins, and its value. */
  at: number;
  valueAt: number;
}

/** The keys of an INI-like text with their values, in the order in which they stand. */
function* iniPairs(text: string): Generator<IniPair> {
  let section = '';
  let at = 0;
  for (const line of text.split('\n')) {
    const head = /^\s*\[([^\]]*)\]/.exec(line);
    if (head) section = head[1].trim();
    const pair = LINE.exec(line);
    if (pair) yield { section, key: pair[2], value: pair[3], at, valueAt: at + pair[1].length };
    at += line.length + 1;
  }
}

/** Where the value of `section.key` stands, or of `key` before any section; of any text that has such lines. */
export function keyedValueAt(text: string, path: string): Span | null {
  const dot = path.lastIndexOf('.');
  const [section, key] = [dot < 0 ? '' : path.slice(0, dot), path.slice(dot + 1)];
  for (const pair of iniPairs(text))
    if (pair.section === section && pair.key === key) return [pair.valueAt, pair.valueAt + pair.value.length];
  return null;
}

/** From each line that begins with a bracket to the next one. */
export function bracketSections(text: string): Span[] {
  const starts: number[] = [];
  let at = 0;
  for (const line of text.split('\n')) {
    if (/^\s*\[/.test(line)) starts.push(at);
    at += line.length + 1;
  }
  return starts.map((from, i) => [from, starts[i + 1] ?? text.length]);
}

export const ini: TextLanguage = {
  name: 'INI',
  called: 'INI-like',
  endings: ['ini', 'cfg'],
  likely: (text) => /^\s*\[[^\]\n]+\]\s*$/m.test(text) && /^[^=\n]+=/m.test(text),
  escape: asLine,
  entries: bracketSections,
  *values(text) {
    for (const { section, key, value, at } of iniPairs(text))
      yield { path: section ? `${section}.${key}` : key, value, at };
  },
  valueAt: keyedValueAt,
};

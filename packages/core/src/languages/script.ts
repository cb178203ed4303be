import { keyedValueAt } from './ini.ts';
import { asLine, lineAround, type Span, type TextLanguage } from './kind.ts';

/** Lists and scripts of games' own: words, values in quotes, blocks in braces. */
export const script: TextLanguage = {
  name: 'script',
  called: 'a script',
  endings: ['script', 'lua', 'list'],
  escape: (value) => asLine(value).replaceAll('"', '’'),
  /** Blocks in braces, from the beginning of the line that opens them (or names them, above) to the end of the one that closes them. */
  entries(text) {
    const spans: Span[] = [];
    const open: number[] = [];
    for (let i = 0; i < text.length; i++) {
      const c = text[i];
      if (c === '"' || c === "'") {
        const end = text.indexOf(c, i + 1);
        const line = text.indexOf('\n', i + 1);
        if (end > 0 && (line < 0 || end < line)) i = end;
      } else if (c === '{') {
        let from = text.lastIndexOf('\n', i - 1) + 1;
        if (text.slice(from, i).trim() === '' && from > 0) from = text.lastIndexOf('\n', from - 2) + 1;
        open.push(from);
      } else if (c === '}') {
        const from = open.pop();
        if (from !== undefined) spans.push([from, lineAround(text, i)[1]]);
      }
    }
    return spans;
  },
  valueAt: keyedValueAt,
};

import { parse } from 'smol-toml';
import { bracketSections, keyedValueAt } from './ini.ts';
import { asQuoted, firstLine, type TextLanguage } from './kind.ts';

export const toml: TextLanguage = {
  name: 'TOML',
  called: 'TOML',
  endings: ['toml'],
  escape: asQuoted,
  flaw(text) {
    try {
      parse(text);
      return null;
    } catch (error) {
      return firstLine(error);
    }
  },
  entries: bracketSections,
  valueAt: keyedValueAt,
};

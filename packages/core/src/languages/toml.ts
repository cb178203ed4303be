import { parse } from 'smol-toml';
import { bracketSections, keyedValueAt } from './ini.ts';
import { asQuoted, flawOf, type TextLanguage } from './kind.ts';

export const toml: TextLanguage = {
  name: 'TOML',
  called: 'TOML',
  endings: ['toml'],
  escape: asQuoted,
  flaw: flawOf(parse),
  entries: bracketSections,
  valueAt: keyedValueAt,
};

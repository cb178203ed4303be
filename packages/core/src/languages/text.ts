import { keyedValueAt } from './ini.ts';
import { asLine, type TextLanguage } from './kind.ts';

/** Any other text: its lines are its entries. */
export const text: TextLanguage = {
  name: 'text',
  called: '',
  endings: ['txt', 'yaml', 'yml'],
  escape: asLine,
  lines: true,
  valueAt: keyedValueAt,
};

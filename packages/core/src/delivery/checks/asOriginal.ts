import { isOriginal } from '../plan.ts';
import type { Check } from '../finding.ts';

export const asOriginal: Check = {
  key: 'as-original',
  subject: 'sheets as they came',
  why: 'A sheet that nobody painted on is the game’s own picture, encoded once more: it can only get worse.',
  run({ livery, template, spec, plan }) {
    const sheets = template.sheets
      .filter((sheet) => !livery.sheets.find((s) => s.key === sheet.key)?.kept)
      .filter((sheet) => isOriginal(livery, template, sheet.key, 'colour'));
    if (spec.unpainted && sheets.length > 0) {
      // They are left out; something has to be there all the same.
      if (plan.files.some((file) => file.kind === 'sheet' && !file.leftOut)) return [];
      return [
        {
          check: this.key,
          level: 'stop' as const,
          title: 'Nothing is painted yet',
          detail: 'Every sheet is as it came, and this spec leaves those out.',
          show: { sheet: sheets[0].key },
        },
      ];
    }
    return sheets.map((sheet) => ({
      check: this.key,
      level: 'advice' as const,
      title: `${sheet.name} is still as it came`,
      detail: 'Nothing was painted on it, and it would be delivered again as it came.',
      show: { sheet: sheet.key },
      fix: {
        label: 'Leave it to the game on purpose',
        edit: { do: 'set-sheet' as const, sheet: sheet.key, set: { kept: true } },
      },
    }));
  },
};

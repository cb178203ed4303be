import { isOriginal } from '../plan.ts';
import type { Check } from '../finding.ts';

export const asOriginal: Check = {
  key: 'as-original',
  subject: 'sheets against their originals',
  why: 'A sheet that nobody painted on is the game’s own picture, encoded once more: it can only get worse.',
  run({ livery, template }) {
    return template.sheets
      .filter((sheet) => !livery.sheets.find((s) => s.key === sheet.key)?.kept)
      .filter((sheet) => isOriginal(livery, template, sheet.key, 'colour'))
      .map((sheet) => ({
        check: this.key,
        level: 'advice' as const,
        title: `${sheet.name} is still the original`,
        detail: 'Nothing was painted on it, and it would be delivered again as it came.',
        show: { sheet: sheet.key },
        fix: {
          label: 'Keep the original on purpose',
          edit: { do: 'set-sheet' as const, sheet: sheet.key, set: { kept: true } },
        },
      }));
  },
};

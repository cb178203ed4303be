import { MAIN_MAP } from '../../livery/template.ts';
import type { Check } from '../finding.ts';

export const sheetBare: Check = {
  key: 'sheet-bare',
  subject: 'bare sheets',
  why: 'A sheet without paint is left out, and the game goes on showing its own picture there.',
  run({ plan, livery, spec }) {
    const files = plan.files.flatMap((file) =>
      file.kind === 'sheet' && file.leftOut === 'bare' && !file.follower && file.spec.map === MAIN_MAP ? [file] : [],
    );
    // Sheets may have several files.
    const bare = [...new Set(files.map((file) => file.master))];
    const unpainted = bare.filter((sheet) => !sheet.plates);
    if (unpainted.length > 0 && bare.length === livery.sheets.filter((sheet) => !sheet.kept).length) {
      return [
        {
          check: this.key,
          level: 'stop',
          title: 'Nothing is painted yet',
          detail: 'Every sheet is bare, so there is nothing to deliver.',
          show: { sheet: bare[0].key },
        },
      ];
    }
    // Nobody misses plates that are not there.
    return unpainted.map((sheet) => ({
      check: this.key,
      level: 'advice' as const,
      title: `Sheet ${sheet.name} is still bare`,
      detail: `${spec.gameName} keeps its own picture there unless you paint it.`,
      show: { sheet: sheet.key },
      fix: {
        label: 'Leave it to the game on purpose',
        edit: { do: 'set-sheet' as const, sheet: sheet.key, set: { kept: true } },
      },
    }));
  },
};

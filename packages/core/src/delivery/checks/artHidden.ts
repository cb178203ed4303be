import { isAlternative } from '../../livery/choices.ts';
import { layersOf } from '../../livery/livery.ts';
import type { Check } from '../finding.ts';

export const artHidden: Check = {
  key: 'art-hidden',
  subject: 'hidden layers',
  why: 'A layer that was switched off to see under it is easily forgotten.',
  run({ livery, template }) {
    return template.sheets.flatMap((sheet) =>
      layersOf(livery, sheet.key)
        .filter((layer, _i, all) => layer.hidden && !isAlternative(layer, all))
        .map((layer) => ({
          check: this.key,
          level: 'advice' as const,
          title: `“${layer.name}” is hidden`,
          detail: `It is on ${sheet.name} and will not be delivered.`,
          show: { sheet: sheet.key, layer: layer.id },
          fix: { label: 'Show it', edit: { do: 'set-layer' as const, layer: layer.id, set: { hidden: false } } },
        })),
    );
  },
};

import { layersOf } from '../../livery/livery.ts';
import { hiddenBy, namesOfParts, SEEN_PAST } from '../../surface/behind.ts';
import { spotOfTexel, surfaceOf } from '../../surface/locate.ts';
import type { Check } from '../finding.ts';
import { fewSamplesOf } from './coverage.ts';

export const marksBehind: Check = {
  key: 'marks-behind',
  subject: 'marks behind fittings',
  why: 'What stands before a mark on the model (a rail, a lamp, a locker) hides it, though the flat sheet shows it whole.',
  needsModel: true,
  run(input) {
    const { livery, template } = input;
    return template.sheets.flatMap((sheet) =>
      layersOf(livery, sheet.key).flatMap((layer) => {
        if (sheet.plates || layer.hidden || (layer.kind !== 'decal' && layer.kind !== 'lettering')) return [];
        const surface = surfaceOf(template, sheet.key);
        const spots = fewSamplesOf(input, sheet.key, layer).flatMap(({ x, y, alpha }) => {
          const spot = spotOfTexel(surface, x, y);
          return spot ? [{ ...spot, weight: alpha }] : [];
        });
        const { share, parts } = hiddenBy(template, spots);
        if (share < SEEN_PAST) return [];
        return [
          {
            check: this.key,
            level: 'advice' as const,
            title: `${Math.round(share * 100)} % of “${layer.name}” is behind ${namesOfParts(template, parts)}`,
            detail: 'On the model that stands before it as it is looked at straight on.',
            show: { sheet: sheet.key, layer: layer.id },
          },
        ];
      }),
    );
  },
};

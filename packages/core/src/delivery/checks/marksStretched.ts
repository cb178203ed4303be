import { layersOf } from '../../livery/livery.ts';
import { grainUnder, SEEN_STRETCHED } from '../../surface/grain.ts';
import type { Check } from '../finding.ts';
import { isToldHere, markSpots } from './coverage.ts';

export const marksStretched: Check = {
  key: 'marks-stretched',
  subject: 'marks that keep their shape',
  why: 'Where texels are longer one way than the other, or a mark lies aslant to the surface, circles become ovals and letters wide.',
  needsModel: true,
  run(input) {
    const { livery, template } = input;
    return template.sheets.flatMap((sheet) =>
      layersOf(livery, sheet.key).flatMap((layer) => {
        if (sheet.plates || layer.hidden || !isToldHere(livery, layer)) return [];
        if (layer.kind !== 'decal' && layer.kind !== 'lettering') return [];
        const grain = grainUnder(template, markSpots(input, sheet.key, layer));
        if (!grain || grain.stretch < SEEN_STRETCHED) return [];
        return [
          {
            check: this.key,
            level: 'advice' as const,
            title: `“${layer.name}” is stretched ${grain.stretch.toFixed(1)} times`,
            detail: layer.on
              ? 'It lies aslant to the surface: turn it to face it, or fold it over.'
              : `The part is laid on ${sheet.name} longer one way than the other; on the model itself a mark keeps its shape.`,
            show: { sheet: sheet.key, layer: layer.id },
          },
        ];
      }),
    );
  },
};

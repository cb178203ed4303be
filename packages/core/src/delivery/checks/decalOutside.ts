import { layersOf } from '../../livery/livery.ts';
import type { Check } from '../finding.ts';
import { isToldHere, markSpots, shareOnIslands } from './coverage.ts';

export const decalOutside: Check = {
  key: 'decal-outside',
  subject: 'marks on islands',
  why: 'Only what lies on an island is wrapped on the model; a mark beside them is never seen.',
  run(input) {
    return input.template.sheets.flatMap((sheet) =>
      layersOf(input.livery, sheet.key).flatMap((layer) => {
        if (layer.hidden || (layer.kind !== 'decal' && layer.kind !== 'lettering')) return [];
        if (layer.on) {
          if (!isToldHere(input.livery, layer) || markSpots(input, sheet.key, layer).length > 0) return [];
          return [
            {
              check: this.key,
              level: 'advice' as const,
              title: `“${layer.name}” lies on nothing that is painted`,
              detail: 'Slide it onto the model, or let it paint more of what faces away from it.',
              show: { sheet: sheet.key, layer: layer.id },
            },
          ];
        }
        const share = shareOnIslands(input, sheet.key, layer);
        if (share === null || share >= 0.5) return [];
        return [
          {
            check: this.key,
            level: 'advice' as const,
            title: titleOf(
              layer.name,
              share < 0.005,
              input.template.boards ? 'board' : sheet.plates ? 'plate' : 'island',
            ),
            detail:
              share < 0.005
                ? `It will not be seen. Move it onto ${sheet.plates ? 'the picture of a plate' : input.template.boards ? sheet.name : `a part of ${sheet.name}`}.`
                : `Only ${Math.round(share * 100)} % of it will be seen.`,
            show: { sheet: sheet.key, layer: layer.id },
          },
        ];
      }),
    );
  },
};

function titleOf(name: string, all: boolean, on: 'board' | 'plate' | 'island'): string {
  if (on === 'board') return all ? `“${name}” is outside the sheet` : `“${name}” lies mostly off the sheet`;
  return all ? `“${name}” is outside every ${on}` : `“${name}” lies mostly off the ${on}s`;
}

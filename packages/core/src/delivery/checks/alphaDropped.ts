import { MAIN_MAP } from '../../livery/template.ts';
import { FORMATS } from '../../texture/formats/index.ts';
import { layersOf } from '../../livery/livery.ts';
import type { Check } from '../finding.ts';
import { openShare } from './coverage.ts';

export const alphaDropped: Check = {
  key: 'alpha-dropped',
  subject: 'alpha',
  why: 'Where art is see-through but the file carries no alpha, the ground shows instead of what lies behind in the game.',
  run(input) {
    return input.plan.files.flatMap((file) => {
      if (file.kind !== 'sheet' || file.leftOut || file.follower || file.spec.map !== MAIN_MAP) return [];
      const drops = file.spec.alpha === 'opaque' || FORMATS[file.spec.format].alpha === 'none';
      const share = drops ? openShare(input, file.sheet.key, file.spec.map) : 0;
      if (share < 0.002) return [];
      const percent = share < 0.01 ? 'Under 1 %' : `${Math.round(share * 100)} %`;
      return [
        {
          check: this.key,
          level: 'advice' as const,
          title: `Sheet ${file.sheet.name} is not covered all over`,
          detail: `${percent} of ${input.template.boards ? 'it' : 'its islands'} is see-through, and this delivery drops alpha: ${input.spec.ground} shows there.`,
          show: { sheet: file.sheet.key, layer: layersOf(input.livery, file.sheet.key)[0]?.id },
        },
      ];
    });
  },
};

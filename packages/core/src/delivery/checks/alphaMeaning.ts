import { FORMATS } from '../../texture/formats/index.ts';
import { mapsOf } from '../../livery/template.ts';
import type { Check, Finding } from '../finding.ts';
import { openShare } from './coverage.ts';

export const alphaMeaning: Check = {
  key: 'alpha-meaning',
  subject: 'alpha that is asked for',
  why: 'Where a game cuts shapes out by alpha, art that covers everything makes slabs of them.',
  run(input) {
    return input.plan.files.flatMap((file): Finding[] => {
      if (file.kind !== 'sheet' || file.leftOut || file.follower || file.spec.alpha !== 'keep') return [];
      const role = mapsOf(file.master).find((map) => map.key === file.spec.map)?.alpha;
      if (FORMATS[file.spec.format].alpha === 'none' || role !== 'cutout') return [];
      if (openShare(input, file.master.key, file.spec.map) > 0.0005) return [];
      return [
        {
          check: this.key,
          level: 'advice',
          title: `${file.master.name} cuts nothing out`,
          detail: 'The game cuts this sheet by its alpha, and the art covers all of it: fine strands become slabs.',
          show: { sheet: file.master.key },
        },
      ];
    });
  },
};

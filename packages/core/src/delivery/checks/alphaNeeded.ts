import type { Check } from '../finding.ts';
import { openShare } from './coverage.ts';

export const alphaNeeded: Check = {
  key: 'alpha-needed',
  subject: 'alpha that must or must not be there',
  why: 'Hair and the like are cut out by alpha; where it is missing the game shows solid blocks.',
  run(input) {
    return input.plan.files.flatMap((file) => {
      if (file.kind !== 'sheet' || file.leftOut || file.follower) return [];
      const { alpha, map } = file.spec;
      if (alpha !== 'needed' && alpha !== 'forbidden') return [];
      const open = openShare(input, file.master.key, map) > 0.002;
      if (open === (alpha === 'needed')) return [];
      const { name } = file.master;
      return [
        {
          check: this.key,
          level: 'stop' as const,
          title: open ? `Sheet ${name} is see-through in places` : `Sheet ${name} has lost its alpha`,
          detail: open
            ? `${input.spec.gameName} wants this sheet without holes.`
            : `It is covered all over, and ${input.spec.gameName} cuts its shape out by alpha: it would be a solid block.`,
          show: { sheet: file.master.key },
        },
      ];
    });
  },
};

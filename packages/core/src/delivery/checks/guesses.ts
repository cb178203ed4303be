import type { Check } from '../finding.ts';

export const guesses: Check = {
  key: 'guesses',
  subject: 'guesses in the spec',
  why: 'A spec that was taken from a skin’s files holds guesses; until somebody who knows the game confirms them, they may be wrong.',
  run({ spec }) {
    const open = spec.guesses ?? [];
    if (open.length === 0) return [];
    return [
      {
        check: this.key,
        level: 'advice',
        title: open.length === 1 ? 'A guess in the spec waits' : `${open.length} guesses in the spec wait`,
        detail: `${open[0].says}${open.length > 1 ? ' And others.' : ''} They are confirmed in the spec ${spec.key}.`,
      },
    ];
  },
};

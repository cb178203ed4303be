import { fillIn } from '../../livery/livery.ts';
import type { Check } from '../finding.ts';

export const particularsNeeded: Check = {
  key: 'particulars-needed',
  subject: 'particulars',
  why: 'Names and sidecars are filled from the livery’s particulars; one that is missing leaves a hole in them.',
  run({ livery, spec }) {
    return (spec.needs ?? [])
      .filter((key) => fillIn(livery.particulars[key] ?? '', livery.particulars).trim() === '')
      .map((key) => ({
        check: this.key,
        level: 'stop' as const,
        title: `The livery has no ${key}`,
        detail: `${spec.gameName} wants the ${key} in its names or its list.`,
        show: { particular: key },
      }));
  },
};

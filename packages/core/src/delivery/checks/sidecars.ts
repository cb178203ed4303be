import type { Check } from '../finding.ts';

export const sidecars: Check = {
  key: 'sidecars',
  subject: 'sidecars',
  why: 'A sidecar that the game cannot read, a comma or a stray space in it, and the livery is not listed at all.',
  run({ plan }) {
    return plan.files.flatMap((file) =>
      file.kind === 'sidecar'
        ? file.problems.map((problem) => ({
            check: this.key,
            level: 'stop' as const,
            title: `${file.name} would not work`,
            detail: problem,
          }))
        : [],
    );
  },
};

import { pathsOf, written } from '../plan.ts';
import { whyNoPath } from '../safePath.ts';
import type { Check } from '../finding.ts';

export const safeNames: Check = {
  key: 'safe-names',
  subject: 'paths',
  why: 'A path that leaves its folder, or that some system cannot hold, would write over other things or be lost on the way.',
  run({ plan }) {
    // In a package the names inside count as well.
    const paths = [...pathsOf(plan), ...(plan.package === null ? [] : written(plan).map((file) => file.name))];
    return paths.flatMap((path) => {
      const why = whyNoPath(path);
      return why
        ? [
            {
              check: this.key,
              level: 'stop' as const,
              title: 'A file cannot have the name that it would get',
              detail: `${JSON.stringify(path).slice(1, -1).slice(0, 200)} ${why}. Names come from the spec and the livery’s particulars.`,
            },
          ]
        : [];
    });
  },
};

import { originalKey } from '../../livery/template.ts';
import type { Check, Finding } from '../finding.ts';

export const lightHolds: Check = {
  key: 'light',
  subject: 'copies in another light',
  why: 'Wet, dusk and night copies of a sheet are delivered with its paint in their own light, told from the pair of originals.',
  run({ plan, template }) {
    return plan.files.flatMap((file): Finding[] => {
      if (file.kind !== 'sheet' || file.leftOut || file.follower === null || !file.original) return [];
      const master = template.originals?.[originalKey(file.master.key)];
      const { light, unlike, name } = (file.master.followers ?? []).find(({ key }) => key === file.follower) ?? {};
      if (unlike && light === undefined)
        return [
          {
            check: this.key,
            level: 'advice',
            title: `${name} is no copy of ${file.master.name} in another light`,
            detail: 'No change of light makes the one of the other, as they came: what is painted goes on it as it is.',
            show: { sheet: file.master.key },
          },
        ];
      if (light !== undefined && !master)
        return [
          {
            check: this.key,
            level: 'advice',
            title: `${file.name} cannot take its own light`,
            detail: `${file.master.name} came without a file to compare it with: its paint goes on as it is.`,
            show: { sheet: file.master.key },
          },
        ];
      return [];
    });
  },
};

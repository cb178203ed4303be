import { holdsIn } from '../../livery/template.ts';
import type { Check } from '../finding.ts';

export const colourSpaces: Check = {
  key: 'colour-spaces',
  subject: 'colour spaces',
  why: 'Normals and packed values are plain numbers; stored as sRGB the game bends them, and light falls wrongly.',
  run({ plan, spec }) {
    return plan.files.flatMap((file) => {
      if (file.kind !== 'sheet' || file.leftOut || file.follower) return [];
      const { map, colourSpace, packed } = file.spec;
      const holds = holdsIn(file.master, map);
      const wrong =
        holds === 'normal' && colourSpace !== 'normal'
          ? 'holds directions, and its spec does not say so: its mip levels would be averaged as colours'
          : (packed || holds === 'packed' || holds === 'ids') && colourSpace === 'srgb'
            ? 'holds plain values, and its spec stores them as sRGB'
            : null;
      return wrong
        ? [
            {
              check: this.key,
              level: 'advice' as const,
              title: `${file.name} is stored as colour`,
              detail: `It ${wrong}. Change that in the spec ${spec.key}.`,
              show: { sheet: file.master.key },
            },
          ]
        : [];
    });
  },
};

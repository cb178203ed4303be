import { finishOf } from '../../livery/finish.ts';
import { isOff } from '../../livery/layer.ts';
import { layersOf } from '../../livery/livery.ts';
import type { Check, Finding } from '../finding.ts';

/** Texels that a mirror must be wide so that it is still one two mip levels on. */
const LEAST = 8;
/** From how much metal, and up to which roughness, it is a mirror. */
const [METAL, ROUGHNESS] = [80, 15];

export const shineTooSmall: Check = {
  key: 'shine-too-small',
  subject: 'bright metal in small marks',
  why: 'Far away the maps of finish are averaged: chrome of a few texels turns into grey paint before its colour is gone.',
  run({ livery, template }) {
    return template.sheets.flatMap((sheet) =>
      layersOf(livery, sheet.key).flatMap((layer): Finding[] => {
        const finish = finishOf(livery, layer.finish);
        if (!finish || layer.on || isOff(layer)) return [];
        if (finish.metal < METAL || finish.roughness > ROUGHNESS) return [];
        // A letter's stems are about a sixth of its height (common practice, no source).
        const width =
          layer.kind === 'stripe' || layer.kind === 'stripe-set'
            ? layer.width
            : layer.kind === 'lettering'
              ? layer.size / 6
              : null;
        if (width === null || width >= LEAST) return [];
        return [
          {
            check: this.key,
            level: 'advice',
            title: `“${finish.name}” is lost on “${layer.name}”`,
            detail: `Its ${layer.kind === 'lettering' ? 'stems are' : 'width is'} about ${Math.round(width)} texels, and ${(width / 4).toFixed(1)} two mip levels on; ${LEAST} keep their shine.`,
            show: { sheet: sheet.key, layer: layer.id },
          },
        ];
      }),
    );
  },
};

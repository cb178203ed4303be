import { boxesOf } from '../../livery/boxes.ts';
import type { Check } from '../finding.ts';

export const boxesTouched: Check = {
  key: 'boxes-touched',
  subject: 'settings in the sheet',
  why: 'Some games read fog, glow and the like from boxes in the sheet; fully clear, a thing is gone from the game.',
  run({ livery, template, plan }) {
    return template.sheets.flatMap((sheet) => {
      const own = sheet.boxes ?? [];
      const delivered = plan.files.some((f) => f.kind === 'sheet' && f.master.key === sheet.key && !f.leftOut);
      if (own.length === 0 || !delivered) return [];
      const now = boxesOf(livery, template, sheet.key);
      const show = { sheet: sheet.key };
      const removed = now.filter(
        (box) => box.hex.endsWith('00') && !own.find(({ key }) => key === box.key)?.hex.endsWith('00'),
      );
      const touched = own.some((box) => now.find(({ key }) => key === box.key)?.hex !== box.hex);
      const advice = (title: string, detail: string) => ({
        check: this.key,
        level: 'advice' as const,
        title,
        detail,
        show,
      });
      return [
        ...(touched
          ? []
          : [
              advice(
                `The ${own.length} settings of ${sheet.name} are as they came`,
                'Fog, glow and the rest keep the game’s own colours. That is fine if it is meant.',
              ),
            ]),
        ...(removed.length > 0
          ? [
              advice(
                `${removed.map((box) => box.name).join(', ')}: gone from the game`,
                'A box that is fully clear takes its thing away. Give it some alpha to keep it.',
              ),
            ]
          : []),
      ];
    });
  },
};

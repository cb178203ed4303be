import { FORMATS } from '../../texture/formats.ts';
import type { Check } from '../finding.ts';

export const sizeMultipleOfFour: Check = {
  key: 'size-multiple-of-four',
  subject: 'sizes',
  why: 'Block compression works on squares of 4 x 4 texels; many games refuse textures that do not divide into them.',
  run({ plan, spec }) {
    return plan.files.flatMap((file) => {
      if (file.kind !== 'sheet' || file.leftOut) return [];
      const { width, height, name } = file.sheet;
      if (Math.max(width, height) > spec.maxSide) {
        return [
          {
            check: this.key,
            level: 'stop' as const,
            title: `Sheet ${name} is too large`,
            detail: `${spec.gameName} takes up to ${spec.maxSide} a side; it is ${width} x ${height}.`,
            show: { sheet: file.master.key },
          },
        ];
      }
      if (FORMATS[file.spec.format].blockBytes === 0 || (width % 4 === 0 && height % 4 === 0)) return [];
      return [
        {
          check: this.key,
          level: 'stop' as const,
          title: `Sheet ${name} does not divide into blocks`,
          detail: `${FORMATS[file.spec.format].name} needs sides that are multiples of 4; it is ${width} x ${height}.`,
          show: { sheet: file.master.key },
        },
      ];
    });
  },
};

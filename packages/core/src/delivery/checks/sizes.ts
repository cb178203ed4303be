import { FORMATS } from '../../texture/formats/index.ts';
import type { Check, Finding } from '../finding.ts';

const isPowerOfTwo = (side: number) => (side & (side - 1)) === 0;

export const sizes: Check = {
  key: 'sizes',
  subject: 'sizes',
  why: 'Block compression works on squares of 4 x 4 texels, and mip levels halve a side again and again; other sizes are refused or blurred.',
  run({ plan, spec }) {
    return plan.files.flatMap((file): Finding[] => {
      if (file.kind !== 'sheet' || file.leftOut || file.level?.at) return [];
      const { width, height, name } = file.sheet;
      const format = FORMATS[file.spec.format];
      const found = (level: Finding['level'], title: string, detail: string): Finding[] => [
        { check: this.key, level, title, detail: `${detail} ${width} x ${height}.`, show: { sheet: file.master.key } },
      ];
      if (Math.max(width, height) > spec.maxSide)
        return found(
          'stop',
          `Sheet ${name} is too large`,
          `${spec.gameName} takes up to ${spec.maxSide} a side; it is`,
        );
      if (format.blockBytes > 0 && (width % 4 !== 0 || height % 4 !== 0))
        return found(
          'stop',
          `Sheet ${name} does not divide into blocks`,
          `${format.name} needs sides that are multiples of 4; it is`,
        );
      // Common practice, no source.
      if ((file.mips > 1 || file.level) && !(isPowerOfTwo(width) && isPowerOfTwo(height)))
        return found(
          'advice',
          `Sheet ${name} has sides that are no powers of two`,
          'Many games refuse or blur mip levels of such sizes; it is',
        );
      return [];
    });
  },
};

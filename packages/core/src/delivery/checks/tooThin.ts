import { isOff } from '../../livery/layer.ts';
import { layersOf } from '../../livery/livery.ts';
import type { Check, Finding } from '../finding.ts';

/** A line of fewer texels is gone, or flickers, once the game shows the next mip level. */
const LINE = 2;
/** Capitals of fewer texels cannot be read at the next mip level: five rows are the least that letters are drawn with (common practice, no source). */
const CAPITAL = 10;

export const tooThin: Check = {
  key: 'too-thin',
  subject: 'lines and letters',
  why: 'Games mostly show a sheet at half its size or less; what is a texel wide is a smear then.',
  run({ livery, template }) {
    return template.sheets.flatMap((sheet) =>
      layersOf(livery, sheet.key).flatMap((layer): Finding[] => {
        if (isOff(layer)) return [];
        const found = (detail: string): Finding[] => [
          {
            check: this.key,
            level: 'advice',
            title: `“${layer.name}” is very fine`,
            detail,
            show: { sheet: sheet.key, layer: layer.id },
          },
        ];
        const n = (value: number) => String(Number(value.toFixed(1)));
        if ((layer.kind === 'stripe' || layer.kind === 'stripe-set') && layer.width < LINE)
          return found(`It is ${n(layer.width)} texels wide, and ${n(layer.width / 2)} at the next mip level.`);
        if (layer.kind === 'lettering' && layer.size < CAPITAL)
          return found(
            `Its capitals are ${n(layer.size)} texels high, and ${n(layer.size / 2)} at the next mip level.`,
          );
        return [];
      }),
    );
  },
};

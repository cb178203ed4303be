import { isOff } from '../../livery/layer.ts';
import { layersOf } from '../../livery/livery.ts';
import { sideFor } from '../../surface/grain.ts';
import { isToldHere, texelsAUnit } from './coverage.ts';
import type { Check, Finding } from '../finding.ts';

/** A line of fewer texels is gone, or flickers, once the game shows the next mip level. */
const LINE = 2;
/** No sheet is larger than this, texels. */
const MOST = 8192;
/** Capitals of fewer texels cannot be read at the next mip level: five rows are the least that letters are drawn with (common practice, no source). */
export const CAPITAL = 10;

export const tooThin: Check = {
  key: 'too-thin',
  subject: 'lines and letters',
  why: 'Games mostly show a sheet at half its size or less; what is a texel wide is a smear then.',
  run(input) {
    const { livery, template } = input;
    return template.sheets.flatMap((sheet) =>
      layersOf(livery, sheet.key).flatMap((layer): Finding[] => {
        if (isOff(layer) || !isToldHere(livery, layer)) return [];
        if (layer.kind !== 'lettering' && layer.kind !== 'stripe' && layer.kind !== 'stripe-set') return [];
        const fine = layer.kind === 'lettering' ? layer.size : layer.width;
        // Of what lies on the model texels are counted where it lies.
        const has = fine * texelsAUnit(input, sheet.key, layer);
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
        if (layer.kind !== 'lettering' && has < LINE)
          return found(`It is ${n(has)} texels wide, and ${n(has / 2)} at the next mip level.`);
        if (layer.kind === 'lettering' && has < CAPITAL) {
          const side = sideFor(Math.max(sheet.width, sheet.height), has, CAPITAL);
          const would = layer.on && side <= MOST ? ` A sheet of ${side} texels would do at this size.` : '';
          return found(`Its capitals are ${n(has)} texels high, and ${n(has / 2)} at the next mip level.${would}`);
        }
        return [];
      }),
    );
  },
};

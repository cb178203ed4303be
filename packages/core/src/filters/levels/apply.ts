import { pow } from '../../colour/steady.ts';
import type { FilterOf } from '../../livery/paint.ts';
import { eachColour, type FilterKind } from '../kind.ts';

const STEPS = 4096;

/** Ends and middle of the values: `black`..`white` to `outBlack`..`outWhite`, bent by `gamma` (over 1: lighter). */
export const levels: FilterKind<FilterOf<'levels'>> = {
  apply(filter, texels) {
    const table = levelsTable(filter);
    const only = { all: -1, red: 0, green: 1, blue: 2 }[filter.channel];
    eachColour(texels, (rgb) => {
      for (let c = 0; c < 3; c++) {
        if (only >= 0 && c !== only) continue;
        const at = rgb[c] >= 1 ? STEPS : rgb[c] * STEPS;
        const low = at | 0;
        rgb[c] = table[low] + (table[low + 1] - table[low]) * (at - low);
      }
    });
  },
};

function levelsTable({ black, white, gamma, outBlack, outWhite }: FilterOf<'levels'>): Float64Array {
  const range = Math.max(1, white - black);
  return Float64Array.from({ length: STEPS + 2 }, (_, i) => {
    const v = ((Math.min(i, STEPS) / STEPS) * 255 - black) / range;
    const clamped = v <= 0 ? 0 : v >= 1 ? 1 : v;
    return (outBlack + (outWhite - outBlack) * (gamma === 1 ? clamped : pow(clamped, 1 / gamma))) / 255;
  });
}

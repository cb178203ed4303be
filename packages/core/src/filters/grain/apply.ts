import type { FilterOf } from '../../livery/paint.ts';
import { noiseAt } from '../../raster/noise.ts';
import type { FilterKind } from '../kind.ts';

/** Lighter and darker specks, of one grey or coloured; alpha stays. */
export const grain: FilterKind<FilterOf<'grain'>> = {
  apply({ amount, size, coloured, seed }, texels, region, { origin }) {
    const by = (amount / 100) * 65535;
    for (let y = 0, i = 0; y < region.height; y++) {
      const v = Math.floor(region.y + (y + 0.5) * region.step - origin.y) / size;
      for (let x = 0; x < region.width; x++, i += 4) {
        const a = texels[i + 3];
        if (a === 0) continue;
        const u = Math.floor(region.x + (x + 0.5) * region.step - origin.x) / size;
        const grey = noiseAt(u, v, seed) - 0.5;
        for (let c = 0; c < 3; c++) {
          const change = (coloured ? noiseAt(u, v, seed + 101 * (c + 1)) - 0.5 : grey) * by;
          const value = texels[i + c] + (change * a) / 65535;
          texels[i + c] = value <= 0 ? 0 : value >= a ? a : (value + 0.5) | 0;
        }
      }
    }
  },
};

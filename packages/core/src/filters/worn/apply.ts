import type { FilterOf } from '../../livery/paint.ts';
import { roughAt } from '../../raster/noise.ts';
import type { FilterKind } from '../kind.ts';

/** Broken coverage: where noise is below `amount` the surface shows through; what is left is faded. */
export const worn: FilterKind<FilterOf<'worn'>> = {
  apply({ amount, size, fade, seed }, texels, region, { origin }) {
    const cut = amount / 100;
    const left = 1 - fade / 100;
    for (let y = 0, i = 0; y < region.height; y++) {
      const v = (region.y + (y + 0.5) * region.step - origin.y) / size;
      for (let x = 0; x < region.width; x++, i += 4) {
        if (texels[i + 3] === 0) continue;
        const u = (region.x + (x + 0.5) * region.step - origin.x) / size;
        // Noise of three octaves lies mostly in the middle: stretched, so that `amount` is near the share that goes.
        const n = (roughAt(u, v, seed) - 0.2) / 0.6;
        const edge = (n - cut) / 0.08 + 0.5;
        const share = amount === 0 ? left : (edge <= 0 ? 0 : edge >= 1 ? 1 : edge) * left;
        for (let c = i; c < i + 4; c++) texels[c] = (texels[c] * share + 0.5) | 0;
      }
    }
  },
};

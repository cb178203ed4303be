import type { FilterOf } from '../../livery/paint.ts';
import { gaussian, reachOf } from '../gaussian.ts';
import type { FilterKind } from '../kind.ts';

/** Unsharp mask: what differs from the softened picture, once more. */
export const sharpen: FilterKind<FilterOf<'sharpen'>> = {
  margin: ({ radius }) => reachOf(radius),
  apply({ radius, amount }, texels, { width, height, step }) {
    const soft = texels.slice();
    gaussian(soft, width, height, 4, radius / step);
    const by = amount / 100;
    for (let i = 0; i < texels.length; i += 4) {
      const a = texels[i + 3];
      for (let c = i; c < i + 3; c++) {
        const v = texels[c] + (texels[c] - soft[c]) * by;
        texels[c] = v <= 0 ? 0 : v >= a ? a : (v + 0.5) | 0;
      }
    }
  },
};

import type { FilterOf } from '../../livery/paint.ts';
import { gaussian, reachOf } from '../gaussian.ts';
import type { FilterKind } from '../kind.ts';

/** Softens with a Gaussian. */
export const blur: FilterKind<FilterOf<'blur'>> = {
  margin: ({ radius }) => reachOf(radius),
  apply({ radius }, texels, { width, height, step }) {
    gaussian(texels, width, height, 4, radius / step);
  },
};

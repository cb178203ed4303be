import { boxOfMesh } from '../triangles.ts';
import type { BakedField } from './kind.ts';

/** From the lowest point of the model to its highest. */
export const height: BakedField = {
  shows: 'by height',
  begin({ positions, ...mesh }) {
    const { low, high } = boxOfMesh({ positions, ...mesh });
    const by = high[1] > low[1] ? 1 / (high[1] - low[1]) : 0;
    return (from, to) =>
      Float32Array.from({ length: to - from }, (_, i) => (positions[(from + i) * 3 + 1] - low[1]) * by);
  },
};

import { boxOfMesh } from '../triangles.ts';
import type { BakedField } from './kind.ts';

/** From the lowest point of the model to its highest. */
export const height: BakedField = {
  shows: 'by height',
  bake(mesh) {
    const { low, high } = boxOfMesh(mesh);
    const by = high[1] > low[1] ? 1 / (high[1] - low[1]) : 0;
    return Float32Array.from(
      { length: mesh.positions.length / 3 },
      (_, i) => (mesh.positions[i * 3 + 1] - low[1]) * by,
    );
  },
};

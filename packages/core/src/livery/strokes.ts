import type { Layer } from './layer.ts';
import { layersIn, type Livery } from './livery.ts';
import type { Stroke } from './paint.ts';

/** What is stored tile by tile: strokes, and coverage that masks begin with. */
export type Stored = Pick<Stroke, 'blob' | 'tiles'>;

/** Everything of a layer that is stored tile by tile. */
export function strokesOf(layer: Layer): Stored[] {
  const own = layer.kind === 'brush' ? layer.strokes : [];
  const { mask } = layer;
  if (!mask) return own;
  return [...own, ...mask.strokes, ...(mask.from.kind === 'coverage' ? [mask.from] : [])];
}

/** Everything of a livery that is stored tile by tile, named selections among it. */
export const strokesIn = (livery: Livery): Stored[] => [
  ...layersIn(livery).flatMap(strokesOf),
  ...(livery.selections ?? []),
];

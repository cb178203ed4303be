import type { Layer } from './layer.ts';
import { layersIn, type Livery } from './livery.ts';
import type { Mask, Stroke } from './paint.ts';

/** What is stored tile by tile: strokes, and coverage that masks begin with. */
export type Stored = Pick<Stroke, 'blob' | 'tiles'>;

/** Everything of a layer that is stored tile by tile. */
export function strokesOf(layer: Layer): Stored[] {
  const own = layer.kind === 'brush' ? layer.strokes : [];
  return layer.mask ? [...own, ...maskStrokes(layer.mask)] : own;
}

/** Everything of a mask that is stored tile by tile. */
export const maskStrokes = ({ from, strokes }: Mask): Stored[] => [
  ...strokes,
  ...(from.kind === 'coverage' ? [from] : []),
];

/** Everything of a livery that is stored tile by tile, named selections among it. */
export const strokesIn = (livery: Livery): Stored[] => [
  ...layersIn(livery).flatMap(strokesOf),
  ...(livery.selections ?? []),
];

import type { Edit } from './edit.ts';
import type { Layer } from './layer.ts';
import { layersIn, type Livery } from './livery.ts';
import { Mask, type Stroke } from './paint.ts';

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

/** The blobs of everything stored tile by tile that an edit brings in. */
export function storedIn(edit: Edit): string[] {
  switch (edit.do) {
    case 'together':
      return edit.edits.flatMap(storedIn);
    case 'add-stroke':
      return [edit.stroke.blob];
    case 'become':
      return strokesIn(edit.livery).map(({ blob }) => blob);
    case 'add-layer':
      return strokesOf(edit.layer).map(({ blob }) => blob);
    case 'add-selection':
      return [edit.selection.blob];
    case 'set-mask':
      return edit.set.from?.kind === 'coverage' ? [edit.set.from.blob] : [];
    case 'set-layer': {
      const mask = Mask.safeParse(edit.set.mask);
      return mask.success && mask.data.from.kind === 'coverage'
        ? [mask.data.from.blob, ...mask.data.strokes.map(({ blob }) => blob)]
        : [];
    }
    default:
      return [];
  }
}

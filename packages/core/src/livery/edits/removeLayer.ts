import { z } from 'zod';
import { siblingsOf } from '../across.ts';
import { LayerId } from '../ids.ts';
import { nothingStored, type EditKind } from './kind.ts';
import { nameOf, placeOf, reaimLayer, withLayers } from './places.ts';

const schema = z.strictObject({ do: z.literal('remove-layer'), layer: LayerId });
type RemoveLayer = z.infer<typeof schema>;

export const removeLayer: EditKind<RemoveLayer> = {
  schema,
  apply(livery, edit) {
    const { sheet, map, layer, index } = placeOf(livery, edit.layer);
    return {
      livery: withLayers(livery, sheet, map, (layers) => layers.toSpliced(index, 1)),
      inverse: { do: 'add-layer', sheet, map, layer, index },
    };
  },
  stored: nothingStored,
  spread: (livery, edit) => siblingsOf(livery, edit.layer).map(({ id }) => ({ ...edit, layer: id })),
  reaim: reaimLayer,
  reads: (livery, { layer }) => `Take out ${nameOf(livery, layer)}`,
};

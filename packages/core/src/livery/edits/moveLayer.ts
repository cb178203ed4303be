import { z } from 'zod';
import { LayerId } from '../ids.ts';
import { nothingStored, staysHere, type EditKind } from './kind.ts';
import { aimedLayer, aimedMap, nameOf, placeOf, withLayers } from './places.ts';

/** `index` is the place among the layers once the moved one is taken out. */
const schema = z.strictObject({
  do: z.literal('move-layer'),
  layer: LayerId,
  sheet: z.string(),
  map: z.string(),
  index: z.number().int().min(0),
});
type MoveLayer = z.infer<typeof schema>;

export const moveLayer: EditKind<MoveLayer> = {
  schema,
  apply(livery, edit) {
    const { sheet, map, layer, index } = placeOf(livery, edit.layer);
    const without = withLayers(livery, sheet, map, (layers) => layers.toSpliced(index, 1));
    const next = withLayers(without, edit.sheet, edit.map, (layers) =>
      layers.toSpliced(Math.min(edit.index, layers.length), 0, layer),
    );
    return { livery: next, inverse: { do: 'move-layer', layer: edit.layer, sheet, map, index } };
  },
  stored: nothingStored,
  // A layer's place in the build-up is each sheet's own.
  spread: staysHere,
  reaim(livery, edit, aim) {
    const layer = aimedLayer(livery, edit.layer, aim);
    return layer && { ...edit, layer, ...aimedMap(livery, edit, aim) };
  },
  reads: (livery, { layer }) => `Move ${nameOf(livery, layer)} in the build-up`,
};

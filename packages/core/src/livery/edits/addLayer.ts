import { z } from 'zod';
import { InputError } from '../../errors.ts';
import { newLayerId } from '../ids.ts';
import { Layer } from '../layer.ts';
import { strokesOf } from '../strokes.ts';
import { staysHere, type EditKind } from './kind.ts';
import { aimedMap, isThere, withLayers } from './places.ts';

const schema = z.strictObject({
  do: z.literal('add-layer'),
  sheet: z.string(),
  map: z.string(),
  layer: Layer,
  index: z.number().int().min(0),
});
type AddLayer = z.infer<typeof schema>;

export const addLayer: EditKind<AddLayer> = {
  schema,
  apply(livery, { sheet, map, layer, index }) {
    if (isThere(livery, layer.id)) throw new InputError('A layer with this id is there already.');
    return {
      livery: withLayers(livery, sheet, map, (layers) => layers.toSpliced(Math.min(index, layers.length), 0, layer)),
      inverse: { do: 'remove-layer', layer: layer.id },
    };
  },
  stored: ({ layer }) => strokesOf(layer).map(({ blob }) => blob),
  spread: staysHere,
  reaim(livery, edit, aim) {
    const layer = isThere(livery, edit.layer.id) ? { ...edit.layer, id: newLayerId() } : edit.layer;
    return { ...edit, layer, ...aimedMap(livery, edit, aim) };
  },
  reads: (_livery, { layer }) => `Add ${layer.name}`,
};

import { z } from 'zod';
import { InputError } from '../../errors.ts';
import { LayerId } from '../ids.ts';
import { Stroke } from '../paint.ts';
import { staysHere, type EditKind } from './kind.ts';
import { nameOf, placeOf, reaimLayer, strokesOn, withStrokes } from './places.ts';

/** Strokes are added one by one, so that those of two people on one layer both stay. `on`: the layer's picture, or its mask. */
const schema = z.strictObject({
  do: z.literal('add-stroke'),
  layer: LayerId,
  on: z.enum(['layer', 'mask']),
  stroke: Stroke,
  /** Left out: last. */
  index: z.number().int().min(0).optional(),
});
type AddStroke = z.infer<typeof schema>;

export const addStroke: EditKind<AddStroke> = {
  schema,
  apply(livery, { layer, on, stroke, index }) {
    const at = placeOf(livery, layer);
    const strokes = strokesOn(at.layer, on);
    if (strokes.some(({ id }) => id === stroke.id)) throw new InputError('This stroke is there already.');
    return {
      livery: withStrokes(livery, at, on, strokes.toSpliced(index ?? strokes.length, 0, stroke)),
      inverse: { do: 'remove-stroke', layer, on, stroke: stroke.id },
    };
  },
  stored: ({ stroke }) => [stroke.blob],
  // Tiles are a sheet's own: a stroke over several is one edit on each.
  spread: staysHere,
  reaim: reaimLayer,
  reads: (livery, { layer, on }) => `Paint on ${on === 'mask' ? 'the mask of ' : ''}${nameOf(livery, layer)}`,
};

import { z } from 'zod';
import { LayerId } from '../ids.ts';
import { nothingStored, staysHere, TargetGone, type EditKind } from './kind.ts';
import { nameOf, placeOf, reaimLayer, strokesOn, withStrokes } from './places.ts';

const schema = z.strictObject({
  do: z.literal('remove-stroke'),
  layer: LayerId,
  on: z.enum(['layer', 'mask']),
  stroke: z.string(),
});
type RemoveStroke = z.infer<typeof schema>;

export const removeStroke: EditKind<RemoveStroke> = {
  schema,
  apply(livery, { layer, on, stroke }) {
    const at = placeOf(livery, layer);
    const strokes = strokesOn(at.layer, on);
    const index = strokes.findIndex(({ id }) => id === stroke);
    if (index < 0) throw new TargetGone('The stroke that this change is for is no longer there.');
    return {
      livery: withStrokes(livery, at, on, strokes.toSpliced(index, 1)),
      inverse: { do: 'add-stroke', layer, on, stroke: strokes[index], index },
    };
  },
  stored: nothingStored,
  spread: staysHere,
  reaim: reaimLayer,
  reads: (livery, { layer, on }) => `Take a stroke off ${on === 'mask' ? 'the mask of ' : ''}${nameOf(livery, layer)}`,
};

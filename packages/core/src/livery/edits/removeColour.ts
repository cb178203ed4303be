import { z } from 'zod';
import { ColourId } from '../ids.ts';
import { nothingStored, staysHere, type EditKind } from './kind.ts';
import { colourIndex } from './places.ts';

const schema = z.strictObject({ do: z.literal('remove-colour'), colour: ColourId });
type RemoveColour = z.infer<typeof schema>;

export const removeColour: EditKind<RemoveColour> = {
  schema,
  apply(livery, edit) {
    const index = colourIndex(livery, edit.colour);
    return {
      livery: { ...livery, scheme: livery.scheme.toSpliced(index, 1) },
      inverse: { do: 'add-colour', colour: livery.scheme[index], index },
    };
  },
  stored: nothingStored,
  spread: staysHere,
  reaim: (livery, edit) => (livery.scheme.some(({ id }) => id === edit.colour) ? edit : null),
  reads: (livery, { colour }) => `Take out ${livery.scheme.find(({ id }) => id === colour)?.name ?? 'a colour'}`,
};

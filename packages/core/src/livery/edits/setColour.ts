import { z } from 'zod';
import { ColourId } from '../ids.ts';
import { SchemeColour } from '../livery.ts';
import { nothingStored, staysHere, type EditKind } from './kind.ts';
import { colourIndex, valuesBefore } from './places.ts';

const schema = z.strictObject({
  do: z.literal('set-colour'),
  colour: ColourId,
  set: SchemeColour.omit({ id: true }).partial(),
});
type SetColour = z.infer<typeof schema>;

export const setColour: EditKind<SetColour> = {
  schema,
  apply(livery, { colour, set }) {
    const index = colourIndex(livery, colour);
    const before = livery.scheme[index];
    return {
      livery: { ...livery, scheme: livery.scheme.with(index, { ...before, ...set }) },
      inverse: { do: 'set-colour', colour, set: valuesBefore(before, set) },
    };
  },
  stored: nothingStored,
  spread: staysHere,
  reaim: (livery, edit) => (livery.scheme.some(({ id }) => id === edit.colour) ? edit : null),
  reads(livery, { colour, set }) {
    const name = livery.scheme.find(({ id }) => id === colour)?.name ?? 'a colour';
    return set.name === undefined ? `Change ${name} to ${set.hex ?? 'what it is'}` : `Call ${name} ${set.name}`;
  },
};

import { z } from 'zod';
import { InputError } from '../../errors.ts';
import { newColourId } from '../ids.ts';
import { SchemeColour } from '../livery.ts';
import { nothingStored, staysHere, type EditKind } from './kind.ts';

const schema = z.strictObject({ do: z.literal('add-colour'), colour: SchemeColour, index: z.number().int().min(0) });
type AddColour = z.infer<typeof schema>;

export const addColour: EditKind<AddColour> = {
  schema,
  apply(livery, { colour, index }) {
    if (livery.scheme.some(({ id }) => id === colour.id))
      throw new InputError('A colour with this id is there already.');
    const scheme = livery.scheme.toSpliced(Math.min(index, livery.scheme.length), 0, colour);
    return { livery: { ...livery, scheme }, inverse: { do: 'remove-colour', colour: colour.id } };
  },
  stored: nothingStored,
  spread: staysHere,
  reaim(livery, edit) {
    const taken = livery.scheme.some(({ id }) => id === edit.colour.id);
    return taken ? { ...edit, colour: { ...edit.colour, id: newColourId() } } : edit;
  },
  reads: (_livery, { colour }) => `Take ${colour.name} into the scheme`,
};

import { z } from 'zod';
import { InputError } from '../../errors.ts';
import { Selection } from '../livery.ts';
import { staysHere, type EditKind } from './kind.ts';
import { withFreeId } from './places.ts';

const schema = z.strictObject({ do: z.literal('add-selection'), selection: Selection });
type AddSelection = z.infer<typeof schema>;

export const addSelection: EditKind<AddSelection> = {
  schema,
  apply(livery, { selection }) {
    const all = livery.selections ?? [];
    if (all.some(({ id }) => id === selection.id)) throw new InputError('A selection with this id is there already.');
    return {
      livery: { ...livery, selections: [...all, selection] },
      inverse: { do: 'remove-selection', selection: selection.id },
    };
  },
  stored: ({ selection }) => [selection.blob],
  spread: staysHere,
  reaim: (livery, edit) => ({ ...edit, selection: withFreeId(livery.selections, edit.selection) }),
  reads: (_livery, { selection }) => `Keep the selection ${selection.name}`,
};

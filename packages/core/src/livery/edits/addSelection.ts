import { z } from 'zod';
import { Selection } from '../livery.ts';
import { staysHere, type EditKind } from './kind.ts';
import { withFreeId, withOne } from './places.ts';

const schema = z.strictObject({ do: z.literal('add-selection'), selection: Selection });
type AddSelection = z.infer<typeof schema>;

export const addSelection: EditKind<AddSelection> = {
  schema,
  apply(livery, { selection }) {
    return {
      livery: {
        ...livery,
        selections: withOne(livery.selections, selection, 'A selection with this id is there already.'),
      },
      inverse: { do: 'remove-selection', selection: selection.id },
    };
  },
  stored: ({ selection }) => [selection.blob],
  spread: staysHere,
  reaim: (livery, edit) => ({ ...edit, selection: withFreeId(livery.selections, edit.selection) }),
  reads: (_livery, { selection }) => `Keep the selection ${selection.name}`,
};

import { z } from 'zod';
import { nothingStored, staysHere, type EditKind } from './kind.ts';
import { withList, withoutOne } from './places.ts';

const schema = z.strictObject({ do: z.literal('remove-selection'), selection: z.string() });
type RemoveSelection = z.infer<typeof schema>;

export const removeSelection: EditKind<RemoveSelection> = {
  schema,
  apply(livery, { selection }) {
    const { found, rest } = withoutOne(
      livery.selections,
      selection,
      'The selection that this change is for is no longer there.',
    );
    return { livery: withList(livery, 'selections', rest), inverse: { do: 'add-selection', selection: found } };
  },
  stored: nothingStored,
  spread: staysHere,
  // What it is for is named in it, and there is no other.
  reaim: (_livery, edit) => edit,
  reads: (livery, { selection }) =>
    `Let ${livery.selections?.find(({ id }) => id === selection)?.name ?? 'a selection'} go`,
};

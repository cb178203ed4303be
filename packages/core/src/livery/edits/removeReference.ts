import { z } from 'zod';
import { nothingStored, staysHere, type EditKind } from './kind.ts';
import { withList, withoutOne } from './places.ts';

const schema = z.strictObject({ do: z.literal('remove-reference'), reference: z.string() });
type RemoveReference = z.infer<typeof schema>;

export const removeReference: EditKind<RemoveReference> = {
  schema,
  apply(livery, { reference }) {
    const { found, rest } = withoutOne(
      livery.references,
      reference,
      'The reference picture that this change is for is no longer there.',
    );
    return { livery: withList(livery, 'references', rest), inverse: { do: 'add-reference', reference: found } };
  },
  stored: nothingStored,
  spread: staysHere,
  reaim: (_livery, edit) => edit,
  reads: (livery, { reference }) =>
    `Unpin ${livery.references?.find(({ id }) => id === reference)?.name ?? 'a picture'}`,
};

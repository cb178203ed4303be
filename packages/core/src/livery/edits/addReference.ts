import { z } from 'zod';
import { Reference } from '../livery.ts';
import { nothingStored, staysHere, type EditKind } from './kind.ts';
import { withFreeId, withOne } from './places.ts';

const schema = z.strictObject({ do: z.literal('add-reference'), reference: Reference });
type AddReference = z.infer<typeof schema>;

export const addReference: EditKind<AddReference> = {
  schema,
  apply(livery, { reference }) {
    return {
      livery: {
        ...livery,
        references: withOne(livery.references, reference, 'A reference with this id is there already.'),
      },
      inverse: { do: 'remove-reference', reference: reference.id },
    };
  },
  stored: nothingStored,
  spread: staysHere,
  reaim: (livery, edit) => ({ ...edit, reference: withFreeId(livery.references, edit.reference) }),
  reads: (_livery, { reference }) => `Pin ${reference.name}`,
};

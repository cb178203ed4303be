import { z } from 'zod';
import { Reference } from '../livery.ts';
import { nothingStored, staysHere, type EditKind } from './kind.ts';
import { listed, valuesBefore } from './places.ts';

const schema = z.strictObject({
  do: z.literal('move-reference'),
  reference: z.string(),
  set: Reference.pick({ left: true, top: true, width: true, height: true, pairs: true }).partial(),
});
type MoveReference = z.infer<typeof schema>;

export const moveReference: EditKind<MoveReference> = {
  schema,
  apply(livery, { reference, set }) {
    const { references = [] } = livery;
    const found = listed(references, reference, 'The reference picture that this change is for is no longer there.');
    return {
      livery: { ...livery, references: references.with(references.indexOf(found), { ...found, ...set }) },
      inverse: { do: 'move-reference', reference, set: valuesBefore(found, set) },
    };
  },
  stored: nothingStored,
  spread: staysHere,
  reaim: (_livery, edit) => edit,
  reads: (livery, { reference }) =>
    `Move ${livery.references?.find(({ id }) => id === reference)?.name ?? 'a picture'}`,
};

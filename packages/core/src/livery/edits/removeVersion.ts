import { z } from 'zod';
import { nothingStored, staysHere, type EditKind } from './kind.ts';
import { withList, withoutOne } from './places.ts';

const schema = z.strictObject({ do: z.literal('remove-version'), version: z.string() });
type RemoveVersion = z.infer<typeof schema>;

export const removeVersion: EditKind<RemoveVersion> = {
  schema,
  apply(livery, { version }) {
    const { found, rest } = withoutOne(livery.versions, version, 'This version no longer has a name.');
    return { livery: withList(livery, 'versions', rest), inverse: { do: 'add-version', version: found } };
  },
  stored: nothingStored,
  spread: staysHere,
  reaim: (_livery, edit) => edit,
  reads: (livery, { version }) => `Forget version ${livery.versions?.find(({ id }) => id === version)?.name ?? ''}`,
};

import { z } from 'zod';
import { nothingStored, staysHere, type EditKind } from './kind.ts';
import { listed, withList } from './places.ts';

const schema = z.strictObject({ do: z.literal('remove-version'), version: z.string() });
type RemoveVersion = z.infer<typeof schema>;

export const removeVersion: EditKind<RemoveVersion> = {
  schema,
  apply(livery, { version }) {
    const { versions = [] } = livery;
    const found = listed(versions, version, 'This version no longer has a name.');
    return {
      livery: withList(
        livery,
        'versions',
        versions.filter((one) => one !== found),
      ),
      inverse: { do: 'add-version', version: found },
    };
  },
  stored: nothingStored,
  spread: staysHere,
  reaim: (_livery, edit) => edit,
  reads: (livery, { version }) => `Forget version ${livery.versions?.find(({ id }) => id === version)?.name ?? ''}`,
};

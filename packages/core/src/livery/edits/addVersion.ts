import { z } from 'zod';
import { Version } from '../livery.ts';
import { nothingStored, staysHere, type EditKind } from './kind.ts';
import { withFreeId, withOne } from './places.ts';

const schema = z.strictObject({ do: z.literal('add-version'), version: Version });
type AddVersion = z.infer<typeof schema>;

export const addVersion: EditKind<AddVersion> = {
  schema,
  apply(livery, { version }) {
    return {
      livery: { ...livery, versions: withOne(livery.versions, version, 'A version with this id is there already.') },
      inverse: { do: 'remove-version', version: version.id },
    };
  },
  stored: nothingStored,
  spread: staysHere,
  reaim: (livery, edit) => ({ ...edit, version: withFreeId(livery.versions, edit.version) }),
  reads: (_livery, { version }) => `Keep this state as ${version.name}`,
};

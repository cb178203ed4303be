import { z } from 'zod';
import { InputError } from '../../errors.ts';
import { Particulars } from '../livery.ts';
import { words } from '../words.ts';
import { nothingStored, staysHere, type EditKind } from './kind.ts';

const schema = z.strictObject({ do: z.literal('set-particular'), key: z.string(), value: words(200).nullable() });
type SetParticular = z.infer<typeof schema>;

export const setParticular: EditKind<SetParticular> = {
  schema,
  apply(livery, { key, value }) {
    const before = Object.hasOwn(livery.particulars, key) ? livery.particulars[key] : null;
    const particulars = { ...livery.particulars };
    if (value === null) delete particulars[key];
    else particulars[key] = value;
    if (!Particulars.safeParse(particulars).success)
      throw new InputError(`"${key}" cannot be the name of a particular: use letters only.`);
    return { livery: { ...livery, particulars }, inverse: { do: 'set-particular', key, value: before } };
  },
  stored: nothingStored,
  spread: staysHere,
  reaim: (_livery, edit) => edit,
  reads: (_livery, { key, value }) =>
    value === null ? `Take out ${key}` : value === '' ? `Add ${key}` : `Set ${key} to ${value}`,
};

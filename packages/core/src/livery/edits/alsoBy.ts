import { z } from 'zod';
import { InputError } from '../../errors.ts';
import { SpecPin } from '../livery.ts';
import { nothingStored, staysHere, type EditKind } from './kind.ts';

/** By which specs it is delivered beside its own. */
const schema = z.strictObject({ do: z.literal('also-by'), specs: z.array(SpecPin).max(8) });
type AlsoBy = z.infer<typeof schema>;

export const alsoBy: EditKind<AlsoBy> = {
  schema,
  apply(livery, { specs }) {
    const { alsoBy: before = [], ...rest } = livery;
    const keys = [livery.pins.spec, ...specs].map(({ key }) => key);
    if (new Set(keys).size < keys.length) throw new InputError('A livery goes to each delivery spec once.');
    return {
      livery: specs.length > 0 ? { ...rest, alsoBy: specs } : rest,
      inverse: { do: 'also-by', specs: before },
    };
  },
  stored: nothingStored,
  spread: staysHere,
  reaim: (_livery, edit) => edit,
  reads: (_livery, { specs }) =>
    specs.length > 0 ? `Deliver also by ${specs.map(({ key }) => key).join(', ')}` : 'Deliver by its own spec alone',
};

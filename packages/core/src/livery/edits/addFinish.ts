import { z } from 'zod';
import { InputError } from '../../errors.ts';
import { finishesOf, LiveryFinish } from '../finish.ts';
import { newFinishId } from '../ids.ts';
import { MOST } from '../limits.ts';
import { nothingStored, staysHere, type EditKind } from './kind.ts';
import { withFinishes } from './places.ts';

const schema = z.strictObject({ do: z.literal('add-finish'), finish: LiveryFinish, index: z.number().int().min(0) });
type AddFinish = z.infer<typeof schema>;

export const addFinish: EditKind<AddFinish> = {
  schema,
  apply(livery, { finish, index }) {
    const before = finishesOf(livery);
    if (before.some(({ id }) => id === finish.id)) throw new InputError('A finish with this id is there already.');
    if (before.length >= MOST.finishes) throw new InputError(`A livery has ${MOST.finishes} finishes at most.`);
    const finishes = before.toSpliced(Math.min(index, before.length), 0, finish);
    return { livery: withFinishes(livery, finishes), inverse: { do: 'remove-finish', finish: finish.id } };
  },
  stored: nothingStored,
  spread: staysHere,
  reaim(livery, edit) {
    const taken = finishesOf(livery).some(({ id }) => id === edit.finish.id);
    return taken ? { ...edit, finish: { ...edit.finish, id: newFinishId() } } : edit;
  },
  reads: (_livery, { finish }) => `Take in the finish ${finish.name}`,
};

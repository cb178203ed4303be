import { z } from 'zod';
import { InputError } from '../../errors.ts';
import { finishesOf, finishOf } from '../finish.ts';
import { FinishId } from '../ids.ts';
import { nothingStored, staysHere, type EditKind } from './kind.ts';
import { finishIndex, withFinishes } from './places.ts';

const schema = z.strictObject({ do: z.literal('remove-finish'), finish: FinishId });
type RemoveFinish = z.infer<typeof schema>;

export const removeFinish: EditKind<RemoveFinish> = {
  schema,
  apply(livery, edit) {
    const index = finishIndex(livery, edit.finish);
    const before = finishesOf(livery);
    if (before.length === 1) throw new InputError('A livery has one finish at least.');
    return {
      livery: withFinishes(livery, before.toSpliced(index, 1)),
      inverse: { do: 'add-finish', finish: before[index], index },
    };
  },
  stored: nothingStored,
  spread: staysHere,
  reaim: (livery, edit) => (finishOf(livery, edit.finish) ? edit : null),
  reads: (livery, { finish }) => `Take out the finish ${finishOf(livery, finish)?.name ?? ''}`.trim(),
};

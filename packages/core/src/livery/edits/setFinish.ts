import { z } from 'zod';
import { finishesOf, finishOf, Flake, LiveryFinish } from '../finish.ts';
import { FinishId } from '../ids.ts';
import { nothingStored, staysHere, type EditKind } from './kind.ts';
import { finishIndex, withFinishes } from './places.ts';

/** Only the named values change; flake null: there is none. */
const schema = z.strictObject({
  do: z.literal('set-finish'),
  finish: FinishId,
  set: LiveryFinish.omit({ id: true, flake: true }).extend({ flake: Flake.nullable() }).partial(),
});
type SetFinish = z.infer<typeof schema>;

export const setFinish: EditKind<SetFinish> = {
  schema,
  apply(livery, { finish, set }) {
    const index = finishIndex(livery, finish);
    const all = finishesOf(livery);
    const before = all[index];
    const { flake, ...rest } = { ...before, ...set };
    const keys = Object.keys(set) as (keyof SetFinish['set'])[];
    return {
      livery: withFinishes(livery, all.with(index, flake ? { ...rest, flake } : rest)),
      inverse: {
        do: 'set-finish',
        finish,
        set: Object.fromEntries(keys.map((key) => [key, before[key] ?? null])),
      },
    };
  },
  stored: nothingStored,
  spread: staysHere,
  reaim: (livery, edit) => (finishOf(livery, edit.finish) ? edit : null),
  reads(livery, { finish, set }) {
    const name = finishOf(livery, finish)?.name ?? 'a finish';
    return set.name === undefined ? `Set ${Object.keys(set).join(', ')} of ${name}` : `Call ${name} ${set.name}`;
  },
};

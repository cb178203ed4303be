/** Entry of a thread of the pool. InputErrors cross as plain messages with a mark, since classes do not survive the crossing. */
import { InputError } from '@wet-lacquer/core/errors.ts';
import * as encoding from './encoding.ts';
import type * as tasks from './tasks.ts';

export type TaskName = keyof typeof tasks;

/** Most threads only filter and encode: the rest, with all that it needs, is loaded when it is first asked for. */
const others = () => import('./tasks.ts');

interface Asked {
  name: TaskName;
  task: never;
  /** Told that a thread has it. */
  taken: Int32Array;
}

export default async function run({ name, task, taken }: Asked): Promise<unknown> {
  Atomics.store(taken, 0, 1);
  try {
    const from = name in encoding ? encoding : await others();
    return { value: await (from[name as keyof typeof from] as (task: never) => Promise<unknown>)(task) };
  } catch (error) {
    if (error instanceof InputError) return { inputError: error.message };
    throw error;
  }
}

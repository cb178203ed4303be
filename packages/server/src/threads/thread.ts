/** Entry of a thread of the pool. InputErrors cross as plain messages with a mark, since classes do not survive the crossing. */
import { InputError } from '@wet-lacquer/core/errors.ts';
import * as tasks from './tasks.ts';

export type TaskName = keyof typeof tasks;

export default async function run({ name, task }: { name: TaskName; task: never }): Promise<unknown> {
  try {
    return { value: await (tasks[name] as (task: never) => Promise<unknown>)(task) };
  } catch (error) {
    if (error instanceof InputError) return { inputError: error.message };
    throw error;
  }
}

/** Entry of a thread of the pool. InputErrors cross as plain messages with a mark, since classes do not survive the crossing. */
import { readlinkSync } from 'node:fs';
import os from 'node:os';
import { InputError } from '@wet-lacquer/core/errors.ts';
import * as encoding from './encoding.ts';
import type * as tasks from './tasks.ts';

export type TaskName = keyof typeof tasks;

/**
 * Heavy work gives way to whoever answers: a step is acknowledged while deliveries have every processor. On Linux each thread has a priority of
 * its own (setpriority(2)), and this link is the thread that reads it (proc(5)); elsewhere all stays as it is.
 */
function giveWay(): void {
  try {
    const thread = Number(readlinkSync('/proc/thread-self').split('/').at(-1));
    os.setPriority(thread, os.constants.priority.PRIORITY_BELOW_NORMAL);
  } catch {
    // A system without it.
  }
}
giveWay();

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

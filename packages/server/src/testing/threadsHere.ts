import * as tasks from '@wet-lacquer/node/threads/tasks.ts';
import type { Pool } from '@wet-lacquer/node/threads/pool.ts';

/** The work of the threads, done where it is asked for. */
export const threadsHere = {
  run: async (name: keyof typeof tasks, task: never) => (tasks[name] as (task: never) => unknown)(task),
} as Pick<Pool, 'run'>;

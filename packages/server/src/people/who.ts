/** Who asks: known to whatever works on a request, however deep. */
import { AsyncLocalStorage } from 'node:async_hooks';

/** Somebody who is signed in. */
export interface Painter {
  is: 'painter';
  id: string;
  name: string;
  keeper: boolean;
  session: string;
  /** When this browser signed in. */
  since: Date;
}
/** Somebody with a link to look at one livery, and no account. */
export interface Looker {
  is: 'looker';
  livery: string;
}
/** null: sign-in is off, or nobody is known. */
export type Who = Painter | Looker | null;

const now = new AsyncLocalStorage<Who>();

export const asWho = <T>(who: Who, work: () => T): T => now.run(who, work);

/** The painter for whom something is done; null: nobody, or sign-in is off. */
export function painterNow(): Painter | null {
  const who = now.getStore();
  return who?.is === 'painter' ? who : null;
}

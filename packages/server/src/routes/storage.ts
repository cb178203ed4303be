import type { Stored } from '@wet-lacquer/sync/answers.ts';
import { answer } from './http.ts';
import { guarded, type Guarded } from '../people/guard.ts';
import type { Services } from '../host/services.ts';
import { freeBytes } from '../host/health.ts';
import { storageOf } from '../store/sweep.ts';

/** What is stored, livery by livery, and how much room there is. */
export function storage({ db, config }: Services): Guarded {
  const router = guarded();
  router.get('/', 'keepers', async (_req, res) => {
    answer<Stored>(res, { ...(await storageOf(db)), free: await freeBytes(config.data) });
  });
  return router;
}

import type { Asks } from './messages.ts';
import { WorkerClient } from './workerClient.ts';

/** The page's side of one render worker. */
export class RenderClient extends WorkerClient<Asks> {
  constructor() {
    super(new Worker(new URL('./render.worker.ts', import.meta.url), { type: 'module' }));
  }
}

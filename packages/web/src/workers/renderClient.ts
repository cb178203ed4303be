import type { AnswerMessage, AskName, Asks } from './messages.ts';

/** The page's side of one render worker. */
export class RenderClient {
  private readonly worker = new Worker(new URL('./render.worker.ts', import.meta.url), { type: 'module' });
  private readonly waiting = new Map<number, { resolve(answer: never): void; reject(error: Error): void }>();
  private next = 1;

  constructor() {
    this.worker.onmessage = ({ data }: MessageEvent<AnswerMessage>) => {
      const waits = this.waiting.get(data.n);
      this.waiting.delete(data.n);
      if ('error' in data) waits?.reject(new Error(data.error));
      else waits?.resolve(data.answer as never);
    };
    this.worker.onerror = (event) => {
      for (const waits of this.waiting.values()) waits.reject(new Error(event.message || 'The renderer has stopped.'));
      this.waiting.clear();
    };
  }

  ask<K extends AskName>(name: K, ask: Asks[K]['ask']): Promise<Asks[K]['answer']> {
    const n = this.next++;
    return new Promise((resolve, reject) => {
      this.waiting.set(n, { resolve, reject });
      this.worker.postMessage({ n, name, ask });
    });
  }

  close(): void {
    this.worker.terminate();
    for (const waits of this.waiting.values()) waits.reject(new Error('closed'));
    this.waiting.clear();
  }
}

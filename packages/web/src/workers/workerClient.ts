/** Questions and answers between the page and a worker. */

export type AsksShape = Record<string, { ask: unknown; answer: unknown }>;
interface AskMessage {
  n: number;
  name: string;
  ask: unknown;
}
type AnswerMessage = { n: number; answer: unknown } | { n: number; error: string } | { news: unknown };

/** The page's side of one worker. */
export class WorkerClient<A extends AsksShape, News = never> {
  private readonly waiting = new Map<number, { resolve(answer: never): void; reject(error: Error): void }>();
  private next = 1;

  /** @param onNews takes what the worker says unasked */
  constructor(
    private readonly worker: Worker,
    onNews?: (news: News) => void,
  ) {
    worker.onmessage = ({ data }: MessageEvent<AnswerMessage>) => {
      if ('news' in data) return onNews?.(data.news as News);
      const waits = this.waiting.get(data.n);
      this.waiting.delete(data.n);
      if ('error' in data) waits?.reject(new Error(data.error));
      else waits?.resolve(data.answer as never);
    };
    worker.onerror = (event) => {
      for (const waits of this.waiting.values()) waits.reject(new Error(event.message || 'The renderer has stopped.'));
      this.waiting.clear();
    };
  }

  ask<K extends keyof A & string>(name: K, ask: A[K]['ask']): Promise<A[K]['answer']> {
    const n = this.next++;
    return new Promise((resolve, reject) => {
      this.waiting.set(n, { resolve, reject });
      this.worker.postMessage({ n, name, ask } satisfies AskMessage);
    });
  }

  close(): void {
    this.worker.terminate();
    for (const waits of this.waiting.values()) waits.reject(new Error('closed'));
    this.waiting.clear();
  }
}

export type Answers<A extends AsksShape> = {
  [K in keyof A]: (ask: A[K]['ask']) => Promise<A[K]['answer']> | A[K]['answer'];
};

/** The worker's side: answers by name; typed arrays of an answer are handed over, not copied. */
export function serve<A extends AsksShape>(answers: Answers<A>): void {
  self.onmessage = async ({ data }: MessageEvent<AskMessage>) => {
    const reply = (message: AnswerMessage, transfer: Transferable[] = []) => self.postMessage(message, { transfer });
    try {
      const answer = await answers[data.name as keyof A](data.ask);
      const parts = Array.isArray(answer)
        ? answer.flatMap((one) => Object.values(one as object))
        : answer && typeof answer === 'object'
          ? Object.values(answer)
          : [];
      reply(
        { n: data.n, answer },
        parts.filter((part) => ArrayBuffer.isView(part)).map((part) => part.buffer as ArrayBuffer),
      );
    } catch (error) {
      reply({ n: data.n, error: error instanceof Error ? error.message : String(error) });
    }
  };
}

/** Says something unasked. */
export function tell(news: unknown): void {
  self.postMessage({ news });
}

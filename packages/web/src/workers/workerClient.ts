/** Questions and answers between the page and a worker. */

export type AsksShape = Record<string, { ask: unknown; answer: unknown }>;
interface AskMessage {
  n: number;
  name: string;
  ask: unknown;
}
type AnswerMessage = { n: number; answer: unknown } | { n: number; error: string } | { news: unknown };

/** A worker could not be started, however often it was tried: others may be asked instead. */
export class LostWorker extends Error {
  override name = 'LostWorker';
}

/** How often a worker whose script does not load is started, and how long after. */
const STARTS = 3;
const AGAIN_MS = 400;

/** The page's side of one worker. */
export class WorkerClient<A extends AsksShape, News = never> {
  private readonly waiting = new Map<
    number,
    { message: AskMessage; resolve(answer: never): void; reject(error: Error): void }
  >();
  private next = 1;
  private worker: Worker | null = null;
  private closed = false;
  private starts = 0;
  /** It could not be started. */
  lost = false;

  /**
   * @param start makes the worker; one whose script does not load is made again
   * @param onNews takes what the worker says unasked
   * @param after it is started then: questions wait until then
   */
  constructor(
    private readonly start: () => Worker,
    private readonly onNews?: (news: News) => void,
    after?: Promise<unknown>,
  ) {
    if (after) void after.then(() => this.begin());
    else this.begin();
  }

  private begin(): void {
    if (this.closed) return;
    const worker = this.start();
    this.worker = worker;
    this.starts++;
    worker.onmessage = ({ data }: MessageEvent<AnswerMessage>) => {
      if ('news' in data) return this.onNews?.(data.news as News);
      const waits = this.waiting.get(data.n);
      this.waiting.delete(data.n);
      if ('error' in data) waits?.reject(new Error(data.error));
      else waits?.resolve(data.answer as never);
    };
    worker.onerror = (event) => {
      // A fault in a script that runs has words; one that never came has none, and nothing it was asked was done.
      if (!event.message && this.starts < STARTS) {
        worker.terminate();
        this.worker = null;
        setTimeout(() => this.begin(), AGAIN_MS);
        return;
      }
      this.lost = !event.message;
      const error = event.message ? new Error(event.message) : new LostWorker('A renderer could not be started.');
      for (const waits of this.waiting.values()) waits.reject(error);
      this.waiting.clear();
    };
    for (const { message } of this.waiting.values()) worker.postMessage(message);
  }

  ask<K extends keyof A & string>(name: K, ask: A[K]['ask']): Promise<A[K]['answer']> {
    const n = this.next++;
    if (this.lost) return Promise.reject(new LostWorker('A renderer could not be started.'));
    return new Promise((resolve, reject) => {
      const message: AskMessage = { n, name, ask };
      this.waiting.set(n, { message, resolve, reject });
      this.worker?.postMessage(message);
    });
  }

  close(): void {
    this.closed = true;
    this.worker?.terminate();
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
export function sendNews(news: unknown): void {
  self.postMessage({ news });
}

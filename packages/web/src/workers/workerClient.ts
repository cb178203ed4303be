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
  private worker: Worker | null = null;
  /** What was asked before the worker was there. */
  private early: AskMessage[] = [];
  private closed = false;

  /**
   * @param worker or when it will be there: questions wait until then
   * @param onNews takes what the worker says unasked
   */
  constructor(
    worker: Worker | Promise<Worker>,
    private readonly onNews?: (news: News) => void,
  ) {
    if (worker instanceof Promise) void worker.then((made) => this.begin(made));
    else this.begin(worker);
  }

  private begin(worker: Worker): void {
    if (this.closed) return worker.terminate();
    this.worker = worker;
    worker.onmessage = ({ data }: MessageEvent<AnswerMessage>) => {
      if ('news' in data) return this.onNews?.(data.news as News);
      const waits = this.waiting.get(data.n);
      this.waiting.delete(data.n);
      if ('error' in data) waits?.reject(new Error(data.error));
      else waits?.resolve(data.answer as never);
    };
    worker.onerror = (event) => {
      for (const waits of this.waiting.values()) waits.reject(new Error(event.message || 'The renderer has stopped.'));
      this.waiting.clear();
    };
    for (const message of this.early.splice(0)) worker.postMessage(message);
  }

  ask<K extends keyof A & string>(name: K, ask: A[K]['ask']): Promise<A[K]['answer']> {
    const n = this.next++;
    return new Promise((resolve, reject) => {
      this.waiting.set(n, { resolve, reject });
      const message: AskMessage = { n, name, ask };
      if (this.worker) this.worker.postMessage(message);
      else this.early.push(message);
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
export function tell(news: unknown): void {
  self.postMessage({ news });
}

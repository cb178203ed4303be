/** Steps of a livery that this browser made and the server has not acknowledged: sent from wherever they are needed, and waited for. */
import { useEffect, useState } from 'react';
import type { Entry } from '@wet-lacquer/core/livery/history.ts';
import { storedIn } from '@wet-lacquer/core/livery/edit.ts';
import type { PostAnswer } from '@wet-lacquer/sync/join.ts';
import type { OpenLivery } from '@wet-lacquer/sync/answers.ts';
import { ApiError, get, send, sentenceOf } from '../lib/api.ts';
import { asSent, forgetSent, keepAside, leftAside, leftUnsent } from './outbox.ts';
import { person } from './person.ts';
import { sendPixels } from './pixels.ts';

/** Steps that are sent at once, and characters of them as JSON. */
const BATCH = 200;
const BATCH_CHARACTERS = 2_000_000;

/** The first of some steps that go in one post: one at least. */
export function batchOf<E extends Entry>(steps: readonly E[], most = BATCH): E[] {
  let characters = 0;
  const end = steps.findIndex((step, i) => {
    characters += JSON.stringify(step.edit).length;
    return i > 0 && (i >= most || characters > BATCH_CHARACTERS);
  });
  return steps.slice(0, end < 0 ? undefined : end);
}

/** The server will never take this, however often it is sent. */
export const isForGood = (error: unknown): error is ApiError =>
  error instanceof ApiError && [400, 404, 413, 422].includes(error.status);

/** How long to wait before trying again: longer each time. */
export function pauses() {
  const [first, longest] = [1000, 30_000];
  let next = first;
  return {
    next: () => {
      const now = next;
      next = Math.min(next * 2, longest);
      return now;
    },
    over: () => void (next = first),
  };
}

/**
 * Posts steps as made on a revision; pixels first, so that an entry never names what the server cannot draw.
 * @returns what the server did with them; a step that cannot be (422) is an answer
 * @throws ApiError when there is no such answer
 */
export async function postEntries(livery: string, base: number, batch: readonly Entry[]): Promise<PostAnswer> {
  await sendPixels(batch.flatMap(({ edit }) => storedIn(edit)));
  const entries = batch.map(asSent);
  return send<PostAnswer>('POST', `/liveries/${livery}/entries`, { base, entries }).catch((error: unknown) => {
    const body = error instanceof ApiError && error.status === 422 ? (error.body as Partial<PostAnswer> | null) : null;
    if (body?.state === 'refused') return body as PostAnswer;
    throw error;
  });
}

/** What one attempt to send some steps came to. */
export type Sent<E extends Entry> =
  | { state: 'saved'; answer: PostAnswer & { state: 'saved' }; batch: readonly E[] }
  /** This one will never be taken. */
  | { state: 'refused'; step: E; why: string; revision?: number }
  /** They are too much together: fewer at once. */
  | { state: 'fewer'; most: number };

/** Sends the first of some steps. @throws ApiError when it can be tried again */
export async function sendSome<E extends Entry>(
  livery: string,
  base: number,
  steps: readonly E[],
  most?: number,
): Promise<Sent<E>> {
  const batch = batchOf(steps, most);
  try {
    const answer = await postEntries(livery, base, batch);
    if (answer.state === 'saved') return { state: 'saved', answer, batch };
    // An answer that names none of them is about the first: something must give.
    const step = batch.find(({ id }) => id === answer.entry) ?? batch[0];
    return { state: 'refused', step, why: answer.why, revision: answer.revision };
  } catch (error) {
    if (!isForGood(error)) throw error;
    if (batch.length > 1) return { state: 'fewer', most: batch.length >> 1 };
    return { state: 'refused', step: batch[0], why: error.message };
  }
}

/**
 * Sends what is left of a livery that lies on no easel. A step that the server refuses is set aside: the easel shows it.
 * @returns how many steps are not in the livery @throws ApiError when the server cannot be had
 */
export async function sendLeft(livery: string): Promise<number> {
  const me = person();
  let base: number | null = null;
  let most: number | undefined;
  const refused = new Set<string>();
  for (;;) {
    const left = leftUnsent(livery, me).filter(({ id }) => !refused.has(id));
    if (left.length === 0) return notThere(livery);
    base ??= (await get<OpenLivery>(`/liveries/${livery}`)).revision;
    const sent: Sent<Entry> = await sendSome(livery, base, left, most);
    most = sent.state === 'fewer' ? sent.most : undefined;
    if (sent.state === 'refused') {
      refused.add(sent.step.id);
      keepAside(livery, sent.step, sent.why);
    }
    if (sent.state !== 'saved') continue;
    base = sent.answer.revision;
    for (const { id } of sent.batch) forgetSent(livery, id);
  }
}

/** Steps of this person that the livery does not have. */
export const notThere = (livery: string): number =>
  leftUnsent(livery, person()).length + leftAside(livery, person()).length;

export interface Unsent {
  state: 'sending' | 'sent' | 'stuck';
  /** Steps that the livery does not have. */
  left: number;
  /** Why they cannot be sent. */
  trouble: string | null;
}

/** Sends what is left of a livery as soon as a screen asks for it, and again with growing pauses until it is there. */
export function useUnsent(livery: string): Unsent {
  const [unsent, setUnsent] = useState<Unsent>(() => {
    const left = notThere(livery);
    return { state: left > 0 ? 'sending' : 'sent', left, trouble: null };
  });
  useEffect(() => {
    let wanted = true;
    const pause = pauses();
    let timer: ReturnType<typeof setTimeout> | undefined;
    const turn = async () => {
      try {
        const left = await sendLeft(livery);
        if (!wanted) return;
        if (left === 0) return setUnsent({ state: 'sent', left: 0, trouble: null });
        return setUnsent({ state: 'stuck', left, trouble: 'The server refuses them; the easel shows why.' });
      } catch (error) {
        if (!wanted) return;
        setUnsent({ state: 'stuck', left: notThere(livery), trouble: sentenceOf(error) });
      }
      timer = setTimeout(() => void turn(), pause.next());
    };
    if (notThere(livery) > 0) void turn();
    return () => {
      wanted = false;
      clearTimeout(timer);
    };
  }, [livery]);
  return unsent;
}

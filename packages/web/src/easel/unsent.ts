/** Steps of a livery that this browser made and the server has not acknowledged: sent from wherever they are needed, and waited for. */
import { useEffect, useState } from 'react';
import type { Entry, LoggedEntry } from '@wet-lacquer/core/livery/history.ts';
import { storedIn } from '@wet-lacquer/core/livery/strokes.ts';
import { ApiError, get, send, sentenceOf } from '../lib/api.ts';
import type { OpenLivery } from '../lib/types.ts';
import { forgetSent, leftUnsent } from './outbox.ts';
import { sendPixels } from './pixels.ts';

export type SaveAnswer =
  | { state: 'saved' | 'stale'; revision: number; entries: LoggedEntry[] }
  | { state: 'refused'; entry: string; why: string };

/** Steps that are sent at once. */
export const BATCH = 200;
/** Times that somebody else may be faster before it is given up for now. */
const TRIES = 40;

/**
 * Posts steps as made on a revision; pixels first, so that an entry never names what the server cannot draw.
 * @returns what the server did with them: somebody was faster (409), or one cannot be (422), come with what is to be done
 * @throws ApiError when there is no such answer
 */
export async function postEntries(livery: string, base: number, batch: readonly Entry[]): Promise<SaveAnswer> {
  await sendPixels(batch.flatMap(({ edit }) => storedIn(edit)));
  const entries = batch.map(({ id, person, edit, undoes, redoes, label }) => ({
    ...{ id, person, edit, undoes, redoes, label },
  }));
  return send<SaveAnswer>('POST', `/liveries/${livery}/entries`, { base, entries }).catch((error: unknown) => {
    if (error instanceof ApiError && (error.status === 409 || error.status === 422)) return error.body as SaveAnswer;
    throw error;
  });
}

/**
 * Sends what is left of a livery that lies on no easel. A step that the server refuses stays here: the easel shows it as set aside.
 * @returns how many steps are left @throws ApiError when the server cannot be had
 */
export async function sendLeft(livery: string): Promise<number> {
  let base: number | null = null;
  const refused = new Set<string>();
  for (let tries = 0; tries < TRIES; tries++) {
    const left = leftUnsent(livery).filter(({ id }) => !refused.has(id));
    if (left.length === 0) return refused.size;
    base ??= (await get<OpenLivery>(`/liveries/${livery}`)).revision;
    const batch = left.slice(0, BATCH);
    const answer = await postEntries(livery, base, batch);
    if (answer.state === 'refused') {
      if (refused.has(answer.entry)) return left.length;
      refused.add(answer.entry);
      continue;
    }
    base = answer.revision;
    const there = answer.state === 'saved' ? batch : batch.filter(({ id }) => answer.entries.some((e) => e.id === id));
    for (const { id } of there) forgetSent(livery, id);
  }
  return leftUnsent(livery).length;
}

export interface Unsent {
  state: 'sending' | 'sent' | 'stuck';
  /** Steps that the server does not have. */
  left: number;
  /** Why they cannot be sent. */
  trouble: string | null;
}

const [FIRST_PAUSE, LONGEST_PAUSE] = [1000, 15_000];

/** Sends what is left of a livery as soon as a screen asks for it, and again with growing pauses until it is there. */
export function useUnsent(livery: string): Unsent {
  const [unsent, setUnsent] = useState<Unsent>(() => {
    const left = leftUnsent(livery).length;
    return { state: left > 0 ? 'sending' : 'sent', left, trouble: null };
  });
  useEffect(() => {
    let wanted = true;
    let pause = FIRST_PAUSE;
    let timer: ReturnType<typeof setTimeout> | undefined;
    const turn = async () => {
      try {
        const left = await sendLeft(livery);
        if (!wanted) return;
        if (left === 0) return setUnsent({ state: 'sent', left: 0, trouble: null });
        setUnsent({ state: 'stuck', left, trouble: 'The server refuses them; the easel shows why.' });
      } catch (error) {
        if (!wanted) return;
        setUnsent({ state: 'stuck', left: leftUnsent(livery).length, trouble: sentenceOf(error) });
      }
      timer = setTimeout(() => void turn(), (pause = Math.min(pause * 2, LONGEST_PAUSE)));
    };
    if (leftUnsent(livery).length > 0) void turn();
    return () => {
      wanted = false;
      clearTimeout(timer);
    };
  }, [livery]);
  return unsent;
}

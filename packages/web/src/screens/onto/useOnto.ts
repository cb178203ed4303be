/** A livery on its way onto another model: how the two go together, how far it is, what came of it. */
import { useCallback, useEffect, useRef, useState } from 'react';
import type { Fit } from '@wet-lacquer/core/transfer/fit.ts';
import type { CarriedNote } from '@wet-lacquer/core/transfer/plan.ts';
import type { FitAnswer, TransferNews } from '@wet-lacquer/sync/answers.ts';
import { send, sendAndHear, sentenceOf } from '../../lib/api.ts';

export interface Made {
  id: string;
  notes: CarriedNote[];
}

/** How one template goes onto another; for two that stay the same. */
export function useFit(from: string | null, to: string | null) {
  const [answer, setAnswer] = useState<FitAnswer | null>(null);
  const [busy, setBusy] = useState(true);
  const [problem, setProblem] = useState<string | null>(null);
  const [before, setBefore] = useState<Fit[]>([]);
  const asked = useRef(0);

  const ask = useCallback(
    async (fit?: Fit, pairAgain = false) => {
      if (!from || !to) return;
      const own = ++asked.current;
      setBusy(true);
      setProblem(null);
      try {
        const found = await send<FitAnswer>('POST', '/transfers/fit', { from, to, fit, pairAgain });
        if (asked.current === own) setAnswer(found);
      } catch (failure) {
        if (asked.current === own) setProblem(sentenceOf(failure));
      } finally {
        if (asked.current === own) setBusy(false);
      }
    },
    [from, to],
  );
  useEffect(() => {
    const soon = setTimeout(() => void ask(), 0);
    return () => clearTimeout(soon);
  }, [ask]);
  const change = (fit: Fit, pairAgain = false) => {
    if (answer) setBefore([...before, answer.fit].slice(-50));
    void ask(fit, pairAgain);
  };
  const back = () => {
    const last = before.at(-1);
    if (!last) return;
    setBefore(before.slice(0, -1));
    void ask(last);
  };
  return { answer, busy, problem, change, back: before.length > 0 ? back : null, again: () => void ask() };
}

/** Taking it over, with how far it is. */
export function useTransfer() {
  const [done, setDone] = useState<number | null>(null);
  const [made, setMade] = useState<Made | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const stop = useRef<AbortController | null>(null);
  useEffect(() => () => stop.current?.abort(), []);

  const start = async (livery: string, to: string, fit: Fit, name: string) => {
    const own = new AbortController();
    stop.current = own;
    setProblem(null);
    setDone(0);
    try {
      for await (const news of sendAndHear<TransferNews>('/transfers', { livery, to, fit, name }, own.signal)) {
        if ('done' in news) setDone(news.done);
        else if ('why' in news) setProblem(news.why);
        else setMade(news.made);
      }
    } catch (failure) {
      if (!own.signal.aborted) setProblem(sentenceOf(failure));
    } finally {
      setDone(null);
    }
  };
  return { done, made, problem, start, cancel: () => stop.current?.abort(), again: () => setMade(null) };
}

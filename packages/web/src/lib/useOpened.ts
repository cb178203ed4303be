import { useEffect, useState } from 'react';
import { sentenceOf } from './api.ts';

/** Opens something for as long as the screen is there, and closes it again, also when it comes too late. */
export function useOpened<T>(id: string, open: (id: string) => Promise<T>, close: (opened: T) => void) {
  const [opened, setOpened] = useState<T | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  useEffect(() => {
    let wanted = true;
    let made: T | null = null;
    open(id)
      .then((ready) => {
        made = ready;
        if (!wanted) return close(ready);
        setOpened(ready);
      })
      .catch((error: unknown) => wanted && setProblem(sentenceOf(error)));
    return () => {
      wanted = false;
      if (made) close(made);
    };
  }, [id, open, close]);
  return { opened, problem };
}

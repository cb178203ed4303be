import { useEffect, useRef, useState } from 'react';
import type { BayModel } from '@wet-lacquer/core/bay/report.ts';
import type { GameFile } from '@wet-lacquer/sync/answers.ts';
import { ApiError, getBytes, sentenceOf } from '../../lib/api.ts';
import type { BayAnswer, BayAsk } from '../../workers/bay.worker.ts';

/** Files already read, by hash: reloading reads only what is new. */
const read = new Map<string, Uint8Array>();

/** What a game makes of a folder. @param model its own of the subject; null: it is not here yet @param at where the files are asked for */
export function useBay(
  game: string,
  files: GameFile[] | undefined,
  livery: string | null,
  model: BayModel | null,
  at = `/bay/${game}`,
): { answer: BayAnswer | null; problem: string | null } {
  const worker = useRef<Worker | null>(null);
  const asked = useRef(0);
  const [answer, setAnswer] = useState<BayAnswer | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  useEffect(() => {
    const made = new Worker(new URL('../../workers/bay.worker.ts', import.meta.url), { type: 'module' });
    made.onmessage = ({ data }: MessageEvent<BayAnswer>) => {
      if (data.n === asked.current) setAnswer(data);
    };
    made.onerror = (event) => setProblem(event.message);
    worker.current = made;
    return () => made.terminate();
  }, []);
  useEffect(() => {
    if (!files) return;
    const n = ++asked.current;
    const load = async () => {
      const entries = await Promise.all(
        files.map(async ({ name, hash }) => {
          const held =
            read.get(hash) ?? (await getBytes(`${at}/files/${name.split('/').map(encodeURIComponent).join('/')}`));
          read.set(hash, held);
          return [name, held] as const;
        }),
      );
      for (const hash of read.keys()) if (!files.some((file) => file.hash === hash)) read.delete(hash);
      if (n === asked.current)
        worker.current?.postMessage({ n, game, files: new Map(entries), livery, model } satisfies BayAsk);
      setProblem(null);
    };
    load().catch((error: unknown) => {
      // A file that went away while it was read: the next look at the folder sees that.
      if (!(error instanceof ApiError && error.status === 404)) setProblem(sentenceOf(error));
    });
  }, [game, files, livery, model, at]);
  return { answer, problem };
}

/** The stand-in games' loaders, away from the main thread. They see the game's folder and nothing else. */
import { bayGame } from '@wet-lacquer/core/games/index.ts';
import type { BayReport, Ignored } from '@wet-lacquer/core/bay/report.ts';

export interface BayAsk {
  n: number;
  game: string;
  files: Map<string, Uint8Array>;
  /** Which livery: its key in the game, or the path of one of its files. */
  livery: string | null;
}
export interface BayAnswer {
  n: number;
  keys: string[];
  ignored: Ignored[];
  report: BayReport | null;
}

self.onmessage = ({ data }: MessageEvent<BayAsk>) => {
  const game = bayGame(data.game);
  if (!game) return;
  const { keys, ignored } = game.list(data.files);
  const wanted = data.livery ?? '';
  const inPath = keys.filter((key) => wanted.includes(key)).toSorted((a, b) => b.length - a.length);
  const chosen = keys.includes(wanted) ? wanted : (inPath[0] ?? keys[0]);
  const report = chosen ? game.load(data.files, chosen) : null;
  self.postMessage({ n: data.n, keys, ignored, report } satisfies BayAnswer);
};

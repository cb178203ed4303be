/** The stand-in games' loaders, away from the main thread. They see the game's folder and nothing else. */
import { CRAFT, listLiveries, loadLivery } from '@wet-lacquer/core/bay/brackwaterRun.ts';
import type { BayReport } from '@wet-lacquer/core/bay/report.ts';

export interface BayAsk {
  n: number;
  files: Map<string, Uint8Array>;
  craft: string;
  livery: string | null;
}
export interface BayAnswer {
  n: number;
  keys: string[];
  ignored: { file: string; why: string }[];
  report: BayReport | null;
}

self.onmessage = ({ data }: MessageEvent<BayAsk>) => {
  const { keys, ignored } = listLiveries(data.files, data.craft);
  const chosen = data.livery && keys.includes(data.livery) ? data.livery : keys[0];
  const report = chosen && CRAFT[data.craft] ? loadLivery(data.files, data.craft, chosen) : null;
  self.postMessage({ n: data.n, keys, ignored, report } satisfies BayAnswer);
};

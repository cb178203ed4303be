/** The stand-in games' loaders, away from the main thread. They see the game's folder and nothing else. */
import { bayGame } from '@wet-lacquer/core/games/index.ts';
import { shownOf, type BayModel, type BayPicture, type BayReport, type Ignored } from '@wet-lacquer/core/bay/report.ts';

export interface BayAsk {
  n: number;
  game: string;
  files: Map<string, Uint8Array>;
  /** Which livery: its key in the game, or the path of one of its files. */
  livery: string | null;
  /** The game's own model of the subject; null: it is not at hand. */
  model: BayModel | null;
}
export interface BayAnswer {
  n: number;
  keys: string[];
  ignored: Ignored[];
  report: BayReport | null;
  /** What a game in two dimensions shows. */
  scene: BayPicture | null;
}

const SCENE_WIDTH = 1280;

self.onmessage = ({ data }: MessageEvent<BayAsk>) => {
  const game = bayGame(data.game);
  if (!game) return;
  const { keys, ignored } = game.list(data.files);
  const chosen = shownOf(keys, data.livery);
  const report = chosen ? game.load(data.files, chosen, data.model) : null;
  const scene = (report && game.draw?.(report, SCENE_WIDTH)) ?? null;
  self.postMessage({ n: data.n, keys, ignored, report, scene } satisfies BayAnswer);
};

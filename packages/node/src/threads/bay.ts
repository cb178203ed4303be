/** What a stand-in game's players see, drawn by its own loader from its own folder; runs in threads. */
import { shownOf, type BayGame, type BayReport } from '@wet-lacquer/core/bay/report.ts';
import { bayGame } from '@wet-lacquer/core/games/index.ts';
import type { Template } from '@wet-lacquer/core/livery/template.ts';
import type { Image8 } from '@wet-lacquer/core/raster/image.ts';
import { withMeshes } from '@wet-lacquer/core/plates/panel.ts';
import { portrait } from '@wet-lacquer/core/surface/portrait.ts';
import { draftsOf } from './drafts.ts';
import { png } from './pictures.ts';
import type { Scene } from './scene.ts';

export interface BayShot {
  png: Uint8Array;
  /** The key of the livery that is shown, and what the game calls it; null: the thing as the game ships it. */
  livery: string | null;
  title: string | null;
  /** All that it lists. */
  liveries: string[];
}

const [WIDTH, HEIGHT] = [560, 360];
/** Of a texture's levels the smallest that is still this wide. */
const ENOUGH = 512;

/** @param began what a new livery begins with, for the thing as it is shipped */
export async function bayPicture(task: {
  game: string;
  template: Template;
  files: ReadonlyMap<string, Uint8Array>;
  began: Scene | null;
}): Promise<BayShot> {
  const { template, files, began } = task;
  const game = bayGame(task.game);
  const liveries = game?.list(files).keys ?? [];
  const chosen = shownOf(liveries, null);
  const report = game && chosen !== undefined ? game.load(files, chosen, template.mesh) : null;
  const picture = await pictureOfReport(game, report, template, began ? await draftsOf(began) : new Map());
  return { livery: report?.livery ?? null, title: report?.title ?? null, liveries, png: picture };
}

/** From where a model is seen, degrees round it from the bow, and up. */
export interface BayLook {
  heading: number;
  elevation: number;
}
const AHEAD: BayLook = { heading: 42, elevation: 16 };

/** What a game loaded, as PNG: by its own drawing, or on the model. @param began what sheets look like that it did not load */
export async function pictureOfReport(
  game: BayGame | undefined,
  report: BayReport | null,
  template: Template,
  began: ReadonlyMap<string, Image8>,
  look = AHEAD,
): Promise<Uint8Array> {
  const drawn = report && game?.draw?.(report, WIDTH);
  if (drawn) return png({ ...drawn, data: drawn.pixels });
  const sheets = new Map(began);
  for (const sheet of [...(report?.sheets ?? []), ...(report?.plateTextures ?? [])]) {
    if (sheet.status !== 'shown' || sheet.key.includes('/')) continue;
    const { width, height, pixels } = [sheet, ...sheet.levels].findLast((level) => level.width >= ENOUGH) ?? sheet;
    sheets.set(sheet.key, { width, height, data: pixels });
  }
  const model = report ? withItsPlates(template, report) : template;
  return png(portrait(model, sheets, { width: WIDTH, height: HEIGHT, ...look }));
}

/** A model with the plates that a game loaded as further parts of it. */
function withItsPlates(template: Template, report: BayReport) {
  const shown = report.plates
    .filter(({ status }) => status === 'shown')
    .map(({ name, file, mesh }) => ({ key: `plate ${name}`, name, sheet: file, mesh }));
  const worn = [...new Set(shown.map(({ sheet }) => sheet))].map((key) => ({ key, alpha: 'coverage' as const }));
  const model = withMeshes(template, shown);
  return { ...model, sheets: [...template.sheets, ...worn.map((one) => ({ ...template.sheets[0], ...one }))] };
}

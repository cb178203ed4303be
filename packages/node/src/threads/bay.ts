/** What a stand-in game's players see, drawn by its own loader from its own folder; runs in threads. */
import { shownSheet } from '@wet-lacquer/core/bay/dds.ts';
import { newReport, shownOf, type BayGame, type BayReport } from '@wet-lacquer/core/bay/report.ts';
import { bayGame } from '@wet-lacquer/core/games/index.ts';
import { renderSheet } from '@wet-lacquer/core/compose/renderSheet.ts';
import { MAIN_MAP, type Template } from '@wet-lacquer/core/livery/template.ts';
import type { Image8 } from '@wet-lacquer/core/raster/image.ts';
import { withMeshes } from '@wet-lacquer/core/plates/panel.ts';
import { portrait } from '@wet-lacquer/core/surface/portrait.ts';
import { draftsOf } from './drafts.ts';
import { png } from './pictures.ts';
import { sourcesOf, type Scene } from './scene.ts';

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
  /** Of a game that draws by itself, how wide; left out: as wide as a card. */
  width?: number;
}): Promise<BayShot> {
  const { template, files, began, width = WIDTH } = task;
  const game = bayGame(task.game);
  const liveries = game?.list(files).keys ?? [];
  const chosen = shownOf(liveries, null);
  const report = game && chosen !== undefined ? game.load(files, chosen, template.mesh) : null;
  const own = began && game?.draw ? await ownReport(began) : null;
  const drafts = began && !own ? await draftsOf(began) : new Map<string, Image8>();
  const picture = await pictureOfReport(game, report ?? own, template, drafts, AHEAD, width);
  return { livery: report?.livery ?? null, title: report?.title ?? null, liveries, png: picture };
}

/** A thing as its game ships it, as if that game had loaded it: for games that draw what they loaded themselves. */
async function ownReport(scene: Scene): Promise<BayReport> {
  const sources = await sourcesOf(scene);
  const sheets = scene.template.sheets.map((sheet) => {
    const { width, height, data } = renderSheet(scene.livery, sheet.key, MAIN_MAP, sheet, sources);
    return shownSheet(sheet.key, sheet.key, [{ width, height, pixels: data }]);
  });
  return { ...newReport('own'), sheets };
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
  width = WIDTH,
): Promise<Uint8Array> {
  const drawn = report && game?.draw?.(report, width);
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

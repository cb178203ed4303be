import { existsSync } from 'node:fs';
import { InputError } from '@wet-lacquer/core/errors.ts';
import { BAY_GAMES, bayGame } from '@wet-lacquer/core/games/index.ts';
import { readGameFolder } from '@wet-lacquer/node/gameFolder.ts';
import type { Verb } from '../verb.ts';

/** lacquer bay brackwater-run game/ */
export const bay: Verb = {
  name: 'bay',
  usage: 'GAME DIR',
  what: 'what the stand-in game makes of a delivered folder; exit code 1 when it lacks or refuses something',
  args: 2,
  async run([key, folder]) {
    const game = bayGame(key);
    if (!game)
      throw new InputError(
        `There is no game "${key}" in the test bay; there are ${BAY_GAMES.map((one) => one.key).join(', ')}.`,
      );
    if (!existsSync(folder)) throw new InputError(`There is no folder ${folder}.`);
    const files = await readGameFolder(folder);
    const { keys, ignored } = game.list(files);
    const reports = keys.map((one) => game.load(files, one));
    const wrong = reports.flatMap((r) => r.sheets).filter((s) => s.status === 'missing' || s.status === 'refused');
    const lines = [
      ...ignored.map((i) => `${i.file}: ${i.why}`),
      ...reports.flatMap((r) => [
        r.livery,
        ...r.sheets.map((s) => `  ${s.key.padEnd(8)} ${s.status}${s.why ? `: ${s.why}` : ''}`),
        ...r.plates.map((plate) => `  ${plate.name.padEnd(8)} ${plate.status}${plate.why ? `: ${plate.why}` : ''}`),
        ...r.facts.map((fact) => `  ${fact.label}: ${fact.value}`),
        ...r.ignored.map((i) => `  ${i.file}: ${i.why}`),
      ]),
    ];
    if (reports.length === 0) lines.push('The game finds no livery in this folder.');
    const refused = reports.flatMap((r) => r.plates).filter((plate) => plate.status === 'refused');
    const liveries = reports.map(({ plateTextures: _textures, ...r }) => ({
      ...r,
      sheets: r.sheets.map(({ pixels: _pixels, levels, ...sheet }) => ({ ...sheet, mips: levels.length + 1 })),
    }));
    return {
      json: { game: key, ignored, liveries },
      text: lines.join('\n'),
      code: wrong.length > 0 || refused.length > 0 || reports.length === 0 ? 1 : 0,
    };
  },
};

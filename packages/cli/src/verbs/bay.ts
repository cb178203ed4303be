import { existsSync } from 'node:fs';
import { InputError } from '@wet-lacquer/core/errors.ts';
import { CRAFT, listLiveries, loadLivery } from '@wet-lacquer/core/bay/brackwaterRun.ts';
import { readGameFolder } from '@wet-lacquer/server/jobs/publish.ts';
import type { Verb } from '../verb.ts';

/** lacquer bay brackwater-run game/ */
export const bay: Verb = {
  name: 'bay',
  usage: 'GAME DIR',
  what: 'what the stand-in game makes of a delivered folder; exit code 1 when it lacks or refuses something',
  args: 2,
  async run([game, folder]) {
    if (game !== 'brackwater-run')
      throw new InputError(`There is no game "${game}" in the test bay; there is brackwater-run.`);
    if (!existsSync(folder)) throw new InputError(`There is no folder ${folder}.`);
    const files = await readGameFolder(folder);
    const crafts = Object.keys(CRAFT).map((craft) => {
      const { keys, ignored } = listLiveries(files, craft);
      return { craft, ignored, liveries: keys.map((key) => loadLivery(files, craft, key)) };
    });
    const reports = crafts.flatMap((c) => c.liveries);
    const wrong = reports.flatMap((r) => r.sheets).filter((s) => s.status === 'missing' || s.status === 'refused');
    const text = crafts.flatMap((c) => [
      ...c.ignored.map((i) => `${i.file}: ${i.why}`),
      ...c.liveries.flatMap((r) => [
        `${c.craft}/${r.livery}`,
        ...r.sheets.map((s) => `  ${s.key.padEnd(8)}${s.status}${s.why ? `: ${s.why}` : ''}`),
        ...r.ignored.map((i) => `  ${i.file}: ${i.why}`),
      ]),
    ]);
    const nothing = reports.length === 0;
    const plain = crafts.map((c) => ({
      ...c,
      liveries: c.liveries.map((r) => ({ ...r, sheets: r.sheets.map(({ pixels: _pixels, ...s }) => s) })),
    }));
    return {
      json: { game, crafts: plain },
      text: nothing ? [...text, 'The game finds no livery in this folder.'].join('\n') : text.join('\n'),
      code: wrong.length > 0 || nothing ? 1 : 0,
    };
  },
};
